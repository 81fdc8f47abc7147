"""How any trigger starts its routine: looked at when due, each occasion settled once, whatever happens.

A kind of trigger says what came since it was looked at last, and when to look again; everything else is
the same for all: rows that wait, locks, what is noted of an occasion, the run that is made.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from functools import partial

from tallyman.services import runs
from tallyman.services.context import Ctx, changed
from tallyman.services.upkeep import Rows, Work
from tallyman.services.workshop import find as find_routine
from tallyman.store.db import Tx
from tallyman.store.records.starts import DueTrigger, TriggersDue
from tallyman.store.records.workshop import Routine

TRIGGERS = Work("triggers", "a trigger")
# As many as the statement gives at once.
A_PAGE = 200


@dataclass(frozen=True)
class Kind:
    """A kind of trigger: its name in the table, and how one that is due is carried out.

    `fire` is given the locked trigger and its routine, None where it is not in use any more; it settles
    what came up to now, sets when to look again, and gives how many runs it made.
    """

    name: str
    fire: Callable[[Tx, Ctx, DueTrigger, Routine | None], int]


@dataclass(frozen=True)
class Occasion:
    """What a trigger starts for: known by its key, wanted at a time; a nominal time only on the clock."""

    key: str
    at: datetime
    nominal: datetime | None = None


def start_due(ctx: Ctx, kinds: dict[str, Kind]) -> int:
    """Has every trigger looked at whose time has come. Gives how many runs were made."""
    made, moved, turn = 0, True, Rows(ctx, TRIGGERS)
    while moved:
        due = ctx.db.transact(lambda tx: tx.all(TriggersDue, "triggers.due", now=ctx.now))
        moved = False
        for row in due:
            act = partial(ctx.db.transact, partial(_fire, ctx=ctx, trigger_id=row.id, kinds=kinds))
            tried = turn.go(str(row.id), act, obj=f"routine:{row.routine_id}")
            made += tried.done
            moved = moved or not tried.nothing
        # Fewer than a whole page: nothing more is due, or what is left is another engine's just now.
        moved = moved and len(due) == A_PAGE
    return made


def _fire(tx: Tx, ctx: Ctx, trigger_id: int, kinds: dict[str, Kind]) -> int | None:
    """One due trigger; gives how many runs were made, None if there was nothing to settle."""
    trigger = tx.one(DueTrigger, "triggers.lock", id=trigger_id)
    if trigger is None or trigger.next_at is None or trigger.next_at > ctx.now:
        return None
    routine = find_routine(tx, trigger.routine_id)
    used = trigger.retired_at is None and routine.retired_at is None
    changed(tx, ctx, "routines", trigger.routine_id)
    return kinds[trigger.kind].fire(tx, ctx, trigger, routine if used else None)


def note(
    tx: Tx, ctx: Ctx, trigger: DueTrigger, occasion: Occasion, what: str, why: str, run: int | None = None
) -> bool:
    """Notes what became of an occasion; False if that was settled before."""
    done = tx.write(
        "triggers.note",
        trigger=trigger.id,
        occasion=occasion.key,
        nominal=occasion.nominal,
        at=occasion.at,
        what=what,
        why=why[:300],
        run=run,
        now=ctx.now,
    )
    return bool(done)


def start(
    tx: Tx,
    ctx: Ctx,
    trigger: DueTrigger,
    routine: Routine,
    occasion: Occasion,
    by: str,
    why: str,
    when: runs.When,
) -> int:
    """Makes the run that an occasion starts, and notes it; gives its number."""
    run_id = runs.add(
        tx,
        ctx,
        routine,
        by,
        trigger=trigger.id,
        nominal=occasion.nominal,
        reason=why,
        due=occasion.at,
        when=when,
    )
    note(tx, ctx, trigger, occasion, "started", why, run_id)
    return run_id
