"""Routines: a release set up in an area, what it needs to start, its triggers, and going live."""

from __future__ import annotations

from dataclasses import asdict

from tallyman.core.alerts import kinds
from tallyman.core.exact import exact, text_of
from tallyman.core.runs import Need, read_asked
from tallyman.core.said import day_said
from tallyman.errors import Clash, Conflict, Fault, InputFaults, NotFound, Refused
from tallyman.services.context import (
    WORK,
    Ctx,
    audit,
    changed,
    company_day,
    in_transaction,
    unseen,
)
from tallyman.services.house import areas_seen
from tallyman.services.ideas import may_see, tell_of
from tallyman.services.ideas import move as move_idea
from tallyman.services.rates import rates
from tallyman.services.robots import check_tags
from tallyman.services.workshop import pre_check, rolling, setting_up, sight
from tallyman.services.workshop.answers import Choices, RetiredRoutine, RoutineMay, RoutineParts, RoutineRow
from tallyman.services.workshop.wants import withdrawn
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasLock, Promise
from tallyman.store.records.tally import TallyNewestMinutesRate
from tallyman.store.records.workshop import (
    IdeaName,
    Routine,
    RoutinesCountingOfIdea,
    RoutinesLastStates,
    RoutinesLock,
    RoutinesLocks,
    RoutinesLocksOf,
    RoutinesRoutines,
    Version,
)

Given = setting_up.Given
MISSING = NotFound("There is no such routine.", "Choose one in the Workshop.")


def find(tx: Tx, routine_id: int) -> Routine:
    """A routine, or NotFound."""
    row = tx.one(Routine, "routines.routine", id=routine_id)
    if row is None:
        raise MISSING
    return row


def find_for(tx: Tx, ctx: Ctx, routine_id: int, permission: str = "routine.see") -> Routine:
    """A routine that the actor may see, and do something to; Forbidden or NotFound otherwise."""
    row = tx.one(Routine, "routines.routine", id=routine_id)
    if row is None or not ctx.actor.may_at("routine.see", row.area_id):
        raise unseen(ctx, "routine.see", row is not None, MISSING)
    ctx.require_at(permission, row.area_id)
    if row.tryout_of is not None and permission != "routine.see":
        raise Refused(f"{row.name} is tried out here.", "Start it on the page of the release.")
    if row.trial_of is not None and permission != "routine.see":
        raise Refused(f"{row.name} is the robot's own.", "Start it on the page of the robot.")
    return row


def in_use(routine: Routine) -> Routine:
    """The same routine. Raises Refused if it is retired."""
    if routine.retired_at is not None:
        raise Refused(f"{routine.name} is retired.", "Set up a new routine.")
    return routine


def startable(routine: Routine) -> Routine:
    """The same routine. Raises Refused if it is retired, or its release withdrawn."""
    gone = withdrawn(in_use(routine))
    if gone is not None:
        raise Refused(f"{gone}.", f"Give {routine.name} another release; then it can start.")
    return routine


def _params(given: Given) -> dict[str, object]:
    return {
        "name": given.name.strip(),
        "area": given.area_id,
        "release": given.release_id,
        "inputs": given.inputs,
        "tags": check_tags(given.tags),
        "priority": given.priority,
        "run_limit": given.run_limit,
        "lease_minutes": given.lease_minutes,
        "limit_minutes": given.limit_minutes,
        "again": given.again_after_lost,
        "most_attempts": given.most_attempts,
        "memory_mb": given.memory_mb,
        "asked": asdict(given.asked) if given.asked else None,
        "attended": given.attended,
        "attended_for": given.attended_for if given.attended else None,
    }


def _set_limit(tx: Tx, routine_id: int, limit: int) -> None:
    for n in range(limit):
        tx.write("robots.add_slot", kind="limit", owner=routine_id, n=n)
    tx.write("robots.drop_slots", kind="limit", owner=routine_id, n=limit)


def _set_locks(tx: Tx, ctx: Ctx, routine_id: int, names: tuple[str, ...]) -> None:
    """The named locks a routine takes while it runs; a new name makes the lock with its one place."""
    tx.write("routines.unlock_all", routine=routine_id)
    for name in sorted({name.strip() for name in names if name.strip()}):
        lock = tx.insert("routines.add_lock", name=name, now=ctx.now)
        tx.write("robots.add_slot", kind="lock", owner=lock, n=0)
        tx.write("routines.lock_with", routine=routine_id, lock=lock)


@in_transaction
def add(tx: Tx, ctx: Ctx, given: Given) -> int:
    """Sets up a release as a routine, on trial, and as the counting point of its idea."""
    ctx.require("routine.make")
    setting_up.checked(tx, ctx, given)
    ctx.require_at("routine.make", given.area_id)
    try:
        routine_id = tx.insert("routines.add", **_params(given), person=ctx.actor.person_id, now=ctx.now)
    except Clash as error:
        raise InputFaults([Fault("name", given.name, error.message)]) from None
    rolling.note_release(tx, ctx, routine_id, given.release_id, "")
    _set_limit(tx, routine_id, given.run_limit)
    _set_locks(tx, ctx, routine_id, given.locks)
    audit(tx, ctx, "routine set up", f"routine:{routine_id}", f"Set up {given.name}")
    if given.idea_id:
        _count_for(tx, ctx, routine_id, given)
    changed(tx, ctx, "routines", routine_id)
    return routine_id


def _count_for(tx: Tx, ctx: Ctx, routine_id: int, given: Given) -> None:
    """Makes a routine the counting point of an idea, and proposes its minutes by hand."""
    assert given.idea_id is not None
    tx.one(IdeasLock, "ideas.lock", id=given.idea_id)
    idea = tx.one(Idea, "ideas.by_id", id=given.idea_id)
    if idea is not None and not may_see(tx, ctx, idea):
        idea = None
    if idea is None or idea.stage not in ("building", "in service"):
        stage = idea.stage if idea else "not there"
        message = f"it is {stage}; an idea is counted from building on"
        raise InputFaults([Fault("idea", given.idea_id, message)])
    other = tx.one(RoutinesCountingOfIdea, "routines.counting_of_idea", idea=given.idea_id)
    if other is not None:
        message = f"{other.name} counts for it already; nothing is counted at two points"
        raise InputFaults([Fault("idea", given.idea_id, message)])
    tx.write(
        "routines.set_counting",
        idea=given.idea_id,
        routine=routine_id,
        basis=given.basis,
        count_name=given.count_name.strip() if given.basis == "count" else "",
        now=ctx.now,
    )
    if idea.stage == "building":
        tx.write("ideas.set_building", id=given.idea_id, building="on trial", now=ctx.now)
    words = f"{given.name} is the counting point, by {given.count_name or given.basis}"
    audit(tx, ctx, "counting point set", f"idea:{given.idea_id}", words)
    promise = tx.one(Promise, "ideas.promise", idea=given.idea_id)
    if (
        promise is not None
        and tx.one(TallyNewestMinutesRate, "tally.newest_minutes_rate", idea=given.idea_id) is None
    ):
        case = promise.input
        minutes = exact(case["handling_minutes"])
        minutes += exact(case["rework_share"]) * exact(case["rework_minutes"])
        source = "promise: handling minutes + rework share × rework minutes"
        day = company_day(tx, ctx)
        rates.add(tx, ctx, rates.MINUTES_BY_HAND, minutes, day, source, rates.Wanted(given.idea_id))


def _check_attended(tx: Tx, old: Routine, given: Given) -> None:
    """Raises InputFaults where runs wait that were made to work elsewhere, or the clock starts it."""
    if given.attended and not given.attended_for and tx.count("attended.on_the_clock", routine=old.id):
        message = "the clock starts it, so say for whom it is"
        raise InputFaults([Fault("attended_for", "", message)])
    waiting = tx.values(int, "attended.waiting_of_routine", routine=old.id)
    if waiting and bool(old.attended) != bool(given.attended):
        message = f"R-{waiting[0]} waits and would be left behind; let it begin, or cancel it first"
        raise InputFaults([Fault("attended", given.attended or "robots", message)])


@in_transaction
def change(tx: Tx, ctx: Ctx, routine_id: int, given: Given, version: int) -> None:
    """Changes a routine, unless somebody else did meanwhile."""
    ctx.require("routine.change")
    old = in_use(find_for(tx, ctx, routine_id, "routine.change"))
    setting_up.checked(tx, ctx, given, old.release_id)
    ctx.require_at("routine.change", given.area_id)
    how = _how_released(tx, old, given)
    _check_attended(tx, old, given)
    try:
        done = tx.write("routines.change", id=routine_id, version=version, **_params(given))
    except Clash as error:
        raise InputFaults([Fault("name", given.name, error.message)]) from None
    if not done:
        raise Conflict(
            "Somebody changed this routine meanwhile.",
            "Look at both, then save yours again.",
            theirs={key: getattr(old, key) for key in ("name", "inputs", "tags", "priority")},
            yours={"name": given.name, "inputs": given.inputs, "tags": given.tags},
            version=old.version,
        )
    if given.release_id != old.release_id:
        rolling.note_release(tx, ctx, routine_id, given.release_id, given.release_why.strip())
    _set_limit(tx, routine_id, given.run_limit)
    _set_locks(tx, ctx, routine_id, given.locks)
    if given.idea_id and old.idea_id is None:
        _count_for(tx, ctx, routine_id, given)
    before = {key: getattr(old, key) for key in ("name", "release_version", "inputs", "tags", "priority")}
    after = {"name": given.name, "inputs": given.inputs, "tags": given.tags}
    if given.trial_again and how:
        tx.write("routines.on_trial_again", id=routine_id)
    words = f"Changed {given.name}{how}"
    audit(tx, ctx, "routine changed", f"routine:{routine_id}", words, before, after)
    changed(tx, ctx, "routines", routine_id)
    changed(tx, ctx, "runs")
    changed(tx, ctx, WORK)


LONGEST_RELEASE_WHY = 500


def _how_released(tx: Tx, old: Routine, given: Given) -> str:
    """How a routine in service takes another release, in words; raises InputFaults where that is not said, or
    a roll-out changes it."""
    if given.release_id == old.release_id:
        return ""
    rollout = tx.value(int, "rollouts.open_of", routine=old.id)
    if rollout is not None:
        message = f"the roll-out {rollout} changes it, see /workshop/rollouts/{rollout}; end that one first"
        raise InputFaults([Fault("release", old.release_version, message)])
    if old.on_trial:
        return ""
    if given.trial_again:
        return ": another release, on trial until it goes live again"
    why = given.release_why.strip()
    if not 3 <= len(why) <= LONGEST_RELEASE_WHY:
        message = "it is in service: try the release first, or say why it goes live at once"
        raise InputFaults([Fault("release_why", given.release_why[:40], message)])
    return f": another release at once: {why}"


def _live_needs(tx: Tx, ctx: Ctx, routine: Routine) -> list[Need]:
    """What going live needs beside that."""
    link = f"/ideas/{routine.idea_id}" if routine.idea_id else ""
    gone = withdrawn(routine)
    rows = [Need("release", "Its release is not withdrawn", gone is None, str(gone), "Choose another")]
    rows = [] if gone is None else rows
    rows.append(
        Need(
            "counting",
            "Counts for an idea",
            routine.idea_id is not None,
            f"I-{routine.idea_id} {routine.idea}" if routine.idea_id else "for none yet",
            "Choose the idea below",
            link,
        )
    )
    trial = tx.value(int, "routines.worked_trial", id=routine.id, release=routine.release_id)
    fact = f"R-{trial}" if trial else "none yet"
    mend = "Start it now and see it work"
    rows.append(
        Need(
            "trial",
            "A trial run of this release that worked",
            bool(trial),
            fact,
            mend,
            f"/runs/{trial}" if trial else "",
        )
    )
    if routine.idea_id:
        rate = tx.one(TallyNewestMinutesRate, "tally.newest_minutes_rate", idea=routine.idea_id)
        approved = rate is not None and rate.state == "approved"
        fact = (
            f"{text_of(rate.value, 2)} min from {day_said(rate.since)}, {rate.state}" if rate else "none yet"
        )
        mend = "The lead approves it under Value, Rates"
        rows.append(Need("rate", "Minutes by hand approved", approved, fact, mend, "/value/rates"))
    return rows


@in_transaction
def go_live(tx: Tx, ctx: Ctx, routine_id: int) -> None:
    """From now on the routine's runs count; its idea is in service."""
    ctx.require("routine.decide")
    tx.one(RoutinesLock, "routines.lock", id=routine_id)
    routine = in_use(find_for(tx, ctx, routine_id, "routine.decide"))
    if not routine.on_trial:
        raise Refused(f"{routine.name} is in service already.", "Load the page again.")
    unmet = [need for need in _live_needs(tx, ctx, routine) if not need.met]
    if unmet:
        words = "; ".join(f"{need.words}: {need.fact}" for need in unmet)
        raise Refused(f"{routine.name} cannot go live yet.", f"Lacking: {words}.")
    tx.write("routines.go_live", id=routine_id, now=ctx.now)
    audit(tx, ctx, "routine went live", f"routine:{routine_id}", f"{routine.name} went live")
    idea = tx.one(Idea, "ideas.by_id", id=routine.idea_id)
    assert idea is not None
    if idea.stage == "building":
        move_idea(tx, ctx, idea, "in service", f"{routine.name} went live")
        tx.write("ideas.set_live", id=idea.id, day=company_day(tx, ctx))
    tell_of(tx, ctx, kinds.IN_SERVICE, idea, routine=routine.name)
    changed(tx, ctx, "routines", routine_id)


@in_transaction
def retired(tx: Tx, ctx: Ctx) -> list[RetiredRoutine]:
    """The last 200 routines that went out of use."""
    ctx.require("routine.see")
    return tx.all(RetiredRoutine, "routines.retired", **ctx.scope("routine.see"))


@in_transaction
def listed(tx: Tx, ctx: Ctx) -> list[RoutineRow]:
    """All routines in use, each with its last run and next start."""
    ctx.require("routine.see")
    rows = tx.all(RoutinesRoutines, "routines.routines", **ctx.scope("routine.see"))
    ids = [row.last_run for row in rows if row.last_run]
    states = {
        row.id: row for row in tx.all(RoutinesLastStates, "routines.last_states", ids=tuple(ids) or (0,))
    }
    shown = []
    for row in rows:
        last = states.get(row.last_run or 0)
        at = (last.ended_at or last.made_at) if last else None
        shown.append(
            RoutineRow(
                id=row.id,
                name=row.name,
                on_trial=row.on_trial,
                area=row.area,
                package=row.package,
                release_version=row.release_version,
                idea_id=row.idea_id,
                idea=row.idea,
                last_run=row.last_run,
                last_state=last.state if last else None,
                last_at=at,
                next_at=row.next_at,
            )
        )
    return shown


def shown(tx: Tx, ctx: Ctx, row: Routine) -> RoutineParts:
    """A routine as its page shows it, but for what starts it."""
    used = row.retired_at is None
    own = used and not row.aside
    return RoutineParts(
        id=row.id,
        name=row.name,
        area=row.area,
        area_id=row.area_id,
        release_id=row.release_id,
        package=row.package,
        release_version=row.release_version,
        input_schema=row.schema,
        release_tags=row.release_tags,
        inputs=row.inputs,
        tags=row.tags,
        priority=row.priority,
        run_limit=row.run_limit,
        lease_minutes=row.lease_minutes,
        limit_minutes=row.limit_minutes,
        again_after_lost=row.again_after_lost,
        most_attempts=row.most_attempts,
        memory_mb=row.memory_mb,
        asked=read_asked(row.asked),
        attended=row.attended,
        attended_for=row.attended_for,
        attended_by=row.attended_by,
        locks=[one.name for one in tx.all(RoutinesLocksOf, "routines.locks_of", routine=row.id)],
        checkpoints=row.checkpoints,
        on_trial=row.on_trial,
        live_at=row.live_at,
        retired_at=row.retired_at,
        idea_id=row.idea_id,
        idea=row.idea,
        basis=row.basis,
        count_name=row.count_name,
        version=row.version,
        pre_check=pre_check.of_routine(tx, ctx, row) if used else [],
        live_needs=_live_needs(tx, ctx, row) if used and row.on_trial else [],
        ideas=tx.all(IdeaName, "routines.ideas_to_count", **ctx.scope("idea.see")),
        versions=sight.usable(tx, ctx, tx.all(Version, "packages.versions", name=row.package)),
        may=RoutineMay(
            change=own and ctx.actor.may_at("routine.change", row.area_id),
            start=own and ctx.actor.may_at("run.make", row.area_id),
            decide=own and ctx.actor.may_at("routine.decide", row.area_id),
            retire=own and ctx.actor.may_at("routine.retire", row.area_id),
        ),
    )


def choices(ctx: Ctx) -> Choices:
    """What a new routine can be made of: areas, and ideas being built that nothing counts yet."""
    ctx.require("routine.see")
    return ctx.db.transact(
        lambda tx: Choices(
            areas=[row for row in areas_seen(tx, ctx) if ctx.actor.may_at("routine.make", row.id)],
            ideas=tx.all(IdeaName, "routines.ideas_to_count", **ctx.scope("idea.see")),
            locks=[row.name for row in tx.all(RoutinesLocks, "routines.locks")],
        )
    )
