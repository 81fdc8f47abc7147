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


NAMES = {
    "uq_person_email": "this address is in use already",
    "uq_host_name": "a host of this name exists already; choose another name",
    "uq_robot_name": "a robot of this name exists already; choose another name",
    "uq_area_name": "an area of this name exists already; choose another name",
    "uq_lock_name": "a lock of this name exists already",
    "uq_routine_name": "a routine of this name exists already; choose another name",
    "uq_release_version": "this version was released before; raise the version in package.toml",
    "uq_counting_routine": "this routine counts for another idea already",
    "uq_run_nominal": "this start has its run already",
    "uq_entry_source": "this is posted already",
}


class Clash(TallymanError):
    """A constraint of the schema refused a row; `constraint` is its name."""

    code = "clash"
    status = 409

    def __init__(self, constraint: str, message: str) -> None:
        super().__init__(message)
        self.constraint = constraint

    @classmethod
    def from_database(cls, args: tuple[Any, ...]) -> Clash:
        """Names the constraint in the database's own words by ours."""
        text = str(args[1]) if len(args) > 1 else ""
        for name, words in NAMES.items():
            if name in text:
                return cls(name, words)
        primary = "PRIMARY" if "PRIMARY" in text else "constraint"
        return cls(primary, "it clashes with what is there already")
