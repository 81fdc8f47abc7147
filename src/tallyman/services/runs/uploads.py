"""Uploads of runners in pieces, so that one cut short goes on where it stopped."""

from __future__ import annotations

import hashlib
from datetime import timedelta
from decimal import Decimal

from tallyman.errors import Conflict, Fault, InputFaults
from tallyman.services.context import Ctx
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.robots import HostByToken
from tallyman.store.records.runs import UploadsLock

LARGEST = 20_000_000
KEPT_FOR = timedelta(days=1)


def _key(host: HostByToken, digest: str) -> str:
    """What an upload is kept under: each host has its own, so that none learns of another's."""
    return hashlib.sha256(f"{host.id}:{digest}".encode()).hexdigest()


def _have(tx: Tx, key: str) -> int:
    return int(tx.value(Decimal, "uploads.have", digest=key) or 0)


def sent_by(tx: Tx, host: HostByToken, digest: str) -> int | None:
    """The size of a file that a host sent here itself; None for any other, whether it is here or not."""
    size = tx.value(int, "uploads.sent", host=host.id, digest=digest)
    return None if size is None else int(size)


def begin(ctx: Ctx, host: HostByToken, digest: str, size: int) -> int:
    """How many bytes of a file are here already from this host; all of them if it sent it before."""
    if not 0 <= size <= LARGEST:
        raise InputFaults([Fault("size", size, f"at most {LARGEST} bytes")])
    key = _key(host, digest)

    def work(tx: Tx) -> int:
        sent = sent_by(tx, host, digest)
        if sent is not None:
            return sent
        tx.write("uploads.begin", digest=key, size=size, now=ctx.now)
        if size == 0:
            _keep(tx, ctx, host, b"")
        return _have(tx, key)

    return ctx.db.transact(work)


def _keep(tx: Tx, ctx: Ctx, host: HostByToken, whole: bytes) -> None:
    digest = files.put(tx, whole, ctx.now)
    tx.write("uploads.note_sent", host=host.id, digest=digest, now=ctx.now)


def put(ctx: Ctx, host: HostByToken, digest: str, offset: int, data: bytes) -> int:
    """Keeps the next piece; one that is here already changes nothing. Gives how many bytes are here:
    none, so that it is begun anew, when the whole is not what its digest says.

    Raises Conflict, saying how many bytes are here, if the piece does not follow them or nothing was begun.
    """
    if len(data) > files.CHUNK:
        raise InputFaults([Fault("data", len(data), f"at most {files.CHUNK} bytes a piece")])
    key = _key(host, digest)

    def work(tx: Tx) -> int:
        sent = sent_by(tx, host, digest)
        if sent is not None:
            return sent
        upload = tx.one(UploadsLock, "uploads.lock", digest=key)
        if upload is None:
            raise Conflict("This upload is not begun.", "Begin it.", have=0)
        have = _have(tx, key)
        if offset + len(data) <= have:
            return have
        if offset != have or have + len(data) > upload.size:
            raise Conflict(f"{have} bytes are here.", "Send what follows them.", have=have)
        tx.write("uploads.piece", digest=key, n=tx.count("uploads.pieces", digest=key), data=data)
        if have + len(data) < upload.size:
            return have + len(data)
        whole = b"".join(row for row in tx.values(bytes, "uploads.chunks", digest=key))
        _drop(tx, key)
        if hashlib.sha256(whole).hexdigest() != digest:
            return 0
        _keep(tx, ctx, host, whole)
        return len(whole)

    return ctx.db.transact(work)


def _drop(tx: Tx, digest: str) -> None:
    tx.write("uploads.drop_chunks", digest=digest)
    tx.write("uploads.drop", digest=digest)


def tidy(tx: Tx, ctx: Ctx) -> None:
    """Uploads that nobody went on with for a day go."""
    tx.write("uploads.prune_sent", before=ctx.now - KEPT_FOR)
    for row in tx.values(str, "uploads.old", before=ctx.now - KEPT_FOR):
        _drop(tx, row)
