"""A release that is withdrawn: what uses it, taking it back so that it starts nothing anew, and bringing it
back."""

from __future__ import annotations

from tallyman.errors import Fault, InputFaults, Refused
from tallyman.formats.sound import one_line
from tallyman.services.answers import HangsOn, Retiring
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.workshop import sight
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesLockRelease, ReleaseWhole, RoutineUsing

WITHDRAW = "package.retire"
LONGEST_WHY = 500


def _find(tx: Tx, ctx: Ctx, release_id: int) -> ReleaseWhole:
    ctx.require(WITHDRAW)
    return sight.find(tx, ctx, release_id)


def _look(tx: Tx, ctx: Ctx, row: ReleaseWhole) -> Retiring:
    using = tx.all(RoutineUsing, "routines.using_release", release=row.id)
    seen = [one for one in using if ctx.actor.may_at("routine.see", one.area_id)]
    then = "starts nothing until it has another release"
    hangs = [HangsOn("routine", one.name, f"/workshop/routines/{one.id}", then) for one in seen]
    waiting = tx.count("packages.waiting_runs", release=row.id)
    if waiting:
        words = "1 run that waits" if waiting == 1 else f"{waiting} runs that wait"
        hangs.append(HangsOn("runs", words, "", "do not start; cancel them, or bring the release back"))
    return Retiring(
        name=f"{row.package} {row.version}",
        hangs=hangs,
        unseen=len(using) - len(seen),
        against=[],
        stays=("What runs now goes on. Its files stay, as what its runs ran, and it can be brought back."),
    )


@in_transaction
def look_at(tx: Tx, ctx: Ctx, release_id: int) -> Retiring:
    """What uses a release, before it is withdrawn."""
    return _look(tx, ctx, _find(tx, ctx, release_id))


@in_transaction
def withdraw(tx: Tx, ctx: Ctx, release_id: int, why: str) -> None:
    """From now on a release starts nothing anew, and no routine can be set up with it. Raises InputFaults
    without a reason, which stands wherever somebody meets it."""
    reason = one_line(why.strip())
    if not 3 <= len(reason) <= LONGEST_WHY:
        message = f"say why, in 3 to {LONGEST_WHY} characters; it stands wherever somebody would start it"
        raise InputFaults([Fault("why", why[:40], message)])
    _set(tx, ctx, release_id, "release withdrawn", reason)


@in_transaction
def bring_back(tx: Tx, ctx: Ctx, release_id: int) -> None:
    """A release that was withdrawn can be used again."""
    _set(tx, ctx, release_id, "release brought back", "")


def _set(tx: Tx, ctx: Ctx, release_id: int, action: str, why: str) -> None:
    tx.one(PackagesLockRelease, "packages.lock_release", id=release_id)
    row = _find(tx, ctx, release_id)
    name = f"{row.package} {row.version}"
    if not tx.write("packages.set_withdrawn", id=row.id, at=ctx.now if why else None, why=why):
        state = "withdrawn already" if why else "in use"
        raise Refused(f"{name} is {state}.", "Load the page again.")
    words = f"Withdrew {name}: {why}" if why else f"Brought {name} back"
    audit(tx, ctx, action, f"release:{row.id}", words)
    changed(tx, ctx, "packages", row.id)
    changed(tx, ctx, "routines")
    changed(tx, ctx, "runs")
