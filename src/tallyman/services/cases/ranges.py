"""A sizing as ranges: hours, net and payback sampled, what moves them most, what does not fit together."""

from __future__ import annotations

from fractions import Fraction
from math import isfinite
from typing import Any

from tallyman.core.cases import business_case, sampling, sanity
from tallyman.core.cases.business_case import CaseInput
from tallyman.core.cases.delivered import WHATS
from tallyman.core.cases.facts import LABELS, SIZING
from tallyman.core.cases.sampling import Money, Range, Three
from tallyman.core.cases.sizing import Sized
from tallyman.core.cases.sizing_calc import decimal, points
from tallyman.core.exact import exact, text_of
from tallyman.core.faults import InputFaults
from tallyman.core.known import Known
from tallyman.core.volume import by_month
from tallyman.services.cases import asked, delivered
from tallyman.services.cases import sizing as sizing_service
from tallyman.services.cases.business_case import figures_of
from tallyman.services.cases.facts import as_rows
from tallyman.services.cases.inputs import Inputs, case_input
from tallyman.services.context import Ctx, company_day
from tallyman.services.ideas import find_to
from tallyman.services.rates import rates
from tallyman.store.db import Tx
from tallyman.store.records.house import SystemsNames
from tallyman.store.records.ideas import Idea, PointsOfIdea
from tallyman.store.records.rates import CostsUsedNames

WITHIN = (12, 24, 36)
NAMES = {
    "volume": "Volume",
    "handling_minutes": "Minutes each",
    "automatable_share": "Automatable share",
    "build_effort": "Build effort",
}


def view(ctx: Ctx, idea_id: int) -> dict[str, Any]:
    """The sizing sheet: facts with their sources, results with workings and ranges, agreement."""

    def work(tx: Tx) -> dict[str, Any]:
        idea = find_to(tx, ctx, idea_id, "idea.see")
        sheet = sizing_service.sizing_sheet(tx, idea)
        sized = sizing_service.compute(tx, ctx, sheet)
        return {
            "fields": as_rows(sheet, SIZING),
            "results": sizing_service.as_dict(sized),
            "ranges": of(tx, ctx, idea, case_input(tx, ctx, idea)),
            "state": idea.sizing_state,
            "sized_by": idea.sizer,
            "sized_at": idea.sized_at,
            "agreed_by": idea.agreer,
            "agreed_at": idea.agreed_at,
            "note": idea.sizing_note,
            "points": [
                {**row.as_dict(), "label": LABELS[row.field]}
                for row in tx.all(PointsOfIdea, "points.of_idea", idea=idea_id)
            ],
            "asked": asked.of_idea(tx, idea_id),
            "corrections": _corrections(tx, ctx, idea, sheet, sized),
            "systems": tx.all(SystemsNames, "systems.names"),
            "roles": [
                row.what for row in tx.all(CostsUsedNames, "costs.used_names") if row.kind == "hour_cost"
            ],
        }

    return ctx.db.transact(work)


# Which fact a correction would change, and the reason that goes with it.
CORRECTS = {
    "effort": ("effort_override", "effort_reason"),
    "minutes": ("handling_minutes", ""),
    "share": ("share_override", "share_reason"),
    "volume": ("volume", ""),
}


def _corrections(tx: Tx, ctx: Ctx, idea: Idea, sheet: dict[str, Known], sized: Sized) -> list[dict[str, Any]]:
    """What delivered ideas say of these estimates: offered with its sample, never applied in silence."""
    volume, minutes = sheet.get("volume"), sheet.get("handling_minutes")
    now = {
        "effort": sized.computed_effort,
        "minutes": exact(minutes.value) if minutes else None,
        "share": sized.computed_share,
        "volume": exact(volume.value) if volume else None,
    }
    rows = []
    for one in delivered.corrections_for(tx, idea, idea.sizer or ctx.actor.name):
        value = now[one.what]
        if value is None:
            continue
        wanted = value * one.factor
        if one.what == "share":
            wanted = min(wanted, Fraction(1))
        field, reason = CORRECTS[one.what]
        rows.append(
            {
                "what": one.what,
                "label": WHATS[one.what],
                "field": field,
                "reason_field": reason,
                "factor": text_of(one.factor, 2),
                "least": text_of(one.least, 2),
                "most": text_of(one.most, 2),
                "sample": one.sample,
                "of": one.of,
                "ideas": list(one.ideas),
                "now": text_of(value, 4 if one.what == "share" else 1),
                "corrected": text_of(wanted, 4 if one.what == "share" else 1),
            }
        )
    return rows


def of(tx: Tx, ctx: Ctx, idea: Idea, inputs: Inputs) -> dict[str, Any]:
    """What the sizing sheet shows beside its figures; parts that cannot be reckoned yet are None."""
    sized = inputs.sized
    facts = {field: known.value for field, known in inputs.sized_sheet.items()}
    case, figures = figures_of(inputs)
    cost = inputs.sheet.get("cost_per_hour")
    asked = sanity.asks(
        {**facts, "cost_per_hour": cost.value if cost else None}, sized.hours_per_year, figures.saving
    )
    later = sizing_service.joined_since(tx, idea)
    if later:
        people = "1 more person" if later == 1 else f"{later} more people"
        words = f"{people} joined with a volume since it was sized, which is not counted. Size it anew?"
        asked.append(sanity.Ask("volume", words))
    found: dict[str, Any] = {
        "asks": [{"field": one.field, "words": one.words} for one in asked],
        "months": _months(facts, sized),
        "people_hours": None,
        "equivalents": None,
        "hours": None,
        "net": None,
        "payback": None,
        "chances": [],
        "case_missing": list(case.missing),
        "seed": idea.id,
        "draws": sampling.DRAWS,
    }
    person = rates.in_force(tx, rates.HOURS_A_YEAR, company_day(tx, ctx))
    if person is not None:
        found["people_hours"] = {"value": text_of(person.value, 0), "since": person.since}
        freed = freed_hours(figures)
        if freed is not None and person.value:
            found["equivalents"] = text_of(freed / person.value, 2)
    try:
        three = points(facts, sized)
    except InputFaults:
        # What does not rise stands among the asks.
        return found
    if three is not None:
        found |= _sampled(idea, three, _money(case, figures))
    return found


def freed_hours(figures: business_case.Case) -> Fraction | None:
    """Hours a year that people have back: all they spend today, less what they keep and what robots hand
    back; None while a part of that is not known."""
    parts = (figures.hours_before, figures.rework_hours, figures.kept_hours, figures.returned_hours)
    before, rework, kept, handed_back = parts
    if before is None or rework is None or kept is None or handed_back is None:
        return None
    return before + rework - kept - handed_back


def _months(facts: dict[str, Any], sized: Sized) -> list[str | None] | None:
    peaks = facts.get("peaks")
    if not peaks or sized.volume_per_year is None:
        return None
    return [text_of(part, 1) for part in by_month(sized.volume_per_year, [exact(one) for one in peaks])]


def _money(case: CaseInput, figures: business_case.Case) -> Money | None:
    """What of the case every draw shares; None while the case is not whole."""
    if case.missing or figures.one_time is None or figures.gap_days is None or case.phases is None:
        return None

    def of_case(name: str) -> float:
        value = case[name]
        assert value is not None
        return float(value)

    other = of_case("other_software_per_year") + sum(float(line.amount or 0) for line in case.running_lines)
    return Money(
        cost_per_hour=of_case("cost_per_hour"),
        rework_share=of_case("rework_share"),
        rework_minutes=of_case("rework_minutes"),
        robot_minutes=of_case("robot_minutes"),
        exception_share=of_case("robot_exception_share"),
        exception_minutes=of_case("robot_exception_minutes"),
        robot_hours_a_year=of_case("robot_hours_per_day") * of_case("robot_days_per_year"),
        seat_cost=of_case("seat_cost_per_year"),
        support_share=of_case("support_share"),
        other_running=other,
        one_time=float(figures.one_time),
        by_effort=float(figures.one_time - case.one_time_other),
        gap_months=figures.gap_days / (365 / 12),
    )


def _range(found: Range, likely: Any, digits: int) -> dict[str, str | None]:
    return {
        "likely": decimal(float(likely) if isfinite(likely) else None, digits),
        "p10": decimal(found.p10, digits),
        "p50": decimal(found.p50, digits),
        "p90": decimal(found.p90, digits),
    }


def _moves(three: dict[str, Three], figure: Any, digits: int) -> list[dict[str, Any]]:
    return [
        {
            "name": NAMES[one.name],
            "at_low": decimal(one.at_low, digits),
            "at_high": decimal(one.at_high, digits),
        }
        for one in sampling.what_moves(three, figure)
        if one.width
    ]


def _sampled(idea: Idea, three: dict[str, Three], money: Money | None) -> dict[str, Any]:
    drawn = sampling.draw(three, idea.id)
    likely = {name: point.likely for name, point in three.items()}
    hours = sampling.yearly_hours(drawn)
    found: dict[str, Any] = {
        "hours": {
            **_range(sampling.range_of(hours), sampling.yearly_hours(likely), 0),
            "shape": _shape(hours, 0),
            "moves": _moves(three, sampling.yearly_hours, 0),
        }
    }
    if money is None:
        return found
    effort = three["build_effort"].likely
    net = sampling.yearly_net(drawn, money, effort)
    months = sampling.payback_months(drawn, money, effort)
    at_likely = sampling.payback_months(likely, money, effort)
    found["net"] = {
        **_range(sampling.range_of(net), sampling.yearly_net(likely, money, effort), 0),
        "shape": _shape(net, 0),
        "moves": _moves(three, lambda one: sampling.yearly_net(one, money, effort), 0),
    }
    found["payback"] = _range(sampling.range_of(months), at_likely, 1)
    found["chances"] = [
        {
            "months": within,
            "share": text_of(Fraction(sampling.chance(months, within)).limit_denominator(10_000), 4),
        }
        for within in WITHIN
    ]
    return found


def _shape(values: Any, digits: int) -> list[dict[str, str | None]]:
    return [
        {
            "from": decimal(bar["from"], digits),
            "to": decimal(bar["to"], digits),
            "share": decimal(bar["share"], 4),
        }
        for bar in sampling.shape_of(values)
    ]
