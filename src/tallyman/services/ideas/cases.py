"""The business case of an idea: inputs from facts, sizing and rates; figures; plan; the promise."""

from __future__ import annotations

from datetime import date, timedelta
from fractions import Fraction
from math import ceil
from typing import Any

from tallyman.core import business_case, case_working, workdays
from tallyman.core.exact import exact, text_of
from tallyman.core.sizing import Sized
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services import rates
from tallyman.services.context import (
    Ctx,
    audit,
    calendar_of,
    changed,
    company_of,
    everyone_with,
    tell,
)
from tallyman.services.ideas import sizing as sizing_service
from tallyman.services.ideas.base import find_to, move, obj, ref
from tallyman.services.ideas.facts import CASE, LABELS, SIZING, as_rows, known_facts
from tallyman.services.known import Known
from tallyman.store.db import Row, Tx

# How the build effort is spread over phases until somebody says otherwise.
PHASE_SHARES = (("Describe", Fraction(1, 5)), ("Build", Fraction(3, 5)), ("Try out", Fraction(1, 5)))


def _half(days: Fraction) -> Fraction:
    return Fraction(ceil(days * 2), 2)


def _plain(value: Fraction | None) -> str | None:
    text = text_of(value, 6)
    return text.rstrip("0").rstrip(".") if text and "." in text else text


def _phases(effort: Fraction | None, day_rate: Known | None) -> Known | None:
    if effort is None:
        return None
    left = effort
    rows = []
    for name, share in PHASE_SHARES:
        days = min(left, _half(effort * share)) if name != "Try out" else left
        left -= days
        if days == 0:
            continue
        rows.append(
            {
                "name": name,
                "person_days": _plain(days),
                "day_rate": day_rate.value if day_rate else None,
                "days": ceil(days),
                "lag": 0,
            }
        )
    return Known(rows, "build effort, a fifth, three fifths, a fifth", day_rate.date if day_rate else "")


def case_sheet(tx: Tx, ctx: Ctx, idea: Row) -> tuple[dict[str, Known], dict[str, Known], Sized]:
    """Case facts by field, sizing facts by field, and what the sizing computes."""
    sized_sheet = sizing_service.sizing_sheet(tx, idea)
    sized = sizing_service.compute(tx, ctx, sized_sheet)
    today = ctx.today(company_of(tx)["zone"])
    sheet = rates.house_rates(tx, today)
    day_rate = sheet.pop("day_rate", None)
    sheet.pop("robot_hour", None)
    phases = _phases(sized.effort_days, day_rate)
    if phases is not None:
        sheet["phases"] = phases
    first = calendar_of(tx).on_or_after(today + timedelta(days=14))
    sheet["plan_start"] = Known(first.isoformat(), "two weeks from today", today.isoformat())
    sheet["one_time_other"] = Known("0", "none given", "")
    sheet["running_lines"] = Known([], "none given", "")
    sheet.update({k: v for k, v in known_facts(tx, idea["id"]).items() if k in CASE})
    return sheet, sized_sheet, sized


def _plan(tx: Tx, sheet: dict[str, Known]) -> dict[str, Any] | None:
    if "phases" not in sheet or not sheet["phases"].value:
        return None
    calendar = calendar_of(tx)
    rows = [
        {
            "name": row["name"],
            "days": row.get("days") if row.get("days") is not None else _days(row),
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


def _days(row: dict[str, Any]) -> int:
    return ceil(exact(row["person_days"])) if row.get("person_days") else 0


def case_input(
    tx: Tx, ctx: Ctx, idea: Row
) -> tuple[dict[str, Any], dict[str, Any] | None, dict[str, tuple[str, str, str]], dict[str, Known]]:
    """The input of the case rules, the plan, the sources by input, and the case sheet."""
    sheet, sized_sheet, sized = case_sheet(tx, ctx, idea)
    plan = _plan(tx, sheet)
    given: dict[str, Any] = {"currency": company_of(tx)["currency"]}
    sources: dict[str, tuple[str, str, str]] = {}
    for field, known in sheet.items():
        given[field] = known.value
        sources[field] = (known.source, known.date, field)
    given["volume_per_year"] = _plain(sized.volume_per_year)
    given["automatable_share"] = None if sized.share is None else _plain(sized.share)
    for field in ("handling_minutes", "rework_share", "rework_minutes"):
        fact = sized_sheet.get(field)
        given[field] = fact.value if fact else None
        sources[field] = (fact.source if fact else "", fact.date if fact else "", field)
    volume = sized_sheet.get("volume")
    sources["volume_per_year"] = (
        volume.source if volume else "",
        volume.date if volume else "",
        "volume",
    )
    day = idea["agreed_at"] or idea["sized_at"]
    sources["automatable_share"] = ("sizing", day.date().isoformat() if day else "", "judged_share")
    given["phases"] = [
        {key: row.get(key) for key in ("name", "person_days", "day_rate")}
        for row in (sheet["phases"].value if "phases" in sheet else [])
    ] or None
    given["start"] = plan["phases"][0]["start"] if plan else sheet["plan_start"].value
    given["go_live"] = plan["end"] if plan else None
    sources["start"] = (sheet["plan_start"].source, sheet["plan_start"].date, "plan_start")
    sources["go_live"] = ("end of the plan", "", "phases")
    return given, plan, sources, sheet


SIZING_LINKS = {
    "volume_per_year": "volume",
    "automatable_share": "judged_share",
    "go_live": "phases",
    "start": "plan_start",
}


def _missing(names: tuple[str, ...], sized: Any) -> list[dict[str, str]]:
    """Missing inputs with the sheet and field where each is supplied."""
    rows: list[dict[str, str]] = []
    for name in names:
        base = name.split("[")[0]
        if base in ("automatable_share", "volume_per_year", "phases") and sized.missing:
            for field in sized.missing:
                rows.append({"sheet": "sizing", "field": field, "label": LABELS.get(field, field)})
            continue
        if base == "go_live":
            continue
        field = SIZING_LINKS.get(base, base)
        sheet = "sizing" if field in SIZING else "case"
        rows.append({"sheet": sheet, "field": field, "label": LABELS.get(field, field)})
    return list({row["field"]: row for row in rows}.values())


def view(ctx: Ctx, idea_id: int) -> dict[str, Any]:
    """The case sheet: inputs with sources, figures with workings, plan, and the promise if frozen."""

    def work(tx: Tx) -> dict[str, Any]:
        idea = find_to(tx, ctx, idea_id, "idea.see")
        given, plan, sources, sheet = case_input(tx, ctx, idea)
        case = business_case.read_case(given)
        figures = business_case.compute(case)
        tree = case_working.workings(case, figures, sources)
        sized = sizing_service.compute(tx, ctx, sizing_service.sizing_sheet(tx, idea))
        promise = tx.one("ideas.promise", idea=idea_id)
        return {
            "currency": given["currency"],
            "fields": as_rows(sheet, CASE),
            "figures": business_case.as_texts(figures),
            "yearly": _yearly(figures),
            "hours": {
                "handling": text_of(figures.hours_before, 1),
                "rework": text_of(figures.rework_hours, 1),
                "kept": text_of(figures.kept_hours, 1),
                "returned": text_of(figures.returned_hours, 1),
                "robots": text_of(figures.robot_hours, 1),
            },
            "missing": _missing(case.missing, sized),
            "working": {name: one.as_dict() for name, one in tree.items()},
            "plan": plan,
            "start": given["start"],
            "go_live": given["go_live"],
            "rules_version": business_case.RULES_VERSION,
            "promise": _promise_view(promise),
        }

    return ctx.db.transact(work)


def _yearly(figures: business_case.Case) -> list[dict[str, str | None]] | None:
    if figures.live_parts is None or figures.net is None:
        return None
    saving, running = figures.saving or Fraction(0), figures.running or Fraction(0)
    return [
        {
            "saved": text_of(live * saving, 2),
            "to_run": text_of(-live * running, 2),
            "to_build": text_of(-(figures.one_time or Fraction(0)), 2) if year == 0 else None,
            "net": text_of(figures.net[year], 2),
        }
        for year, live in enumerate(figures.live_parts)
    ]


def _promise_view(promise: Row | None) -> dict[str, Any] | None:
    if promise is None:
        return None
    return {
        "at": promise["at"],
        "by": promise["person"],
        "figures": promise["result"],
        "plan": promise["plan"],
        "rules_version": promise["rules_version"],
        "start_on": promise["start_on"],
        "go_live_on": promise["go_live_on"],
    }


def keep_worth(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """Keeps worth (NPV) and effort as last computed, for ranking."""
    idea = tx.one("ideas.by_id", id=idea_id)
    assert idea is not None
    given, _, _, _ = case_input(tx, ctx, idea)
    figures = business_case.compute(business_case.read_case(given))
    sized = sizing_service.compute(tx, ctx, sizing_service.sizing_sheet(tx, idea))
    tx.write("ideas.set_worth", id=idea_id, worth=figures.npv, effort=sized.effort_days, now=ctx.now)


def back(ctx: Ctx, idea_id: int, words: str) -> None:
    """Sized → backed: freezes the case and the plan as the promise."""
    ctx.require("case.decide")

    def work(tx: Tx) -> None:
        tx.one("ideas.lock", id=idea_id)
        idea = find_to(tx, ctx, idea_id, "case.decide")
        if idea["stage"] != "sized" or idea["sizing_state"] != "agreed":
            raise Refused(
                f"{ref(idea_id)} is {idea['stage']} and its sizing {idea['sizing_state']}; "
                "it can be backed once its sizing is agreed.",
                "See on its page what comes next.",
            )
        freeze(tx, ctx, idea)
        move(tx, ctx, idea, "backed", words.strip()[:1000])
        link = f"/ideas/{idea_id}"
        text = f"{ctx.actor.name} backed {ref(idea_id)} {idea['title']}; a builder takes it up next"
        people = [idea["proposer_id"], *everyone_with(tx, "build.make", idea["area_id"])]
        tell(tx, ctx, people, text, link, obj(idea_id))

    ctx.db.transact(work)


def freeze(tx: Tx, ctx: Ctx, idea: Row) -> None:
    """Writes the promise; raises InputFaults naming what the case still lacks."""
    given, plan, _, _ = case_input(tx, ctx, idea)
    sized_sheet = sizing_service.sizing_sheet(tx, idea)
    sized = sizing_service.compute(tx, ctx, sized_sheet)
    case = business_case.read_case(given)
    if case.missing:
        rows = _missing(case.missing, sized)
        faults = [Fault(row["field"], None, f"{row['label']} is missing in the case") for row in rows]
        raise InputFaults(faults)
    assert plan is not None
    result = business_case.as_texts(business_case.compute(case))
    tx.write(
        "ideas.freeze",
        idea=idea["id"],
        now=ctx.now,
        person=ctx.actor.person_id,
        input=given,
        result=result,
        plan=plan,
        sizing={field: known.value for field, known in sized_sheet.items()},
        rules=business_case.RULES_VERSION,
        start=date.fromisoformat(given["start"]),
        go_live=date.fromisoformat(given["go_live"]),
    )
    audit(tx, ctx, "promise frozen", obj(idea["id"]), "Froze the case as the promise", None, result)


def take_up(ctx: Ctx, idea_id: int) -> None:
    """Backed → building, by the builder who takes it up."""
    ctx.require("build.make")

    def work(tx: Tx) -> None:
        tx.one("ideas.lock", id=idea_id)
        idea = find_to(tx, ctx, idea_id, "build.make")
        move(tx, ctx, idea, "building", building="taken up")
        tx.write("ideas.take_up", id=idea_id, person=ctx.actor.person_id)
        text = f"{ctx.actor.name} took up {ref(idea_id)} {idea['title']} to build it"
        tell(tx, ctx, [idea["proposer_id"]], text, f"/ideas/{idea_id}", obj(idea_id))
        changed(tx, ctx, "ideas", idea_id)

    ctx.db.transact(work)
