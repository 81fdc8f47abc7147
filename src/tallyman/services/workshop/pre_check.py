"""The pre-check: everything that a routine needs to start this moment, as it is or as it would be set up."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tallyman.core.runs import LockFacts, MeantFor, Need, RobotFacts, Wanted, needs
from tallyman.errors import InputFaults
from tallyman.formats.schemas import called, check_inputs
from tallyman.services import safe
from tallyman.services.context import Ctx
from tallyman.services.robots import robot_facts
from tallyman.services.workshop.wants import Ask, Wants, ask_of, wanted_of
from tallyman.store.db import Tx
from tallyman.store.records.workshop import LockHeld, ReleaseWhole, Routine

# What a page mends by opening the set-up of the routine.
SET_UP = "set up"
# What comes true only once a run is there.
BEFORE = {"due", "answer"}
# With these the server starts nothing, as they do not pass by themselves.
BARS = {"inputs", "release"}
OF_THE_SET_UP = {"inputs", "release", "limit"}


def of_routine(tx: Tx, ctx: Ctx, routine: Routine, only_robot: int | None = None) -> list[Need]:
    """What a routine needs, each met or not, with its mend; `only_robot`: of that robot alone."""
    wanted = wanted_of(tx, routine, ctx.now)
    if only_robot is not None:
        wanted = replace(wanted, only_robot=only_robot)
    return _of(tx, ctx, routine, wanted, robot_facts(tx))


def of_routines(tx: Tx, ctx: Ctx, routines: Sequence[Routine]) -> dict[int, list[Need]]:
    """The same for several by their numbers, with what is read for all of them read once."""
    asks = [replace(ask_of(one), active=tx.count("routines.active", routine=one.id)) for one in routines]
    wants, robots = Wants(tx, asks), robot_facts(tx)
    return {
        one.id: _of(tx, ctx, one, wants.of(ask, ctx.now), robots)
        for one, ask in zip(routines, asks, strict=True)
    }


def _of(tx: Tx, ctx: Ctx, routine: Routine, wanted: Wanted, robots: Sequence[RobotFacts]) -> list[Need]:
    meant = wanted.meant_for
    if meant is not None:
        # Before a start nobody was asked; of one for whoever starts it, that is the reader.
        mine = MeantFor(ctx.actor.person_id, ctx.actor.name) if meant.person_id is None else meant
        wanted = replace(wanted, meant_for=replace(mine, agreed_at=ctx.now))
    secrets = _secrets(tx, routine.release_secrets or [], wanted.area_path)
    rows = [_inputs(routine.schema, routine.inputs), *secrets, *needs(wanted, robots, ctx.here)]
    return [_mended(need) for need in rows if need.key not in BEFORE]


def of_proposal(
    tx: Tx, ctx: Ctx, ask: Ask, release: ReleaseWhole, inputs: dict[str, object], locks: Sequence[str]
) -> list[Need]:
    """The same for a routine as somebody is about to set it up; nothing is kept."""
    names = tuple({name.strip() for name in locks}) or ("",)
    held = {row.name: row.held_by for row in tx.all(LockHeld, "routines.locks_held", names=names)}
    taken = tuple(LockFacts(name, held.get(name)) for name in sorted({one.strip() for one in locks} - {""}))
    wanted = replace(Wants(tx, [ask]).of(ask, ctx.now), locks=taken)
    return of_wanted(tx, ctx, wanted, release, inputs, robot_facts(tx))


def of_wanted(
    tx: Tx,
    ctx: Ctx,
    wanted: Wanted,
    release: ReleaseWhole,
    inputs: dict[str, object],
    robots: Sequence[RobotFacts],
) -> list[Need]:
    """What a release needs to start with some inputs, as the robots stand."""
    rows = [_inputs(release.inputs, inputs), *_secrets(tx, release.secrets or [], wanted.area_path)]
    rows += needs(wanted, robots, ctx.here)
    return [need for need in rows if need.key not in BEFORE]


def _mended(need: Need) -> Need:
    if need.met or need.key not in OF_THE_SET_UP:
        return need
    return replace(need, act=SET_UP, bars=need.key in BARS)


def _inputs(schema: dict[str, object], inputs: dict[str, object]) -> Need:
    words = "Inputs fit the release"
    try:
        check_inputs(schema, inputs)
    except InputFaults as error:
        fact = "; ".join(called(schema, fault) for fault in error.faults)
        return Need("inputs", words, False, fact, "Mend the inputs")
    return Need("inputs", words, True, "all of them")


def _secrets(tx: Tx, declared: Sequence[str], area_path: frozenset[int]) -> list[Need]:
    """The secrets that the release declares, each in the safe for this area or not."""
    found = safe.for_routine(tx, list(declared), area_path)
    if not found:
        return []
    lacking = [name for name, row in found.items() if row is None]
    fact = f"not in the safe for this area: {', '.join(lacking)}" if lacking else ", ".join(found)
    mend = "Put them in under House rules, Secrets"
    return [Need("secrets", "Its secrets are in the safe", not lacking, fact, mend, "/house/secrets")]
