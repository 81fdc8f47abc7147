"""How two releases of a package differ: what they declare and require, and their files side by side."""

from __future__ import annotations

import io
import zipfile

from tallyman.core.workshop.changes import Number, weight_of
from tallyman.core.workshop.side_by_side import side_by_side
from tallyman.errors import NotFound, Refused
from tallyman.formats.package_zip import VERSION
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.workshop import releasing, sight
from tallyman.services.workshop.answers import ChangeLine, Differences, FileSides, SideRow
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesNumbers, ReleaseWhole

# Longer texts are not set side by side; whoever needs that takes both releases out.
MOST_LINES = 2000
MISSING = NotFound("There is no such release of this package.", "Choose another one.")


def _both(
    tx: Tx, ctx: Ctx, release_id: int, other_id: int | None
) -> tuple[ReleaseWhole, PackagesNumbers | None]:
    """A release and the one it is set against: the one asked for, else the highest below it."""
    row = sight.find(tx, ctx, release_id)
    others = [
        one
        for one in sight.seen(tx, ctx, tx.all(PackagesNumbers, "packages.numbers", name=row.package))
        if one.id != row.id
    ]
    if other_id is not None:
        found = [one for one in others if one.id == other_id]
        if not found:
            raise MISSING
        return row, found[0]
    # A try-out has no number yet: it is set against the highest.
    number = Number.read(row.version) if VERSION.match(row.version) else None
    lower = [one for one in others if number is None or Number.read(one.version) < number]
    return row, max(lower, key=lambda one: Number.read(one.version), default=None)


def before_of(tx: Tx, ctx: Ctx, row: ReleaseWhole) -> ReleaseWhole | None:
    """The release that another is set against, whole; None for a first one."""
    _, other = _both(tx, ctx, row.id, None)
    return None if other is None else tx.one(ReleaseWhole, "packages.release", id=other.id)


@in_transaction
def of(tx: Tx, ctx: Ctx, release_id: int, other_id: int | None) -> Differences:
    """What is different in a release since another (None: the one before it). Raises NotFound."""
    ctx.require("package.see")
    row, other = _both(tx, ctx, release_id, other_id)
    if other is None:
        return Differences(before=None, before_id=None, found=None, changes=[])
    found = releasing.differences(tx, other.digest, releasing.declared_by(tx, row.digest))
    return Differences(
        before=other.version,
        before_id=other.id,
        found=weight_of(found),
        changes=[ChangeLine(one.weight, one.kind, one.name, one.words) for one in found],
    )


@in_transaction
def package(tx: Tx, ctx: Ctx, release_id: int) -> tuple[str, bytes]:
    """A released package to the byte, and what its file is called. Raises NotFound."""
    ctx.require("package.see")
    row = sight.find(tx, ctx, release_id)
    data = files.get(tx, row.digest)
    if data is None:
        raise MISSING
    return f"{row.package}-{row.version}.zip", data


def _text(data: bytes | None, name: str) -> str:
    """A file of a package as text, empty where it is not in it. Raises Refused for no text, or a long one."""
    if data is None:
        return ""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if name not in archive.namelist():
            return ""
        body = archive.read(name)
    try:
        text = body.decode()
    except UnicodeDecodeError:
        raise Refused(f"{name} is no text.", "Take both releases out to look at it.") from None
    if text.count("\n") > MOST_LINES:
        message = f"{name} has more than {MOST_LINES:,} lines."
        raise Refused(message, "Take both releases out to look at it.")
    return text


@in_transaction
def file(tx: Tx, ctx: Ctx, release_id: int, other_id: int, name: str) -> FileSides:
    """One file of two releases side by side. Raises NotFound, and Refused for what cannot be shown so."""
    ctx.require("package.see")
    row, other = _both(tx, ctx, release_id, other_id)
    assert other is not None
    before, after = files.get(tx, other.digest), files.get(tx, row.digest)
    rows = side_by_side(_text(before, name), _text(after, name))
    return FileSides(
        name=name,
        before=other.version,
        after=row.version,
        rows=[SideRow(one.state, one.left_number, one.left, one.right_number, one.right) for one in rows],
    )
