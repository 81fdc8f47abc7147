"""Files in the database: content-addressed, in chunks of one megabyte."""

from __future__ import annotations

import hashlib
from datetime import datetime

from tallyman.store.db import Tx

CHUNK = 1_000_000


def put(tx: Tx, data: bytes, now: datetime) -> str:
    """Keeps the bytes once and gives their SHA-256 digest."""
    digest = hashlib.sha256(data).hexdigest()
    if tx.value(int, "files.known", digest=digest) is not None:
        return digest
    # Of two that bring the same at once the second waits here for the first, and then finds it done.
    if tx.write("files.put", digest=digest, size=len(data), now=now):
        for n, start in enumerate(range(0, len(data), CHUNK)):
            tx.write("files.put_chunk", digest=digest, n=n, data=data[start : start + CHUNK])
    return digest


def get(tx: Tx, digest: str) -> bytes | None:
    """The bytes of a digest, or None if they are not kept."""
    if tx.value(int, "files.known", digest=digest) is None:
        return None
    return b"".join(row for row in tx.values(bytes, "files.chunks", digest=digest))
