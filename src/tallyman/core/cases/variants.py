"""Variants of a case side by side: as sized, cautious, bold, and one's own (rules §3)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from tallyman.core.cases.business_case import Case, compute, read_case
from tallyman.core.exact import exact, plain
from tallyman.core.faults import Fault, InputFaults, unknown_word

EFFORT = "build_effort"
# What a variant may say otherwise, with its words.
INPUTS = {
    "volume_per_year": "Volume a year",
    "handling_minutes": "Minutes each",
    "rework_share": "Rework share",
    "rework_minutes": "Rework minutes",
    "automatable_share": "Automatable share",
    EFFORT: "Build effort, person-days",
    "cost_per_hour": "An hour costs",
    "robot_minutes": "Robot minutes an item",
    "robot_exception_share": "Handed back by robots",
    "robot_exception_minutes": "Minutes for one handed back",
    "robot_hours_per_day": "Robot hours a day",
    "robot_days_per_year": "Robot days a year",
    "seat_cost_per_year": "A seat costs a year",
    "support_share": "Support, share of one-time cost",
    "other_software_per_year": "Other software a year",
    "one_time_other": "Other cost, once",
    "discount_rate": "Discount rate",
    "go_live": "Go-live",
}
SIZED, CAUTIOUS, BOLD = "as sized", "cautious", "bold"
# A cautious case takes the end of each range that brings less, a bold one the other.
CAUTIOUS_ENDS = {
    "volume_per_year": "low",
    "handling_minutes": "low",
    "automatable_share": "low",
    EFFORT: "high",
}

Ends = Mapping[str, tuple[Fraction | None, Fraction | None]]
Complete = Callable[[dict[str, Any]], dict[str, Any]]


@dataclass(frozen=True)
class Variant:
    """A variant: what it says otherwise, its whole input, and its figures."""

    name: str
    changes: dict[str, str]
    given: dict[str, Any]
    figures: Case


def from_ends(ends: Ends, bold: bool) -> dict[str, str]:
    """What a cautious (or bold) variant says otherwise, where a range was given."""
    found = {}
    for name, end in CAUTIOUS_ENDS.items():
        low, high = ends.get(name, (None, None))
        value = high if (end == "high") != bold else low
        if value is not None:
            found[name] = plain(value)
    return found


def check(changes: Mapping[str, Any]) -> dict[str, str]:
    """What a variant of one's own says otherwise, in its kept form. Raises InputFaults."""
    faults: list[Fault] = []
    kept: dict[str, str] = {}
    for name, value in changes.items():
        if name not in INPUTS:
            faults.append(unknown_word("input", name, INPUTS))
            continue
        if value in (None, ""):
            continue
        try:
            kept[name] = (
                date.fromisoformat(str(value)).isoformat() if name == "go_live" else plain(exact(value))
            )
        except ValueError:
            form = "a date such as 2027-02-01" if name == "go_live" else "a number such as 12.5"
            faults.append(Fault(name, value, f"give {form}"))
    if faults:
        raise InputFaults(faults)
    return kept


def apply(given: Mapping[str, Any], changes: Mapping[str, str], effort: Fraction | None) -> dict[str, Any]:
    """The input of the case with some of it otherwise; a changed effort stretches all phases alike."""
    changed = {**given, **{name: value for name, value in changes.items() if name != EFFORT}}
    if EFFORT in changes and effort and given.get("phases"):
        factor = exact(changes[EFFORT]) / effort
        changed["phases"] = [
            {
                **row,
                "person_days": None
                if row.get("person_days") is None
                else plain(exact(row["person_days"]) * factor),
            }
            for row in given["phases"]
        ]
    return changed


def effort_of(given: Mapping[str, Any]) -> Fraction | None:
    """Person-days of all phases; None while one is missing."""
    rows = given.get("phases") or []
    if not rows or any(row.get("person_days") in (None, "") for row in rows):
        return None
    return sum((exact(row["person_days"]) for row in rows), Fraction(0))


def variant(name: str, given: Mapping[str, Any], changes: Mapping[str, str], complete: Complete) -> Variant:
    """A variant with its figures. `complete` adds what follows from the input, such as lines for each robot.

    Raises InputFaults when an input is out of range.
    """
    whole = complete(apply(given, changes, effort_of(given)))
    return Variant(name, dict(changes), whole, compute(read_case(whole)))


def differing(variants: list[Variant]) -> list[dict[str, Any]]:
    """The inputs in which variants differ: a row each, with every variant's value."""
    base = variants[0]
    rows = []
    for name, label in INPUTS.items():
        if any(name in one.changes for one in variants):
            values = [_shown(one, name, base) for one in variants]
            rows.append({"field": name, "label": label, "values": values})
    return rows


def _shown(one: Variant, name: str, base: Variant) -> str | None:
    if name in one.changes:
        return one.changes[name]
    if name == EFFORT:
        effort = effort_of(base.given)
        return None if effort is None else plain(effort)
    value = base.given.get(name)
    return None if value is None else str(value)
