"""The audit trail: reading it, sealing it in batches into a chain, and checking the chain."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import takewhile

from tallyman.core.house import seals
from tallyman.errors import Clash
from tallyman.formats.csv_file import csv_file
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house.answers import Checked, Entry, Sealed, SealOut, TrailPage
from tallyman.store import lists
from tallyman.store.db import Tx, dump
from tallyman.store.records.house import TrailLastSeal, TrailLease, TrailSeals, TrailSummary, TrailUnsealed

# A transaction that took a number may still be on its way to its commit; none takes this long.
SETTLED_AFTER = timedelta(minutes=2)
BATCH = 500
LEASE = "audit sealer"
LEASE_LASTS = timedelta(minutes=5)
MOST_EXPORTED = 20_000


def _digest_of(row: TrailUnsealed) -> str:
    """An entry's digest; of one from before contents had digests, its content is digested without a salt."""
    content = row.content_digest or seals.content_digest(
        row.salt or "",
        row.who,
        row.address,
        row.words,
        row.before_text,
        row.after_text,
    )
    at = row.at.astimezone(UTC).isoformat()
    return seals.entry_digest(row.id, at, row.person_id, row.action, row.object, content)


def _content_stands(row: TrailUnsealed) -> bool:
    """Whether what an entry says is what its digest was made of; erased ones say nothing."""
    if row.erased_at is not None or row.content_digest is None:
        return True
    found = seals.content_digest(
        row.salt or "", row.who, row.address, row.words, row.before_text, row.after_text
    )
    return bool(found == row.content_digest)


def seal_next(ctx: Ctx, holder: str) -> int:
    """Seals the next batch of entries that have settled, as holder of the lease. Gives how many."""

    def work(tx: Tx) -> int:
        lease = {"name": LEASE, "holder": holder, "now": ctx.now, "until": ctx.now + LEASE_LASTS}
        tx.write("trail.take_lease", **lease)
        held = tx.one(TrailLease, "trail.lease", name=LEASE)
        if held is None or held.holder != holder:
            return 0
        last = tx.one(TrailLastSeal, "trail.last_seal")
        after, previous = (last.last_id, last.seal) if last else (0, seals.START)
        settled = ctx.now - SETTLED_AFTER
        found = tx.all(TrailUnsealed, "trail.unsealed", after=after, limit=BATCH)
        # Up to the first that is too young, so that no number is passed over.
        rows = list(takewhile(lambda row: row.at < settled, found))
        if not rows:
            return 0
        numbers = [row.id for row in rows]
        batch = seals.root([_digest_of(row) for row in rows])
        at = ctx.now.astimezone(UTC).isoformat()
        tx.insert(
            "trail.add_seal",
            first=numbers[0],
            last=numbers[-1],
            ids=seals.ranges(numbers),
            entries=len(rows),
            root=batch,
            previous=previous,
            seal=seals.seal(previous, numbers[0], numbers[-1], len(rows), batch, at),
            now=ctx.now,
        )
        return len(rows)

    try:
        return ctx.db.transact(work)
    except Clash:
        # Another sealer was faster; its seal names the same one before it.
        return 0


def _all_seals(tx: Tx) -> Iterator[TrailSeals]:
    after = 0
    while rows := tx.all(TrailSeals, "trail.seals", after=after):
        yield from rows
        after = rows[-1].id


@in_transaction
def faults(tx: Tx, ctx: Ctx) -> list[str]:
    """What of the chain does not hold, one line each; empty if all does."""
    found, previous, last = [], seals.START, 0
    for one in _all_seals(tx):
        name = f"seal {one.id} (entries {one.first_id} to {one.last_id})"
        if one.previous != previous:
            found.append(f"{name} does not follow the seal before it")
        at = one.at.astimezone(UTC).isoformat()
        wanted = seals.seal(one.previous, one.first_id, one.last_id, one.entries, one.root, at)
        if wanted != one.seal:
            found.append(f"{name} was changed")
        rows = tx.all(TrailUnsealed, "trail.entries_between", first=one.first_id, last=one.last_id)
        if [row.id for row in rows] != seals.numbers_in(one.ids):
            found.append(f"{name}: entries were added or taken away")
        elif seals.root([_digest_of(row) for row in rows]) != one.root:
            found.append(f"{name}: an entry was changed")
        found += [f"entry {row.id}: what it says was changed" for row in rows if not _content_stands(row)]
        if one.first_id <= last:
            found.append(f"{name} overlaps the one before it")
        previous, last = one.seal, one.last_id
    return found


@dataclass(frozen=True)
class Asked:
    """What of the trail is wanted: a person's number, an action, an object such as role:3, words, a time."""

    who: int | None = None
    action: str | None = None
    obj: str | None = None
    text: str | None = None
    since: datetime | None = None

    def filters(self) -> dict[str, object]:
        """As the list takes it."""
        return {
            "who": self.who or None,
            "action": self.action or None,
            "object": self.obj or None,
            "text": lists.like(self.text) if self.text else None,
            "since": self.since,
        }


@in_transaction
def page(tx: Tx, ctx: Ctx, asked: Asked, after: str | None, limit: int) -> TrailPage:
    """One page of the trail, the newest first, with what is sealed."""
    ctx.require("audit.see")
    rows, following = lists.page(tx, lists.TRAIL, asked.filters(), "newest", after, limit)
    summary = tx.one(TrailSummary, "trail.summary")
    sealed = (summary.last_id if summary else None) or 0
    shown = [
        Entry(
            id=row.id,
            at=row.at,
            who=row.who,
            address=row.address,
            action=row.action,
            object=row.object,
            words=row.words,
            before=row.before,
            after=row.after,
            erased_at=row.erased_at,
            sealed=row.id <= sealed,
        )
        for row in rows
    ]
    return TrailPage(
        rows=shown, next=following, summary=_sealed(summary), actions=tx.values(str, "trail.actions")
    )


def _sealed(row: TrailSummary | None) -> Sealed:
    if row is None:
        return Sealed(0, 0, None, None)
    return Sealed(row.seals, int(row.entries), row.last_id, row.at)


def check(ctx: Ctx) -> Checked:
    """The chain checked now, with what does not hold."""
    ctx.require("audit.see")
    found = faults(ctx)
    summary = ctx.db.transact(lambda tx: tx.one(TrailSummary, "trail.summary"))
    sealed = _sealed(summary)
    return Checked(faults=found, seals=sealed.seals, entries=sealed.entries)


def _as_text(kept: object) -> str | None:
    return None if kept is None else dump(kept)


def as_csv(ctx: Ctx, asked: Asked) -> bytes:
    """What is filtered, as CSV, the newest first."""
    ctx.require("audit.see")
    head = ["number", "time (UTC)", "who", "from", "action", "object", "what", "before", "after"]

    def work(tx: Tx) -> list[list[object]]:
        after: str | None = None
        found: list[list[object]] = []
        while len(found) < MOST_EXPORTED:
            rows, after = lists.page(tx, lists.TRAIL, asked.filters(), "newest", after, lists.MOST_ROWS)
            for row in rows:
                at = row.at.astimezone(UTC).isoformat(timespec="seconds")
                cells = [row.id, at, row.who, row.address, row.action, row.object]
                found.append([*cells, row.words, _as_text(row.before), _as_text(row.after)])
            if after is None:
                break
        return found

    return csv_file(head, ctx.db.transact(work))


def exported_seals(ctx: Ctx) -> list[SealOut]:
    """All seals, to be kept elsewhere: who has them can prove later that nothing was changed."""
    ctx.require("audit.see")
    return ctx.db.transact(
        lambda tx: [
            SealOut(
                seal=one.seal,
                previous=one.previous,
                first=one.first_id,
                last=one.last_id,
                entries=one.entries,
                root=one.root,
                at=one.at,
            )
            for one in _all_seals(tx)
        ]
    )
