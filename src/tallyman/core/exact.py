"""Exact numbers: read without loss, rounded once, half away from zero."""

from __future__ import annotations

from datetime import date
from decimal import Decimal, InvalidOperation
from fractions import Fraction
from functools import lru_cache
from typing import Any

from tallyman.core.faults import Fault

MOST_DIGITS = 30
MOST_LETTERS = 60


def exact(value: Any) -> Fraction:
    """A JSON number or numeric string as an exact fraction.

    A float is read through its shortest decimal form, so 0.05 means five hundredths.
    Raises ValueError for anything that is not a finite number of reasonable length.
    """
    if isinstance(value, bool) or value is None:
        raise ValueError("not a number")
    if isinstance(value, Fraction):
        return value
    text = repr(value) if isinstance(value, float) else str(value)
    if len(text) > MOST_LETTERS:
        raise ValueError("not a finite number of reasonable length")
    return _read(text.strip())


@lru_cache(maxsize=4096)
def _read(text: str) -> Fraction:
    """The number of a text; the same few are read again and again."""
    try:
        number = Decimal(text)
    except InvalidOperation:
        raise ValueError("not a number") from None
    if not number.is_finite() or abs(number.adjusted()) > MOST_DIGITS:
        raise ValueError("not a finite number of reasonable length")
    return Fraction(number)


def rounded(value: Fraction | Decimal, digits: int) -> Decimal:
    """The value rounded half away from zero, with exactly that many digits."""
    above, below = value.as_integer_ratio()
    # In whole numbers: the half that is added before cutting rounds it away from zero.
    whole = (2 * abs(above) * 10**digits + below) // (2 * below)
    return Decimal(-whole if above < 0 else whole).scaleb(-digits)


def text_of(value: Fraction | Decimal | None, digits: int) -> str | None:
    """The rounded value as a plain decimal string; None stays None."""
    return None if value is None else f"{rounded(value, digits):f}"


def plain(value: Fraction, digits: int = 6) -> str:
    """The rounded value as a decimal string without zeros at its end."""
    text = f"{rounded(value, digits):f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


class Reader:
    """Reads the named numbers of one JSON object and gathers every fault on the way."""

    def __init__(self, source: dict[str, Any], prefix: str = "") -> None:
        self.source = source
        self.prefix = prefix
        self.faults: list[Fault] = []
        self.missing: list[str] = []

    def number(
        self,
        name: str,
        *,
        low: int | None = 0,
        high: int | None = None,
        above: int | None = None,
    ) -> Fraction | None:
        """The named number within its bounds; None (and noted as missing) if it is not there."""
        value = self.source.get(name)
        field = self.prefix + name
        if value is None or value == "":
            self.missing.append(field)
            return None
        try:
            number = exact(value)
        except ValueError as error:
            self.faults.append(Fault(field, value, f"{error}; give a number such as 12.5"))
            return None
        if (low is not None and number < low) or (high is not None and number > high):
            span = f"{low} to {high}" if high is not None else f"{low} or more"
            self.faults.append(Fault(field, value, f"out of range; allowed: {span}"))
            return None
        if above is not None and number <= above:
            self.faults.append(Fault(field, value, f"must be above {above}"))
            return None
        return number

    def day(self, name: str) -> date | None:
        """The named ISO date; None (and noted as missing) if it is not there."""
        value = self.source.get(name)
        if value is None or value == "":
            self.missing.append(self.prefix + name)
            return None
        try:
            return date.fromisoformat(str(value))
        except ValueError:
            self.faults.append(Fault(self.prefix + name, value, "not a date; give one such as 2026-04-20"))
            return None
