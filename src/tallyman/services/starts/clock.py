"""What the clock starts: each nominal time once, whatever crashes, is edited, or runs twice."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import partial
from itertools import islice, takewhile
from typing import Any

from tallyman.core.clock import Fired
from tallyman.core.clock.missed import Settled, settle
from tallyman.services import runs
from tallyman.services.context import Ctx, changed
from tallyman.services.hitches import TRIGGERS, Rows
from tallyman.services.starts.triggers import schedule_of
from tallyman.services.workshop.routines import find as find_routine
from tallyman.store.db import Row, Tx

# So that one trigger that fell far behind does not hold up the others.
MOST_AT_ONCE = 300
# As many as the statement gives at once.
A_PAGE = 200
MOST_SKIPPED_NOTED = 200
JUST_BEFORE = timedelta(microseconds=1)


def start_due(ctx: Ctx) -> int:
    """Starts what the clock says is due. Gives how many runs were made."""
    made, moved, turn = 0, True, Rows(ctx, TRIGGERS)
    while moved:
        due = ctx.db.transact(lambda tx: tx.all("triggers.due", now=ctx.now))
        moved = False
        for row in due:
            act = partial(ctx.db.transact, partial(_fire, ctx=ctx, trigger_id=row["id"]))
            tried = turn.go(str(row["id"]), act, obj=f"routine:{row['routine_id']}")
            made += tried.done
            moved = moved or not tried.nothing
        # Fewer than a whole page: nothing more is due, or what is left is another engine's just now.
        moved = moved and len(due) == A_PAGE
    return made


def _fire(tx: Tx, ctx: Ctx, trigger_id: int) -> int | None:
    """One due trigger: its starts up to now, each noted by its nominal time; then its next time.

    Gives how many runs were made; None if there was nothing to settle.
    """
    trigger = tx.one("triggers.lock", id=trigger_id)
    if trigger is None or trigger["next_at"] is None or trigger["next_at"] > ctx.now:
        return None
    schedule = schedule_of(tx, trigger)
    since = trigger["handled_to"] or trigger["next_at"] - JUST_BEFORE
    due = list(islice(takewhile(lambda one: one.at <= ctx.now, schedule.after(since)), MOST_AT_ONCE))
    until = due[-1].at if len(due) == MOST_AT_ONCE else ctx.now
    following = next(schedule.after(until), None)
    tx.write(
        "triggers.set_next",
        id=trigger_id,
        next_at=following.at if following else None,
        next_nominal=following.nominal[0] if following else None,
        handled_to=until,
    )
    changed(tx, ctx, "routines", trigger["routine_id"])
    routine = find_routine(tx, trigger["routine_id"])
    if trigger["retired_at"] is not None or routine["retired_at"] is not None:
        return 0
    for one in islice(schedule.dropped(since, until), MOST_SKIPPED_NOTED):
        _note(tx, ctx, trigger_id, one.nominal, one.nominal, "skipped", one.why)
    settled = settle(due, ctx.now, trigger["missed"], timedelta(hours=trigger["missed_hours"]))
    return sum(_carry_out(tx, ctx, trigger, routine, schedule.sentence, one) for one in settled)


def _note(
    tx: Tx,
    ctx: Ctx,
    trigger_id: int,
    nominal: datetime,
    at: datetime,
    what: str,
    why: str,
    run: int | None = None,
) -> bool:
    done = tx.write(
        "triggers.note",
        trigger=trigger_id,
        nominal=nominal,
        at=at,
        what=what,
        why=why[:300],
        run=run,
        now=ctx.now,
    )
    return bool(done)


def _unsettled(tx: Tx, trigger_id: int, fired: Fired) -> list[datetime]:
    """The nominal times of a start that were not settled before, by this or an earlier form."""
    rows = tx.all("triggers.known", trigger=trigger_id, nominal=tuple(fired.nominal))
    known = {row["nominal_at"] for row in rows}
    return [at for at in fired.nominal if at not in known]


def _carry_out(tx: Tx, ctx: Ctx, trigger: Row, routine: Row, sentence: str, one: Settled) -> int:
    """Starts a run, or notes why none starts. Gives how many runs were made: 0 or 1."""
    nominal = _unsettled(tx, trigger["id"], one.fired)
    if not nominal:
        return 0
    if one.what != "started":
        for at in nominal:
            _note(tx, ctx, trigger["id"], at, one.fired.at, one.what, one.why)
        return 0
    why = one.why
    if nominal[0] != one.fired.at:
        moved = f"moved from {nominal[0]:%Y-%m-%d %H:%M} UTC, a closed day"
        why = f"{why}; {moved}" if why else moved
    run_id = runs.add(
        tx,
        ctx,
        routine,
        f"the clock: {sentence}",
        trigger=trigger["id"],
        nominal=nominal[0],
        reason=why,
        due=one.fired.at,
        when=_when(trigger, one.fired.at),
    )
    _note(tx, ctx, trigger["id"], nominal[0], one.fired.at, "started", why, run_id)
    for at in nominal[1:]:
        _note(tx, ctx, trigger["id"], at, one.fired.at, "merged", "falls together with another", run_id)
    return 1


def _when(trigger: Row, at: datetime) -> runs.When:
    latest: Any = trigger["latest_minutes"]
    return runs.When(
        None if latest is None else at + timedelta(minutes=latest),
        trigger["window_from"],
        trigger["window_to"],
        trigger["zone"],
        trigger["on_closed"] != "run",
    )
