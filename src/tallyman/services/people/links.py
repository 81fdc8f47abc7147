"""Links in mails: each is for one person and one purpose, shows a page, and acts only when that is sent."""

from __future__ import annotations

from datetime import timedelta

from tallyman.config import key_ring
from tallyman.errors import NotFound
from tallyman.formats import envelope
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.people import Link


def send(
    tx: Tx,
    ctx: Ctx,
    kind: str,
    person_id: int,
    email: str,
    lasts: timedelta,
    subject: str,
    body: str,
    *,
    only: bool = True,
) -> int:
    """A new link of a kind, and the mail that carries it; with `only`, former ones of the kind end."""
    link = tx.insert(
        "links.add",
        kind=kind,
        person=person_id,
        by=ctx.actor.person_id,
        now=ctx.now,
        ends=ctx.now + lasts,
    )
    if only:
        tx.write("links.end_others", person=person_id, kind=kind, but=link, now=ctx.now)
    tx.write(
        "links.mail",
        to=email,
        subject=subject[:200],
        body=body,
        now=ctx.now,
        person=person_id,
        link=link,
    )
    return link


def open_link(tx: Tx, ctx: Ctx, kind: str, token: str) -> Link:
    """The open link that a token stands for. Raises NotFound, the same for whatever is wrong."""
    gone = NotFound(
        "This link does not work any more.", "Ask for a new one; each works once and for a while."
    )
    number = envelope.link_number(token)
    row = tx.one(Link, "links.one", id=number) if number else None
    if row is None or row.kind != kind:
        raise gone
    wanted = envelope.link_token(key_ring(), kind, number, row.person_id)
    if not envelope.same(token, wanted) or row.used_at is not None or row.ends_at <= ctx.now:
        raise gone
    return row
