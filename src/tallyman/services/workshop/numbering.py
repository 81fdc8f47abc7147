"""Which number a package gets as a release, and what that says of how much it changes."""

from __future__ import annotations

import hashlib

from tallyman.core.workshop.changes import Number, promised
from tallyman.core.workshop.words import Said
from tallyman.errors import Fault, InputFaults
from tallyman.formats.package_zip import VERSION, Manifest
from tallyman.services.workshop import releasing
from tallyman.store.db import Tx


def numbered(tx: Tx, data: bytes, manifest: Manifest, says: Said, asked: str) -> tuple[str, Said]:
    """The number of a release, and how much it says that it changes.

    Raises InputFaults for a number that says too little, and for what is released already.
    """
    wanted = asked or manifest.version
    number = Number.read(wanted) if VERSION.match(wanted) else None
    last = releasing.before(tx, manifest.name, number, releasing.declared(data, manifest))
    if not wanted and last and last.row.digest == hashlib.sha256(data).hexdigest():
        raise InputFaults([Fault("file", manifest.name, f"is {last.number} already, to the byte")])
    version, faults = releasing.numbered(manifest, says, asked, last)
    if faults:
        raise InputFaults(faults)
    return version, (promised(last.number, Number.read(version)) or "") if last else ""
