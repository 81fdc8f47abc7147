"""Work before and after something was done about it: measured by a named person with evidence, promised as
any other case, and turned into the minutes saved that the tally counts by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from tallyman.core.cases import business_case
from tallyman.core.cases.measure import measure_case, read_measure, saving_of
from tallyman.core.cases.words import MeasuredPhase
from tallyman.core.exact import exact, plain, text_of
from tallyman.core.free import Free
from tallyman.core.said import day_said
from tallyman.core.tally import Rate
from tallyman.core.volume import yearly_volume
from tallyman.core.working import Used
from tallyman.errors import Fault, Forbidden, InputFaults, Refused
from tallyman.services.cases.answers_of_measures import Measured, MeasureOut, MeasureSuggested, PromiseLook
from tallyman.services.cases.sizing import sizing_sheet
from tallyman.services.context import (
    Ctx,
    audit,
    calendar_of,
    changed,
    company_day,
    company_of,
    in_transaction,
    working_days_a_year,
)
from tallyman.services.ideas import by_hand, find, find_to, may_measure, obj, ref
from tallyman.services.rates import costs, rates
from tallyman.store.db import Tx
from tallyman.store.records.cases import MeasuresOfIdea
from tallyman.store.records.ideas import Idea, IdeasLock, Promise
from tallyman.store.records.tally import TallyNewestMinutesRate

LONGEST = 1000
MOST_MINUTES = 100_000
MOST_ITEMS = 10**9
# Where something can be promised without a case of its own: measures being carried out, and what runs.
STAGES = ("building", "in service")


def _newest(rows: list[MeasuresOfIdea]) -> dict[MeasuredPhase, MeasuresOfIdea]:
    """The newest of each phase; rows come the newest first."""
    found: dict[MeasuredPhase, MeasuresOfIdea] = {}
    for row in rows:
        found.setdefault(row.phase, row)
    return found


@in_transaction
def note(
    tx: Tx,
    ctx: Ctx,
    idea_id: int,
    phase: MeasuredPhase,
    minutes: Free,
    items: int | None,
    day: date,
    evidence: str,
) -> None:
    """Keeps what one took before or after, with its evidence; once both are known, the minutes saved are
    proposed as the rate that counts, for somebody else to approve. Raises InputFaults with every fault."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    if not may_measure(ctx, idea):
        who = idea.measure_owner or idea.owner or "who answers for it"
        raise Forbidden(f"Only {who}, and those who size ideas, measure {ref(idea_id)}.", "Ask them.")
    if not by_hand(idea):
        raise Refused(f"{ref(idea_id)} goes the way of a robot.", "Its sizing says what it takes by hand.")
    faults = []
    try:
        value = exact(minutes)
        if not 0 <= value <= MOST_MINUTES:
            raise ValueError(f"allowed: 0 to {MOST_MINUTES:,}")
    except ValueError as error:
        faults.append(Fault("minutes", minutes, str(error)))
    if items is not None and not 1 <= items <= MOST_ITEMS:
        faults.append(Fault("items", items, f"allowed: 1 to {MOST_ITEMS:,}, or nothing"))
    if day > company_day(tx, ctx):
        faults.append(Fault("day", day.isoformat(), "lies ahead; give a day up to today"))
    if phase == "after" and idea.live_on is not None and day < idea.live_on:
        faults.append(
            Fault("day", day.isoformat(), f"is before it was in service, on {day_said(idea.live_on)}")
        )
    if not 3 <= len(evidence.strip()) <= LONGEST:
        faults.append(
            Fault("evidence", evidence[:40], "say how it was measured: where, by what, over which days")
        )
    if faults:
        raise InputFaults(faults)
    tx.write(
        "measures.add",
        idea=idea_id,
        phase=phase,
        minutes=value,
        items=items,
        day=day,
        evidence=evidence.strip(),
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    audit(tx, ctx, "measured", obj(idea_id), f"{plain(value)} minutes {phase}: {evidence.strip()}")
    _propose_saved(tx, ctx, idea)
    changed(tx, ctx, "ideas", idea_id)
    changed(tx, ctx, "tally", idea_id)


def _saved(found: Mapping[MeasuredPhase, MeasuresOfIdea]) -> Fraction | None:
    """The minutes that one takes less; none less than nothing."""
    if len(found) < 2:
        return None
    return max(Fraction(0), Fraction(found["before"].minutes) - Fraction(found["after"].minutes))


def _newest_rate(tx: Tx, idea_id: int) -> TallyNewestMinutesRate | None:
    return tx.one(TallyNewestMinutesRate, "tally.newest_minutes_rate", idea=idea_id)


def _propose_saved(tx: Tx, ctx: Ctx, idea: Idea) -> None:
    """Proposes the minutes saved: from its first day in service, a later measuring from its own day on."""
    found = _newest(tx.all(MeasuresOfIdea, "measures.of_idea", idea=idea.id))
    saved = _saved(found)
    if saved is None or idea.live_on is None:
        return
    before, after = found["before"], found["after"]
    newest = _newest_rate(tx, idea.id)
    if newest is not None and newest.state == "proposed" and Fraction(newest.value) != saved:
        # Nobody is to approve what is known to be otherwise.
        rates.withdraw(tx, ctx, newest.id, "measured anew")
        newest = _newest_rate(tx, idea.id)
    if newest is not None and Fraction(newest.value) == saved:
        return
    since = idea.live_on if newest is None else max(idea.live_on, after.measured_on)
    source = (
        f"measured: {plain(Fraction(before.minutes))} before ({day_said(before.measured_on)}), "
        f"{plain(Fraction(after.minutes))} after ({day_said(after.measured_on)})"
    )
    rates.add(tx, ctx, rates.MINUTES_BY_HAND, saved, since, source, rates.Wanted(idea.id))


@in_transaction
def promise(
    tx: Tx, ctx: Ctx, idea_id: int, given: Mapping[str, Free], go_live: date, reason: str, seen: int
) -> None:
    """Freezes what a measure, or what ran already, is to bring; again with a reason, the old one is kept.

    `given`: volume_per_year, minutes_before, minutes_after, once, running. `go_live`: from which day it is
    promised, not before it is in service; for what ran long before, the day from which it is counted.
    `seen`: the number of the promise that was shown, 0 for none. Raises InputFaults with every fault.
    """
    ctx.require("case.decide")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "case.decide")
    before = tx.one(Promise, "ideas.promise", idea=idea_id)
    if idea.stage not in STAGES or not by_hand(idea):
        raise Refused(f"{ref(idea_id)} is {idea.stage}; its promise is made when its case is backed.", "")
    if before is not None and "minutes_before" not in before.input:
        raise Refused(f"{ref(idea_id)} was promised by its case.", "Promise it anew on its sheet Case.")
    if (before.number if before else 0) != seen:
        raise Refused(f"{ref(idea_id)} was promised meanwhile.", "Load the page again.")
    said = reason.strip()
    if before is not None and not 1 <= len(said) <= LONGEST:
        raise InputFaults([Fault("reason", said[:40], "say why another promise is made")])
    case = _case(tx, idea, given, max(go_live, idea.live_on or go_live), company_day(tx, ctx)).input
    result = business_case.as_texts(business_case.compute(business_case.read_case(case)))
    if before is not None:
        tx.write("ideas.keep_promise", idea=idea_id)
        tx.write("ideas.drop_promise", idea=idea_id)
    number = seen + 1
    tx.write(
        "ideas.freeze",
        idea=idea_id,
        number=number,
        reason=said,
        now=ctx.now,
        person=ctx.actor.person_id,
        input=case,
        result=result,
        plan={"phases": [], "end": case["go_live"]},
        sizing={},
        rows=[],
        rules=business_case.RULES_VERSION,
        start=date.fromisoformat(case["start"]),
        go_live=date.fromisoformat(case["go_live"]),
    )
    words = "Froze what it is to bring" if number == 1 else f"Promised anew: {said}"
    audit(tx, ctx, "promise frozen", obj(idea_id), words, None, result)
    changed(tx, ctx, "ideas", idea_id)
    changed(tx, ctx, "tally", idea_id)


@dataclass(frozen=True)
class MeasureCase:
    """What is promised of a measure: as it was read, as the input of a case, and what an hour costs."""

    read: Mapping[str, Fraction]
    input: dict[str, Free]
    hour: Rate


def _case(tx: Tx, idea: Idea, given: Mapping[str, Free], go_live: date, today: date) -> MeasureCase:
    """The case of a measure at the house's rows of the day on which it is promised. Raises InputFaults."""
    read = read_measure(given)
    hour = costs.hour_cost(tx, today, idea.id)
    discount = rates.in_force(tx, "discount_rate", today)
    lacking = [("hour_cost", hour), ("discount_rate", discount)]
    faults = [
        Fault("rates", kind, f"no rate is approved for: {rates.KINDS[kind].name}; see Value, Rates")
        for kind, rate in lacking
        if rate is None
    ]
    if hour is None or discount is None:
        raise InputFaults(faults)
    case = measure_case(read, hour.value, discount.value, company_of(tx).currency, go_live)
    return MeasureCase(read, case, hour)


@in_transaction
def look(tx: Tx, ctx: Ctx, idea_id: int, given: Mapping[str, Free], go_live: date) -> PromiseLook:
    """What a promise would freeze, before it is made. Raises InputFaults with every fault."""
    ctx.require("case.decide")
    idea = find_to(tx, ctx, idea_id, "case.decide")
    case = _case(tx, idea, given, max(go_live, idea.live_on or go_live), company_day(tx, ctx))
    figures = business_case.compute(business_case.read_case(case.input))
    texts = business_case.as_texts(figures)
    hour = case.hour
    rate = Used(hour.name, text_of(hour.value, 2), "money an hour", "rates", hour.since, "/value/rates")
    saving = saving_of(case.read, rate)
    return PromiseLook(
        hours=str(text_of(saving.hours, 1)),
        saving=texts["saving_per_year"],
        once=texts["one_time_cost"],
        running=texts["running_cost_per_year"],
        first_year=texts["after_go_live"][0],
        payback_months=texts["payback_months"],
        payback_said=texts["payback_said"],
        currency=case.input["currency"],
        working=saving.working,
    )


@in_transaction
def shown(tx: Tx, ctx: Ctx, idea_id: int) -> MeasureOut:
    """What was measured of an idea and what that saves, with what may be said of it."""
    idea = find(tx, ctx, idea_id)
    rows = tx.all(MeasuresOfIdea, "measures.of_idea", idea=idea_id)
    found, made = _newest(rows), tx.one(Promise, "ideas.promise", idea=idea_id)
    saved = _saved(found)
    rate = _newest_rate(tx, idea_id)
    of_measure = made is not None and "minutes_before" in made.input
    return MeasureOut(
        fits=by_hand(idea),
        before=_out(found.get("before")),
        after=_out(found.get("after")),
        former=[one for one in map(_out, rows) if one and one.id not in {row.id for row in found.values()}],
        saved=None if saved is None else plain(saved),
        rate=None if rate is None else plain(Fraction(rate.value)),
        rate_state=rate.state if rate else None,
        rate_since=rate.since if rate else None,
        promise_number=made.number if made else 0,
        promised_by_case=made is not None and not of_measure,
        suggested=_suggested(tx, idea, found, dict(made.input) if made and of_measure else {}),
        may_measure=by_hand(idea) and may_measure(ctx, idea),
        may_promise=by_hand(idea) and idea.stage in STAGES and ctx.actor.may_at("case.decide", idea.area_id),
    )


def _out(row: MeasuresOfIdea | None) -> Measured | None:
    if row is None:
        return None
    return Measured(
        row.id, row.phase, plain(Fraction(row.minutes)), row.items, row.measured_on, row.evidence, row.person
    )


def _suggested(
    tx: Tx, idea: Idea, found: Mapping[MeasuredPhase, MeasuresOfIdea], made: Mapping[str, Free]
) -> MeasureSuggested:
    """What a promise would say: the one that stands, else what sizing and measuring know already."""
    sheet = sizing_sheet(tx, idea)
    volume, rhythm = (sheet[name].value if name in sheet else None for name in ("volume", "rhythm"))
    a_year = made.get("volume_per_year")
    if a_year is None and volume is not None and rhythm is not None:
        days = working_days_a_year(calendar_of(tx), idea.made_at.year)
        a_year = plain(yearly_volume(exact(volume), rhythm, days))
    known = {phase: plain(Fraction(row.minutes)) for phase, row in found.items()}
    by_hand = sheet["handling_minutes"].value if "handling_minutes" in sheet else None
    running = (made.get("running_lines") or [{}])[0].get("amount", "0") if made.get("running_lines") else "0"
    return MeasureSuggested(
        volume_per_year=a_year,
        minutes_before=made.get("minutes_before") or known.get("before") or by_hand,
        minutes_after=made.get("minutes_after") or known.get("after"),
        once=made.get("one_time_other", "0"),
        running=running,
        go_live=date.fromisoformat(made["go_live"]) if made else idea.live_on or idea.due_on,
    )
