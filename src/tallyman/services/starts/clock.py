"""What the clock starts: each nominal time once, whatever crashes, is edited, or runs twice."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import islice, takewhile

from tallyman.core.starts import Fired
from tallyman.core.starts.missed import Settled, settle
from tallyman.services import runs
from tallyman.services.context import Ctx
from tallyman.services.starts.starting import Kind, Occasion, note, start
from tallyman.services.starts.triggers import schedule_of
from tallyman.services.workshop import withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.starts import DueTrigger
from tallyman.store.records.workshop import Routine

# So that one trigger that fell far behind does not hold up the others.
MOST_AT_ONCE = 300
MOST_SKIPPED_NOTED = 200
JUST_BEFORE = timedelta(microseconds=1)


def fire(tx: Tx, ctx: Ctx, trigger: DueTrigger, routine: Routine | None) -> int:
    """A trigger on the clock: its starts up to now, each noted by its nominal time; then its next time."""
    schedule = schedule_of(tx, trigger)
    since = trigger.handled_to or (trigger.next_at or ctx.now) - JUST_BEFORE
    due = list(islice(takewhile(lambda one: one.at <= ctx.now, schedule.after(since)), MOST_AT_ONCE))
    until = due[-1].at if len(due) == MOST_AT_ONCE else ctx.now
    following = next(schedule.after(until), None)
    tx.write(
        "triggers.set_next",
        id=trigger.id,
        next_at=following.at if following else None,
        next_nominal=following.nominal[0] if following else None,
        handled_to=until,
    )
    if routine is None:
        return 0
    for one in islice(schedule.dropped(since, until), MOST_SKIPPED_NOTED):
        note(tx, ctx, trigger, _at(one.nominal, one.nominal), "skipped", one.why)
    settled = settle(due, ctx.now, trigger.missed, timedelta(hours=trigger.missed_hours))
    return sum(_carry_out(tx, ctx, trigger, routine, schedule.sentence, one) for one in settled)


def _at(nominal: datetime, at: datetime) -> Occasion:
    """An occasion of the clock: its nominal time, and the time it is moved to."""
    return Occasion(f"{nominal:%Y-%m-%dT%H:%M:%SZ}", at, nominal)


def _unsettled(tx: Tx, trigger_id: int, fired: Fired) -> list[datetime]:
    """The nominal times of a start that were not settled before, by this or an earlier form."""
    rows = tx.values(datetime, "triggers.known", trigger=trigger_id, nominal=tuple(fired.nominal))
    known = set(rows)
    return [at for at in fired.nominal if at not in known]


def _carry_out(tx: Tx, ctx: Ctx, trigger: DueTrigger, routine: Routine, sentence: str, one: Settled) -> int:
    """Starts a run, or notes why none starts. Gives how many runs were made: 0 or 1."""
    nominal = _unsettled(tx, trigger.id, one.fired)
    if not nominal:
        return 0
    gone = withdrawn(routine)
    if one.what != "started" or gone is not None:
        what, why = (one.what, one.why) if one.what != "started" else ("skipped", str(gone))
        for at in nominal:
            note(tx, ctx, trigger, _at(at, one.fired.at), what, why)
        return 0
    why = one.why
    if nominal[0] != one.fired.at:
        moved = f"moved from {nominal[0]:%Y-%m-%d %H:%M} UTC, a closed day"
        why = f"{why}; {moved}" if why else moved
    at, by = one.fired.at, f"the clock: {sentence}"
    run_id = start(tx, ctx, trigger, routine, _at(nominal[0], at), by, why, _when(trigger, at))
    for merged in nominal[1:]:
        note(tx, ctx, trigger, _at(merged, at), "merged", "falls together with another", run_id)
    return 1


def _when(trigger: DueTrigger, at: datetime) -> runs.When:
    latest = trigger.latest_minutes
    return runs.When(
        None if latest is None else at + timedelta(minutes=latest),
        trigger.window_from,
        trigger.window_to,
        trigger.zone,
        trigger.on_closed != "run",
    )


CLOCK = Kind("clock", fire)
