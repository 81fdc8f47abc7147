"""Who sees a release is changed: who gains sight of it and who loses it first, then the change."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.workshop.words import Said, SeenBy
from tallyman.errors import Clash, Fault, InputFaults, Refused
from tallyman.formats.package_zip import VERSION, Manifest, read_package
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.holding import below, path, people_within
from tallyman.services.workshop import numbering, releasing, sight
from tallyman.services.workshop.answers import ReleaseMove
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesLockRelease, ReleaseWhole, RoutineUsing

MAKE = "package.make"
WITHDRAW = "package.retire"


@dataclass(frozen=True)
class To:
    """Who is to see a release; of a try-out that others see from now on also its note, and how much it
    changes or its number."""

    seen_by: SeenBy
    area_id: int | None = None
    note: str = ""
    says: Said = ""
    number: str = ""


def _permission(ctx: Ctx, row: ReleaseWhole) -> str:
    """What it takes to change who sees a release: of one's own, and of others'."""
    return MAKE if row.person_id == ctx.actor.person_id and ctx.actor.may(MAKE) else WITHDRAW


def may(ctx: Ctx, row: ReleaseWhole) -> bool:
    """Whether the actor may change who sees a release."""
    return row.withdrawn_at is None and ctx.actor.may(_permission(ctx, row))


def _watchers(tx: Tx, seen_by: SeenBy, area_id: int | None, row: ReleaseWhole) -> dict[int, str]:
    """The people who see a release of that kind, by number."""
    if seen_by == "maker":
        return {row.person_id: row.person}
    areas = None
    if seen_by == "area":
        assert area_id is not None
        # Whoever works in the area, in one above or in one below it.
        areas = {*path(tx, area_id), *below(tx, [area_id])[area_id]}
    return {one.id: one.name for one in people_within(tx, sight.SEE, areas)}


def _against(tx: Tx, ctx: Ctx, row: ReleaseWhole, to: To) -> list[str]:
    """What is set up where nobody would see it any more, and what has no meaning."""
    if to.seen_by == row.seen_by and (to.seen_by != "area" or to.area_id == row.area_id):
        return [f"{sight.said(row.seen_by, row.area, row.person)} sees it already"]
    if to.seen_by == "company":
        return []
    kept: tuple[int, ...] = (0,)
    if to.seen_by == "area" and to.area_id is not None:
        kept = tuple(below(tx, [to.area_id])[to.area_id])
    left = tx.all(RoutineUsing, "packages.set_up_outside", release=row.id, areas=kept)
    told = [one.name for one in left if ctx.actor.may_at("routine.see", one.area_id)]
    found = [f"{name} is set up with it and would lose it; give it another release first" for name in told]
    hidden = len(left) - len(told)
    if hidden:
        found.append(f"{hidden} routines that you may not see are set up with it")
    return found


def _whole(tx: Tx, row: ReleaseWhole) -> tuple[bytes, Manifest]:
    """A kept package and what it declares. Raises Refused for one that can no longer be read."""
    data = files.get(tx, row.digest)
    try:
        if data is not None:
            return data, read_package(data)
    except InputFaults:
        pass
    raise Refused(f"{row.package} {row.version} can no longer be read.", "Release the package anew.")


def _checked(tx: Tx, ctx: Ctx, release_id: int, to: To) -> ReleaseWhole:
    ctx.require(sight.SEE)
    row = sight.find(tx, ctx, release_id)
    ctx.require(_permission(ctx, row))
    if row.withdrawn_at is not None:
        raise Refused(f"{row.package} {row.version} is withdrawn.", "Bring it back first.")
    if wrong := sight.faults_of_sight(tx, to.seen_by, to.area_id):
        raise InputFaults(wrong)
    return row


def _gets_number(row: ReleaseWhole, to: To) -> bool:
    return to.seen_by != "maker" and not VERSION.match(row.version)


@in_transaction
def look(tx: Tx, ctx: Ctx, release_id: int, to: To) -> ReleaseMove:
    """What comes of it, before it is done."""
    row = _checked(tx, ctx, release_id, to)
    before, after = _watchers(tx, row.seen_by, row.area_id, row), _watchers(tx, to.seen_by, to.area_id, row)
    return ReleaseMove(
        gains=sorted(name for number, name in after.items() if number not in before),
        loses=sorted(name for number, name in before.items() if number not in after),
        against=_against(tx, ctx, row, to),
        look=releasing.look(tx, *_whole(tx, row)) if _gets_number(row, to) else None,
    )


@in_transaction
def move(tx: Tx, ctx: Ctx, release_id: int, to: To) -> None:
    """Others see a release from now on; a try-out gets its number with it.

    Raises InputFaults as releasing does, Refused for what is set up elsewhere.
    """
    ctx.require(sight.SEE)
    tx.one(PackagesLockRelease, "packages.lock_release", id=release_id)
    row = _checked(tx, ctx, release_id, to)
    if against := _against(tx, ctx, row, to):
        raise Refused(f"{row.package} {row.version}: {'; '.join(against)}.", "Mend that, then change it.")
    version, says, note = row.version, row.says, row.note
    if _gets_number(row, to):
        note = to.note.strip()
        if wrong := releasing.checked_note(note):
            raise InputFaults(wrong)
        version, says = numbering.numbered(tx, *_whole(tx, row), to.says, to.number)
    area_id = to.area_id if to.seen_by == "area" else None
    try:
        tx.write(
            "packages.move",
            id=row.id,
            seen_by=to.seen_by,
            area=area_id,
            version=version,
            note=note,
            says=says,
        )
    except Clash as error:
        raise InputFaults([Fault("version", version, f"{row.package} {version} {error.message}")]) from None
    after = sight.find_whole(tx, row.id)
    words = f"{row.package} {row.version} is seen by {sight.said(after.seen_by, after.area, row.person)}"
    words += "" if version == row.version else f", as {version}"
    before = {"seen by": sight.said(row.seen_by, row.area, row.person)}
    audit(tx, ctx, "release moved", f"release:{row.id}", words, before, {"seen by": after.seen_by})
    for subject in ("packages", "routines"):
        changed(tx, ctx, subject, row.id)
