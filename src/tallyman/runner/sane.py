"""What a package reports, made so that any server can take it; what had to be cut is said."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal, InvalidOperation
from typing import Any

from tallyman.formats.redact import Redactor
from tallyman.formats.sound import Mender

LONGEST_LINE = 4000
LONGEST_NAME = 200
LONGEST_REASON = 900
LONGEST_COUNT = 40
MOST_STEPS = 100_000
LEVELS = ("info", "caution", "fault")


class Reports:
    """Reads what a package wrote to its report pipe, one JSON value at a time."""

    def __init__(self, redactor: Redactor) -> None:
        self.redactor = redactor
        self.mender = Mender(longest_text=1_000_000)

    def notes(self) -> list[str]:
        """What was changed or cut since last asked."""
        found, self.mender.notes = self.mender.notes, []
        self.mender.begin()
        return found

    def text(self, value: Any, longest: int, what: str) -> str:
        """A text without secrets, sound and of at most that length."""
        return self.mender.text(self.redactor.text(str(value)), longest, what)

    def value(self, value: Any, what: str) -> Any:
        """A JSON value without secrets, sound and bounded."""
        return self.redactor.value(self.mender.value(value, what))

    def time(self, value: Any, otherwise: str) -> str:
        """A time as ISO text with its zone; another time for what is none."""
        try:
            found = datetime.fromisoformat(str(value))
        except ValueError:
            return otherwise
        return found.isoformat() if found.tzinfo and found.year > 1970 else otherwise

    def step(self, found: dict[str, Any], now: str) -> dict[str, Any] | None:
        """A step as the server takes it; None for one without a number."""
        number = found.get("n")
        if isinstance(number, bool) or not isinstance(number, int) or not 1 <= number <= MOST_STEPS:
            return None
        ended = found.get("ended_at")
        fault = found.get("fault")
        return {
            "n": number,
            "name": self.text(found.get("name", ""), LONGEST_NAME, "the name of a step"),
            "started_at": self.time(found.get("started_at"), now),
            "ended_at": None if ended is None else self.time(ended, now),
            "fault": None if fault is None else self.text(fault, LONGEST_REASON, "the fault of a step"),
            "data_in": self.value(found.get("data_in"), "the data of a step"),
            "data_out": self.value(found.get("data_out"), "the data of a step"),
        }

    def count(self, found: dict[str, Any]) -> tuple[str, Decimal | str]:
        """A count's name and number; what is no number stays its text, which the server refuses by name."""
        name = self.text(found.get("name", ""), LONGEST_COUNT, "the name of a count")
        text = str(found.get("number"))[:60]
        try:
            number = Decimal(text)
        except InvalidOperation:
            return name, text
        if not number.is_finite() or abs(number.adjusted()) > 30:
            return name, text
        return name, number


def added(before: Decimal | str | None, more: Decimal | str) -> Decimal | str:
    """A count with more of it; once it was no number, it stays what it was."""
    if before is None or isinstance(more, str):
        return more
    return before if isinstance(before, str) else before + more
