"""Saved views of lists: filters, order and columns under a name, for oneself or shared with everyone."""

from __future__ import annotations

from urllib.parse import parse_qsl, urlencode

from tallyman.core.faults import unknown_word
from tallyman.errors import Clash, Fault, InputFaults, NotFound
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house.answers import ViewOut
from tallyman.store.db import Tx
from tallyman.store.records.house import ViewsOne, ViewsSeen

LISTS = ("ideas",)
LONGEST_NAME = 60
LONGEST_QUERY = 1000
MISSING = NotFound("There is no such view of yours.", "Load the list again.")


def listed(ctx: Ctx, of: str) -> list[ViewOut]:
    """The views of a list that the actor made, and those that others share."""
    me = ctx.actor.person_id
    rows = ctx.db.transact(lambda tx: tx.all(ViewsSeen, "views.seen", list=of, person=me))
    return [
        ViewOut(
            id=row.id,
            name=row.name,
            query=row.query,
            shared=bool(row.shared),
            mine=row.person_id == me,
            person=row.person,
        )
        for row in rows
    ]


def _checked(of: str, name: str, query: str) -> tuple[str, str]:
    faults = []
    clean = " ".join(name.split())
    if of not in LISTS:
        faults.append(unknown_word("list", of, LISTS))
    if not 1 <= len(clean) <= LONGEST_NAME:
        faults.append(Fault("name", clean[:40], f"give a name of 1 to {LONGEST_NAME} characters"))
    # Only filters are kept, in one form; a view is an address below its own list.
    kept = urlencode(sorted(parse_qsl(query.lstrip("?"), max_num_fields=40)))
    if len(kept) > LONGEST_QUERY:
        faults.append(Fault("query", len(kept), f"too many filters; up to {LONGEST_QUERY} characters"))
    if faults:
        raise InputFaults(faults)
    return clean, kept


@in_transaction
def add(tx: Tx, ctx: Ctx, of: str, name: str, query: str, shared: bool) -> int:
    """A new view. Raises InputFaults for a name that is taken."""
    clean, kept = _checked(of, name, query)
    given = {"list": of, "name": clean, "query": kept, "shared": shared}
    try:
        number = tx.insert("views.add", **given, person=ctx.actor.person_id, now=ctx.now)
    except Clash:
        raise InputFaults([Fault("name", clean, "you have a view of this name; choose another")]) from None
    words = f"Saved the view {clean}" + (", shared" if shared else "")
    audit(tx, ctx, "view saved", f"view:{number}", words, None, given)
    changed(tx, ctx, "views")
    return number


@in_transaction
def change(tx: Tx, ctx: Ctx, number: int, of: str, name: str, query: str, shared: bool) -> None:
    """Changes a view of one's own."""
    clean, kept = _checked(of, name, query)
    before = tx.one(ViewsOne, "views.one", id=number)
    if before is None or before.person_id != ctx.actor.person_id:
        raise MISSING
    given = {"name": clean, "query": kept, "shared": shared}
    try:
        tx.write("views.change", id=number, person=ctx.actor.person_id, **given)
    except Clash:
        raise InputFaults([Fault("name", clean, "you have a view of this name; choose another")]) from None
    audit(tx, ctx, "view changed", f"view:{number}", f"Changed the view {clean}", before.as_dict(), given)
    changed(tx, ctx, "views")


@in_transaction
def drop(tx: Tx, ctx: Ctx, number: int) -> None:
    """Takes a view of one's own away."""
    before = tx.one(ViewsOne, "views.one", id=number)
    if before is None or not tx.write("views.drop", id=number, person=ctx.actor.person_id):
        raise MISSING
    audit(
        tx,
        ctx,
        "view taken away",
        f"view:{number}",
        f"Took the view {before.name} away",
        before.as_dict(),
    )
    changed(tx, ctx, "views")
