"""Looking into attached files, apart from everything else: a picture made anew, and the text for finding."""

from __future__ import annotations

import base64
from functools import partial

from tallyman.core.faults import InputFaults
from tallyman.errors import NotFound
from tallyman.formats import apart
from tallyman.services.context import Ctx, changed, in_transaction
from tallyman.services.ideas import search
from tallyman.services.ideas.answers import FileText
from tallyman.services.ideas.base import find
from tallyman.services.upkeep import Rows, Work
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.ideas import SearchPictureOf, SearchUnseenFiles, SearchView

FILES = Work("files", "looking into an attached file")

SHOWN_TEXT = 4000


def look_into(ctx: Ctx) -> int:
    """Looks into files that nobody looked into yet; gives how many. Safe to be done twice."""
    turn, done = Rows(ctx, FILES), 0
    for row in ctx.db.transact(lambda tx: tx.all(SearchUnseenFiles, "search.unseen_files", now=ctx.now)):
        act = partial(_one, ctx, row)
        done += turn.go(str(row.id), act, about=row.name, obj=f"idea:{row.idea_id}").done
    return done + search.gather_missing(ctx)


def _one(ctx: Ctx, row: SearchUnseenFiles) -> int:
    def known(tx: Tx) -> tuple[bool, bytes]:
        there = tx.one(SearchView, "search.view", digest=row.digest) is not None
        return there, b"" if there else files.get(tx, row.digest) or b""

    there, data = ctx.db.transact(known)
    picture, text, state = None, "", "none"
    if not there:
        try:
            seen = apart.run("view", data, row.name.rpartition(".")[2].lower())
            picture = base64.b64decode(seen["picture"]) if seen["picture"] else None
            text = seen["text"]
            state = "ready" if picture or text else "none"
        except InputFaults:
            state = "failed"
    ctx.db.transact(partial(_keep, ctx=ctx, row=row, state=state, picture=picture, text=text))
    return 1


def _keep(tx: Tx, ctx: Ctx, row: SearchUnseenFiles, state: str, picture: bytes | None, text: str) -> None:
    tx.write(
        "search.keep_view",
        digest=row.digest,
        state=state,
        picture=files.put(tx, picture, ctx.now) if picture else None,
        text=text,
        now=ctx.now,
    )
    tx.write("search.looked_into", id=row.id)
    for idea in tx.values(int, "search.shown_with", digest=row.digest):
        search.keep_text(tx, idea)
        changed(tx, ctx, "ideas", idea)


@in_transaction
def picture(tx: Tx, ctx: Ctx, idea_id: int, file_id: int) -> bytes:
    """The picture of a file as PNG, for whoever may see the idea. Raises NotFound."""
    find(tx, ctx, idea_id)
    row = tx.one(SearchPictureOf, "search.picture_of", id=file_id, idea=idea_id)
    data = files.get(tx, row.picture) if row and row.picture else None
    if data is None:
        raise NotFound("There is no picture of this file.", "Download the file itself.")
    return data


@in_transaction
def beginning(tx: Tx, ctx: Ctx, idea_id: int, file_id: int) -> FileText:
    """The beginning of the text that stands in a file, for whoever may see the idea. Raises NotFound."""
    find(tx, ctx, idea_id)
    row = tx.one(SearchPictureOf, "search.picture_of", id=file_id, idea=idea_id)
    if row is None:
        raise NotFound("Nobody looked into this file yet.", "Look again in a moment.")
    return FileText(text=row.text[:SHOWN_TEXT], more=len(row.text) > SHOWN_TEXT)
