"""Every error that reaches a person: a stable code, a sentence, and what mends it."""

from __future__ import annotations

from typing import Any

from tallyman.core.faults import Fault, InputFaults

__all__ = [
    "Away",
    "Clash",
    "Conflict",
    "FactorMissing",
    "Fault",
    "Forbidden",
    "InputFaults",
    "NotFound",
    "NotSignedIn",
    "Refused",
    "SecondFactor",
    "SlowDown",
    "TallymanError",
    "Unavailable",
]


class TallymanError(Exception):
    """The root. `code` is stable, the message is for people, `mend` says what to do."""

    code = "error"
    status = 500

    def __init__(self, message: str, mend: str = "", **more: Any) -> None:
        super().__init__(message)
        self.message = message
        self.mend = mend
        self.more = more


class NotSignedIn(TallymanError):
    """Nobody is signed in, or the session has ended."""

    code = "not_signed_in"
    status = 401


class Forbidden(TallymanError):
    """A permission is missing; says which, and who can give it."""

    code = "forbidden"
    status = 403


class SecondFactor(NotSignedIn):
    """The password was right; a code is still asked for. `more.step` names the sign-in."""

    code = "second_factor"


class FactorMissing(Forbidden):
    """A role asks for a second factor that the person has not set up yet."""

    code = "factor_missing"


class NotFound(TallymanError):
    """There is no such thing, or it may not be seen."""

    code = "not_found"
    status = 404


class Refused(TallymanError):
    """The state of things does not allow it; says why and what would."""

    code = "refused"
    status = 409


class Conflict(TallymanError):
    """Somebody else changed it meanwhile; carries both versions."""

    code = "conflict"
    status = 409


class SlowDown(TallymanError):
    """Too many tries; says when the next is allowed."""

    code = "slow_down"
    status = 429


class Unavailable(TallymanError):
    """Something the program needs does not answer."""

    code = "unavailable"
    status = 503


class Away(Unavailable):
    """What every row and every request needs, such as the database, does not answer: no row's own fault."""


class Clash(TallymanError):
    """A constraint of the schema refused a row; `constraint` is its name."""

    code = "clash"
    status = 409

    def __init__(self, constraint: str, message: str) -> None:
        super().__init__(message)
        self.constraint = constraint
