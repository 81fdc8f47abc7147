"""A release takes another's place in one or many routines: looked at first, at once, on trial or in stages,
and back with one act."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from tallyman.core.runs import Asking, Need, RobotFacts, takers
from tallyman.core.workshop.changes import Declared
from tallyman.core.workshop.words import RolloutHow
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.formats.schemas import misfits
from tallyman.services.context import Ctx, audit, changed, in_transaction, unseen
from tallyman.services.holding import path, paths
from tallyman.services.robots import robot_facts, robots_seen
from tallyman.services.workshop import pre_check, releasing, rolling, sight
from tallyman.services.workshop.answers import (
    ChangeLine,
    CouldRollOut,
    CouldTake,
    RobotName,
    RollingOut,
    RollingPart,
    RolloutRow,
)
from tallyman.services.workshop.routines import find_for
from tallyman.services.workshop.wants import Wants, ask_of, withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.workshop import (
    ReleaseWhole,
    Rollout,
    RolloutPart,
    RolloutsLock,
    Routine,
    RoutinesLock,
)

CHANGE = "routine.change"
SEE = "routine.see"
LONGEST_WHY = 500
MOST_GOOD = 100
MOST_BAD = 20
MOST_ROUTINES = 200
MISSING = NotFound("There is no such roll-out.", "Look at the roll-outs in the Workshop.")


@dataclass(frozen=True)
class Chosen:
    """A routine that is to take the release, with other inputs than it has, or None for those."""

    routine_id: int
    inputs: dict[str, object] | None = None


@dataclass(frozen=True)
class Given:
    """A roll-out as somebody asks for it: in which routines, how, and why.

    In stages it begins with one robot or one area, and goes on once `good_wanted` runs ended well; more than
    `bad_allowed` bad ones bring it back.
    """

    routines: list[Chosen] = field(default_factory=list)
    how: RolloutHow = "at once"
    why: str = ""
    first_robot: int | None = None
    first_area: int | None = None
    good_wanted: int = 3
    bad_allowed: int = 0


# ---- looked at first ---------------------------------------------------------------------------------


def _could(
    tx: Tx, ctx: Ctx, release: ReleaseWhole, rows: Sequence[Routine], given: Mapping[int, Chosen]
) -> list[CouldTake]:
    """What comes of the release in each of some routines."""
    robots = robot_facts(tx)
    asks = {
        row.id: replace(
            ask_of(row),
            tags=frozenset(row.tags) | frozenset(release.tags),
            active=tx.count("routines.active", routine=row.id),
            withdrawn=withdrawn(release),
            unapproved=sight.unapproved_in(tx, release, row.area_id),
        )
        for row in rows
    }
    wants = Wants(tx, asks.values())
    after = releasing.declared_by(tx, release.digest)
    lines: dict[int, list[ChangeLine]] = {}
    found = []
    for row in rows:
        if row.release_id not in lines:
            lines[row.release_id] = _changes(tx, row.release_id, after)
        chosen = given.get(row.id)
        inputs = row.inputs if chosen is None or chosen.inputs is None else chosen.inputs
        wanted = wants.of(asks[row.id], ctx.now)
        needs = pre_check.of_wanted(tx, ctx, wanted, release, inputs, robots)
        found.append(
            CouldTake(
                id=row.id,
                name=row.name,
                area=row.area,
                area_id=row.area_id,
                on_trial=row.on_trial,
                release_id=row.release_id,
                release_version=row.release_version,
                changes=lines[row.release_id],
                inputs=inputs,
                needs=needs,
                against=_against(tx, ctx, release, row, needs),
                waiting=len(_waiting(tx, row)),
                rollout=_under_way(tx, row.id),
            )
        )
    return found


def _waiting(tx: Tx, row: Routine) -> list[int]:
    return tx.values(int, "rollouts.waiting_ids", routine=row.id, release=row.release_id)


def _changes(tx: Tx, old: int, after: Declared | None) -> list[ChangeLine]:
    before = tx.one(ReleaseWhole, "packages.release", id=old)
    assert before is not None
    found = releasing.differences(tx, before.digest, after)
    return [ChangeLine(one.weight, one.kind, one.name, one.words) for one in found]


# Needs with which a routine would start nothing any more, and that do not pass by themselves.
FIRM = {"inputs", "release", "approved", "secrets"}


def _against(tx: Tx, ctx: Ctx, release: ReleaseWhole, row: Routine, needs: Sequence[Need]) -> list[str]:
    """Why a routine cannot take the release; nothing where it can."""
    found = [fault.message for fault in sight.faults_of_use(tx, ctx, release, row.area_id)]
    found += [f"{one.words}: {one.fact}" for one in needs if not one.met and one.key in FIRM]
    if _under_way(tx, row.id) is not None:
        found.append("another roll-out changes it now; end that one first")
    return found


def _under_way(tx: Tx, routine_id: int) -> int | None:
    """The roll-out that changes a routine now."""
    return tx.value(int, "rollouts.open_of", routine=routine_id)


def _release(tx: Tx, ctx: Ctx, release_id: int) -> ReleaseWhole:
    """A release that can be rolled out. Raises NotFound for one not seen, and Refused for a try-out."""
    release = sight.find(tx, ctx, release_id)
    if release.seen_by == "maker":
        raise Refused("This is a try-out.", "Let others see it first; then it can be rolled out.")
    return release


def _candidates(tx: Tx, ctx: Ctx, release: ReleaseWhole) -> tuple[list[Routine], int]:
    """The routines with another release of the package that the actor may change, and how many others."""
    ids = tx.values(int, "rollouts.could_take", package=release.package, release=release.id)
    rows = [row for one in ids if (row := tx.one(Routine, "routines.routine", id=one)) is not None]
    may = [row for row in rows if ctx.actor.may_at(CHANGE, row.area_id)]
    return may, len(rows) - len(may)


@in_transaction
def look(tx: Tx, ctx: Ctx, release_id: int, chosen: Sequence[Chosen]) -> CouldRollOut:
    """Which routines could take a release, each with what differs, its pre-check and what is against it, with
    the inputs that are chosen."""
    ctx.require(CHANGE)
    release = _release(tx, ctx, release_id)
    rows, others = _candidates(tx, ctx, release)
    facts = robot_facts(tx)
    seen = {one.id for one in robots_seen(tx, ctx)} if ctx.actor.may("robot.see") else set()
    able = [one for one in facts if one.robot_id in seen and _able(tx, release, rows, one)]
    return CouldRollOut(
        name=f"{release.package} {release.version}",
        input_schema=release.inputs,
        rows=_could(tx, ctx, release, rows, {one.routine_id: one for one in chosen}),
        robots=[RobotName(one.robot_id, one.name, one.host) for one in able],
        unseen=others,
    )


def _able(tx: Tx, release: ReleaseWhole, rows: Sequence[Routine], robot: RobotFacts) -> bool:
    """Whether a robot could take the release for one of some routines."""
    ways = paths(tx, tuple({row.area_id for row in rows}) or (0,))
    for row in rows:
        ask = ask_of(row)
        tags = ask.tags | frozenset(release.tags)
        asking = Asking(0, frozenset(ways[row.area_id]), tags, ask.asked)
        if not row.attended and not takers(asking, row.area, [robot])[0].lacks:
            return True
    return False


# ---- rolled out --------------------------------------------------------------------------------------


def _checked(tx: Tx, ctx: Ctx, release: ReleaseWhole, given: Given) -> list[Routine]:
    """The chosen routines, locked, each of which can take the release. Raises InputFaults with all that is
    wrong."""
    faults = []
    if not 3 <= len(given.why.strip()) <= LONGEST_WHY:
        message = f"say why, in 3 to {LONGEST_WHY} characters; it stands on each routine"
        faults.append(Fault("why", given.why[:40], message))
    if not 1 <= len(given.routines) <= MOST_ROUTINES:
        faults.append(
            Fault("routines", len(given.routines), f"choose 1 to {MOST_ROUTINES} routines that take it")
        )
    by_id = {one.routine_id: one for one in given.routines}
    rows = []
    for number in sorted(by_id)[:MOST_ROUTINES]:
        tx.one(RoutinesLock, "routines.lock", id=number)
        rows.append(find_for(tx, ctx, number, CHANGE))
    for row in rows:
        if row.retired_at is not None:
            faults.append(Fault(f"routines.{row.id}", row.name, "is retired; leave it out"))
        elif row.package != release.package or row.release_id == release.id:
            message = f"has {row.package} {row.release_version}; leave it out"
            faults.append(Fault(f"routines.{row.id}", row.name, message))
    for one in _could(tx, ctx, release, rows, by_id):
        faults += [Fault(f"routines.{one.id}", one.name, words) for words in one.against]
    if given.how == "staged":
        faults += _stages(tx, ctx, release, given, rows)
    if faults:
        raise InputFaults(faults)
    return rows


def _stages(tx: Tx, ctx: Ctx, release: ReleaseWhole, given: Given, rows: Sequence[Routine]) -> list[Fault]:
    """What is wrong with how a roll-out begins and when it goes on."""
    faults = []
    if not 1 <= given.good_wanted <= MOST_GOOD:
        faults.append(Fault("good_wanted", given.good_wanted, f"allowed: 1 to {MOST_GOOD}"))
    if not 0 <= given.bad_allowed <= MOST_BAD:
        faults.append(Fault("bad_allowed", given.bad_allowed, f"allowed: 0 to {MOST_BAD}"))
    if (given.first_robot is None) == (given.first_area is None):
        return [*faults, Fault("first", None, "choose one robot or one area that goes first")]
    if given.first_area is not None:
        first = _in_area(tx, given, rows)
        if not 0 < len(first) < len(rows):
            words = "none of them lies" if not first else "all of them lie"
            message = f"{words} in this area; choose one in which some of them lie, or roll it out at once"
            faults.append(Fault("first", given.first_area, message))
        return faults
    robot = next((one for one in robot_facts(tx) if one.robot_id == given.first_robot), None)
    if robot is None or robot.robot_id not in {one.id for one in robots_seen(tx, ctx)}:
        return [*faults, Fault("first", given.first_robot, "there is no such robot; choose one")]
    if not _able(tx, release, rows, robot):
        faults.append(Fault("first", robot.name, "it can take none of these routines; choose another"))
    for row in rows:
        faults += _on_a_robot(release, given, row)
    return faults


def _on_a_robot(release: ReleaseWhole, given: Given, row: Routine) -> list[Fault]:
    """Why one robot alone cannot try the release of a routine: what it is given must fit both."""
    chosen = next(one for one in given.routines if one.routine_id == row.id)
    if row.attended:
        message = "works on people's own computers; let an area go first"
    elif misfits(release.inputs, row.inputs) or (chosen.inputs is not None and chosen.inputs != row.inputs):
        message = "is given other inputs from then on; let an area go first, as a robot takes what both fit"
    else:
        return []
    return [Fault(f"routines.{row.id}", row.name, message)]


def _in_area(tx: Tx, given: Given, rows: Sequence[Routine]) -> set[int]:
    """Those of some routines that lie in the area that goes first, or below it."""
    return {row.id for row in rows if given.first_area in path(tx, row.area_id)}


@in_transaction
def roll_out(tx: Tx, ctx: Ctx, release_id: int, given: Given) -> int:
    """A release takes another's place in some routines. Gives the roll-out."""
    ctx.require(CHANGE)
    release = _release(tx, ctx, release_id)
    rows = _checked(tx, ctx, release, given)
    staged = given.how == "staged"
    number = tx.insert(
        "rollouts.add",
        release=release.id,
        how=given.how,
        why=given.why.strip(),
        robot=given.first_robot if staged else None,
        area=given.first_area if staged else None,
        good=given.good_wanted if staged else 0,
        bad=given.bad_allowed if staged else 0,
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    chosen = {one.routine_id: one.inputs for one in given.routines}
    first = _in_area(tx, given, rows) if given.first_area is not None else set(chosen)
    for row in rows:
        inputs = chosen[row.id]
        tx.insert(
            "rollouts.add_part",
            rollout=number,
            routine=row.id,
            first=not staged or row.id in first,
            old=row.release_id,
            old_inputs=row.inputs,
            new_inputs=row.inputs if inputs is None else inputs,
            trial=row.on_trial,
        )
    name = f"{release.package} {release.version}"
    many = "1 routine" if len(rows) == 1 else f"{len(rows)} routines"
    words = f"Rolls {name} out to {many}, {given.how}: {given.why.strip()}"
    audit(tx, ctx, "roll-out begun", f"rollout:{number}", words)
    kept = rolling.find(tx, number)
    assert kept is not None
    rolling.give_first(tx, ctx, kept)
    changed(tx, ctx, "rollouts", number)
    changed(tx, ctx, "runs")
    return number


# ---- its page ----------------------------------------------------------------------------------------


def _found(tx: Tx, ctx: Ctx, rollout_id: int) -> tuple[Rollout, list[RolloutPart], list[RolloutPart]]:
    """A roll-out, its routines, and those of them that the actor sees. Raises NotFound."""
    ctx.require(SEE)
    row = rolling.find(tx, rollout_id)
    parts = [] if row is None else rolling.parts_of(tx, rollout_id)
    seen = [part for part in parts if ctx.actor.may_at(SEE, part.area_id)]
    if row is None or not seen:
        raise unseen(ctx, SEE, row is not None, MISSING)
    return row, parts, seen


def _first(row: Rollout) -> str:
    if row.first_robot is not None:
        return f"the robot {row.robot}"
    return "" if row.first_area is None else f"the area {row.area}"


@in_transaction
def view(tx: Tx, ctx: Ctx, rollout_id: int) -> RollingOut:
    """A roll-out as its page shows it."""
    row, parts, seen = _found(tx, ctx, rollout_id)
    runs = rolling.runs_of(tx, row)
    trial = rolling.trial_of(row, runs)
    may = all(ctx.actor.may_at(CHANGE, part.area_id) for part in parts)
    still = sum(part.state == "changed" and part.release_id == row.release_id for part in parts)
    counted = {
        part.routine_id: rolling.trial_of(row, [one for one in runs if one.routine_id == part.routine_id])
        for part in parts
    }
    return RollingOut(
        id=row.id,
        release_id=row.release_id,
        package=row.package,
        version=row.version,
        how=row.how,
        state=row.state,
        why=row.why,
        person=row.person,
        made_at=row.made_at,
        first=_first(row),
        good_wanted=row.good_wanted,
        bad_allowed=row.bad_allowed,
        good=trial.good,
        bad=trial.bad,
        said=trial.said() if row.how == "staged" else "",
        ended_at=row.ended_at,
        ended_by=row.ended_by_name,
        ended_words=row.ended_words,
        parts=[
            RollingPart(
                routine_id=part.routine_id,
                routine=part.routine,
                area=part.area,
                goes_first=part.goes_first,
                state=part.state,
                words=part.words,
                old_release=part.old_release,
                old_version=part.old_version,
                changed_at=part.changed_at,
                good=counted[part.routine_id].good,
                bad=counted[part.routine_id].bad,
            )
            for part in seen
        ],
        unseen=len(parts) - len(seen),
        still=still,
        may=may,
        against="" if may else "Some of its routines lie where you may change none.",
    )


@in_transaction
def listed(tx: Tx, ctx: Ctx) -> list[RolloutRow]:
    """The last 100 roll-outs of routines that the actor sees, those under way first."""
    ctx.require(SEE)
    return tx.all(RolloutRow, "rollouts.listed", **ctx.scope(SEE))


def _locked(tx: Tx, ctx: Ctx, rollout_id: int) -> Rollout:
    """A roll-out, locked, whose every routine the actor may change."""
    ctx.require(CHANGE)
    tx.one(RolloutsLock, "rollouts.lock", id=rollout_id)
    row, parts, _ = _found(tx, ctx, rollout_id)
    for part in parts:
        ctx.require_at(CHANGE, part.area_id)
    return row


@in_transaction
def go_on(tx: Tx, ctx: Ctx, rollout_id: int) -> None:
    """The rest takes the release now, whatever the first did so far."""
    row = _locked(tx, ctx, rollout_id)
    if row.state != "under way":
        raise Refused("This roll-out is over.", "Load the page again.")
    said = rolling.trial_of(row, rolling.runs_of(tx, row)).said()
    rolling.give_rest(tx, ctx, row, f"{ctx.actor.name} let the rest follow: {said}")


@in_transaction
def back(tx: Tx, ctx: Ctx, rollout_id: int) -> None:
    """Every routine takes the release that it had before. Raises Refused where none has this one any more."""
    row = _locked(tx, ctx, rollout_id)
    has = [
        one
        for one in rolling.parts_of(tx, row.id)
        if one.state == "changed" and one.release_id == row.release_id
    ]
    if row.state == "gone back" or (row.state == "done" and not has):
        raise Refused("None of its routines has this release any more.", "Load the page again.")
    others = [
        one.routine for one in has if row.state == "done" and _under_way(tx, one.routine_id) is not None
    ]
    if others:
        message = f"Another roll-out changes {', '.join(others)}."
        raise Refused(message, "End that one first; then this one can go back.")
    rolling.go_back(tx, ctx, row, f"{ctx.actor.name} took it back")
