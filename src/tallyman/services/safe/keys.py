"""What the engine and the command line do with the safe: tell of secrets that end, and change its keys."""

from __future__ import annotations

from datetime import date

from tallyman.config import add_key, drop_keys, key_ring
from tallyman.core.alerts import kinds
from tallyman.core.said import day_said
from tallyman.formats.envelope import Sealed, rewrap
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, company_day
from tallyman.services.safe.contents import EARLY, bound_to
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.safe import (
    SafeEnding,
    SafeKeys,
    SafeOfOtherKeys,
)

SECRETS = Work("secrets", "a secret that ends soon")


def tell_ending(ctx: Ctx) -> int:
    """Tells who can change a secret that it ends soon, and again when it ended; gives how many."""

    def ending(tx: Tx) -> tuple[date, list[SafeEnding]]:
        today = company_day(tx, ctx)
        return today, tx.all(SafeEnding, "safe.ending", soon=today + EARLY, today=today, now=ctx.now)

    today, rows = ctx.db.transact(ending)
    return each(ctx, SECRETS, rows, lambda tx, row: _tell_ending(tx, ctx, row, today), "secret")


def _tell_ending(tx: Tx, ctx: Ctx, row: SafeEnding, today: date) -> bool:
    # Whoever writes it first tells; a second engine finds it told.
    if not tx.write("safe.told", id=row.id, today=today):
        return False
    assert row.expires_on is not None
    over = row.expires_on <= today
    what = f"The secret {row.name} {'ended' if over else 'ends'} on {day_said(row.expires_on)}"
    tell(tx, ctx, kinds.SECRET_ENDS, row, what=what)
    return True


def rotate(ctx: Ctx) -> dict[str, object]:
    """Adds a key, makes it the current one, and wraps every secret's own key by it; values stay sealed.

    Everything goes on meanwhile: readers find both keys on the ring, and a secret changed in between is
    left as it then is. Gives the new key's name and how many were wrapped anew.
    """
    name = add_key()
    return {"key": name, "wrapped": rewrap_all(ctx)}


def rewrap_all(ctx: Ctx) -> int:
    """Wraps by the current key whatever another one wraps; gives how many. Can be cut short and repeated."""

    def work(tx: Tx) -> int:
        ring = key_ring()
        rows = tx.all(SafeOfOtherKeys, "safe.of_other_keys", key=ring.current)
        for row in rows:
            fresh = rewrap(ring, Sealed(row.key_id, row.wrapped, b""), bound_to(row.kind, row.name))
            tx.write(
                "safe.rewrap",
                id=row.id,
                key=fresh.key_id,
                wrapped=fresh.wrapped,
                old=row.key_id,
                version=row.version,
            )
        return len(rows)

    total = 0
    while batch := ctx.db.transact(work):
        total += batch
    return total


def forget_former_keys(ctx: Ctx) -> list[str]:
    """Takes those keys off the ring that wrap nothing any more; gives their names."""
    rewrap_all(ctx)
    ring = key_ring()
    used = {row.key_id for row in ctx.db.transact(lambda tx: tx.all(SafeKeys, "safe.keys"))}
    former = {name for name in ring.keys if name != ring.current and name not in used}
    drop_keys(former)
    return sorted(former)
