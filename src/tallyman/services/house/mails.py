"""Mails on their way: each handed to the mail server once, and said so where nobody knows."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import timedelta
from functools import partial

from tallyman.config import address, key_ring
from tallyman.core.said import time_said
from tallyman.formats.envelope import link_token
from tallyman.services.context import Ctx
from tallyman.services.house import mail_server
from tallyman.services.upkeep import Rows, Work, hitches
from tallyman.store.db import Tx
from tallyman.store.records.house import MailsDue
from tallyman.store.records.upkeep import HitchesFind


def _drop(tx: Tx, ctx: Ctx, row: HitchesFind, why: str) -> None:
    tx.write("mails.dropped", id=int(row.row_key), now=ctx.now, answer=f"given up: {why}")


MAILS = Work("mails", "a mail", drop=_drop)

# Longer than all the waiting that handing a mail over may take.
HANDED_OVER_WITHIN = timedelta(minutes=5)
# The page that a link in a mail opens, by the kind of the link.
LINK_PAGES = {"invitation": "welcome", "password": "new-password", "sizing": "asked-sizing"}
# Given address, subject, body and what the Message-ID begins with; gives the mail server's answer.
Send = Callable[[str, str, str, str], str]


def send_mails(ctx: Ctx, send: Send | None = None) -> int:
    """Hands every due mail over by `send`, which gives the server's answer; without one, to the mail server.

    Each mail is claimed first, so that of several engines one hands it over. A claim whose engine died
    before it heard an answer ends; the mail goes again under the same Message-ID, and its answer says so.
    """
    due_now = ctx.db.transact(lambda tx: tx.all(MailsDue, "mails.due", now=ctx.now))
    if due_now and send is None:
        send = partial(mail_server.hand_over, ctx.db.transact(lambda tx: mail_server.server(tx, ctx)))
    turn, sent = Rows(ctx, MAILS), 0
    for mail in due_now:
        assert send is not None
        about = f"{mail.subject}, to {mail.to_address}"
        sent += turn.go(str(mail.id), partial(_send, ctx, mail, send), about=about).done
    return sent


def _send(ctx: Ctx, mail: MailsDue, send: Send) -> int | None:
    claim = {"id": mail.id, "claim": secrets.token_hex(16)}
    if not _note(ctx, "mails.claim", **claim, now=ctx.now, until=ctx.now + HANDED_OVER_WITHIN):
        return None
    message_id = f"{mail.id}.{mail.made_at:%Y%m%d%H%M%S%f}"
    try:
        answer = send(mail.to_address, mail.subject, _with_link(mail), message_id)
    except BaseException as error:
        unheard = ctx.now if isinstance(error, mail_server.Unheard) else None
        _note(ctx, "mails.failed", **claim, answer=hitches.reason(error), unheard=unheard)
        raise
    if mail.claimed_at is not None:
        before = f"{time_said(mail.claimed_at)} UTC"
        answer = f"{answer[:300]}; also handed over at {before}, when no answer was heard: it may come twice"
    _note(ctx, "mails.sent", **claim, now=ctx.now, answer=answer[:500])
    return 1


def _with_link(mail: MailsDue) -> str:
    """The body with its link, whose token stands in no table."""
    body = str(mail.body)
    if mail.link_id is None or mail.link_kind is None or mail.link_person is None:
        return body
    token = link_token(key_ring(), mail.link_kind, mail.link_id, mail.link_person)
    page = LINK_PAGES[mail.link_kind]
    return body.replace("{link}", f"{address()}/{page}/{token}")


def _note(ctx: Ctx, statement: str, **params: object) -> int:
    return ctx.db.transact(lambda tx: tx.write(statement, **params))
