"""The facts of sizing and case: what each may hold, where it comes from, and how it is kept."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.interview import check_answer
from tallyman.core.sizing import ACCESS_DAYS, RHYTHMS
from tallyman.errors import Fault, InputFaults
from tallyman.services.known import Known, Sheet
from tallyman.store.db import Tx

SIZING = {
    "volume": "Items",
    "rhythm": "per",
    "volume_low": "Items, at least",
    "volume_high": "Items, at most",
    "peaks": "How the year goes, by month",
    "minutes_low": "Minutes, at best",
    "handling_minutes": "Minutes, usually",
    "minutes_high": "Minutes, at worst",
    "people": "People who do it",
    "hours_a_week": "Hours a week on it",
    "judged_share": "Judged share",
    "unsuitable_share": "Unsuitable share",
    "rework_share": "Rework share",
    "rework_minutes": "Rework minutes",
    "arrives": "What it arrives as",
    "systems": "Systems touched",
    "steps": "Steps",
    "decisions": "Decisions",
    "variants": "Variants",
    "languages": "Languages",
    "reused_parts": "Parts that can be reused",
    "share_low": "Automatable share, at least",
    "share_high": "Automatable share, at most",
    "effort_low": "Build effort, at best",
    "effort_high": "Build effort, at worst",
    "share_override": "Automatable share, by judgement",
    "share_reason": "Reason for the judgement",
}
CASE = {
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
    "running_lines": "Running lines",
    "phases": "Phases",
    "plan_start": "Start of the plan",
    "discount_rate": "Discount rate",
}
LABELS = {**SIZING, **CASE}
SHARES = (
    "judged_share",
    "unsuitable_share",
    "rework_share",
    "share_override",
    "share_low",
    "share_high",
    "robot_exception_share",
    "support_share",
)
MONTHS = 12
WHOLE = ("people", "steps", "decisions", "variants", "languages", "reused_parts")
LARGEST = {"hours_a_week": 168, "robot_hours_per_day": 24, "robot_days_per_year": 366}
SMALLEST = {"variants": 1, "languages": 1}


def known_facts(tx: Tx, idea_id: int) -> dict[str, Known]:
    """The facts given on an idea by field."""
    return {
        row["field"]: Known(
            row["value"],
            row["source"] or row["person"],
            row["at"].date().isoformat(),
            True,
            row["version"],
        )
        for row in tx.all("ideas.facts", idea=idea_id)
    }


def _check_number(field: str, value: Any) -> str:
    try:
        number = exact(value)
    except ValueError as error:
        raise InputFaults([Fault(field, value, f"{error}; give a number such as 12.5")]) from None
    high = 1 if field in SHARES else LARGEST.get(field, 1_000_000_000)
    low = -1 if field == "discount_rate" else SMALLEST.get(field, 0)
    if not low <= number <= high or (field == "discount_rate" and number <= -1):
        raise InputFaults([Fault(field, value, f"out of range; allowed: {low} to {high:,}")])
    if field.startswith("robot_") and field.endswith(("day", "year")) and number == 0:
        raise InputFaults([Fault(field, value, "must be above 0")])
    if field in WHOLE and number.denominator != 1:
        raise InputFaults([Fault(field, value, "give a whole number")])
    return str(value).strip()


def _rows(field: str, value: Any, numbers: tuple[str, ...], most: int) -> list[dict[str, Any]]:
    if not isinstance(value, list) or len(value) > most:
        raise InputFaults([Fault(field, value, f"give a list of at most {most} rows")])
    faults: list[Fault] = []
    rows = []
    for index, row in enumerate(value):
        if not isinstance(row, dict) or not str(row.get("name", "")).strip():
            faults.append(Fault(f"{field}[{index}].name", None, "give it a name"))
            continue
        clean: dict[str, Any] = {"name": str(row["name"]).strip()[:80]}
        for name in numbers:
            given = row.get(name)
            try:
                clean[name] = None if given in (None, "") else _check_number(name, given)
            except InputFaults as error:
                faults += [Fault(f"{field}[{index}].{f.field}", f.value, f.message) for f in error.faults]
        if "access" in row:
            clean["access"] = row["access"]
        rows.append(clean)
    if faults:
        raise InputFaults(faults)
    return rows


def check_fact(field: str, value: Any) -> Any:
    """A fact in its kept form. Raises InputFaults naming field, value and mend."""
    if field not in LABELS:
        raise InputFaults([Fault(field, value, f"no such fact; known: {', '.join(LABELS)}")])
    if field == "rhythm":
        if value not in RHYTHMS:
            raise InputFaults([Fault(field, value, f"allowed: {', '.join(RHYTHMS)}")])
        return value
    if field == "arrives":
        return check_answer("arrives", value)
    if field == "peaks":
        return _check_peaks(value)
    if field == "systems":
        rows = _rows(field, value, (), 20)
        for index, row in enumerate(rows):
            if row.get("access") not in ACCESS_DAYS:
                message = f"allowed: {', '.join(ACCESS_DAYS)}"
                raise InputFaults([Fault(f"systems[{index}].access", row.get("access"), message)])
        return rows
    if field == "running_lines":
        return _rows(field, value, ("amount",), 30)
    if field == "phases":
        return _check_phases(_rows(field, value, ("person_days", "day_rate", "days", "lag"), 30))
    if field == "plan_start":
        return _check_day(field, value)
    if field == "share_reason":
        return str(value or "").strip()[:500]
    return _check_number(field, value)


def _check_peaks(value: Any) -> list[str]:
    """Twelve factors, one for each month, not all 0."""
    if not isinstance(value, list) or len(value) != MONTHS:
        raise InputFaults([Fault("peaks", value, "give twelve numbers, January first")])
    kept = [_check_number(f"peaks[{n}]", one) for n, one in enumerate(value)]
    if not any(exact(one) for one in kept):
        raise InputFaults([Fault("peaks", value, "all months are 0; give at least one a number")])
    return kept


def _check_phases(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    for index, row in enumerate(rows):
        days = row.get("days")
        if days is not None and exact(days).denominator != 1:
            raise InputFaults([Fault(f"phases[{index}].days", days, "give whole working days")])
    return rows


def _check_day(field: str, value: Any) -> str:
    try:
        day = date.fromisoformat(str(value))
    except ValueError:
        message = "not a date; give one such as 2026-04-20"
        raise InputFaults([Fault(field, value, message)]) from None
    if not 2000 <= day.year <= 2100:
        raise InputFaults([Fault(field, value, "give a year from 2000 to 2100")])
    return day.isoformat()


def as_rows(sheet: Sheet, fields: Mapping[str, str]) -> list[dict[str, Any]]:
    """A sheet's fields as a page shows them."""
    rows = []
    for field, label in fields.items():
        known = sheet.get(field)
        rows.append(
            {
                "field": field,
                "label": label,
                "value": known.value if known else None,
                "source": known.source if known else "",
                "date": known.date if known else "",
                "own": bool(known and known.own),
                "version": known.version if known else 0,
            }
        )
    return rows
