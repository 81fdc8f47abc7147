"""Who sees a release: the company, one area and those below it, or its maker alone, who tries it out."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol, TypeVar

from tallyman.core.runs import Unapproved
from tallyman.core.workshop.words import SeenBy
from tallyman.errors import Fault, NotFound
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.holding import path
from tallyman.services.workshop.answers import UnseenReleases
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.workshop import PackagesUnseen, ReleaseWhole, Version

SEE = "package.see"
# The same for one that is not there and for one that is not seen, so that nothing leaks.
MISSING = NotFound(
    "There is no such release, or you do not see it.",
    "Choose one in the Workshop. A try-out is seen by its maker alone, and an area's release by that area.",
)


def _unseen(tx: Tx, ctx: Ctx) -> list[PackagesUnseen]:
    return tx.all(PackagesUnseen, "packages.unseen", me=ctx.actor.person_id or 0, **ctx.scope(SEE))


def unseen(tx: Tx, ctx: Ctx) -> frozenset[int]:
    """The releases that the actor does not see."""
    return frozenset(row.id for row in _unseen(tx, ctx))


@in_transaction
def counted(tx: Tx, ctx: Ctx, text: str) -> UnseenReleases:
    """How many releases of packages called so the actor does not see, and why."""
    ctx.require(SEE)
    part = text.strip().casefold()
    kinds = [row.seen_by for row in _unseen(tx, ctx) if part in row.package.casefold()]
    return UnseenReleases(tryouts=kinds.count("maker"), areas=kinds.count("area"))


class _Numbered(Protocol):
    @property
    def id(self) -> int: ...


One = TypeVar("One", bound=_Numbered)


def seen(tx: Tx, ctx: Ctx, rows: Iterable[One]) -> list[One]:
    """Those of some releases that the actor sees."""
    hidden = unseen(tx, ctx)
    return [row for row in rows if row.id not in hidden]


def find(tx: Tx, ctx: Ctx, release_id: int) -> ReleaseWhole:
    """A release that the actor sees. Raises NotFound."""
    row = tx.one(ReleaseWhole, "packages.release", id=release_id)
    if row is None or row.id in unseen(tx, ctx):
        raise MISSING
    return row


def find_whole(tx: Tx, release_id: int) -> ReleaseWhole:
    """A release, whoever sees it. Raises NotFound."""
    row = tx.one(ReleaseWhole, "packages.release", id=release_id)
    if row is None:
        raise MISSING
    return row


def usable(tx: Tx, ctx: Ctx, rows: Iterable[Version]) -> list[Version]:
    """Those of some releases that the actor sees and that can be set up somewhere: no try-outs."""
    return [row for row in seen(tx, ctx, rows) if row.seen_by != "maker"]


def said(seen_by: SeenBy, area: str | None, maker: str) -> str:
    """Who sees a release, in words."""
    return {"company": "the company", "area": f"the area {area}", "maker": f"{maker} alone"}[seen_by]


def faults_of_use(tx: Tx, ctx: Ctx, row: ReleaseWhole, area_id: int) -> list[Fault]:
    """Why the actor cannot set a release up in an area; nothing where they can."""
    name = f"{row.package} {row.version}"
    if row.id in unseen(tx, ctx):
        return [Fault("release", row.id, "there is no such release that you see; choose one")]
    if row.seen_by == "maker":
        message = "is a try-out, which only its maker sees; release it to the company or to this area first"
        return [Fault("release", name, message)]
    if row.area_id is not None and row.area_id not in path(tx, area_id):
        message = f"is seen by the area {row.area} alone; release it to this one too, or choose another"
        return [Fault("release", name, message)]
    return []


def faults_of_sight(tx: Tx, seen_by: SeenBy, area_id: int | None) -> list[Fault]:
    """What is wrong with who is to see a release."""
    if seen_by != "area" or (area_id is not None and tx.one(Area, "areas.area", id=area_id)):
        return []
    return [Fault("area_id", area_id, "there is no such area; choose the one that is to see it")]


def unapproved_in(tx: Tx, row: ReleaseWhole, area_id: int) -> Unapproved | None:
    """That nobody but who released it said yes to a release yet, where an area asks for that."""
    if row.approved_at is not None or not tx.value(bool, "approvals.asked_in", area=area_id):
        return None
    return Unapproved(row.id, f"{row.package} {row.version}")


def tries(ctx: Ctx, row: ReleaseWhole) -> bool:
    """Whether it is a try-out of the actor's."""
    return row.seen_by == "maker" and row.person_id == ctx.actor.person_id and ctx.actor.may("package.make")
