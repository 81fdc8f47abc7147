"""What a lead would ask back about a sizing: facts that contradict each other, in words (rules §2, §3)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact, text_of

WEEKS = 52
# From here on two figures for the same hours are no more a matter of rounding.
TOO_MUCH = Fraction(5, 4)
TOO_LITTLE = Fraction(1, 2)
NEAR = Fraction(1, 5)


@dataclass(frozen=True)
class Ask:
    """A question about a field, with the figures that do not fit."""

    field: str
    words: str


def _number(facts: Mapping[str, Any], name: str) -> Fraction | None:
    value = facts.get(name)
    try:
        return None if value in (None, "") else exact(value)
    except ValueError:
        return None


def _short(value: Fraction) -> str:
    digits = 0 if value >= 10 else 1
    text = text_of(value, digits) or "0"
    return f"{int(text):,}" if digits == 0 else text.removesuffix(".0")


def _rising(facts: Mapping[str, Any], names: tuple[str, str, str], words: str) -> list[Ask]:
    low, likely, high = (_number(facts, name) for name in names)
    if likely is None:
        return []
    if low is not None and low > likely:
        return [Ask(names[0], f"{words}: the least, {_short(low)}, lies above the usual {_short(likely)}")]
    if high is not None and high < likely:
        return [Ask(names[2], f"{words}: the most, {_short(high)}, lies below the usual {_short(likely)}")]
    return []


def _hours(facts: Mapping[str, Any], needed: Fraction) -> list[Ask]:
    """Hours that the volume needs against hours that people are said to have for it."""
    people, week = _number(facts, "people"), _number(facts, "hours_a_week")
    if not people or not week or not needed:
        return []
    there = people * week * WEEKS
    each = needed / WEEKS / people
    said = f"Each of {_short(people)} people is said to spend {_short(week)} h a week on it"
    need = f"volume × minutes needs {_short(each)} h a week each, {_short(needed)} h a year"
    share = needed / there
    for times, words in ((60, "Were the minutes seconds?"), (Fraction(1, 60), "Were the minutes hours?")):
        if abs(share / times - 1) <= NEAR:
            return [Ask("handling_minutes", f"{said}; {need}. {words}")]
    if share > TOO_MUCH or share < TOO_LITTLE:
        return [Ask("hours_a_week", f"{said}; {need}. Which of them is right?")]
    return []


def asks(
    facts: Mapping[str, Any], hours_per_year: Fraction | None, saving: Fraction | None = None
) -> list[Ask]:
    """Everything about a sizing that does not fit together; `saving` is that of the case, in money a year.

    Facts that cannot be read are left to the checks of their fields.
    """
    found = _rising(facts, ("minutes_low", "handling_minutes", "minutes_high"), "Minutes")
    found += _rising(facts, ("volume_low", "volume", "volume_high"), "Items")
    if hours_per_year is not None:
        found += _hours(facts, hours_per_year)
    judged, unsuitable = _number(facts, "judged_share"), _number(facts, "unsuitable_share")
    if judged is not None and unsuitable is not None and judged + unsuitable > 1:
        words = "Judged and unsuitable items together are more than all; are some counted twice?"
        found.append(Ask("unsuitable_share", words))
    for what, words in (("share", "The share"), ("effort", "The build effort")):
        reason = str(facts.get(f"{what}_reason") or "").strip()
        if _number(facts, f"{what}_override") is not None and not reason:
            found.append(Ask(f"{what}_reason", f"{words} is given by judgement; what is the reason?"))
    people, week, cost = (_number(facts, name) for name in ("people", "hours_a_week", "cost_per_hour"))
    if saving is not None and people and week and cost:
        paid = people * week * WEEKS * cost
        if saving > paid:
            words = f"The saving, {_short(saving)} a year, is above what its people cost, {_short(paid)}"
            found.append(Ask("people", f"{words}. Do more people do it, or fewer items come?"))
    return found
