"""The facts of sizing and case: what each is called, what it may hold, and the form in which it is kept."""

from __future__ import annotations

from datetime import date
from typing import Any

from tallyman.core.cases.phases import working_days
from tallyman.core.cases.sizing import ACCESS_DAYS
from tallyman.core.exact import exact
from tallyman.core.faults import Fault, InputFaults, is_one_of
from tallyman.core.ideas import check_answer
from tallyman.core.rates import check_benefit
from tallyman.core.volume import RHYTHMS

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
    "role": "Role of who does it",
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
    "effort_override": "Build effort, by judgement",
    "effort_reason": "Reason for that judgement",
    "mends": "What it should mend",
}
CASE = {
    "cost_per_hour": "An hour costs",
    "robot_minutes": "Robot minutes an item",
    "robot_exception_share": "Handed back by robots",
    "robot_exception_minutes": "Minutes for one handed back",
    "robot_hours_per_day": "Robot hours a day",
    "robot_days_per_year": "Robot days a year",
    "seat_kind": "Kind of seat",
    "seat_cost_per_year": "A seat costs a year",
    "hosting_per_robot": "Hosting of a robot a year",
    "support_share": "Support, share of one-time cost",
    "other_software_per_year": "Other software a year",
    "one_time_other": "Other cost, once",
    "running_lines": "Running lines",
    "phases": "Phases",
    "plan_start": "Start of the plan",
    "discount_rate": "Discount rate",
    "costs_on": "Cost tables as of",
    "benefit_lines": "Benefit lines",
    "risk_note": "Risks",
    "strategy_note": "What it is good for beside money",
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
# Facts that a sizing or a case can do without.
OPTIONAL = (
    *("volume_low", "volume_high", "share_low", "share_high", "effort_low", "effort_high"),
    *("minutes_low", "minutes_high", "people", "hours_a_week", "role"),
    *("share_override", "share_reason", "effort_override", "effort_reason"),
    *("seat_kind", "risk_note", "strategy_note"),
)
# What is given on the plan, though the case rests on it.
PLAN = ("phases", "plan_start")
MONTHS = 12
# What a sizing may mend, and the ten points that are spread over it.
MENDS = ("cost", "errors", "waiting", "rules", "relief of staff")
MEND_POINTS = 10
TEXTS = {
    "share_reason": 500,
    "effort_reason": 500,
    "role": 60,
    "seat_kind": 60,
    "risk_note": 4000,
    "strategy_note": 4000,
}
LINE_NUMBERS = ("amount", "per_robot", "share", "days", "day_cost")
WHOLE = ("people", "steps", "decisions", "variants", "languages", "reused_parts")
LARGEST = {"hours_a_week": 168, "robot_hours_per_day": 24, "robot_days_per_year": 366}
OUT_OF_RANGE = {
    "hours_a_week": "a week has 168 hours",
    "robot_hours_per_day": "a day has 24 hours",
    "robot_days_per_year": "a year has at most 366 days",
}
SMALLEST = {"variants": 1, "languages": 1}


def sheet_of(field: str) -> str:
    """The sheet of an idea on which a fact is given: sizing, case or plan."""
    if field in PLAN:
        return "plan"
    return "sizing" if field in SIZING else "case"


def stands_for(field: str) -> str:
    """What the figure of a fact is: a share, or a number."""
    return "share" if field in SHARES or field == "discount_rate" else "number"


def _check_number(field: str, value: Any) -> str:
    try:
        number = exact(value)
    except ValueError as error:
        raise InputFaults([Fault(field, value, f"{error}; give a number such as 12.5")]) from None
    high = 1 if field in SHARES else LARGEST.get(field, 1_000_000_000)
    low = -1 if field == "discount_rate" else SMALLEST.get(field, 0)
    if not low <= number <= high or (field == "discount_rate" and number <= -1):
        words = OUT_OF_RANGE.get(field, "")
        if field in SHARES and number > 1:
            words = "a share is at most 1, which is all; 0.05 means 5 %"
        allowed = f"out of range; allowed: {low} to {high:,}"
        raise InputFaults([Fault(field, value, f"{words}; {allowed}" if words else allowed)])
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
        for name in ("access", "currency", "kind", "how"):
            if row.get(name):
                clean[name] = str(row[name]).strip()[:300]
        rows.append(clean)
    if faults:
        raise InputFaults(faults)
    return rows


def check_fact(field: str, value: Any) -> Any:
    """A fact in its kept form. Raises InputFaults naming field, value and mend."""
    if field not in LABELS:
        raise InputFaults([Fault(field, value, f"no such fact; known: {', '.join(LABELS)}")])
    if field == "rhythm":
        if not is_one_of(value, RHYTHMS):
            raise InputFaults([Fault(field, value, f"allowed: {', '.join(RHYTHMS)}")])
        return value
    if field == "arrives":
        return check_answer("arrives", value)
    if field == "peaks":
        return _check_peaks(value)
    if field == "systems":
        rows = _rows(field, value, (), 20)
        for index, row in enumerate(rows):
            if not is_one_of(row.get("access"), ACCESS_DAYS):
                message = f"allowed: {', '.join(ACCESS_DAYS)}"
                raise InputFaults([Fault(f"systems[{index}].access", row.get("access"), message)])
        return rows
    if field in ("running_lines", "benefit_lines"):
        return _check_lines(field, value)
    if field == "mends":
        return _check_mends(value)
    if field == "phases":
        return _check_phases(_rows(field, value, ("person_days", "day_rate", "days", "lag"), 30))
    if field in ("plan_start", "costs_on"):
        return _check_day(field, value)
    if field in TEXTS:
        return _check_text(field, value, TEXTS[field])
    return _check_number(field, value)


def _check_text(field: str, value: Any, most: int) -> str:
    text = str(value or "").strip()
    if len(text) > most:
        raise InputFaults([Fault(field, text[:40] + "…", f"{len(text):,} characters; at most {most:,}")])
    return text


def _check_lines(field: str, value: Any) -> list[dict[str, Any]]:
    """Lines in money a year: an amount, so much a robot, or a share of a person × days × a day's cost."""
    rows = _rows(field, value, LINE_NUMBERS, 30)
    for index, row in enumerate(rows):
        for name in LINE_NUMBERS:
            if row[name] is None:
                del row[name]
        code = row.get("currency")
        if code and not (len(code) == 3 and code.isalpha() and code.isupper()):
            message = "give a three-letter code such as USD, or leave it empty"
            raise InputFaults([Fault(f"{field}[{index}].currency", code, message)])
        if field == "benefit_lines":
            check_benefit(row, f"{field}[{index}]")
    return rows


def _check_mends(value: Any) -> dict[str, int]:
    """Ten points over what it should mend; fewer while they are being given."""
    if not isinstance(value, dict) or set(value) - set(MENDS):
        raise InputFaults([Fault("mends", value, f"give points for {', '.join(MENDS)}")])
    kept = {}
    for name, points in value.items():
        number = exact(_check_number(f"mends.{name}", points if points not in (None, "") else 0))
        if number.denominator != 1:
            raise InputFaults([Fault(f"mends.{name}", points, "give a whole number of points")])
        kept[name] = int(number)
    if sum(kept.values()) > MEND_POINTS:
        message = f"{sum(kept.values())} points are given; there are {MEND_POINTS}"
        raise InputFaults([Fault("mends", value, message)])
    return kept


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
        # Days that are those of its person-days follow them; others are set apart.
        if days is not None and exact(days) == working_days({**row, "days": None}):
            row["days"] = None
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
