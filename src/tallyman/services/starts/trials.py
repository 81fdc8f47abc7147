"""A robot's trial run there and back, with a package that is shipped with the program."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

from tallyman.errors import Clash, Refused
from tallyman.formats.package_zip import pack, read_package
from tallyman.services import runs
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.robots import areas_allowed, robot_for
from tallyman.services.upkeep import Once
from tallyman.services.workshop import find, packages
from tallyman.store.db import Tx
from tallyman.store.records.robots import RobotRow, TrialsReleaseOf, TrialsRoutineOf

FOLDER = Path(__file__).resolve().parents[2] / "kit" / "there_and_back"
NOTE = "Shipped with the program"


@cache
def shipped() -> bytes:
    """The package there and back; the same program always gives the same bytes."""
    return pack({path.name: path.read_bytes() for path in FOLDER.iterdir() if path.is_file()})


def _release(tx: Tx, ctx: Ctx) -> int:
    """The release of the shipped package, kept at its first use. Raises Refused for another one so called."""
    data = shipped()
    manifest = read_package(data)
    row = tx.one(TrialsReleaseOf, "trials.release_of", package=manifest.name, version=manifest.version)
    if row is None:
        return packages.keep_release(tx, ctx, data, manifest, packages.Given(NOTE))
    if row.digest != hashlib.sha256(data).hexdigest():
        raise Refused(
            f"The release {manifest.name} {manifest.version} kept here is not the one of this program.",
            "Bring the installation to one release of the program.",
        )
    return row.id


def _routine(tx: Tx, ctx: Ctx, robot: RobotRow, area_id: int) -> int:
    """The routine of a robot's own trial runs, under its name and area of now."""
    named = {"name": f"Trial run of {robot.name}", "area": area_id, "release": _release(tx, ctx)}
    row = tx.one(TrialsRoutineOf, "trials.routine_of", robot=robot.id)
    for name in (named["name"], f"{named['name']} (robot {robot.id})"):
        params = {**named, "name": name}
        if row is not None and (row.name, row.area_id, row.release_id) == tuple(params.values()):
            return row.id
        try:
            if row is not None:
                tx.write("trials.set", id=row.id, **params)
                return row.id
            made = tx.insert("trials.add", robot=robot.id, person=ctx.actor.person_id, now=ctx.now, **params)
            tx.write("robots.add_slot", kind="limit", owner=made, n=0)
            return made
        except Clash:
            # A routine of people's is called so; the robot's number tells them apart.
            continue
    raise Refused(f"No name is free for the trial run of {robot.name}.", "Rename the robot.")


@in_transaction
def start(tx: Tx, ctx: Ctx, robot_id: int, key: str) -> int:
    """Starts a robot's trial run, which nobody else may take; the same key gives the same run again.

    It waits like any other for whatever is not met. Raises Refused where the robot is allowed nowhere, or one
    is on its way.
    """
    ctx.require("run.make")
    once = Once("trial", key, robot_id)
    known = once.known(tx, ctx)
    if known is not None:
        return known
    robot = robot_for(tx, ctx, robot_id)
    areas = areas_allowed(tx, [robot])[robot_id]
    if not areas:
        raise Refused(f"{robot.name} is allowed in no area.", "Choose the areas it works in first.")
    for area in areas:
        ctx.require_at("run.make", area.id)
    # Who comes at the same time waits here for the robot's routine.
    routine = find(tx, _routine(tx, ctx, robot, areas[0].id))
    open_now = tx.values(int, "trials.open_of", robot=robot_id)
    if open_now:
        raise Refused(
            f"The trial run {runs.ref(open_now[0])} of {robot.name} has not ended.",
            "Wait for it, or cancel it.",
        )
    run_id = runs.add(tx, ctx, routine, ctx.actor.name)
    once.made(tx, ctx, run_id)
    audit(tx, ctx, "trial run started", f"robot:{robot_id}", f"Started {routine.name}, {runs.ref(run_id)}")
    changed(tx, ctx, "robots")
    return run_id
