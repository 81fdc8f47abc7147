"""Files given to routines as inputs: kept by digest, named in the input's value."""

from __future__ import annotations

from tallyman.formats.uploads import check_upload
from tallyman.kit.given_files import FILE, named, with_files
from tallyman.services.context import Ctx, audit
from tallyman.services.workshop.answers import InputFile
from tallyman.store import files
from tallyman.store.db import Tx


def digests_in(schema: dict[str, object], given: dict[str, object]) -> set[str]:
    """The digests of the files among some inputs, however deep they lie."""
    found: set[str] = set()
    with_files(schema, given, lambda _, value: found.add(named(value)[0]))
    return found


def keep(ctx: Ctx, name: str, data: bytes) -> InputFile:
    """Keeps an acceptable file, for who starts routines or changes them; its value is `file:DIGEST/NAME`."""
    if not ctx.actor.may("run.make"):
        ctx.require("routine.change")
    return keep_for_all(ctx, name, data)


def keep_for_all(ctx: Ctx, name: str, data: bytes) -> InputFile:
    """As `keep`, for whoever was found to be asked for it by other ways than a permission."""
    shown = check_upload("file", name, data)

    def work(tx: Tx) -> str:
        digest = files.put(tx, data, ctx.now)
        audit(tx, ctx, "input file kept", f"file:{digest[:16]}", f"Kept {shown} as an input")
        return digest

    digest = ctx.db.transact(work)
    return InputFile(value=f"{FILE}{digest}/{shown}", name=shown, size=len(data))
