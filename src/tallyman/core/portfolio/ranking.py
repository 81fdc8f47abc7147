"""Ideas in the order in which a day of building brings most (rules §5)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from tallyman.core.exact import text_of
from tallyman.core.working import Used, Working


@dataclass(frozen=True)
class Rank:
    """An idea's worth in money for each person-day of building, None without both; and its working."""

    number: int
    per_day: Fraction | None
    working: Working

    @property
    def order(self) -> tuple[bool, Fraction, int]:
        """What ideas are sorted by: the most a day first, then the older; those that lack a figure last."""
        return self.per_day is None, -(self.per_day or Fraction(0)), self.number


def rank(number: int, worth: Fraction | None, effort_days: Fraction | None) -> Rank:
    """The place of an idea: worth over three years in money, build effort in person-days (rules §5)."""
    per_day = worth / effort_days if worth is not None and effort_days else None
    missing = [name for name, value in (("worth", worth), ("build effort", effort_days)) if value is None]
    working = Working(
        "Worth for each person-day",
        text_of(per_day, 2),
        "money",
        "worth over three years (NPV) ÷ build effort",
        inputs=(
            Used("Worth over three years", text_of(worth, 2), "money", "business case", link="case"),
            Used("Build effort", text_of(effort_days, 1), "person-days", "sizing", link="sizing"),
        ),
        missing=tuple(missing),
    )
    return Rank(number, per_day, working)
