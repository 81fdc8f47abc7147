"""Runs that are meant for a person: asking them, what they answer, and stopping what works there."""

from __future__ import annotations

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from tallyman.core.alerts import kinds
from tallyman.core.runs import ANSWERED, SOON, Answer, put_off
from tallyman.core.runs.starting import order_key
from tallyman.core.said import time_said
from tallyman.errors import NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import WORK, Ctx, audit, calendar_of, changed, in_transaction
from tallyman.services.runs import life
from tallyman.services.upkeep import Work, each
from tallyman.services.workshop import find as find_routine
from tallyman.store.db import Tx
from tallyman.store.records.runs import AttendedAsking, AttendedToAsk, LockedRun

ASKING = Work("asking", "asking whose computer a run wants")


def ask_due(ctx: Ctx) -> int:
    """Asks people for whom runs have come due, each once; gives how many were asked."""

    def work(tx: Tx, row: AttendedToAsk) -> bool:
        if not tx.write("attended.ask", id=row.id, now=ctx.now):
            return False
        until = "" if row.lapses_at is None else f", by {row.lapses_at:%d %b %H:%M} UTC"
        said = {"run": row.id, "routine": row.routine, "until": until}
        tell(tx, ctx, kinds.RUN_ASKS, {"id": row.id, "area_id": row.area_id}, [row.for_person], **said)
        changed(tx, ctx, "runs", row.id)
        return True

    rows = ctx.db.transact(lambda tx: tx.all(AttendedToAsk, "attended.to_ask", now=ctx.now))
    return each(ctx, ASKING, rows, work, "run")


def waiting_for(tx: Tx, ctx: Ctx) -> list[AttendedAsking]:
    """The runs that wait for the actor's answer now."""
    if ctx.actor.person_id is None:
        return []
    return tx.all(AttendedAsking, "attended.asking", person=ctx.actor.person_id, now=ctx.now)


def _own(tx: Tx, ctx: Ctx, run_id: int) -> LockedRun:
    """A run that is meant for the actor, locked. Raises NotFound for all others."""
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    if run is None or run.for_person is None or run.for_person != ctx.actor.person_id:
        raise NotFound(f"No run {life.ref(run_id)} is meant for you.", "Look under My computer.")
    return run


@in_transaction
def answer(tx: Tx, ctx: Ctx, run_id: int, said: Answer) -> datetime:
    """Says when a run may have one's computer: now, in ten minutes, or not today. Gives from when on it may
    begin, or when it asks again. Raises Refused where it does not wait any more, or would lapse before."""
    run = _own(tx, ctx, run_id)
    ref = life.ref(run_id)
    if run.state != "waiting" or run.handed_until is not None:
        raise Refused(f"{ref} {life.OPEN_SAID.get(run.state, f'is {run.state}')}.", "Load the page again.")
    if said == "later":
        at = _put_off(tx, ctx, run)
    else:
        at = ctx.now if said == "now" else ctx.now + SOON
        if run.lapses_at is not None and run.lapses_at < at:
            raise Refused(f"{ref} lapses at {_clock(ctx, run.lapses_at)} already.", "Say now, or not today.")
        own = {"id": run_id, "person": run.for_person, "order": _order(tx, run, at)}
        tx.write("attended.agree", at=at, now=ctx.now, **own)
    audit(tx, ctx, "run answered", f"run:{run_id}", f"{ctx.actor.name} said: {ANSWERED[said]}")
    changed(tx, ctx, "runs", run_id)
    changed(tx, ctx, WORK)
    return at


def _order(tx: Tx, run: LockedRun, at: datetime) -> datetime:
    return order_key(at, find_routine(tx, run.routine_id).priority)


def _clock(ctx: Ctx, at: datetime) -> str:
    return time_said(at.astimezone(ZoneInfo(ctx.actor.zone)))


def _put_off(tx: Tx, ctx: Ctx, run: LockedRun) -> datetime:
    day = put_off(ctx.now, ctx.actor.zone, calendar_of(tx, None))
    if day is None:
        raise Refused("No day of the next year is open.", "Say now, or not at all.")
    at = day.astimezone(UTC)
    own = {"id": run.id, "person": run.for_person, "order": _order(tx, run, at)}
    tx.write("attended.put_off", due=at, now=ctx.now, **own)
    return at


@in_transaction
def stop(tx: Tx, ctx: Ctx, run_id: int) -> str:
    """Stops a run that works, or would work, on one's own computer. Gives the state now."""
    run = _own(tx, ctx, run_id)
    return life.cancel_locked(tx, ctx, run)
