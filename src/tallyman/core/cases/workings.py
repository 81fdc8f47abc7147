"""The working of each figure of a business case (rules §3)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from fractions import Fraction

from tallyman.core.cases.business_case import SHARED_SEATS, Case, CaseInput, Maybe, compute
from tallyman.core.exact import plain, text_of
from tallyman.core.working import Part, Swing, Used, Working

UNITS = {
    "volume_per_year": ("Volume a year", "items"),
    "handling_minutes": ("Handling minutes", "min"),
    "cost_per_hour": ("An hour costs", "money"),
    "rework_share": ("Rework share", "share"),
    "rework_minutes": ("Rework minutes", "min"),
    "automatable_share": ("Automatable share", "share"),
    "robot_minutes": ("Robot minutes an item", "min"),
    "robot_exception_share": ("Handed back by robots", "share"),
    "robot_exception_minutes": ("Minutes for one handed back", "min"),
    "robot_hours_per_day": ("Robot hours a day", "h"),
    "robot_days_per_year": ("Robot days a year", "days"),
    "seat_cost_per_year": ("A seat costs a year", "money"),
    "support_share": ("Support, share of one-time cost", "share"),
    "other_software_per_year": ("Other software a year", "money"),
    "discount_rate": ("Discount rate", "share"),
    "start": ("Start of the plan", "date"),
    "go_live": ("Go-live", "date"),
    "phases": ("Phases with days and day rates", ""),
    "currency": ("Currency", ""),
}
SAVING_INPUTS = (
    "volume_per_year",
    "handling_minutes",
    "cost_per_hour",
    "rework_share",
    "rework_minutes",
    "automatable_share",
    "robot_exception_share",
    "robot_exception_minutes",
)
RUNNING_INPUTS = ("seat_cost_per_year", "support_share", "other_software_per_year")
ROBOT_INPUTS = (
    "volume_per_year",
    "automatable_share",
    "robot_minutes",
    "robot_hours_per_day",
    "robot_days_per_year",
)

Sources = Mapping[str, tuple[str, str, str]]


def _money(value: Maybe) -> str:
    return text_of(value, 2) or "–"


def _minus(value: Maybe) -> str:
    return "–" if value is None else _money(-value)


def _hours(value: Maybe) -> str:
    return text_of(value, 1) or "–"


def input_text(case: CaseInput, name: str) -> str | None:
    """An input of the case as plain text, shares as 0.05; None if it is missing."""
    if name in ("start", "go_live"):
        day = case.start if name == "start" else case.go_live
        return None if day is None else day.isoformat()
    value = case.numbers.get(name)
    if value is None:
        return None
    return plain(value)


def _used(case: CaseInput, names: tuple[str, ...], sources: Sources) -> tuple[Used, ...]:
    rows = []
    for name in names:
        label, unit = UNITS[name]
        source, date, link = sources.get(name, ("", "", ""))
        rows.append(Used(label, input_text(case, name), unit, source, date, link or name))
    return tuple(rows)


def _lacking(case: CaseInput, names: tuple[str, ...]) -> tuple[str, ...]:
    wanted = set(names)
    return tuple(name for name in case.missing if name.split("[")[0] in wanted)


def swings(case: CaseInput, names: tuple[str, ...], figure: Callable[[Case], Maybe]) -> list[Swing]:
    """How far a figure moves when each input moves by a tenth, the strongest first."""
    rows: list[tuple[Fraction, Swing]] = []
    for name in names:
        value = case.numbers.get(name)
        if not value:
            continue
        ends = []
        for factor in (Fraction(9, 10), Fraction(11, 10)):
            moved = value * factor
            if UNITS[name][1] == "share" and moved > 1:
                moved = Fraction(1)
            ends.append(figure(compute(replace(case, numbers={**case.numbers, name: moved}))))
        low, high = ends
        if low is None or high is None:
            continue
        text = Swing(UNITS[name][0], _money(low), _money(high), "10 % less, 10 % more")
        rows.append((abs(high - low), text))
    return [row for reach, row in sorted(rows, key=lambda row: -row[0]) if reach][:5]


def _before(case: CaseInput, f: Case, sources: Sources) -> Working:
    names = (
        "volume_per_year",
        "handling_minutes",
        "rework_share",
        "rework_minutes",
        "cost_per_hour",
    )
    cost = case["cost_per_hour"]
    return Working(
        "Cost of the work today, a year",
        text_of(f.cost_before, 2),
        "money",
        "(hours of handling + hours of rework) × what an hour costs",
        parts=(
            Part("Handling", _money(_times(f.hours_before, cost)), f"{_hours(f.hours_before)} hours"),
            Part("Rework", _money(_times(f.rework_hours, cost)), f"{_hours(f.rework_hours)} hours"),
        ),
        inputs=_used(case, names, sources),
        missing=_lacking(case, names),
    )


def _times(left: Maybe, right: Maybe) -> Maybe:
    return None if left is None or right is None else left * right


def _after(case: CaseInput, f: Case, sources: Sources) -> Working:
    cost = case["cost_per_hour"]
    return Working(
        "Cost of what people still do, a year",
        text_of(f.cost_after_people, 2),
        "money",
        "(what people keep + what robots hand back) × what an hour costs",
        parts=(
            Part("Kept by people", _money(_times(f.kept_hours, cost)), _hours(f.kept_hours) + " h"),
            Part(
                "Handed back by robots",
                _money(_times(f.returned_hours, cost)),
                _hours(f.returned_hours) + " h",
            ),
        ),
        inputs=_used(case, SAVING_INPUTS, sources),
        missing=_lacking(case, SAVING_INPUTS),
    )


def _saving(case: CaseInput, f: Case, sources: Sources) -> Working:
    return Working(
        "Saved a year, once live",
        text_of(f.saving, 2),
        "money",
        "cost of the work today − cost of what people still do",
        parts=(
            Part("Today", _money(f.cost_before)),
            Part("Left to people", _minus(f.cost_after_people)),
        ),
        inputs=_used(case, SAVING_INPUTS, sources),
        swings=tuple(swings(case, SAVING_INPUTS, lambda one: one.saving)),
        missing=_lacking(case, SAVING_INPUTS),
    )


def _robots(case: CaseInput, f: Case, sources: Sources) -> Working:
    return Working(
        "Robots needed",
        None if f.robots is None else str(f.robots),
        "robots",
        "robot hours a year ÷ (robot hours a day × robot days a year), up to the next whole robot",
        parts=(
            Part("Robot hours a year", _hours(f.robot_hours), "volume × share × minutes ÷ 60"),
            Part("Its share of a robot", text_of(f.robot_share, 4) or "–", "before rounding up"),
        ),
        inputs=_used(case, ROBOT_INPUTS, sources),
        missing=_lacking(case, ROBOT_INPUTS),
    )


def _running(case: CaseInput, f: Case, sources: Sources) -> Working:
    seats = _times(f.seats_paid, case["seat_cost_per_year"])
    said = f"{f.robots if f.robots is not None else '–'} {'seat' if f.robots == 1 else 'seats'}, whole"
    if case.seats == SHARED_SEATS:
        said = f"{text_of(f.seats_paid, 4) or '–'} of a seat: its share of a robot"
    support = _times(case["support_share"], f.one_time)
    parts = [
        Part("Seats", _money(seats), said),
        Part("Support", _money(support), "share of the one-time cost"),
        Part("Other software", _money(case["other_software_per_year"])),
    ]
    parts += [Part(line.name, _money(line.amount)) for line in case.running_lines]
    names = (*RUNNING_INPUTS, "phases", *ROBOT_INPUTS, "running_lines")
    return Working(
        "Costs a year to run",
        text_of(f.running, 2),
        "money",
        "seats + support + other software + running lines",
        parts=tuple(parts),
        inputs=_used(case, RUNNING_INPUTS, sources),
        missing=_lacking(case, names),
        steps=(_robots(case, f, sources),),
        note=_seats_said(case, f),
    )


def _seats_said(case: CaseInput, f: Case) -> str:
    """What the seats come to both ways, and which of them the house counts."""
    if f.robots is None or f.robot_share is None or case["seat_cost_per_year"] is None:
        return ""
    whole = _money(f.robots * case["seat_cost_per_year"])
    part = _money(f.robot_share * case["seat_cost_per_year"])
    counts = "its share" if case.seats == SHARED_SEATS else "whole seats"
    return f"Whole seats come to {whole}, its share of a robot to {part}; the house counts {counts}."


def _one_time(case: CaseInput, f: Case) -> Working:
    parts = [
        Part(
            phase.name,
            _money(_times(phase.person_days, phase.day_rate)),
            f"{text_of(phase.person_days, 1) or '–'} days at {_money(phase.day_rate)}",
        )
        for phase in case.phases or ()
    ]
    if case.one_time_other:
        parts.append(Part("Other, once", _money(case.one_time_other)))
    return Working(
        "Costs once, to build",
        text_of(f.one_time, 2),
        "money",
        "sum of person-days × day rate of each phase, and of other one-time cost",
        parts=tuple(parts),
        missing=_lacking(case, ("phases",)),
    )


def _year(case: CaseInput, f: Case, year: int) -> Working:
    live = None if f.live_parts is None else f.live_parts[year - 1]
    parts = [
        Part("Saved", _money(_times(live, f.saving))),
        Part("To run", _minus(_times(live, f.running))),
    ]
    if year == 1:
        parts.append(Part("To build", _minus(f.one_time)))
    share = "–" if live is None else f"{text_of(live * 100, 1)} %"
    return Working(
        f"Net value in year {year}",
        None if f.net is None else text_of(f.net[year - 1], 2),
        "money",
        "live part of the year × (saved − to run)" + (" − to build" if year == 1 else ""),
        parts=tuple(parts),
        note=f"Year {year} is the {365 * (year - 1) + 1}th to {365 * year}th day from the start "
        f"of the plan; the robot is live for {share} of it.",
        missing=case.missing if f.net is None else (),
    )


def _part_of_year(case: CaseInput, f: Case, year: int, name: str, yearly: Maybe, sign: int) -> Working:
    live = None if f.live_parts is None else f.live_parts[year - 1]
    share = "–" if live is None else f"{text_of(live * 100, 1)} %"
    amount = _times(live, yearly)
    return Working(
        f"{name} in year {year}",
        None if amount is None else text_of(sign * amount, 2),
        "money",
        f"{'− ' if sign < 0 else ''}live part of the year × a full year",
        parts=(Part("A full year", _money(yearly)), Part("Live part of the year", share)),
        missing=case.missing if amount is None else (),
    )


def _from_go_live(case: CaseInput, f: Case, year: int) -> Working:
    parts = [Part("Saved", _money(f.saving)), Part("To run", _minus(f.running))]
    if year == 1:
        parts.append(Part("To build", _minus(f.one_time)))
    return Working(
        f"Net value in full year {year} from go-live",
        None if f.after_go_live is None else text_of(f.after_go_live[year - 1], 2),
        "money",
        "saved − to run" + (" − to build" if year == 1 else ""),
        parts=tuple(parts),
        missing=case.missing if f.after_go_live is None else (),
    )


def _hours_working(case: CaseInput, f: Case, sources: Sources) -> dict[str, Working]:
    before = None if f.hours_before is None or f.rework_hours is None else f.hours_before + f.rework_hours
    today = (Part("Hours of people today", _hours(before), "handling and rework"),)
    rows = {
        "hours_today": (
            "Hours of people today, a year",
            before,
            "volume a year × (handling minutes + rework share × rework minutes) ÷ 60",
            ("volume_per_year", "handling_minutes", "rework_share", "rework_minutes"),
        ),
        "hours_kept": (
            "Hours people keep, a year",
            f.kept_hours,
            "(1 − automatable share) × hours of people today",
            ("automatable_share",),
        ),
        "hours_returned": (
            "Hours handed back, a year",
            f.returned_hours,
            "automatable share × handed back by robots × volume a year × minutes for one handed back ÷ 60",
            ("automatable_share", "robot_exception_share", "volume_per_year", "robot_exception_minutes"),
        ),
    }
    return {
        key: Working(
            name,
            text_of(value, 1),
            "h",
            formula,
            parts=today if key == "hours_kept" else (),
            inputs=_used(case, names, sources),
            missing=_lacking(case, names) if value is None else (),
        )
        for key, (name, value, formula, names) in rows.items()
    }


def _payback(case: CaseInput, f: Case) -> Working:
    yearly = None if f.saving is None or f.running is None else f.saving - f.running
    if f.payback_months is not None or yearly is None or f.gap_days is None:
        note = ""
    elif yearly <= 0:
        note = "It never pays back: what it saves a year does not exceed what it costs to run."
    else:
        note = "It pays back after more than 60 months, which is not shown as a payback."
    formula = "12 × days from start to go-live ÷ 365 + 12 × one-time cost ÷ what is left a year"
    return Working(
        "Paid back after",
        text_of(f.payback_months, 4),
        "months",
        formula if f.one_time else "0 × one-time cost; nothing is to be paid back",
        parts=(
            Part("Days from start to go-live", "–" if f.gap_days is None else str(f.gap_days)),
            Part("One-time cost", _money(f.one_time)),
            Part("What is left a year", _money(yearly), "saved − to run"),
        ),
        note=note or "A month is 365/12 days.",
        missing=case.missing if note == "" and f.payback_months is None else (),
    )


def _npv(case: CaseInput, f: Case, sources: Sources) -> Working:
    parts = [Part("To build, now", _minus(f.one_time))]
    rate = case["discount_rate"]
    if f.net is not None and f.live_parts is not None and rate is not None:
        yearly = (f.saving or Fraction(0)) - (f.running or Fraction(0))
        for year, live in enumerate(f.live_parts, start=1):
            flow = live * yearly / (1 + rate) ** year
            parts.append(Part(f"Year {year}", _money(flow), "saved − to run, discounted"))
    names = SAVING_INPUTS + RUNNING_INPUTS + ("discount_rate",)
    return Working(
        "Worth over three years, NPV",
        text_of(f.npv, 2),
        "money",
        "− one-time cost + each year's (saved − to run) ÷ (1 + rate) to the power of the year",
        parts=tuple(parts),
        inputs=_used(case, ("discount_rate", "start", "go_live"), sources),
        swings=tuple(swings(case, names, lambda one: one.npv)),
        note="One-time cost counts now, yearly flows at year ends.",
        missing=case.missing if f.npv is None else (),
    )


def _return(case: CaseInput, f: Case) -> Working:
    share = None if f.return_3y is None else text_of(f.return_3y, 6)
    live = None if f.live_parts is None else sum(f.live_parts, Fraction(0))
    said = "" if live is None else f"a full year × {text_of(live, 4)}"
    return Working(
        "Return over three years",
        share,
        "share",
        "(saved − to run − to build) ÷ (to run + to build); over three years",
        parts=(
            Part("Saved", _money(_times(live, f.saving)), said),
            Part("To run", _money(_times(live, f.running)), said),
            Part("To build", _money(f.one_time), "once"),
        ),
        missing=case.missing if f.return_3y is None else (),
    )


def workings(case: CaseInput, figures: Case, sources: Sources) -> dict[str, Working]:
    """The working of every figure by its name in the result; sources give (where, when, link)."""
    by_year = {}
    for year in (1, 2, 3):
        by_year[f"saved_{year}"] = _part_of_year(case, figures, year, "Saved", figures.saving, 1)
        by_year[f"to_run_{year}"] = _part_of_year(case, figures, year, "To run", figures.running, -1)
        by_year[f"net_{year}"] = _year(case, figures, year)
        by_year[f"live_{year}"] = _from_go_live(case, figures, year)
    return {
        **by_year,
        **_hours_working(case, figures, sources),
        "cost_before": _before(case, figures, sources),
        "cost_after_people": _after(case, figures, sources),
        "saving_per_year": _saving(case, figures, sources),
        "robot_hours": Working(
            "Robot hours a year",
            text_of(figures.robot_hours, 1),
            "h",
            "volume a year × automatable share × robot minutes an item ÷ 60",
            inputs=_used(case, ROBOT_INPUTS[:3], sources),
            missing=_lacking(case, ROBOT_INPUTS[:3]) if figures.robot_hours is None else (),
        ),
        "robots": _robots(case, figures, sources),
        "running_cost_per_year": _running(case, figures, sources),
        "one_time_cost": _one_time(case, figures),
        "payback_months": _payback(case, figures),
        "npv_3y": _npv(case, figures, sources),
        "return_3y": _return(case, figures),
    }
