"""A sizing as ranges: hours, net and payback sampled, what moves them most, what does not fit together."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from fractions import Fraction
from math import isfinite

from tallyman.core.cases import business_case, sampling, sanity
from tallyman.core.cases.business_case import CaseInput
from tallyman.core.cases.delivered import WHATS
from tallyman.core.cases.facts import LABELS, SIZING
from tallyman.core.cases.sampling import Draws, Money, Range, Three
from tallyman.core.cases.sizing import Sized
from tallyman.core.cases.sizing_calc import decimal, points
from tallyman.core.exact import exact, text_of
from tallyman.core.faults import InputFaults
from tallyman.core.free import FreeObject
from tallyman.core.known import Known
from tallyman.core.volume import by_month
from tallyman.services.cases import asked, delivered
from tallyman.services.cases import sizing as sizing_service
from tallyman.services.cases.answers import (
    AskOut,
    Bar,
    ChanceOut,
    CorrectionOut,
    MovedOut,
    PersonHours,
    PointOut,
    RangeOut,
    RangesOut,
    SampledOut,
    Sizing,
)
from tallyman.services.cases.business_case import figures_of
from tallyman.services.cases.facts import as_rows
from tallyman.services.cases.inputs import Inputs, case_input
from tallyman.services.context import Ctx, company_day, in_transaction
from tallyman.services.ideas import find_to
from tallyman.services.rates import rates
from tallyman.store.db import Tx
from tallyman.store.records.house import SystemChoice
from tallyman.store.records.ideas import Idea, PointsOfIdea
from tallyman.store.records.rates import CostsUsedNames

WITHIN = (12, 24, 36)
NAMES = {
    "volume": "Volume",
    "handling_minutes": "Minutes each",
    "automatable_share": "Automatable share",
    "build_effort": "Build effort",
}


@in_transaction
def view(tx: Tx, ctx: Ctx, idea_id: int) -> Sizing:
    """The sizing sheet: facts with their sources, results with workings and ranges, agreement."""
    idea = find_to(tx, ctx, idea_id, "idea.see")
    sheet = sizing_service.sizing_sheet(tx, idea)
    sized = sizing_service.compute(tx, ctx, idea, sheet)
    return Sizing(
        fields=as_rows(sheet, SIZING),
        results=sizing_service.results_of(sized),
        ranges=of(tx, ctx, idea, case_input(tx, ctx, idea)),
        state=idea.sizing_state,
        sized_by=idea.sizer,
        sized_at=idea.sized_at,
        agreed_by=idea.agreer,
        agreed_at=idea.agreed_at,
        note=idea.sizing_note,
        points=[
            PointOut(
                id=row.id,
                field=row.field,
                words=row.words,
                person=row.person,
                made_at=row.made_at,
                met_by=row.met_by,
                met_at=row.met_at,
                answer=row.answer,
                label=LABELS[row.field],
            )
            for row in tx.all(PointsOfIdea, "points.of_idea", idea=idea_id)
        ],
        asked=asked.of_idea(tx, idea_id),
        corrections=_corrections(tx, ctx, idea, sheet, sized),
        systems=tx.all(SystemChoice, "systems.names"),
        roles=[row.what for row in tx.all(CostsUsedNames, "costs.used_names") if row.kind == "hour_cost"],
    )


# Which fact a correction would change, and the reason that goes with it.
CORRECTS = {
    "effort": ("effort_override", "effort_reason"),
    "minutes": ("handling_minutes", ""),
    "share": ("share_override", "share_reason"),
    "volume": ("volume", ""),
}


def _corrections(tx: Tx, ctx: Ctx, idea: Idea, sheet: dict[str, Known], sized: Sized) -> list[CorrectionOut]:
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
        digits = 4 if one.what == "share" else 1
        rows.append(
            CorrectionOut(
                what=one.what,
                label=WHATS[one.what],
                field=field,
                reason_field=reason,
                factor=text_of(one.factor, 2) or "",
                least=text_of(one.least, 2) or "",
                most=text_of(one.most, 2) or "",
                sample=one.sample,
                of=one.of,
                ideas=list(one.ideas),
                now=text_of(value, digits) or "",
                corrected=text_of(wanted, digits) or "",
            )
        )
    return rows


def of(tx: Tx, ctx: Ctx, idea: Idea, inputs: Inputs) -> RangesOut:
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
    person = rates.in_force(tx, rates.HOURS_A_YEAR, company_day(tx, ctx))
    freed = freed_hours(figures) if person is not None else None
    found = RangesOut(
        asks=[AskOut(field=one.field, words=one.words) for one in asked],
        months=_months(facts, sized),
        people_hours=None if person is None else PersonHours(text_of(person.value, 0) or "", person.since),
        equivalents=text_of(freed / person.value, 2)
        if person and freed is not None and person.value
        else None,
        hours=None,
        net=None,
        payback=None,
        chances=[],
        case_missing=list(case.missing),
        seed=idea.id,
        draws=sampling.DRAWS,
    )
    try:
        three = points(facts, sized)
    except InputFaults:
        # What does not rise stands among the asks.
        return found
    return found if three is None else _sampled(idea, three, _money(case, figures), found)


def freed_hours(figures: business_case.Case) -> Fraction | None:
    """Hours a year that people have back: all they spend today, less what they keep and what robots hand
    back; None while a part of that is not known."""
    parts = (figures.hours_before, figures.rework_hours, figures.kept_hours, figures.returned_hours)
    before, rework, kept, handed_back = parts
    if before is None or rework is None or kept is None or handed_back is None:
        return None
    return before + rework - kept - handed_back


def _months(facts: FreeObject, sized: Sized) -> list[str] | None:
    peaks = facts.get("peaks")
    if not peaks or sized.volume_per_year is None:
        return None
    return [text_of(part, 1) or "" for part in by_month(sized.volume_per_year, [exact(one) for one in peaks])]


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
        shared_seats=case.seats == business_case.SHARED_SEATS,
        support_share=of_case("support_share"),
        other_running=other,
        one_time=float(figures.one_time),
        by_effort=float(figures.one_time - case.one_time_other),
        gap_months=figures.gap_days / (365 / 12),
    )


def _range(found: Range, likely: float, digits: int) -> RangeOut:
    return RangeOut(
        likely=decimal(float(likely) if isfinite(likely) else None, digits),
        p10=decimal(found.p10, digits),
        p50=decimal(found.p50, digits),
        p90=decimal(found.p90, digits),
    )


def _with_shape(drawn: Draws, likely: float, moves: list[MovedOut]) -> SampledOut:
    one = _range(sampling.range_of(drawn), likely, 0)
    return SampledOut(one.likely, one.p10, one.p50, one.p90, shape=_shape(drawn, 0), moves=moves)


def _moves(
    three: dict[str, Three], figure: Callable[[Mapping[str, float]], float], digits: int
) -> list[MovedOut]:
    return [
        MovedOut(
            name=NAMES[one.name],
            at_low=decimal(one.at_low, digits) or "",
            at_high=decimal(one.at_high, digits) or "",
        )
        for one in sampling.what_moves(three, figure)
        if one.width
    ]


def _sampled(idea: Idea, three: dict[str, Three], money: Money | None, found: RangesOut) -> RangesOut:
    """The ranges with what was sampled: hours, and net and payback where the case is whole."""
    drawn = sampling.draw(three, idea.id)
    likely = {name: point.likely for name, point in three.items()}
    moves = _moves(three, sampling.yearly_hours, 0)
    hours = _with_shape(sampling.yearly_hours(drawn), sampling.yearly_hours(likely), moves)
    if money is None:
        return replace(found, hours=hours)
    effort = three["build_effort"].likely
    moves = _moves(three, lambda one: sampling.yearly_net(one, money, effort), 0)
    net = sampling.yearly_net(drawn, money, effort)
    months = sampling.payback_months(drawn, money, effort)
    at_likely = float(sampling.payback_months(likely, money, effort))
    return replace(
        found,
        hours=hours,
        net=_with_shape(net, sampling.yearly_net(likely, money, effort), moves),
        payback=_range(sampling.range_of(months), at_likely, 1),
        chances=[
            ChanceOut(
                within, text_of(Fraction(sampling.chance(months, within)).limit_denominator(10_000), 4) or ""
            )
            for within in WITHIN
        ],
    )


def _shape(values: Draws, digits: int) -> list[Bar]:
    return [
        Bar(
            start=decimal(bar["from"], digits) or "",
            to=decimal(bar["to"], digits) or "",
            share=decimal(bar["share"], 4) or "",
        )
        for bar in sampling.shape_of(values)
    ]
