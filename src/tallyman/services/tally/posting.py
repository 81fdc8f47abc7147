"""Posting to the ledger: ended runs, corrections, month-end costs; only ever by adding entries."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, timedelta
from decimal import Decimal
from fractions import Fraction
from functools import partial
from zoneinfo import ZoneInfo

from tallyman.core.exact import exact, rounded
from tallyman.core.free import Free, FreeObject
from tallyman.core.said import day_said
from tallyman.core.tally import entries
from tallyman.core.tally.entries import Rate
from tallyman.core.tally.words import EntryKind
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, company_day, company_of, in_transaction
from tallyman.services.rates import costs, rates
from tallyman.services.tally import unusual
from tallyman.services.tally.later import post_later
from tallyman.services.upkeep import Rows, Work
from tallyman.store.db import Tx
from tallyman.store.records.runs import RunsForPosting
from tallyman.store.records.tally import TallyInService, TallyMonths, TallyPosted, TallyRate
from tallyman.store.records.upkeep import DueEffect, HitchesWaiting

MONTH_ENDS = Work("month ends", "costs of a month that is over")

OUTCOME_CHANGED = "its outcome changed after it was posted"
AMOUNTS = ("units", "hours", "money")
MOST_UNITS = 10**9
ENDED = ("done", "failed", "cancelled", "lost")


def facts_of(row: RunsForPosting) -> entries.RunFacts:
    """A run's row as the rules want it."""
    counts = {name: exact(value) for name, value in (row.counts or {}).items()}
    case = row.input or {}
    return entries.RunFacts(
        row.id,
        row.state,
        row.outcome,
        counts,
        _robot_minutes(row),
        bool(row.trial),
        row.idea_id is not None,
        row.basis or "run",
        row.count_name or "",
        exact(case.get("robot_exception_minutes") or 0),
        Fraction(row.fixed_units) if row.fixed_units is not None else None,
        Fraction(row.fixed_back) if row.fixed_back is not None else None,
        _robot_minutes(row) if row.attended == "whole" else Fraction(0),
    )


def _robot_minutes(row: RunsForPosting) -> Fraction:
    """How long robots worked on it: its segments, or start to end where none were kept."""
    if row.segments:
        return Fraction(int(row.worked_micros), 60_000_000)
    if row.started_at is None or row.ended_at is None:
        return Fraction(0)
    micros = (row.ended_at - row.started_at) / timedelta(microseconds=1)
    return Fraction(int(max(0, micros)), 60_000_000)


def carry(tx: Tx, ctx: Ctx, effect: DueEffect) -> None:
    """Posts the entries of the run that ended."""
    post_run(tx, ctx, effect.payload["run"], effect.payload.get("why") or OUTCOME_CHANGED)


def carry_rate(tx: Tx, ctx: Ctx, effect: DueEffect) -> None:
    """Has every run posted anew that ended since a rate from before counts; each in its own turn."""
    row = tx.one(TallyRate, "tally.rate", id=effect.payload["rate"])
    assert row is not None
    since, why = rates.since_day(tx, row.since), effect.payload["why"]
    tx.write("tally.post_again_since", since=since, idea=row.idea_id, why=why, now=ctx.now)
    tx.write("counts.post_again_since", since=row.since, idea=row.idea_id, why=why, now=ctx.now)


def post_run(tx: Tx, ctx: Ctx, run_id: int, why: str = OUTCOME_CHANGED) -> int:
    """Posts what an ended run comes to at the rates in force at its finish; asked again, nothing.

    What stands posted and is not right any more (a person's correction, a late outcome, a rate from
    before) is reversed and posted anew, for the reason `why`. Gives how many entries are new. Locks the
    month's row first. Raises Refused when a house rate that every run needs is not in force.
    """
    row = tx.one(RunsForPosting, "runs.for_posting", id=run_id)
    if row is None or row.trial or row.started_at is None or row.ended_at is None:
        return 0
    zone = company_of(tx).zone
    at = row.ended_at
    day = at.astimezone(ZoneInfo(zone)).date()
    hour, robot_hour = costs.hour_cost(tx, day, row.idea_id), rates.in_force(tx, "robot_hour", day)
    if hour is None or robot_hour is None:
        raise Refused(
            f"No rate for an hour was in force on {day_said(day)}.", "Approve one under Value, Rates."
        )
    minutes = None
    if row.idea_id is not None:
        minutes = rates.in_force(tx, rates.MINUTES_BY_HAND, day, row.idea_id)
    facts = facts_of(row)
    held, said = unusual.why_held(tx, ctx, row, facts)
    posting = entries.post(facts, minutes, hour, robot_hour, held=held)
    if posting.caution or said:
        tx.write("tally.add_caution", run=run_id, words=posting.caution or said, now=ctx.now)
    belongs = entries.month_of(at, zone)
    base = {
        "source": f"run:{run_id}",
        "month": open_month(tx, belongs),
        "belongs_to": belongs,
        "idea": row.idea_id,
        "routine": row.routine_id,
        "run": run_id,
        "area": row.area_id,
        "at": at,
        "now": ctx.now,
        "facts": None,
        "person": row.fixed_by,
    }
    new = settle_entries(tx, base, posting.entries, row.fixed_why or why)
    if new:
        changed(tx, ctx, "tally", row.idea_id)
    return new


def settle_entries(
    tx: Tx, base: FreeObject, wanted: tuple[entries.Entry, ...], why: str, first: EntryKind = "run"
) -> int:
    """Makes a source's net equal what it comes to now: first entries, or reversals and new ones."""
    posted = {row.line: row for row in tx.all(TallyPosted, "tally.posted", source=base["source"])}
    entries = {entry.line: entry for entry in wanted}
    new = 0
    for line in [*entries, *(line for line in posted if line not in entries)]:
        entry, stands = entries.get(line), posted.get(line)
        amounts = _amounts(entry)
        rate_ids = list(entry.rate_ids) if entry else []
        if stands is None:
            _post(tx, _working_kept(base, entry), line, 0, amounts, rate_ids, first, "")
            new += 1
            continue
        if all(getattr(stands, name) == amounts[name] for name in AMOUNTS):
            continue
        number = stands.correction + 1
        back = {name: -getattr(stands, name) for name in AMOUNTS}
        _post(tx, _taken_back(base, line, back["money"]), line, number, back, rate_ids, "reversal", why)
        new += 1
        if entry is not None:
            _post(tx, _working_kept(base, entry), line, number + 1, amounts, rate_ids, "correction", why)
            new += 1
    return new


def _working_kept(base: FreeObject, entry: entries.Entry | None) -> FreeObject:
    """With the working of an entry that keeps its own; a run's entry is made from what is posted."""
    return {**base, "facts": entry.working.as_dict()} if isinstance(entry, entries.MonthEntry) else base


def _taken_back(base: FreeObject, line: str, money: Decimal) -> FreeObject:
    """With the working of a reversal; that of a run is made from what is posted."""
    if base["run"] is not None:
        return base
    return {**base, "facts": entries.taken_back(line, Fraction(money)).as_dict()}


def _amounts(entry: entries.Entry | None) -> dict[str, Decimal]:
    if entry is None:
        return dict.fromkeys(AMOUNTS, Decimal(0))
    return {name: rounded(getattr(entry, name), entries.DIGITS) for name in AMOUNTS}


def _post(
    tx: Tx,
    base: FreeObject,
    line: str,
    correction: int,
    amounts: dict[str, Decimal],
    rate_ids: list[int],
    kind: str,
    why: str,
) -> None:
    more = {"line": line, "correction": correction, "rates": rate_ids, "kind": kind, "why": why[:300]}
    tx.write("tally.post", **{**base, **more, **amounts})
    idea = base["idea"] or 0
    tx.write("tally.add_to_sum", month=base["month"], idea=idea, line=line, **amounts)


def open_month(tx: Tx, belongs: str) -> str:
    """The month to post to: its own, or the first open one after a closed one. Locked."""
    month = belongs
    for _ in range(600):
        tx.write("tally.open_month", month=month)
        if tx.value(str, "tally.lock_month", month=month) == "open":
            return month
        month = entries.next_month(month)
    raise Refused("Every month is closed.", "Open a new one.")


@in_transaction
def correct_run(tx: Tx, ctx: Ctx, run_id: int, units: Free, handed_back: Free, why: str) -> None:
    """Says what a run is to be counted as; its entries are reversed and posted anew.

    What was posted to a closed month stays there: the difference falls in the open month and names
    the month it belongs to.
    """
    ctx.require("value.change")
    amounts, faults = {}, []
    for field, value in (("units", units), ("handed_back", handed_back)):
        try:
            amounts[field] = exact(value)
            if not 0 <= amounts[field] <= MOST_UNITS:
                raise ValueError(f"allowed: 0 to {MOST_UNITS:,}")
        except ValueError as error:
            faults.append(Fault(field, value, str(error)))
    if not faults and amounts["handed_back"] > amounts["units"]:
        message = f"{handed_back} of {units} counted cannot be; those handed back are of those counted"
        faults.append(Fault("handed_back", handed_back, message))
    if not 3 <= len(why.strip()) <= 300:
        faults.append(Fault("why", why[:60], "say why, in 3 to 300 characters"))
    if faults:
        raise InputFaults(faults)
    row = unusual.counted_run(tx, ctx, run_id)
    if row.state not in ENDED or row.trial or row.idea_id is None:
        raise Refused(f"R-{run_id} counts for no idea.", "Only ended runs in service are counted.")
    tx.write(
        "tally.fix",
        run=run_id,
        units=amounts["units"],
        handed_back=amounts["handed_back"],
        why=why.strip(),
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    tx.write("tally.settle_unusual", run=run_id, person=ctx.actor.person_id, now=ctx.now)
    before = {"counts": row.counts, "units": row.fixed_units}
    after = {"units": str(units), "handed_back": str(handed_back)}
    audit(tx, ctx, "count corrected", f"run:{run_id}", f"Counts it as {units}: {why.strip()}", before, after)
    post_later(tx, ctx, run_id)
    changed(tx, ctx, "runs", run_id)


def _bounds(month: str) -> tuple[date, date]:
    """First and last day of a month."""
    first = date.fromisoformat(f"{month}-01")
    return first, date.fromisoformat(f"{entries.next_month(month)}-01") - timedelta(days=1)


def _month_end_facts(row: TallyInService, first: date, last: date) -> entries.MonthEnd:
    given, live = row.input, row.live_on
    # What ran long before costs something from the day on which it is promised and counted.
    if "minutes_before" in given:
        live = max(live, date.fromisoformat(given["go_live"]))
    until = min(last, row.retired_on or last)
    running = sum((exact(line["amount"]) for line in given.get("running_lines") or []), Fraction(0))
    return entries.MonthEnd(
        max(0, (until - max(first, live)).days + 1),
        exact(row.result["one_time_cost"]),
        exact(given["support_share"]),
        exact(given["other_software_per_year"]),
        running,
        first <= live <= last,
    )


def _open_month(tx: Tx, month: str) -> bool:
    """Locks a month's row; gives whether it is open."""
    tx.write("tally.open_month", month=month)
    return bool(tx.value(str, "tally.lock_month", month=month) == "open")


def open_months_before(tx: Tx, this: str) -> None:
    """Gives every month its row, also one in which no run ended: its costs are due all the same."""
    month: str | None = tx.value(str, "tally.first_month")
    known = {row.month for row in tx.all(TallyMonths, "tally.months")}
    while month is not None and month < this:
        if month not in known:
            tx.write("tally.open_month", month=month)
        month = entries.next_month(month)


def _last_noon(tx: Tx, month: str) -> datetime:
    """The time at which the costs of a month's end stand: noon of its last day in the company's zone."""
    _, last = _bounds(month)
    return datetime(last.year, last.month, last.day, 12, tzinfo=ZoneInfo(company_of(tx).zone))


def _post_idea_costs(tx: Tx, ctx: Ctx, month: str, row: TallyInService) -> int:
    """Posts a month's costs of one idea in service; gives how many entries are new."""
    at, source = _last_noon(tx, month), f"month:{month}:idea:{row.idea_id}"
    found = entries.month_end(_month_end_facts(row, *_bounds(month)))
    return sum(_post_cost(tx, ctx, month, at, source, entry, row.idea_id) for entry in found)


def _post_seat_costs(tx: Tx, ctx: Ctx, month: str) -> int:
    """Posts what a month's unused seats cost; gives how many entries are new."""
    at = _last_noon(tx, month)
    seats = _unused_seats(tx, *_bounds(month), ZoneInfo(company_of(tx).zone))
    return 0 if seats is None else _post_cost(tx, ctx, month, at, f"month:{month}", seats, None)


def _done(tx: Tx, ctx: Ctx, month: str, new: int) -> None:
    tx.write("tally.month_end_done", month=month, now=ctx.now)
    if new:
        changed(tx, ctx, "tally")


def post_month_end(tx: Tx, ctx: Ctx, month: str) -> int:
    """Posts a month's costs that robot hours do not hold, all of them; asked again, nothing. Locks the month.

    Gives how many entries are new; 0 if the month is closed.
    """
    if not _open_month(tx, month):
        return 0
    first, last = _bounds(month)
    rows = tx.all(TallyInService, "tally.in_service", first=first, last=last)
    new = sum(_post_idea_costs(tx, ctx, month, row) for row in rows) + _post_seat_costs(tx, ctx, month)
    _done(tx, ctx, month, new)
    return new


def _unused_seats(tx: Tx, first: date, last: date, zone: ZoneInfo) -> entries.MonthEntry | None:
    seat = rates.in_force(tx, "seat_year", last)
    hours, days = (_robot_time(tx, kind, last) for kind in ("robot_hours_day", "robot_days_year"))
    if seat is None or hours is None or days is None:
        return None
    since = datetime(first.year, first.month, first.day, tzinfo=zone)
    after = last + timedelta(days=1)
    until = datetime(after.year, after.month, after.day, tzinfo=zone)
    worked = Fraction(tx.value(Decimal, "tally.robot_hours", since=since, until=until) or 0)
    return entries.unused_seats(
        int(tx.value(Decimal, "tally.seats") or 0), seat, worked, hours, days, (last - first).days + 1
    )


def _robot_time(tx: Tx, kind: str, on: date) -> Rate | None:
    """What a robot works by the house's rate, else by the hosts' hours and the calendar."""
    rate = rates.in_force(tx, kind, on)
    if rate is not None:
        return rate
    meaning = rates.KINDS[kind]
    known = costs.robot_time(tx, None, on).get(meaning.feeds)
    if known is None:
        return None
    return Rate(0, meaning.name, Fraction(known.value), meaning.unit, known.source)


def _post_cost(
    tx: Tx, ctx: Ctx, month: str, at: datetime, source: str, entry: entries.MonthEntry, idea: int | None
) -> int:
    if any(row.line == entry.line for row in tx.all(TallyPosted, "tally.posted", source=source)):
        return 0
    base = {
        "source": source,
        "month": month,
        "belongs_to": month,
        "idea": idea,
        "routine": None,
        "run": None,
        "area": None,
        "at": at,
        "now": ctx.now,
        "facts": entry.working.as_dict(),
        "person": None,
    }
    _post(tx, base, entry.line, 0, _amounts(entry), list(entry.rate_ids), "month end", "")
    return 1


def month_ends(ctx: Ctx) -> int:
    """Posts the month-end costs of months that are over, idea by idea. Gives how many entries are new.

    What cannot be posted holds up its own month's end only, and no other idea's costs.
    """

    def due(tx: Tx) -> list[str]:
        this = company_day(tx, ctx).strftime("%Y-%m")
        open_months_before(tx, this)
        return tx.values(str, "tally.month_ends_due", this=this)

    return sum(_post_by_parts(ctx, month) for month in ctx.db.transact(due))


def _post_by_parts(ctx: Ctx, month: str) -> int:
    """A month's end, each part in a transaction of its own; it is done when every part is."""

    def parts(tx: Tx) -> tuple[list[TallyInService], set[str]]:
        waiting = tx.all(HitchesWaiting, "hitches.waiting", work=MONTH_ENDS.name, now=ctx.now)
        first, last = _bounds(month)
        return tx.all(TallyInService, "tally.in_service", first=first, last=last), {
            row.row_key for row in waiting
        }

    def post(tx: Tx, what: Callable[[Tx], int]) -> int:
        return what(tx) if _open_month(tx, month) else 0

    rows, waiting = ctx.db.transact(parts)
    works: dict[str, tuple[str, Callable[[Tx], int]]] = {
        f"{month}:{row.idea_id}": (
            f"idea:{row.idea_id}",
            partial(_post_idea_costs, ctx=ctx, month=month, row=row),
        )
        for row in rows
    }
    works[f"{month}:seats"] = ("", partial(_post_seat_costs, ctx=ctx, month=month))
    turn, new, whole = Rows(ctx, MONTH_ENDS), 0, not waiting & works.keys()
    for key, (obj, what) in works.items():
        if key in waiting:
            continue
        tried = turn.go(key, partial(ctx.db.transact, partial(post, what=what)), about=month, obj=obj)
        whole = whole and not tried.failed
        new += tried.done
    if whole:
        ctx.db.transact(partial(_done, ctx=ctx, month=month, new=new))
    return new
