"""A roll-out at work: routines take the new release, the rest follows the first or all go back; and what a
run tries because one robot takes it."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.core.alerts import kinds
from tallyman.core.workshop.staging import Trial
from tallyman.core.workshop.words import RolloutState
from tallyman.errors import InputFaults
from tallyman.formats.schemas import check_inputs, misfits, with_defaults
from tallyman.services.alerts import tell
from tallyman.services.context import WORK, Ctx, audit, changed
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.workshop import (
    Rollout,
    RolloutPart,
    RolloutsLock,
    RolloutsTrialRuns,
    RolloutsWaitingOf,
    TriedOn,
)

ROLLOUTS = Work("rollouts", "a roll-out that is under way")

GOOD = {"done"}
BAD = {"failed", "lost"}


def find(tx: Tx, rollout_id: int) -> Rollout | None:
    """A roll-out with its names."""
    return tx.one(Rollout, "rollouts.one", id=rollout_id)


def parts_of(tx: Tx, rollout_id: int) -> list[RolloutPart]:
    """The routines of a roll-out, those that go first before the others."""
    return tx.all(RolloutPart, "rollouts.parts", id=rollout_id)


def runs_of(tx: Tx, row: Rollout) -> list[RolloutsTrialRuns]:
    """How runs of the new release ended so far in the routines that go first."""
    return tx.all(RolloutsTrialRuns, "rollouts.trial_runs", id=row.id)


def trial_of(row: Rollout, runs: Sequence[RolloutsTrialRuns]) -> Trial:
    """The same, counted."""
    good = sum(one.runs for one in runs if one.state in GOOD)
    bad = sum(one.runs for one in runs if one.state in BAD)
    return Trial(good, bad, row.good_wanted, row.bad_allowed)


def note_release(
    tx: Tx, ctx: Ctx, routine_id: int, release_id: int, why: str, rollout: int | None = None
) -> None:
    """A routine has another release from now on; it stands as a mark in its pictures over time."""
    note = {"routine": routine_id, "release": release_id, "why": why, "rollout": rollout}
    tx.write("rollouts.note_release", **note, person=ctx.actor.person_id, now=ctx.now)


def _give(tx: Tx, ctx: Ctx, row: Rollout, part: RolloutPart) -> None:
    """Gives one routine its new release; where that can no longer be, it is left, and says why."""
    on_trial = part.was_on_trial or row.how == "on trial"
    words = ""
    try:
        check_inputs(row.schema, part.new_inputs)
    except InputFaults as error:
        words = f"its inputs do not fit: {error.faults[0].message}"
    given = {"id": part.routine_id, "release": row.release_id, "had": part.old_release}
    if not words and not tx.write("rollouts.give", **given, inputs=part.new_inputs, trial=on_trial):
        words = "it was retired or has another release meanwhile"
    _set(tx, ctx, part, "left" if words else "changed", words)
    if words:
        return
    note_release(tx, ctx, part.routine_id, row.release_id, row.why, row.id)
    name = f"{row.package} {row.version}"
    said = f"{part.routine} has {name} instead of {part.old_version}: {row.why}"
    audit(tx, ctx, "routine changed", f"routine:{part.routine_id}", said)
    changed(tx, ctx, "routines", part.routine_id)


def _set(tx: Tx, ctx: Ctx, part: RolloutPart, state: str, words: str) -> None:
    tx.write("rollouts.set_part", id=part.id, state=state, words=words[:500], now=ctx.now)


def give_first(tx: Tx, ctx: Ctx, row: Rollout) -> None:
    """The first of a roll-out take the release; all of them where it has no stages."""
    parts = parts_of(tx, row.id)
    if row.how != "staged":
        give_rest(tx, ctx, row, "")
    elif row.first_robot is None:
        for part in parts:
            if part.goes_first:
                _give(tx, ctx, row, part)


def give_rest(tx: Tx, ctx: Ctx, row: Rollout, words: str) -> None:
    """Every routine of a roll-out that waits takes the release, and it is done."""
    for part in parts_of(tx, row.id):
        if part.state == "waits":
            _give(tx, ctx, row, part)
    _end(tx, ctx, row, "done", words)


def go_back(tx: Tx, ctx: Ctx, row: Rollout, words: str) -> None:
    """Every routine that has the release takes the one it had before, with what waits for it."""
    for part in parts_of(tx, row.id):
        if part.state == "waits":
            # One robot alone may have tried it: what is not begun goes to the release of before as well.
            _waiting_back(tx, row, part)
            _set(tx, ctx, part, "left", "it kept its release")
        elif part.state == "changed":
            _back(tx, ctx, row, part)
    _end(tx, ctx, row, "gone back", words)


def _back(tx: Tx, ctx: Ctx, row: Rollout, part: RolloutPart) -> None:
    given = {"id": part.routine_id, "release": part.old_release, "had": row.release_id}
    if not tx.write("rollouts.give", **given, inputs=part.old_inputs, trial=part.was_on_trial):
        _set(tx, ctx, part, "left", "it was retired or has another release meanwhile")
        return
    stay = _waiting_back(tx, row, part)
    runs = "1 run that waits keeps" if stay == 1 else f"{stay} runs that wait keep"
    kept = f"; {runs} {row.version}, whose own inputs {part.old_version} does not take" if stay else ""
    _set(tx, ctx, part, "back", kept.removeprefix("; "))
    note_release(tx, ctx, part.routine_id, part.old_release, "the roll-out went back", row.id)
    said = f"{part.routine} is back at {row.package} {part.old_version}{kept}"
    audit(tx, ctx, "routine changed", f"routine:{part.routine_id}", said)
    changed(tx, ctx, "routines", part.routine_id)


def _waiting_back(tx: Tx, row: Rollout, part: RolloutPart) -> int:
    """What waits for the new release and was not begun takes the one of before; gives how many cannot.

    An input that the new release alone knows is left out where it is what the new set-up said, or its
    default; nothing that somebody gave a run by hand is lost.
    """
    had = with_defaults(row.schema, part.new_inputs)
    known = part.old_schema.get("properties", {})
    stay = 0
    for run in tx.all(
        RolloutsWaitingOf, "rollouts.waiting_of", routine=part.routine_id, release=row.release_id
    ):
        fits = {
            name: value
            for name, value in run.inputs.items()
            if name in known or name not in had or had[name] != value
        }
        if misfits(part.old_schema, fits):
            stay += 1
            continue
        inputs = with_defaults(part.old_schema, fits)
        given = {"id": run.id, "release": part.old_release, "had": row.release_id}
        tx.write("rollouts.run_takes", **given, inputs=inputs)
    return stay


def _end(tx: Tx, ctx: Ctx, row: Rollout, state: RolloutState, words: str) -> None:
    person = ctx.actor.person_id
    tx.write("rollouts.end", id=row.id, state=state, words=words[:500], person=person, now=ctx.now)
    tx.write("rollouts.let_go", id=row.id)
    name = f"{row.package} {row.version}"
    how = "went back" if state == "gone back" else "is done"
    said = f"The roll-out of {name} {how}{f': {words}' if words else ''}"
    audit(tx, ctx, "roll-out ended", f"rollout:{row.id}", said)
    kind = kinds.ROLLOUT_BACK if state == "gone back" else kinds.ROLLOUT_DONE
    tell(tx, ctx, kind, {"id": row.id}, [row.person_id], what=name, why=words or "all have it")
    for subject in ("rollouts", "routines", "runs", WORK):
        changed(tx, ctx, subject)


def carry_on(ctx: Ctx) -> int:
    """Settles every staged roll-out whose first did well enough, or badly; gives how many."""
    found = ctx.db.transact(lambda tx: tx.values(int, "rollouts.under_way", now=ctx.now))
    return each(ctx, ROLLOUTS, found, lambda tx, row: _carry_on(tx, ctx, row), "rollout")


def _carry_on(tx: Tx, ctx: Ctx, rollout_id: int) -> int:
    tx.one(RolloutsLock, "rollouts.lock", id=rollout_id)
    row = find(tx, rollout_id)
    # A second engine finds it ended already.
    if row is None or row.state != "under way":
        return 0
    against = _ended_under_it(tx, row)
    trial = trial_of(row, runs_of(tx, row))
    if against or trial.verdict() == "back":
        go_back(tx, ctx, row, against or trial.said())
    elif trial.verdict() == "on":
        give_rest(tx, ctx, row, trial.said())
    else:
        return 0
    return 1


def _ended_under_it(tx: Tx, row: Rollout) -> str:
    """Why a roll-out can no longer be tried; nothing where it can."""
    if row.withdrawn_at is not None:
        return f"the release was withdrawn: {row.withdrawn_why or 'no reason was given'}"
    if row.robot_retired_at is not None:
        return f"the robot {row.robot} was retired"
    first = [part for part in parts_of(tx, row.id) if part.goes_first]
    if all(part.retired_at is not None or part.state == "left" for part in first):
        return "no routine that goes first is in use with it any more"
    return ""


def try_on(tx: Tx, run_id: int, robot_id: int) -> None:
    """A run about to be taken by the robot that a roll-out begins with tries the new release, where what the
    run was given fits it. One that was to try it, and another robot takes in the end, does not."""
    row = tx.one(TriedOn, "rollouts.tried_on", run=run_id)
    if row is None:
        return
    first = row.first_robot == robot_id
    if first and row.had == row.old_release and row.withdrawn_at is None:
        if not misfits(row.schema, row.inputs):
            inputs = with_defaults(row.schema, row.inputs)
            tx.write("rollouts.run_takes", id=run_id, release=row.release_id, had=row.had, inputs=inputs)
    elif not first and row.had == row.release_id:
        rollout = find(tx, row.id)
        part = next((one for one in parts_of(tx, row.id) if one.id == row.part_id), None)
        if rollout is not None and part is not None:
            _waiting_back(tx, rollout, part)
