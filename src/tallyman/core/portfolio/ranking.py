"""Ideas in the order in which a day of building brings most (rules §5)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from tallyman.core.exact import text_of
from tallyman.core.working import Used, Working

LOSES = "It brings less than it costs, so its place follows what it loses, not what a day of building brings."


@dataclass(frozen=True)
class Rank:
    """An idea's worth in money for each person-day of building, None without both; and its working.

    `loses`: what it loses over three years, for one that brings less than it costs; 0 for all others.
    """

    number: int
    per_day: Fraction | None
    loses: Fraction
    working: Working

    @property
    def order(self) -> tuple[bool, bool, Fraction, Fraction, int]:
        """What ideas are sorted by: the most a day first, then the older; after them those that lose, the
        least loss first, whatever their effort; those that lack a figure last."""
        gains = Fraction(0) if self.loses or self.per_day is None else self.per_day
        return self.per_day is None, self.loses > 0, -gains, self.loses, self.number


def rank(
    number: int, worth: Fraction | None, effort_days: Fraction | None, on: str = "", by: str = ""
) -> Rank:
    """The place of an idea: worth over three years in money, build effort in person-days (rules §5).

    `on`: the day on which the worth was reckoned; `by`: by what, in words.
    """
    loses = -worth if worth is not None and worth < 0 else Fraction(0)
    per_day = worth / effort_days if worth is not None and effort_days else None
    missing = [name for name, value in (("worth", worth), ("build effort", effort_days)) if value is None]
    working = Working(
        "Worth for each person-day",
        text_of(per_day, 2),
        "money",
        "worth over three years ÷ build effort",
        inputs=(
            Used("Worth over three years", text_of(worth, 2), "money", "business case", on, link="case"),
            Used("Build effort", text_of(effort_days, 1), "person-days", "sizing", link="sizing"),
        ),
        missing=tuple(missing),
        note=" ".join(part for part in (LOSES if loses else "", by) if part),
    )
    return Rank(number, per_day, loses, working)
