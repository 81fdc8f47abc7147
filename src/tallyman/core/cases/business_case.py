"""The business case: cost before and after, nets, payback, present value (rules §3)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from math import ceil
from typing import Any

from tallyman.core.exact import Reader, text_of
from tallyman.core.faults import Fault, InputFaults, unknown_word

YEAR_DAYS = 365
MONTHS_SHOWN = 60
LATE = f"not within {MONTHS_SHOWN} months"
SHARES = ("rework_share", "automatable_share", "robot_exception_share")
AMOUNTS = (
    "volume_per_year",
    "handling_minutes",
    "cost_per_hour",
    "rework_minutes",
    "robot_minutes",
    "robot_exception_minutes",
    "seat_cost_per_year",
    "support_share",
    "other_software_per_year",
)
RULES_VERSION = "business case 1"
# How a case counts the seats of its robots: whole ones, or the share of them that it uses.
WHOLE_SEATS, SHARED_SEATS = "whole", "share"
SEATS = (WHOLE_SEATS, SHARED_SEATS)

Maybe = Fraction | None


@dataclass(frozen=True)
class Line:
    """A named yearly amount."""

    name: str
    amount: Maybe


@dataclass(frozen=True)
class PhaseCost:
    """A phase with its person-days and what a day costs."""

    name: str
    person_days: Maybe
    day_rate: Maybe


@dataclass(frozen=True)
class CaseInput:
    """The checked inputs of a case; None where one is missing."""

    numbers: dict[str, Maybe]
    one_time_other: Fraction
    running_lines: tuple[Line, ...]
    phases: tuple[PhaseCost, ...] | None
    start: date | None
    go_live: date | None
    currency: str
    missing: tuple[str, ...]
    seats: str = WHOLE_SEATS

    def __getitem__(self, name: str) -> Maybe:
        return self.numbers[name]


@dataclass(frozen=True)
class Case:
    """Every figure of the case, exact; None where it cannot be computed for a missing input."""

    hours_before: Maybe
    rework_hours: Maybe
    cost_before: Maybe
    kept_hours: Maybe
    returned_hours: Maybe
    cost_after_people: Maybe
    saving: Maybe
    robot_hours: Maybe
    robots: int | None
    robot_share: Maybe
    seats_paid: Maybe
    build_cost: Maybe
    one_time: Maybe
    running: Maybe
    gap_days: int | None
    live_parts: tuple[Fraction, ...] | None
    net: tuple[Fraction, ...] | None
    after_go_live: tuple[Fraction, ...] | None
    payback_months: Maybe
    npv: Maybe
    return_3y: Maybe


def _rows(given: dict[str, Any], name: str, faults: list[Fault]) -> list[dict[str, Any]] | None:
    rows = given.get(name)
    if rows is None:
        return None
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        faults.append(Fault(name, rows, "give a list of JSON objects"))
        return None
    return rows


def read_case(given: dict[str, Any]) -> CaseInput:
    """Checks the input of `calc business-case`; raises InputFaults with every fault."""
    if not isinstance(given, dict):
        raise InputFaults([Fault("input", given, "give one JSON object")])
    reader = Reader(given)
    currency = given.get("currency")
    if currency is None:
        reader.missing.append("currency")
    elif not (isinstance(currency, str) and len(currency) == 3 and currency.isalpha()):
        reader.faults.append(Fault("currency", currency, "give a three-letter code such as EUR"))
    numbers: dict[str, Maybe] = {}
    for name in AMOUNTS:
        numbers[name] = reader.number(name)
    for name in SHARES:
        numbers[name] = reader.number(name, high=1)
    numbers["robot_hours_per_day"] = reader.number("robot_hours_per_day", above=0, high=24)
    numbers["robot_days_per_year"] = reader.number("robot_days_per_year", above=0, high=366)
    numbers["discount_rate"] = reader.number("discount_rate", low=None, above=-1)
    other = Reader(given).source.get("one_time_other")
    one_time_other = Fraction(0) if other is None else reader.number("one_time_other")
    lines = []
    for index, row in enumerate(_rows(given, "running_lines", reader.faults) or []):
        inner = Reader(row, f"running_lines[{index}].")
        lines.append(Line(str(row.get("name", "")), inner.number("amount", low=None)))
        reader.faults += inner.faults
        reader.missing += inner.missing
    found = _rows(given, "phases", reader.faults)
    phases: list[PhaseCost] | None = None if found is None else []
    for index, row in enumerate(found or []):
        inner = Reader(row, f"phases[{index}].")
        days, rate = inner.number("person_days"), inner.number("day_rate")
        reader.faults += inner.faults
        reader.missing += inner.missing
        if phases is not None:
            phases.append(PhaseCost(str(row.get("name", "")), days, rate))
    if found is None:
        reader.missing.append("phases")
    start, go_live = reader.day("start"), reader.day("go_live")
    seats = given.get("seats", WHOLE_SEATS)
    if seats not in SEATS:
        reader.faults.append(unknown_word("seats", seats, SEATS))
    if reader.faults:
        raise InputFaults(reader.faults)
    return CaseInput(
        numbers,
        one_time_other or Fraction(0),
        tuple(lines),
        None if phases is None else tuple(phases),
        start,
        go_live,
        str(currency or ""),
        tuple(reader.missing),
        str(seats),
    )


def _all(*values: Maybe | int) -> bool:
    return all(value is not None for value in values)


def _with(function: Callable[..., Fraction], *values: Maybe | int) -> Maybe:
    """The function of the values, or None if any of them is missing."""
    return function(*values) if _all(*values) else None


def _sum(values: list[Maybe]) -> Maybe:
    return sum((v for v in values if v is not None), Fraction(0)) if _all(*values) else None


def compute(case: CaseInput) -> Case:
    """Every figure of the case from its checked inputs (rules §3)."""
    n = case.numbers
    volume, share = n["volume_per_year"], n["automatable_share"]
    hours = _with(lambda v, m: v * m / 60, volume, n["handling_minutes"])
    rework = _with(lambda v, s, m: v * s * m / 60, volume, n["rework_share"], n["rework_minutes"])
    before = _with(lambda h, r, c: (h + r) * c, hours, rework, n["cost_per_hour"])
    kept = _with(lambda h, r, a: (1 - a) * (h + r), hours, rework, share)
    back = _with(
        lambda a, e, v, m: a * e * v * m / 60,
        share,
        n["robot_exception_share"],
        volume,
        n["robot_exception_minutes"],
    )
    after = _with(lambda k, b, c: (k + b) * c, kept, back, n["cost_per_hour"])
    saving = _with(lambda b, a: b - a, before, after)
    robot_hours = _with(lambda v, a, m: v * a * m / 60, volume, share, n["robot_minutes"])
    yearly = _with(lambda h, d: h * d, n["robot_hours_per_day"], n["robot_days_per_year"])
    robot_share: Maybe = None
    if robot_hours == 0:
        robot_share = Fraction(0)
    elif robot_hours is not None and yearly is not None:
        robot_share = robot_hours / yearly
    robots = None if robot_share is None else ceil(robot_share)
    seats_paid = robot_share if case.seats == SHARED_SEATS else _with(Fraction, robots)
    build: Maybe = None
    if case.phases is not None:
        build = _sum([_with(lambda d, r: d * r, p.person_days, p.day_rate) for p in case.phases])
    one_time = _with(lambda b: b + case.one_time_other, build)
    running = _with(
        lambda r, seat, support, once, other, lines: r * seat + support * once + other + lines,
        seats_paid,
        n["seat_cost_per_year"],
        n["support_share"],
        one_time,
        n["other_software_per_year"],
        _sum([line.amount for line in case.running_lines]),
    )
    return _over_time(
        case,
        Case(
            hours_before=hours,
            rework_hours=rework,
            cost_before=before,
            kept_hours=kept,
            returned_hours=back,
            cost_after_people=after,
            saving=saving,
            robot_hours=robot_hours,
            robots=robots,
            robot_share=robot_share,
            seats_paid=seats_paid,
            build_cost=build,
            one_time=one_time,
            running=running,
            gap_days=None,
            live_parts=None,
            net=None,
            after_go_live=None,
            payback_months=None,
            npv=None,
            return_3y=None,
        ),
    )


def _over_time(case: CaseInput, figures: Case) -> Case:
    """Adds what depends on dates: nets, payback, present value, return."""
    saving, running, one_time = figures.saving, figures.running, figures.one_time
    if case.start is not None and case.go_live is not None:
        gap = max(0, (case.go_live - case.start).days)
        parts = tuple(
            min(Fraction(1), max(Fraction(0), Fraction(YEAR_DAYS * k - gap, YEAR_DAYS))) for k in (1, 2, 3)
        )
        figures = replace(figures, gap_days=gap, live_parts=parts)
    if saving is None or running is None or one_time is None:
        return figures
    yearly = saving - running
    figures = replace(figures, after_go_live=(yearly - one_time, yearly, yearly))
    if figures.live_parts is None or figures.gap_days is None:
        return figures
    live = figures.live_parts
    net = (live[0] * yearly - one_time, live[1] * yearly, live[2] * yearly)
    rate = case["discount_rate"]
    npv = None
    if rate is not None:
        flows = (part * yearly / (1 + rate) ** k for k, part in enumerate(live, start=1))
        npv = sum(flows, -one_time)
    spent = sum(live) * running + one_time
    gained = sum(live) * saving - spent
    return replace(
        figures,
        net=net,
        npv=npv,
        payback_months=payback(figures.gap_days, one_time, yearly),
        return_3y=None if spent == 0 else gained / spent,
    )


def payback(gap_days: int, one_time: Fraction, yearly: Fraction) -> Maybe:
    """Months of 365/12 days from the start until the one-time cost is earned back; None if never
    or after more than 60 months."""
    if yearly <= 0:
        return None
    months = Fraction(gap_days * 12, YEAR_DAYS) + 12 * one_time / yearly
    if months > MONTHS_SHOWN:
        return None
    return months if one_time else Fraction(0)


def payback_said(figures: Case) -> str:
    """Why there is no month of payback, in words; empty where there is one."""
    if figures.payback_months is not None:
        return ""
    if figures.saving is None or figures.running is None or figures.net is None:
        return "not known yet"
    return "never, as it saves no more than it costs" if figures.saving <= figures.running else LATE


def _texts(values: tuple[Fraction, ...] | None) -> list[str | None] | None:
    return None if values is None else [text_of(value, 2) for value in values]


def as_texts(figures: Case) -> dict[str, Any]:
    """The figures as `calc business-case` prints them, without missing and working."""
    return {
        "cost_before": text_of(figures.cost_before, 2),
        "cost_after_people": text_of(figures.cost_after_people, 2),
        "saving_per_year": text_of(figures.saving, 2),
        "robot_hours": text_of(figures.robot_hours, 4),
        "robots": figures.robots,
        "robot_share": text_of(figures.robot_share, 4),
        "running_cost_per_year": text_of(figures.running, 2),
        "one_time_cost": text_of(figures.one_time, 2),
        "net": _texts(figures.net),
        "after_go_live": _texts(figures.after_go_live),
        "payback_months": text_of(figures.payback_months, 4),
        "payback_said": payback_said(figures),
        "npv_3y": text_of(figures.npv, 2),
        "return_3y": text_of(figures.return_3y, 6),
    }
