"""A builder tries a release of their own that nobody else sees, on a builder's seat of theirs."""

from __future__ import annotations

from tallyman.core.runs import Need
from tallyman.errors import Clash, Fault, InputFaults, Refused
from tallyman.formats.schemas import check_inputs, with_defaults
from tallyman.services import runs
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house import areas_seen
from tallyman.services.starts.answers import TryoutView
from tallyman.services.starts.robots_there import faults_of_choice, robots_there
from tallyman.services.upkeep import Once
from tallyman.services.workshop import Ask, find, pre_check, sight
from tallyman.store.db import Tx
from tallyman.store.records.workshop import ReleaseWhole, RoutineUsing, TryoutRun

MAKE, START = "package.make", "run.make"


def _release(tx: Tx, ctx: Ctx, release_id: int) -> ReleaseWhole:
    """A try-out of the actor's. Raises NotFound, or Refused for what is no try-out."""
    ctx.require(MAKE)
    row = sight.find(tx, ctx, release_id)
    if not sight.tries(ctx, row):
        name = f"{row.package} {row.version}"
        raise Refused(f"{name} is seen by others already.", "Set it up as a routine, which is tried first.")
    if row.withdrawn_at is not None:
        raise Refused(f"{row.package} {row.version} is withdrawn.", "Bring it back first.")
    return row


def _areas(tx: Tx, ctx: Ctx) -> list[AreaName]:
    """The areas in which the actor may start runs."""
    return [AreaName(one.id, one.name) for one in areas_seen(tx, ctx) if ctx.actor.may_at(START, one.id)]


def _needs(
    tx: Tx, ctx: Ctx, row: ReleaseWhole, area: AreaName, robot_id: int | None, inputs: dict[str, object]
) -> list[Need]:
    """What a try-out needs to start this moment."""
    ask = Ask(
        routine_id=0,
        area_id=area.id,
        area=area.name,
        tags=frozenset(row.tags),
        run_limit=1,
        only_robot=robot_id,
        unapproved=sight.unapproved_in(tx, row, area.id),
        builder=ctx.actor.person_id,
    )
    rows = pre_check.of_proposal(tx, ctx, ask, row, with_defaults(row.inputs, inputs), ())
    return [need for need in rows if need.key != "limit"] + _last_ended(tx, row)


def _last_ended(tx: Tx, row: ReleaseWhole) -> list[Need]:
    """That no try-out of it is on its way; shown only where one is."""
    open_now = tx.values(int, "tryouts.open_of", release=row.id)
    if not open_now:
        return []
    ref = runs.ref(open_now[0])
    mend, link = "Wait for it, or cancel it", f"/runs/{open_now[0]}"
    return [Need("limit", "No try-out of it is on its way", False, f"{ref} has not ended", mend, link)]


@in_transaction
def view(
    tx: Tx,
    ctx: Ctx,
    release_id: int,
    area_id: int | None,
    robot_id: int | None,
    inputs: dict[str, object],
) -> TryoutView:
    """Where a try-out can be made, what it needs there, and those that were made. Raises InputFaults."""
    row = _release(tx, ctx, release_id)
    areas = _areas(tx, ctx)
    area = next((one for one in areas if area_id in (None, one.id)), None)
    if area is None and area_id is not None:
        raise InputFaults([Fault("area_id", area_id, "you may not start runs there; choose another area")])
    return TryoutView(
        areas=areas,
        area_id=area.id if area else None,
        robots=robots_there(tx, ctx, area.id) if area else [],
        pre_check=_needs(tx, ctx, row, area, robot_id, inputs) if area else [],
        last=tx.all(TryoutRun, "tryouts.last", release=row.id),
    )


def _routine(tx: Tx, ctx: Ctx, row: ReleaseWhole, area_id: int) -> int:
    """The routine by which a release is tried out, in an area from now on."""
    known = tx.one(RoutineUsing, "tryouts.routine_of", release=row.id)
    if known is not None:
        if known.area_id != area_id:
            tx.write("tryouts.set_area", id=known.id, area=area_id)
        return known.id
    name = f"{row.package} {row.version}"
    for one in (name, f"{name} (release {row.id})"):
        try:
            values = {"name": one, "area": area_id, "release": row.id}
            made = tx.insert("tryouts.add", person=ctx.actor.person_id, now=ctx.now, **values)
        except Clash:
            # A routine of people's is called so; the release's number tells them apart.
            continue
        tx.write("robots.add_slot", kind="limit", owner=made, n=0)
        return made
    raise Refused(f"No name is free for trying out {name}.", "Rename the routine that is called so.")


def _checked(
    tx: Tx, ctx: Ctx, row: ReleaseWhole, area_id: int, robot_id: int | None, inputs: dict[str, object]
) -> None:
    """Raises InputFaults for a robot that may not work there, and for inputs that do not fit."""
    faults = faults_of_choice(tx, ctx, area_id, robot_id)
    try:
        check_inputs(row.inputs, with_defaults(row.inputs, inputs))
    except InputFaults as error:
        faults += error.faults
    if faults:
        raise InputFaults(faults)


@in_transaction
def start(
    tx: Tx,
    ctx: Ctx,
    release_id: int,
    area_id: int,
    robot_id: int | None,
    inputs: dict[str, object],
    key: str,
) -> int:
    """Tries a release out in an area; the same key gives the same run again.

    It waits like any other for whatever is not met, takes a builder's seat and posts nothing. Raises Refused
    where one is on its way, or the area asks for a second person's yes.
    """
    row = _release(tx, ctx, release_id)
    once = Once("tryout", key, [release_id, area_id, robot_id, inputs])
    made = once.known(tx, ctx)
    if made is not None:
        return made
    ctx.require_at(START, area_id)
    name = f"{row.package} {row.version}"
    if sight.unapproved_in(tx, row, area_id):
        raise Refused(
            f"This area asks for a second person's yes to each release, and {name} has none.",
            "Try it out in another area, or have it approved: let the area see it first.",
        )
    _checked(tx, ctx, row, area_id, robot_id, inputs)
    # Who comes at the same time waits here for the routine of the release.
    routine_id = _routine(tx, ctx, row, area_id)
    open_now = tx.values(int, "tryouts.open_of", release=row.id)
    if open_now:
        raise Refused(f"The try-out {runs.ref(open_now[0])} of {name} has not ended.", "Wait, or cancel it.")
    routine = find(tx, routine_id)
    run_id = runs.add(tx, ctx, routine, ctx.actor.name, inputs=inputs, only_robot=robot_id)
    once.made(tx, ctx, run_id)
    words = f"Tried out {name} in {routine.area}, {runs.ref(run_id)}"
    audit(tx, ctx, "try-out started", f"release:{row.id}", words)
    changed(tx, ctx, "packages", row.id)
    return run_id
