"""Uploads of runners in pieces, so that one cut short goes on where it stopped."""

from __future__ import annotations

import hashlib
from datetime import timedelta

from tallyman.errors import Conflict, Fault, InputFaults
from tallyman.services.context import Ctx
from tallyman.store import files
from tallyman.store.db import Row, Tx

LARGEST = 20_000_000
KEPT_FOR = timedelta(days=1)


def _have(tx: Tx, digest: str) -> int:
    return int(tx.value("uploads.have", digest=digest) or 0)


def begin(ctx: Ctx, host: Row, digest: str, size: int) -> int:
    """How many bytes of a file are here already; all of them if it is known."""
    if not 0 <= size <= LARGEST:
        raise InputFaults([Fault("size", size, f"at most {LARGEST} bytes")])

    def work(tx: Tx) -> int:
        known = tx.value("common.file_known", digest=digest)
        if known is not None:
            return int(known)
        tx.write("uploads.begin", digest=digest, size=size, now=ctx.now)
        if size == 0:
            files.put(tx, b"", ctx.now)
        return _have(tx, digest)

    return ctx.db.transact(work)


def put(ctx: Ctx, host: Row, digest: str, offset: int, data: bytes) -> int:
    """Keeps the next piece; one that is here already changes nothing. Gives how many bytes are here.

    Raises Conflict, saying how many bytes are here, if the piece does not follow them, and when the
    whole is not what its digest says; it begins anew then.
    """
    if len(data) > files.CHUNK:
        raise InputFaults([Fault("data", len(data), f"at most {files.CHUNK} bytes a piece")])

    def work(tx: Tx) -> int:
        known = tx.value("common.file_known", digest=digest)
        if known is not None:
            return int(known)
        upload = tx.one("uploads.lock", digest=digest)
        if upload is None:
            raise Conflict("This upload is not begun.", "Begin it.", have=0)
        have = _have(tx, digest)
        if offset + len(data) <= have:
            return have
        if offset != have or have + len(data) > upload["size"]:
            raise Conflict(f"{have} bytes are here.", "Send what follows them.", have=have)
        tx.write("uploads.piece", digest=digest, n=tx.value("uploads.pieces", digest=digest), data=data)
        if have + len(data) < upload["size"]:
            return have + len(data)
        whole = b"".join(row["data"] for row in tx.all("uploads.chunks", digest=digest))
        _drop(tx, digest)
        if hashlib.sha256(whole).hexdigest() != digest:
            return 0
        files.put(tx, whole, ctx.now)
        return len(whole)

    return ctx.db.transact(work)


def _drop(tx: Tx, digest: str) -> None:
    tx.write("uploads.drop_chunks", digest=digest)
    tx.write("uploads.drop", digest=digest)


def tidy(tx: Tx, ctx: Ctx) -> None:
    """Uploads that nobody went on with for a day go."""
    for row in tx.all("uploads.old", before=ctx.now - KEPT_FOR):
        _drop(tx, row["digest"])
