"""Runs: starting, cancelling, ending, losing, and reading them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from tallyman.core.runs import Need
from tallyman.core.runs.starting import first_unmet, may_become, needs, order_key, pause_before
from tallyman.errors import NotFound, Refused
from tallyman.formats.schemas import called, check_inputs, misfits, with_defaults
from tallyman.services import tally
from tallyman.services.context import WORK, Ctx, audit, changed, in_transaction, unseen
from tallyman.services.robots import robot_facts, slots
from tallyman.services.runs.trouble import tell_of_end
from tallyman.services.upkeep import Once, Work, each
from tallyman.services.workshop import Wants, ask_of, startable
from tallyman.services.workshop import find as find_routine
from tallyman.services.workshop import find_for as find_routine_for
from tallyman.store.db import Tx
from tallyman.store.records.runs import LockedRun, Run, RunsLate, WantedRun
from tallyman.store.records.workshop import Routine

LEASES = Work("leases", "a run whose lease is over")
LAPSES = Work("lapses", "a run past its latest start")

OPEN = ("waiting", "running", "held")
# How one that is open stands in a sentence.
OPEN_SAID = {"waiting": "waits", "running": "is running", "held": "is held"}


@dataclass(frozen=True)
class When:
    """Within which hours, on which days and until when a waiting run may begin."""

    lapses: datetime | None = None
    window_from: str | None = None
    window_to: str | None = None
    zone: str | None = None
    open_days: bool = False


def ref(run_id: int) -> str:
    """How a run is referred to."""
    return f"R-{run_id}"


def find(tx: Tx, ctx: Ctx, run_id: int, permission: str = "run.see") -> Run:
    """A run with names that the actor may see, and do something to; Forbidden or NotFound otherwise."""
    row = tx.one(Run, "runs.one", id=run_id)
    if row is None or not ctx.actor.may_at("run.see", row.area_id):
        missing = NotFound(f"There is no run {ref(run_id)}.", "Choose one in the list.")
        raise unseen(ctx, "run.see", row is not None, missing)
    ctx.require_at(permission, row.area_id)
    return row


def add(
    tx: Tx,
    ctx: Ctx,
    routine: Routine,
    words: str,
    *,
    trigger: int | None = None,
    nominal: datetime | None = None,
    again_of: int | None = None,
    attempt: int = 1,
    reason: str = "",
    inputs: dict[str, object] | None = None,
    due: datetime | None = None,
    when: When | None = None,
    for_person: int | None = None,
    only_robot: int | None = None,
    group: tuple[int, int] | None = None,
) -> int:
    """A waiting run of a routine; Clash if its trigger has started one for that nominal time.

    Of an attended routine it is meant for `for_person`, else for whom the routine is, else for whoever
    starts it; who starts it for themselves has agreed by that. `only_robot`: no other one may take it.
    `group`: of which group it is, and which one of it.
    """
    when = when or When()
    person = _meant_for(ctx, routine, for_person)
    agreed = ctx.now if person is not None and person == ctx.actor.person_id and trigger is None else None
    due = due or ctx.now
    run_id = tx.insert(
        "runs.add",
        routine=routine.id,
        release=routine.release_id,
        trigger=trigger,
        nominal=nominal,
        person=ctx.actor.person_id,
        words=words[:200],
        again_of=again_of,
        attempt=attempt,
        trial=bool(routine.on_trial),
        due=due,
        order=order_key(due, routine.priority),
        lapses=when.lapses,
        window_from=when.window_from,
        window_to=when.window_to,
        window_zone=when.zone,
        open_days=when.open_days,
        reason=reason,
        # What is left out is what the release declares for it; a run keeps what it was given in the end.
        inputs=with_defaults(routine.schema, routine.inputs if inputs is None else inputs),
        attended=routine.attended,
        for_person=person,
        agreed=agreed,
        only_robot=only_robot,
        group=None if group is None else group[0],
        line=None if group is None else group[1],
        now=ctx.now,
    )
    if again_of is not None:
        tx.write("service_runs.follow", run=run_id, before=again_of)
    changed(tx, ctx, "runs", run_id)
    changed(tx, ctx, WORK)
    return run_id


def _meant_for(ctx: Ctx, routine: Routine, person: int | None) -> int | None:
    """The person whose computer a run of an attended routine is meant for; None for one that robots take."""
    if not routine.attended:
        return None
    found = person or routine.attended_for or ctx.actor.person_id
    if found is None:
        raise Refused(
            f"{routine.name} works on the computer of whoever starts it, and nobody did.",
            "Say in its set-up for whom it is.",
        )
    return found


@in_transaction
def start(tx: Tx, ctx: Ctx, routine_id: int, key: str) -> int:
    """Starts a routine now; the same key gives the same run again."""
    ctx.require("run.make")
    once = Once("run", key, routine_id)
    known = once.known(tx, ctx)
    if known is not None:
        return known
    routine = startable(find_routine_for(tx, ctx, routine_id, "run.make"))
    check_inputs(routine.schema, routine.inputs)
    run_id = add(tx, ctx, routine, ctx.actor.name)
    once.made(tx, ctx, run_id)
    audit(tx, ctx, "run started", f"run:{run_id}", f"Started {routine.name} now")
    return run_id


@in_transaction
def start_again(tx: Tx, ctx: Ctx, run_id: int, key: str) -> int:
    """Starts a run that ended once more: its inputs, the routine's release of now; once for each run.

    The same key gives the same run again.
    """
    ctx.require("run.make")
    once = Once("run", key, ["again", run_id])
    known = once.known(tx, ctx)
    if known is not None:
        return known
    tx.one(LockedRun, "runs.lock", id=run_id)
    run = find(tx, ctx, run_id, "run.make")
    if run.state in OPEN:
        raise Refused(f"{ref(run_id)} is {run.state}; it has not ended.", "Continue or cancel it first.")
    if run.tried_again_as is not None:
        raise Refused(
            f"{ref(run_id)} was started again already, as {ref(run.tried_again_as)}.", "Open that run."
        )
    routine = startable(find_routine_for(tx, ctx, run.routine_id, "run.make"))
    check_inputs(routine.schema, run.inputs)
    by = f"again by {ctx.actor.name}"
    made = add(tx, ctx, routine, by, again_of=run_id, inputs=run.inputs, for_person=run.for_person)
    once.made(tx, ctx, made)
    audit(tx, ctx, "run started", f"run:{made}", f"Started {routine.name} again, after {ref(run_id)}")
    changed(tx, ctx, "runs", run_id)
    return made


@in_transaction
def cancel(tx: Tx, ctx: Ctx, run_id: int) -> str:
    """Cancels a waiting run at once, asks the runner for a running one. Gives the state now."""
    ctx.require("run.change")
    find(tx, ctx, run_id, "run.change")
    run = tx.one(LockedRun, "runs.lock", id=run_id)
    assert run is not None
    return cancel_locked(tx, ctx, run)


def cancel_locked(tx: Tx, ctx: Ctx, run: LockedRun) -> str:
    """The same of a run whose row is locked, for whoever may do so."""
    run_id, obj = run.id, f"run:{run.id}"
    if run.state in ("waiting", "held"):
        how = "while it was held" if run.state == "held" else "before it started"
        if run.started_at is not None and run.state == "waiting":
            how = "before it went on"
        reason = f"cancelled by {ctx.actor.name} {how}"
        _end_still(tx, ctx, run_id, run.state, "cancelled", reason, ctx.actor.person_id)
        audit(tx, ctx, "run cancelled", obj, reason)
    elif run.state == "running":
        if tx.write("runs.ask_cancel", id=run_id, now=ctx.now, person=ctx.actor.person_id):
            audit(tx, ctx, "cancel asked", obj, "Asked the runner to end it")
    else:
        raise Refused(f"{ref(run_id)} is {run.state} already.", "Nothing is left to cancel.")
    changed(tx, ctx, "runs", run_id)
    return "running" if run.state == "running" else "cancelled"


def _end_still(
    tx: Tx, ctx: Ctx, run_id: int, from_state: str, state: str, reason: str, person: int | None = None
) -> None:
    """Ends a run that waits or is held; what it worked in earlier segments is tallied."""
    tx.write(
        "runs.end_waiting",
        id=run_id,
        from_state=from_state,
        state=state,
        reason=reason[:1000],
        now=ctx.now,
        person=person,
    )
    _ended(tx, ctx, run_id)


@in_transaction
def pause(tx: Tx, ctx: Ctx, run_id: int) -> None:
    """Asks a running run to save its state and stop; its package must have checkpoints."""
    ctx.require("run.change")
    run = find(tx, ctx, run_id, "run.change")
    if run.state != "running":
        raise Refused(f"{ref(run_id)} is {run.state}.", "Only a running run can be paused.")
    if not run.checkpoints:
        raise Refused(
            f"{run.package} {run.release_version} has no checkpoints, so it cannot be paused.",
            "Cancel it, or release a version that calls checkpoint() and says checkpoints = true.",
        )
    if tx.write("runs.ask_pause", id=run_id, now=ctx.now, person=ctx.actor.person_id):
        audit(tx, ctx, "pause asked", f"run:{run_id}", "Asked it to save its state and stop")
        changed(tx, ctx, "runs", run_id)


@in_transaction
def go_on(tx: Tx, ctx: Ctx, run_id: int) -> None:
    """A held run waits again; any eligible robot takes its next segment with the saved state."""
    ctx.require("run.change")
    run = find(tx, ctx, run_id, "run.change")
    routine = find_routine(tx, run.routine_id)
    order = order_key(ctx.now, routine.priority)
    words = f"continued by {ctx.actor.name}"
    if not tx.write("runs.go_on", id=run_id, now=ctx.now, order=order, reason=words, by=ctx.actor.person_id):
        raise Refused(f"{ref(run_id)} is {run.state}.", "Only a held run can go on.")
    changed(tx, ctx, WORK)
    audit(tx, ctx, "run continued", f"run:{run_id}", f"Continues after segment {run.segment}")
    changed(tx, ctx, "runs", run_id)


def finish(
    tx: Tx,
    ctx: Ctx,
    run: RunsLate | LockedRun,
    state: str,
    *,
    outcome: str | None = None,
    reason: str = "",
    outputs: dict[str, object] | None = None,
    counts: dict[str, str] | None = None,
) -> bool:
    """Ends a run, gives back its places, and writes down that it is to be tallied."""
    if not may_become(run.state, state):
        return False
    done = tx.write(
        "runs.finish",
        id=run.id,
        fence=run.fence,
        from_state=run.state,
        state=state,
        outcome=outcome,
        reason=reason[:1000],
        outputs=outputs,
        counts=counts,
        # What came late belongs to the time when it was given up.
        ended=run.ended_at if run.state == "lost" else ctx.now,
        now=ctx.now,
    )
    if not done:
        return False
    tx.write("runs.end_segment", run=run.id, fence=run.fence, now=ctx.now, state=state)
    _ended(tx, ctx, run.id)
    tell_of_end(tx, ctx, run.id, state, reason)
    return True


def _ended(tx: Tx, ctx: Ctx, run_id: int) -> None:
    slots.free(tx, ctx, run_id)
    tally.post_later(tx, ctx, run_id)
    changed(tx, ctx, "runs", run_id)


def lose_silent(ctx: Ctx) -> int:
    """Runs whose lease has ended are lost, each by itself; tried again if their routine says so."""
    rows = ctx.db.transact(lambda tx: tx.values(int, "runs.leases_ended", now=ctx.now))
    return each(ctx, LEASES, rows, lambda tx, run_id: lose(tx, ctx, run_id), "run")


def lose(tx: Tx, ctx: Ctx, run_id: int, why: str = "") -> bool:
    """A run whose lease is over is lost; gives whether it was. Robots worked on it until then, not longer."""
    run = find(tx, ctx, run_id)
    until = run.lease_until
    if run.state != "running" or until is None or until >= ctx.now:
        return False
    moment = f"{until:%H:%M:%S} UTC on {until.day} {until:%b}"
    why = why or f"{run.host} did not renew the lease, which ended at {moment}"
    routine = find_routine(tx, run.routine_id)
    again, words = _next_attempt(run, routine)
    reason = f"{why}; what {run.robot} did by then is in the log{words}"[:1000]
    if not tx.write("runs.lose", id=run_id, fence=run.fence, now=ctx.now, reason=reason):
        return False
    ended = min(until, ctx.now)
    tx.write("runs.end_segment", run=run_id, fence=run.fence, now=ended, state="lost")
    _ended(tx, ctx, run_id)
    tell_of_end(tx, ctx, run_id, "lost", f"{why}{words}")
    if again is not None:
        add(
            tx,
            ctx,
            routine,
            f"again after {ref(run_id)} was lost",
            again_of=run_id,
            attempt=run.attempt + 1,
            inputs=run.inputs,
            due=ctx.now + again,
            reason=f"attempt {run.attempt + 1} of {routine.most_attempts}",
            for_person=run.for_person,
            only_robot=run.only_robot,
            group=None if run.group_id is None else (run.group_id, run.group_line or 0),
        )
    return True


def _next_attempt(run: Run, routine: Routine) -> tuple[timedelta | None, str]:
    """After which pause a lost run is tried again, if it is; and what its reason says of that."""
    if not routine.again_after_lost or run.cancel_at is not None:
        return None, ""
    attempt, most = run.attempt, routine.most_attempts
    if attempt >= most:
        return None, f"; it was attempt {attempt} of {most}, so it is not tried again by itself"
    return pause_before(attempt + 1), f"; attempt {attempt + 1} of {most} follows"


def lapse(ctx: Ctx) -> int:
    """Waiting runs past their latest start lapse, each by itself."""

    def work(tx: Tx, run_id: int) -> bool:
        latest = tx.value(datetime, "runs.lapses", id=run_id)
        if latest is None or latest >= ctx.now:
            return False
        waits = waiting_reasons(tx, ctx, [run_id]).get(run_id)
        why = waits.first if waits else ""
        reason = f"not started by its latest start, {latest:%d %b %H:%M} UTC; it waited for: {why}"
        _end_still(tx, ctx, run_id, "waiting", "lapsed", reason)
        tell_of_end(tx, ctx, run_id, "lapsed", reason)
        return True

    rows = ctx.db.transact(lambda tx: tx.values(int, "runs.lapsed", now=ctx.now))
    return each(ctx, LAPSES, rows, work, "run")


@dataclass(frozen=True)
class WaitsFor:
    """What a waiting run waits for: the first unmet need in words, and the whole list."""

    first: str
    needs: list[Need]


def waiting_reasons(tx: Tx, ctx: Ctx, run_ids: list[int]) -> dict[int, WaitsFor]:
    """What each waiting run waits for: the first unmet need and the whole list."""
    if not run_ids:
        return {}
    robots = robot_facts(tx)
    found = {}
    waiting = tx.all(WantedRun, "runs.wanted", ids=tuple(run_ids))
    asks = {row.id: ask_of(row) for row in waiting}
    wants = Wants(tx, asks.values())
    for row in waiting:
        if row.handed_until is not None:
            # It holds the robot, the seat and the locks itself: nothing is lacking.
            words = f"handed to {row.robot}; {row.host} begins it in a moment, or it waits again"
            found[row.id] = WaitsFor(words, [])
            continue
        wanted = wants.of(asks[row.id], row.due_at)
        rows = needs(wanted, robots, ctx.here)
        first = first_unmet(rows)
        if not first:
            first = "nothing is lacking; the next free robot takes it in a moment"
        found[row.id] = WaitsFor(first, rows)
    return found


def check_outputs(schema: dict[str, object], outputs: dict[str, object]) -> str:
    """Why outputs do not fit what the package declared; empty if they do."""
    return "; ".join(called(schema, fault) for fault in misfits(schema, outputs, "outputs"))
