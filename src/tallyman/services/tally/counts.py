"""Units that no routine counts: given by a named person, a list or a program with their evidence, posted at
the approved minutes saved, and corrected like everything else: by entries that reverse and replace."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.exact import exact, plain, text_of
from tallyman.core.free import Free, FreeObject
from tallyman.core.said import day_said
from tallyman.core.tally.entries import HandCount, MonthEntry, counted_by_hand, month_of
from tallyman.core.tally.words import CountSource
from tallyman.errors import Fault, Forbidden, InputFaults, NotFound, Refused
from tallyman.formats.columns import read_lines
from tallyman.services.context import (
    Ctx,
    audit,
    changed,
    company_day,
    company_of,
    effect,
    in_transaction,
)
from tallyman.services.ideas import find, may_count, ref
from tallyman.services.rates import costs, rates
from tallyman.services.tally.answers import CountLine, HandCountOut, HandCounts
from tallyman.services.tally.posting import open_month, settle_entries
from tallyman.services.upkeep import Once
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasLock
from tallyman.store.records.tally import (
    CountsCountedSince,
    CountsOfIdea,
    CountsOverlapping,
    CountsStanding,
    HandCounted,
)
from tallyman.store.records.upkeep import DueEffect

COUNTED = "count by hand"
MOST_UNITS = 10**9
# The ledger keeps six digits.
AS_KEPT = Fraction(2, 10**6)
LONGEST = 1000
SAID = {"by hand": "given by {who}", "a list": "from a list of {who}", "a program": "by the program of {who}"}
# How the columns of a list of counts are headed.
HEADS = {
    "month": ("month",),
    "first": ("from", "first", "first day", "since"),
    "last": ("to", "until", "last", "last day"),
    "units": ("units", "items", "count", "volume", "number", "cases"),
    "evidence": ("evidence", "source", "where from", "note", "remark"),
}


@dataclass(frozen=True)
class Counted:
    """The days within which a routine counted for an idea; the one that counts now has no last."""

    first: date
    last: date | None


def _counted(tx: Tx, idea_id: int) -> list[Counted]:
    """When routines counted for an idea, by the days of the company's zone."""
    zone = ZoneInfo(company_of(tx).zone)
    return [
        Counted(
            row.live_at.astimezone(zone).date(),
            row.ended_at.astimezone(zone).date() if row.ended_at else None,
        )
        for row in tx.all(CountsCountedSince, "counts.counted_since", idea=idea_id)
        if row.live_at is not None
    ]


@dataclass(frozen=True)
class Given:
    """Units of a span of days within one month, and where they come from."""

    first: date
    last: date
    units: Free
    evidence: str


def _idea(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    if not may_count(ctx, idea):
        who = idea.measure_owner or idea.owner or "who answers for it"
        raise Forbidden(
            f"Only {who}, and those who change what is counted, give units of {ref(idea_id)}.",
            "Ask them, or say it in the talk.",
            permission="value.change",
        )
    if idea.live_on is None:
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; only what is in service is counted.", "Come back then."
        )
    return idea


def _faults(tx: Tx, ctx: Ctx, idea: Idea, given: Given, but: int = 0) -> list[Fault]:
    """Everything that is wrong with a count."""
    faults = []
    try:
        if not 0 <= exact(given.units) <= MOST_UNITS:
            raise ValueError(f"allowed: 0 to {MOST_UNITS:,}")
    except ValueError as error:
        faults.append(Fault("units", given.units, str(error)))
    if not 3 <= len(given.evidence.strip()) <= LONGEST:
        faults.append(Fault("evidence", given.evidence[:40], "say where the figure comes from"))
    first, last = given.first, given.last
    if last < first:
        faults.append(Fault("last", last.isoformat(), f"is before {day_said(first)}, its first day"))
    elif (first.year, first.month) != (last.year, last.month):
        faults.append(
            Fault("last", last.isoformat(), "give each month by itself; months are closed one by one")
        )
    if last > company_day(tx, ctx):
        faults.append(Fault("last", last.isoformat(), "lies ahead; give days that are over"))
    if idea.live_on and first < idea.live_on:
        message = f"is before it was in service, on {day_said(idea.live_on)}"
        faults.append(Fault("first", first.isoformat(), message))
    for point in _counted(tx, idea.id):
        if last >= point.first and (point.last is None or first <= point.last):
            counts = f"its routine counts since {day_said(point.first)}"
            if point.last:
                counts = f"a routine counted from {day_said(point.first)} to {day_said(point.last)}"
            faults.append(Fault("last", last.isoformat(), f"{counts}; nothing is counted at two points"))
    other = tx.one(CountsOverlapping, "counts.overlapping", idea=idea.id, first=first, last=last, but=but)
    if other is not None:
        span = f"{day_said(other.first_on)} to {day_said(other.last_on)}"
        message = f"{span} is counted already, with {plain(Fraction(other.units))}; change that count"
        faults.append(Fault("first", first.isoformat(), message))
    return faults


def _add(tx: Tx, ctx: Ctx, idea: Idea, given: Given, source: CountSource) -> int:
    units = exact(given.units)
    number = tx.insert(
        "counts.add",
        idea=idea.id,
        first=given.first,
        last=given.last,
        units=units,
        evidence=given.evidence.strip(),
        source=source,
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    span = f"{day_said(given.first)} to {day_said(given.last)}"
    words = f"{plain(units)} units of {span}, {source}: {given.evidence.strip()}"
    audit(tx, ctx, "counted by hand", f"idea:{idea.id}", words)
    _follow(tx, ctx, number, idea.id, "")
    return number


def _follow(tx: Tx, ctx: Ctx, number: int, idea_id: int, why: str) -> None:
    effect(tx, ctx, COUNTED, f"count:{number}", count=number, why=why)
    changed(tx, ctx, "tally", idea_id)


@in_transaction
def add(tx: Tx, ctx: Ctx, idea_id: int, given: Given, key: str) -> int:
    """Keeps units of a span of days; the same key gives the same count again. Raises InputFaults."""
    idea = _idea(tx, ctx, idea_id)
    once = Once("count", key, [idea_id, str(given)])
    known = once.known(tx, ctx)
    if known is not None:
        return known
    faults = _faults(tx, ctx, idea, given)
    if faults:
        raise InputFaults(faults)
    number = _add(tx, ctx, idea, given, "a program" if ctx.actor.program else "by hand")
    once.made(tx, ctx, number)
    return number


def _count(tx: Tx, ctx: Ctx, number: int) -> tuple[HandCounted, Idea]:
    found = tx.one(HandCounted, "counts.one", id=number)
    if found is None:
        raise NotFound("There is no such count.", "Load the page again.")
    idea = _idea(tx, ctx, found.idea_id)
    tx.value(int, "counts.lock", id=number)
    row = tx.one(HandCounted, "counts.one", id=number)
    if row is None or row.taken_back_at is not None:
        raise Refused("This count was taken back already.", "Load the page again.")
    return row, idea


def _why(why: str) -> str:
    said = why.strip()
    if not 3 <= len(said) <= 300:
        raise InputFaults([Fault("why", why[:60], "say why, in 3 to 300 characters")])
    return said


@in_transaction
def change(tx: Tx, ctx: Ctx, number: int, units: Free, evidence: str, why: str) -> None:
    """Says that a count was another; its entry is reversed and posted anew. Raises InputFaults."""
    row, idea = _count(tx, ctx, number)
    given = Given(row.first_on, row.last_on, units, evidence)
    said = _why(why)
    faults = [one for one in _faults(tx, ctx, idea, given, number) if one.field in ("units", "evidence")]
    if faults:
        raise InputFaults(faults)
    tx.write(
        "counts.change",
        id=number,
        units=exact(units),
        evidence=evidence.strip(),
        person=ctx.actor.person_id,
    )
    before, after = {"units": plain(Fraction(row.units))}, {"units": plain(exact(units))}
    audit(tx, ctx, "count by hand changed", f"idea:{row.idea_id}", said, before, after)
    _follow(tx, ctx, number, row.idea_id, said)


@in_transaction
def take_back(tx: Tx, ctx: Ctx, number: int, why: str) -> None:
    """Says that a count was none; what was posted for it is reversed."""
    row, _ = _count(tx, ctx, number)
    said = _why(why)
    tx.write("counts.take_back", id=number, person=ctx.actor.person_id, now=ctx.now)
    audit(tx, ctx, "count by hand taken back", f"idea:{row.idea_id}", said)
    _follow(tx, ctx, number, row.idea_id, said)


def carry(tx: Tx, ctx: Ctx, found: DueEffect) -> None:
    """Posts what a count comes to at the rates in force on its last day; asked again, nothing."""
    number = found.payload["count"]
    tx.value(int, "counts.lock", id=number)
    row = tx.one(HandCounted, "counts.one", id=number)
    assert row is not None
    entry = None if row.taken_back_at is not None else _entry(tx, row)
    day = row.last_on
    at = datetime(day.year, day.month, day.day, 12, tzinfo=ZoneInfo(company_of(tx).zone))
    belongs = month_of(at, company_of(tx).zone)
    base: FreeObject = {
        "source": f"count:{number}",
        "month": open_month(tx, belongs),
        "belongs_to": belongs,
        "idea": row.idea_id,
        "routine": None,
        "run": None,
        "area": row.area_id,
        "at": at,
        "now": ctx.now,
        "facts": None,
        "person": row.person_id,
    }
    why = found.payload.get("why") or "what was counted changed"
    if settle_entries(tx, base, (entry,) if entry else (), why, "by hand"):
        changed(tx, ctx, "tally", row.idea_id)


def _entry(tx: Tx, row: HandCounted) -> MonthEntry | None:
    """What a count comes to; nothing while no minutes saved are approved for its last day."""
    minutes = rates.in_force(tx, rates.MINUTES_BY_HAND, row.last_on, row.idea_id)
    hour = costs.hour_cost(tx, row.last_on, row.idea_id)
    if minutes is None or hour is None:
        return None
    by = SAID[row.source].format(who=row.person)
    return counted_by_hand(
        HandCount(row.id, Fraction(row.units), row.first_on, row.last_on, by), minutes, hour
    )


def verify(tx: Tx) -> list[str]:
    """Where what stands in the tally for a count by hand is not what it comes to; empty if all is right."""
    wrong = []
    for row in tx.all(CountsStanding, "counts.standing"):
        count = tx.one(HandCounted, "counts.one", id=row.id)
        if count is None:
            continue
        entry = None if count.taken_back_at is not None else _entry(tx, count)
        units, money = (entry.units, entry.money) if entry else (Fraction(0), Fraction(0))
        apart = abs(Fraction(row.units) - units) + abs(Fraction(row.money) - money)
        if apart > AS_KEPT:
            stands = f"{plain(Fraction(row.units))} units and {text_of(row.money, 2)}"
            wrong.append(f"count {row.id} stands with {stands}; it comes to {text_of(money, 2)}")
    return wrong


@in_transaction
def shown(tx: Tx, ctx: Ctx, idea_id: int) -> HandCounts:
    """The counts of an idea, and whether the actor may give more."""
    idea = find(tx, ctx, idea_id)
    if not may_count(ctx, idea):
        ctx.require_at("value.see", idea.area_id)
    rows = tx.all(CountsOfIdea, "counts.of_idea", idea=idea_id)
    return HandCounts(
        rows=[
            HandCountOut(
                id=row.id,
                first=row.first_on,
                last=row.last_on,
                units=plain(Fraction(row.units)),
                evidence=row.evidence,
                source=row.source,
                person=row.person,
                at=row.at,
                taken_back=row.taken_back_at is not None,
                posted=bool(row.entries),
            )
            for row in rows
        ],
        may_count=idea.live_on is not None and may_count(ctx, idea),
        counted_since=next((one.first for one in _counted(tx, idea_id) if one.last is None), None),
        live_on=idea.live_on,
    )


# ---- lists of counts ---------------------------------------------------------------------------------


def _span(cells: dict[str, str]) -> tuple[date, date]:
    """The days of a line: from and to, or a whole month such as 2026-11. Raises ValueError."""
    if cells.get("month"):
        first = date.fromisoformat(f"{cells['month'].strip()[:7]}-01")
        after = date(first.year + first.month // 12, first.month % 12 + 1, 1)
        return first, date.fromordinal(after.toordinal() - 1)
    return date.fromisoformat(cells.get("first", "").strip()), date.fromisoformat(
        cells.get("last", "").strip()
    )


def _read(tx: Tx, ctx: Ctx, idea: Idea, number: int, cells: dict[str, str]) -> tuple[CountLine, Given | None]:
    """A line of a list, with everything that is wrong with it; what stands here already is left as it is."""
    try:
        first, last = _span(cells)
    except ValueError:
        said = cells.get("month") or cells.get("first") or ""
        wrong = [f"“{said}” is no month such as 2026-11, nor a day such as 2026-11-30"]
        return CountLine(number, None, None, cells.get("units", ""), "stays out", wrong), None
    today = company_day(tx, ctx)
    if cells.get("month"):
        # A month is counted up to today, and from the day on which it was in service.
        last = min(last, today) if first <= today else last
        first = max(first, idea.live_on or first) if last >= (idea.live_on or first) else first
    given = Given(first, last, cells.get("units", "").replace(",", "").strip(), cells.get("evidence", ""))
    given = Given(first, last, given.units, given.evidence or "from a list")
    other = tx.one(CountsOverlapping, "counts.overlapping", idea=idea.id, first=first, last=last, but=0)
    units = str(given.units)
    if other is not None and (other.first_on, other.last_on) == (first, last):
        try:
            if Fraction(other.units) == exact(given.units):
                return CountLine(number, first, last, units, "is here already", []), None
        except ValueError:
            pass
    wrong = [f"{one.field}: {one.message}" for one in _faults(tx, ctx, idea, given)]
    if wrong:
        return CountLine(number, first, last, units, "stays out", wrong), None
    return CountLine(number, first, last, units, "comes in", []), given


@in_transaction
def bring(tx: Tx, ctx: Ctx, idea_id: int, data: bytes, keep: bool) -> list[CountLine]:
    """Reads a list of counts (month or from and to, units, evidence); with `keep` those that fit are kept.

    One line that does not fit stops no other. Raises InputFaults for what is no such list.
    """
    idea = _idea(tx, ctx, idea_id)
    lines = read_lines(data, HEADS, ("units",))
    shown_lines, taken = [], set[tuple[date, date]]()
    for number, cells in lines:
        line, given = _read(tx, ctx, idea, number, cells)
        if given is not None and any(given.first <= b and given.last >= a for a, b in taken):
            line = CountLine(
                number, given.first, given.last, line.units, "stays out", ["stands twice in the list"]
            )
            given = None
        if given is not None:
            taken.add((given.first, given.last))
            if keep:
                _add(tx, ctx, idea, given, "a list")
        shown_lines.append(line)
    return shown_lines
