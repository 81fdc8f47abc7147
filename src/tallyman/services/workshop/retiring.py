"""A release that nobody needs any more: what uses it, taking it out of use, and bringing it back."""

from __future__ import annotations

from tallyman.errors import NotFound, Refused
from tallyman.services.answers import Retiring
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesLockRelease, ReleaseWhole, RoutineUsing

RETIRE = "package.retire"


def _find(tx: Tx, ctx: Ctx, release_id: int) -> ReleaseWhole:
    ctx.require(RETIRE)
    row = tx.one(ReleaseWhole, "packages.release", id=release_id)
    if row is None:
        raise NotFound("There is no such release.", "Choose one in the Workshop.")
    return row


def _look(tx: Tx, ctx: Ctx, row: ReleaseWhole) -> Retiring:
    using = tx.all(RoutineUsing, "routines.using_release", release=row.id)
    seen = [one for one in using if ctx.actor.may_at("routine.see", one.area_id)]
    against = [f"{one.name} uses it: give it another release, or retire it" for one in seen]
    unseen = len(using) - len(seen)
    if unseen:
        more = "1 routine that you may not see uses" if unseen == 1 else f"{unseen} that you may not see use"
        against.append(f"{more} it; who looks after their areas can change them")
    return Retiring(
        name=f"{row.package} {row.version}",
        hangs=[],
        unseen=unseen,
        against=against,
        stays="Its files stay, runs keep it as what they ran, and it can be brought back.",
    )


@in_transaction
def look_at(tx: Tx, ctx: Ctx, release_id: int) -> Retiring:
    """What uses a release, before it is retired."""
    return _look(tx, ctx, _find(tx, ctx, release_id))


@in_transaction
def retire(tx: Tx, ctx: Ctx, release_id: int) -> None:
    """From now on no routine can be set up with a release. Raises Refused while one uses it."""
    tx.one(PackagesLockRelease, "packages.lock_release", id=release_id)
    row = _find(tx, ctx, release_id)
    look = _look(tx, ctx, row)
    if look.against:
        raise Refused(f"{look.name} cannot be retired yet.", f"{'; '.join(look.against)}.")
    _set(tx, ctx, row, "release retired", f"Retired {look.name}")


@in_transaction
def bring_back(tx: Tx, ctx: Ctx, release_id: int) -> None:
    """A retired release can be used again."""
    tx.one(PackagesLockRelease, "packages.lock_release", id=release_id)
    row = _find(tx, ctx, release_id)
    _set(tx, ctx, row, "release brought back", f"Brought {row.package} {row.version} back")


def _set(tx: Tx, ctx: Ctx, row: ReleaseWhole, action: str, words: str) -> None:
    out = action == "release retired"
    if not tx.write("packages.set_retired", id=row.id, at=ctx.now if out else None):
        state = "retired already" if out else "in use"
        raise Refused(f"{row.package} {row.version} is {state}.", "Load the page again.")
    audit(tx, ctx, action, f"release:{row.id}", words)
    changed(tx, ctx, "packages", row.id)
