"""What a case is reckoned from: facts, sizing, rows of the cost tables on their day, calendar and hosts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.cases import phases
from tallyman.core.cases.facts import CASE
from tallyman.core.cases.running import with_lines
from tallyman.core.cases.sizing import Sized
from tallyman.core.exact import exact, plain
from tallyman.core.free import Free, FreeObject
from tallyman.core.house import workdays
from tallyman.core.ideas import Factors
from tallyman.core.known import Known
from tallyman.core.rates import CostRow, reckoned
from tallyman.services.cases import sizing as sizing_service
from tallyman.services.cases.facts import known_facts
from tallyman.services.cases.house_rule import seats_in_cases
from tallyman.services.context import Ctx, calendar_of, company_of
from tallyman.services.ideas import factors_of
from tallyman.services.rates import costs
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, Promise

BEFORE_BACKING = ("draft", "noted", "screened", "sized")
Sources = dict[str, tuple[str, str, str]]


@dataclass(frozen=True)
class Inputs:
    """Everything that a case is reckoned from.

    `given`: the input of the rules; `sources`: by input where it comes from, its date, its field; `rows`: the
    rows of the cost tables by kind, in force on `day`; `lines`, `benefits`: with their amounts a year;
    `factors`: the version that its sizing stands by.
    """

    given: FreeObject
    plan: FreeObject | None
    sources: Sources
    sheet: dict[str, Known]
    sized_sheet: dict[str, Known]
    sized: Sized
    factors: Factors
    day: date
    who: costs.For
    rows: dict[str, CostRow]
    lines: list[FreeObject]
    benefits: list[FreeObject]
    exchange: dict[str, Fraction]
    offers: list[dict[str, str]]


def plain_or_none(value: Fraction | None) -> str | None:
    """A figure as a plain decimal, if there is one."""
    return None if value is None else plain(value)


def _phases(effort: Fraction | None, day_rate: Known | None) -> Known | None:
    if effort is None:
        return None
    rate = day_rate.value if day_rate else None
    rows = [
        {"name": name, "person_days": plain(days), "day_rate": rate, "days": None, "lag": 0}
        for name, days in phases.split(effort)
    ]
    return Known(rows, phases.SAID, day_rate.date if day_rate else "")


def costs_day(ctx: Ctx, idea: Idea, facts: dict[str, Known], zone: str) -> Known:
    """The day whose rows of the cost tables a case takes.

    Until it is backed a case keeps the rows of the day on which its sizing was agreed, unless another day is
    given; what is expected once it is backed takes today's.
    """
    if idea.stage in BEFORE_BACKING:
        if "costs_on" in facts:
            return facts["costs_on"]
        if idea.sizing_state == "agreed" and idea.agreed_at is not None:
            agreed = idea.agreed_at.astimezone(ZoneInfo(zone)).date().isoformat()
            return Known(agreed, "the day of agreement", agreed)
    today = ctx.today(zone).isoformat()
    return Known(today, "today", today)


def case_input(
    tx: Tx,
    ctx: Ctx,
    idea: Idea,
    costs_on: date | None = None,
    typed: Mapping[str, Known] | None = None,
    factors: Factors | None = None,
) -> Inputs:
    """Gathers what a case is reckoned from.

    With `costs_on` as if the cost tables were read on that day; `typed` goes before the facts that are kept;
    with `factors` as if the idea stood by these.
    """
    company = company_of(tx)
    factors = factors or factors_of(tx, idea)
    sized_sheet = sizing_service.sizing_sheet(tx, idea, typed)
    sized = sizing_service.compute(tx, ctx, idea, sized_sheet, factors)
    facts = known_facts(tx, idea.id) | dict(typed or {})
    day_known = costs_day(ctx, idea, facts, company.zone)
    day = costs_on or date.fromisoformat(day_known.value)
    who = costs.whom(tx, idea.division_id, _value(sized_sheet, "role"), _value(facts, "seat_kind"))
    tables = costs.house_rows(tx)
    rows = costs.case_rows(tables, day, who)
    sheet = costs.robot_time(tx, idea.area_id, ctx.today(company.zone)) | costs.known_of(rows)
    sheet.pop("robot_hour", None)
    spread = _phases(sized.effort_days, sheet.pop("day_rate", None))
    if spread is not None:
        sheet["phases"] = spread
    _defaults(tx, ctx, idea, sheet, company.zone)
    sheet |= {field: known for field, known in facts.items() if field in CASE}
    sheet["costs_on"] = day_known
    exchange = costs.exchange_on(tables, day)
    plan = _plan(tx, sheet)
    inputs = Inputs(
        {"currency": company.currency},
        plan,
        {},
        sheet,
        sized_sheet,
        sized,
        factors,
        day,
        who,
        rows,
        [],
        [],
        {},
        costs.offers(tables, day),
    )
    inputs.given.update(_given(inputs))
    inputs.sources.update(_sources(inputs, idea))
    if idea.live_on is not None:
        inputs.given["go_live"] = idea.live_on.isoformat()
        inputs.sources["go_live"] = ("went live", idea.live_on.isoformat(), "go_live")
    return _with_lines(inputs, exchange)


def _value(sheet: dict[str, Known], field: str) -> Free:
    return sheet[field].value if field in sheet else None


def _defaults(tx: Tx, ctx: Ctx, idea: Idea, sheet: dict[str, Known], zone: str) -> None:
    today = ctx.today(zone)
    promise = None if idea.stage in BEFORE_BACKING else tx.one(Promise, "ideas.promise", idea=idea.id)
    if promise is not None:
        # What was promised has begun; it does not begin anew with each day.
        made = promise.at.date().isoformat()
        sheet["plan_start"] = Known(promise.start_on.isoformat(), "the promise", made)
    else:
        first = calendar_of(tx).on_or_after(today + timedelta(days=14))
        sheet["plan_start"] = Known(first.isoformat(), "two weeks from today", today.isoformat())
    sheet["seats"] = seats_in_cases(tx)
    sheet["one_time_other"] = Known("0", "none given", "")
    sheet["running_lines"] = Known([], "none given", "")
    sheet["benefit_lines"] = Known([], "none given", "")
    sheet.setdefault("hosting_per_robot", Known("0", "none given", ""))


def _plan(tx: Tx, sheet: dict[str, Known]) -> FreeObject | None:
    if "phases" not in sheet or not sheet["phases"].value:
        return None
    calendar = calendar_of(tx)
    rows = [
        {
            "name": row["name"],
            "days": phases.working_days(row),
            "lag": row.get("lag") or 0,
        }
        for row in sheet["phases"].value
    ]
    return workdays.workdays(
        {
            "start": sheet["plan_start"].value,
            "weekend": sorted(calendar.weekend),
            "closed": [day.isoformat() for day in sorted(calendar.closed)],
            "phases": rows,
        }
    )


def _given(inputs: Inputs) -> FreeObject:
    sheet, sized = inputs.sheet, inputs.sized
    given: dict[str, object] = {field: known.value for field, known in sheet.items()}
    given["volume_per_year"] = plain_or_none(sized.volume_per_year)
    given["automatable_share"] = None if sized.share is None else plain_or_none(sized.share)
    for field in ("handling_minutes", "rework_share", "rework_minutes"):
        given[field] = _value(inputs.sized_sheet, field)
    given["phases"] = [
        {key: row.get(key) for key in ("name", "person_days", "day_rate")}
        for row in (sheet["phases"].value if "phases" in sheet else [])
    ] or None
    plan = inputs.plan
    given["start"] = plan["phases"][0]["start"] if plan else sheet["plan_start"].value
    given["go_live"] = plan["end"] if plan else None
    return given


def _sources(inputs: Inputs, idea: Idea) -> Sources:
    sources = {field: (known.source, known.date, field) for field, known in inputs.sheet.items()}
    for name, field in (
        ("handling_minutes", "handling_minutes"),
        ("rework_share", "rework_share"),
        ("rework_minutes", "rework_minutes"),
        ("volume_per_year", "volume"),
    ):
        fact = inputs.sized_sheet.get(field)
        sources[name] = (fact.source if fact else "", fact.date if fact else "", field)
    day = idea.agreed_at or idea.sized_at
    by = f"sizing, {idea.sizer}" if idea.sizer else "sizing"
    sources["automatable_share"] = (by, day.date().isoformat() if day else "", "judged_share")
    start = inputs.sheet["plan_start"]
    sources["start"] = (start.source, start.date, "plan_start")
    sources["go_live"] = ("end of the plan", "", "phases")
    return sources


def _with_lines(inputs: Inputs, exchange: dict[str, Fraction]) -> Inputs:
    """Adds what lines come to a year; hosting stands among the running lines, once a robot is known."""
    given, lines, robots = with_lines(inputs.given, wanted_lines(inputs), exchange)
    benefits = reckoned(inputs.sheet["benefit_lines"].value, robots, exchange)
    return replace(inputs, given=given, lines=lines, benefits=benefits, exchange=exchange)


def wanted_lines(inputs: Inputs) -> list[dict[str, object]]:
    """The running lines given, and hosting for each robot."""
    wanted = list(inputs.sheet["running_lines"].value)
    hosting = inputs.sheet["hosting_per_robot"].value
    if exact(hosting):
        wanted.insert(0, {"name": "Hosting", "per_robot": hosting})
    return wanted
