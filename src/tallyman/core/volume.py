"""How much work there is: items per rhythm, in a year, over its months (rules §2)."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

RHYTHMS = ("day", "working day", "week", "month", "quarter", "year")


def times_a_year(rhythm: str, working_days: int) -> int:
    """How often a rhythm comes round in a year of 365 days and 52 weeks."""
    return {
        "day": 365,
        "working day": working_days,
        "week": 52,
        "month": 12,
        "quarter": 4,
        "year": 1,
    }[rhythm]


def yearly_volume(volume: Fraction, rhythm: str, working_days: int) -> Fraction:
    """Items a year from items per rhythm. Raises KeyError for an unknown rhythm."""
    return volume * times_a_year(rhythm, working_days)


def by_month(yearly: Fraction, factors: Sequence[Fraction]) -> list[Fraction]:
    """A year's volume over its months by factors of any height, scaled so that the year's volume stays.

    Raises ValueError when all factors are 0.
    """
    whole = sum(factors, Fraction(0))
    if not whole:
        raise ValueError("all months are 0")
    return [yearly * factor / whole for factor in factors]
