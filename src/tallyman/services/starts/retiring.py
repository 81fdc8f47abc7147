"""A routine that nobody needs any more: what hangs on it, and taking it out of use."""

from __future__ import annotations

from tallyman.errors import Refused
from tallyman.services import selfservice
from tallyman.services.answers import HangsOn, Retiring
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.runs import OPEN_SAID, ref
from tallyman.services.starts.triggers import schedule_of
from tallyman.services.workshop import find_for
from tallyman.store.db import Tx
from tallyman.store.records.starts import StartAddress, TriggersOfRoutine
from tallyman.store.records.workshop import Routine, RoutinesLock, RoutinesOpenRuns, RoutineUsing

RETIRE = "routine.retire"
MOST_NAMED = 20


def _hangs(tx: Tx, ctx: Ctx, routine: Routine, triggers: list[TriggersOfRoutine]) -> list[HangsOn]:
    rows = [
        HangsOn("start", schedule_of(tx, one).sentence, "", "ends; what it started stays to be read")
        for one in triggers
    ]
    if tx.one(StartAddress, "called.address", routine=routine.id) is not None:
        then = "starts nothing any more; programs that call it are told that it is retired"
        rows.append(HangsOn("address", "its address for other programs", "", then))
    page = selfservice.of_routine(tx, ctx, routine.id)
    if page is not None and page.state != "taken back":
        then = "says to colleagues that nobody works with it any more, and starts nothing"
        rows.append(HangsOn("self-service page", page.title, f"/self-service/{page.id}", then))
    rollout = tx.value(int, "rollouts.open_of", routine=routine.id)
    if rollout is not None:
        then = "leaves it as it is, and goes on with the others"
        rows.append(
            HangsOn("roll-out", "the roll-out that changes it", f"/workshop/rollouts/{rollout}", then)
        )
    if routine.idea_id is not None:
        then = "no routine counts for it from then on; another can, or its units are given by hand"
        rows.append(
            HangsOn(
                "idea",
                f"I-{routine.idea_id} {routine.idea}",
                f"/ideas/{routine.idea_id}?sheet=tally",
                then,
            )
        )
    users = tx.all(RoutineUsing, "routines.using_release", release=routine.release_id)
    if [one.id for one in users] == [routine.id]:
        name = f"{routine.package} {routine.release_version}"
        then = "no routine uses it any more; it can be retired next"
        rows.append(HangsOn("release", name, f"/workshop/releases/{routine.release_id}", then))
    return rows


def _open(runs: list[RoutinesOpenRuns]) -> list[str]:
    """The open runs that stand against it; where they are many, that there are others."""
    said = [f"{ref(run.id)} {OPEN_SAID[run.state]}: let it end, or cancel it" for run in runs[:MOST_NAMED]]
    return [*said, "and others"] if len(runs) > MOST_NAMED else said


def _look(tx: Tx, ctx: Ctx, routine: Routine) -> tuple[Retiring, list[TriggersOfRoutine]]:
    triggers = tx.all(TriggersOfRoutine, "triggers.of_routine", id=routine.id)
    still = tx.all(RoutinesOpenRuns, "routines.open_runs", routine=routine.id)
    look = Retiring(
        name=routine.name,
        hangs=_hangs(tx, ctx, routine, triggers),
        unseen=0,
        against=_open(still),
        stays="Its runs and what they posted stay, and its page. Its name is free for another routine.",
    )
    return look, triggers


def _find(tx: Tx, ctx: Ctx, routine_id: int) -> Routine:
    ctx.require(RETIRE)
    routine = find_for(tx, ctx, routine_id, RETIRE)
    if routine.retired_at is not None:
        raise Refused(f"{routine.name} is retired already.", "Load the page again.")
    return routine


@in_transaction
def look_at(tx: Tx, ctx: Ctx, routine_id: int) -> Retiring:
    """What hangs on a routine, before it is retired."""
    return _look(tx, ctx, _find(tx, ctx, routine_id))[0]


@in_transaction
def retire(tx: Tx, ctx: Ctx, routine_id: int) -> None:
    """Takes a routine out of use with what starts it. Raises Refused while a run of it is open."""
    tx.one(RoutinesLock, "routines.lock", id=routine_id)
    routine = _find(tx, ctx, routine_id)
    look, triggers = _look(tx, ctx, routine)
    if look.against:
        raise Refused(f"{routine.name} cannot be retired yet.", f"{'; '.join(look.against)}.")
    for one in triggers:
        tx.write("triggers.retire", id=one.id, routine=routine_id, now=ctx.now)
    tx.write("routines.end_counting", id=routine_id, now=ctx.now)
    tx.write("routines.unlock_all", routine=routine_id)
    tx.write("routines.retire", id=routine_id, now=ctx.now)
    obj = f"routine:{routine_id}"
    ended = f"; what started it ended: {len(triggers)}" if triggers else ""
    audit(tx, ctx, "routine retired", obj, f"Retired {routine.name}{ended}")
    if routine.idea_id is not None:
        words = f"{routine.name} is retired; no routine counts now"
        audit(tx, ctx, "counting point ended", f"idea:{routine.idea_id}", words)
    changed(tx, ctx, "routines", routine_id)
    changed(tx, ctx, "ideas", routine.idea_id)
