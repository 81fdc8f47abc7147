"""The business case: figures with their workings, the rows used, the year by month, the promise."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from datetime import date

from tallyman.core.alerts import kinds
from tallyman.core.cases import business_case, workings, yearly
from tallyman.core.cases.business_case import Case, CaseInput
from tallyman.core.cases.delivered import year_of_work
from tallyman.core.cases.facts import CASE, LABELS, sheet_of
from tallyman.core.cases.sizing import Sized
from tallyman.core.exact import exact, plain, text_of
from tallyman.core.free import FreeObject
from tallyman.errors import Refused
from tallyman.services.cases import delivered
from tallyman.services.cases.answers import (
    BesideRow,
    CaseFigures,
    CaseHours,
    CaseMonths,
    CaseOut,
    CaseTables,
    CaseYear,
    Lack,
    LineOut,
    Plan,
    PlanPhase,
    PromiseOut,
    TableRow,
    TypicalMonth,
)
from tallyman.services.cases.facts import as_rows
from tallyman.services.cases.inputs import Inputs, case_input
from tallyman.services.context import Ctx, changed, company_day, in_transaction
from tallyman.services.ideas import find_to, move, ref, tell_of
from tallyman.services.rates import rates
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasFormerPromises, IdeasLock, Promise

SIZING_LINKS = {
    "volume_per_year": "volume",
    "automatable_share": "judged_share",
    "go_live": "phases",
    "start": "plan_start",
}


def missing_rows(names: tuple[str, ...], sized: Sized) -> list[Lack]:
    """Missing inputs with the sheet and field where each is supplied."""
    rows: list[Lack] = []
    for name in names:
        base = name.split("[")[0]
        if base in ("automatable_share", "volume_per_year", "phases") and sized.missing:
            for field in sized.missing:
                rows.append(Lack(field, LABELS.get(field, field), "sizing"))
            continue
        if base == "go_live":
            continue
        field = SIZING_LINKS.get(base, base)
        rows.append(Lack(field, LABELS.get(field, field), sheet_of(field)))
    return list({row.field: row for row in rows}.values())


def figures_of(inputs: Inputs) -> tuple[CaseInput, Case]:
    """The checked input and every figure."""
    case = business_case.read_case(inputs.given)
    return case, business_case.compute(case)


def figures_out(figures: Case) -> CaseFigures:
    """The figures as pages show them."""
    return CaseFigures(**business_case.as_texts(figures))


def _line(row: FreeObject) -> LineOut:
    """A line in money a year, whatever of it was given."""
    return LineOut(
        name=row["name"],
        a_year=row.get("a_year"),
        how_reckoned=row["how_reckoned"],
        amount=row.get("amount"),
        per_robot=row.get("per_robot"),
        share=row.get("share"),
        days=row.get("days"),
        day_cost=row.get("day_cost"),
        currency=row.get("currency") or "",
        kind=row.get("kind") or "",
        how=row.get("how") or "",
    )


def _day(text: str | None) -> date | None:
    return None if text is None else date.fromisoformat(text)


def plan_out(plan: FreeObject | None) -> Plan | None:
    """A plan as pages show it."""
    if plan is None:
        return None
    phases = [
        PlanPhase(one["name"], date.fromisoformat(one["start"]), date.fromisoformat(one["end"]))
        for one in plan["phases"]
    ]
    return Plan(phases, date.fromisoformat(plan["end"]))


@in_transaction
def view(tx: Tx, ctx: Ctx, idea_id: int) -> CaseOut:
    """The case sheet: inputs with sources, figures with workings, plan, rows used, and the promises."""
    idea = find_to(tx, ctx, idea_id, "idea.see")
    inputs = case_input(tx, ctx, idea)
    case, figures = figures_of(inputs)
    tree = workings.workings(case, figures, inputs.sources)
    years = yearly.years_of(figures)
    tree["benefits"] = yearly.benefits(inputs.benefits)
    tree.update(yearly.costs_by_year(figures))
    given = inputs.given
    promise = tx.one(Promise, "ideas.promise", idea=idea.id)
    return CaseOut(
        currency=given["currency"],
        fields=as_rows(inputs.sheet, CASE),
        figures=figures_out(figures),
        yearly=None if years is None else [_year(one) for one in years],
        hours=CaseHours(
            handling=text_of(figures.hours_before, 1),
            rework=text_of(figures.rework_hours, 1),
            kept=text_of(figures.kept_hours, 1),
            returned=text_of(figures.returned_hours, 1),
            robots=text_of(figures.robot_hours, 1),
        ),
        missing=missing_rows(case.missing, inputs.sized),
        working=tree,
        plan=plan_out(inputs.plan),
        start=_day(given["start"]),
        go_live=_day(given["go_live"]),
        rules_version=business_case.RULES_VERSION,
        lines=[_line(row) for row in inputs.lines],
        offers=inputs.offers,
        benefits=[_line(row) for row in inputs.benefits],
        benefits_total=tree["benefits"].outcome,
        months=_months(tx, inputs, case, idea_id),
        tables=_tables(tx, ctx, idea, inputs, figures),
        spent=delivered.spent_of(tx, idea_id),
        promise=promise_view(promise) if promise else None,
        former=[
            promise_view(row) for row in tx.all(IdeasFormerPromises, "ideas.former_promises", idea=idea.id)
        ],
        beside=None if promise is None else _beside(tx, idea, promise, inputs, figures),
    )


def _year(one: yearly.Year) -> CaseYear:
    return CaseYear(
        before=text_of(one.before, 2),
        people=text_of(one.people, 2),
        after=text_of(one.after, 2),
        saved=text_of(one.saved, 2),
        to_run=text_of(-one.to_run, 2),
        to_build=None if one.to_build is None else text_of(-one.to_build, 2),
        net=text_of(one.net, 2),
    )


def _months(tx: Tx, inputs: Inputs, case: CaseInput, idea_id: int) -> CaseMonths | None:
    """A year of work by month, and what was delivered of it."""
    peaks = inputs.sized_sheet.get("peaks")
    year = year_of_work(case, [exact(one) for one in peaks.value] if peaks and peaks.value else None)
    if year is None:
        return None
    return CaseMonths(
        drawn=bool(peaks and peaks.value),
        typical=[
            TypicalMonth(
                before=text_of(one.before, 1),
                robots=text_of(one.robots, 1),
                handed_back=text_of(one.handed_back, 1),
                people=text_of(one.people, 1),
            )
            for one in year
        ],
        delivered=delivered.by_month(tx, idea_id),
    )


def _tables(tx: Tx, ctx: Ctx, idea: Idea, inputs: Inputs, figures: Case) -> CaseTables:
    """The rows of the cost tables that the case used, and what today's would change."""
    today = company_day(tx, ctx)
    now = case_input(tx, ctx, idea, today) if inputs.day != today else inputs
    rows = []
    changed_ones = False
    for kind, meaning in rates.KINDS.items():
        used, new = inputs.rows.get(kind), now.rows.get(kind)
        if not meaning.feeds or meaning.feeds == "robot_hour" or (used is None and new is None):
            continue
        typed = meaning.feeds in inputs.sheet and inputs.sheet[meaning.feeds].own
        other = not typed and (used.id if used else 0) != (new.id if new else 0)
        changed_ones = changed_ones or other
        rows.append(
            TableRow(
                kind=kind,
                name=meaning.name,
                what=used.what if used else "",
                value=None if used is None else plain(used.value),
                since=None if used is None else used.since,
                by="" if used is None else used.by,
                unit=meaning.unit,
                field=meaning.feeds,
                typed=typed,
                today=plain(new.value) if new is not None and other else None,
                today_since=new.since if new is not None and other else None,
            )
        )
    return CaseTables(
        day=inputs.day,
        why=inputs.sheet["costs_on"].source,
        rows=rows,
        today=figures_out(figures_of(now)[1]) if changed_ones else None,
    )


def promise_view(promise: IdeasFormerPromises | Promise) -> PromiseOut:
    """A promise as a page shows it."""
    plan = plan_out(promise.plan)
    assert plan is not None
    return PromiseOut(
        number=promise.number,
        reason=promise.reason,
        at=promise.at,
        by=promise.person,
        figures=CaseFigures(**{one.name: promise.result.get(one.name) for one in fields(CaseFigures)}),
        plan=plan,
        rules_version=promise.rules_version,
        start_on=promise.start_on,
        go_live_on=promise.go_live_on,
    )


BESIDE = (
    ("saving_per_year", "Saved a year", "money"),
    ("running_cost_per_year", "To run, a year", "money"),
    ("one_time_cost", "To build", "money"),
    ("payback_months", "Paid back after", "months"),
    ("npv_3y", "Worth over three years", "money"),
    ("robots", "Robots", ""),
)


def _beside(tx: Tx, idea: Idea, promise: Promise, inputs: Inputs, figures: Case) -> list[BesideRow]:
    now, promised = business_case.as_texts(figures), promise.result
    done = delivered.so_far(tx, idea)
    rows = [
        BesideRow(
            name=name,
            label=label,
            unit=unit,
            promised=_text(promised.get(name)),
            promised_said=_said(name, promised),
            expected=_text(now.get(name)),
            expected_said=_said(name, now),
            delivered=done.get(name, {}).get("value"),
            note=done.get(name, {}).get("note", ""),
        )
        for name, label, unit in BESIDE
    ]
    go_live = BesideRow(
        name="go_live",
        label="Go-live",
        unit="date",
        promised=promise.go_live_on.isoformat(),
        promised_said="",
        expected_said="",
        expected=inputs.given["go_live"],
        delivered=None if idea.live_on is None else idea.live_on.isoformat(),
        note="",
    )
    return [*rows, go_live]


def _said(name: str, figures: Mapping[str, object]) -> str:
    """Why a figure is not there; a promise has all that it rests on, so that it can only be late."""
    if name != "payback_months" or figures.get(name) is not None:
        return ""
    return str(figures.get("payback_said") or business_case.LATE)


def _text(value: object) -> str | None:
    return None if value is None else str(value)


@in_transaction
def take_up(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """Backed → building, by the builder who takes it up."""
    ctx.require("build.make")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "build.make")
    # Open ideas come to be built too, by another route than a robot; that is no builder's to say.
    if idea.stage != "backed":
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; a builder takes up what is backed.",
            "See on its page what comes next.",
        )
    move(tx, ctx, idea, "building", building="taken up")
    tx.write("ideas.take_up", id=idea_id, person=ctx.actor.person_id)
    tell_of(tx, ctx, kinds.TAKEN_UP, idea)
    changed(tx, ctx, "ideas", idea_id)
