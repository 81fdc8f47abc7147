"""Carrying out what follows from changes: tally entries, notifications, mails; each exactly once."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from functools import partial
from typing import Any

from tallyman.config import address, key_ring
from tallyman.errors import TallymanError
from tallyman.formats.envelope import link_token
from tallyman.services import tally, uploads
from tallyman.services.context import Ctx, changed
from tallyman.store.db import Row, Tx

LONGEST_DELAY = timedelta(minutes=15)
FORGOTTEN_AFTER = timedelta(hours=1)


def _tell(tx: Tx, ctx: Ctx, effect: Row) -> None:
    """A notification and a mail for each person named."""
    payload: dict[str, Any] = effect["payload"]
    for person_id in payload["people"]:
        person = tx.one("people.by_id", id=person_id)
        if person is None:
            continue
        text, link = str(payload["text"])[:500], payload["link"]
        tx.write(
            "common.notify",
            person=person_id,
            effect=effect["id"],
            now=effect["made_at"],
            text=text,
            link=link,
        )
        body = (
            f"{person['name']},\n\n{text}.\n\nIt is in Tallyman: {address()}{link}\n\n"
            "You get this because you have a part in it.\n"
        )
        tx.write(
            "common.mail",
            effect=effect["id"],
            to=person["email"],
            subject=text[:180],
            body=body,
            now=effect["made_at"],
        )
        changed(tx, ctx, "notifications", person_id)


def _tally(tx: Tx, ctx: Ctx, effect: Row) -> None:
    tally.post_run(tx, ctx, effect["payload"]["run"])


KINDS: dict[str, Callable[[Tx, Ctx, Row], None]] = {"tell": _tell, "tally": _tally}


def delay(tries: int) -> timedelta:
    """How long until a failed effect is tried again: doubling from two seconds."""
    return min(timedelta(seconds=2 ** min(tries + 1, 12)), LONGEST_DELAY)


def carry_out(ctx: Ctx) -> int:
    """Every open effect whose time has come, in order per object. Gives how many were done."""
    done = 0
    blocked: set[str] = set()
    for effect in ctx.db.transact(lambda tx: tx.all("common.effects_due", now=ctx.now)):
        if effect["object"] in blocked:
            continue
        try:
            done += ctx.db.transact(partial(_one, ctx=ctx, effect=effect))
        except (TallymanError, ArithmeticError, LookupError, ValueError) as error:
            blocked.add(effect["object"])
            _put_off(ctx, effect, error)
    return done


def _one(tx: Tx, ctx: Ctx, effect: Row) -> int:
    before = tx.value("common.effect_before", object=effect["object"], id=effect["id"])
    if before is not None or not tx.write("common.effect_take", id=effect["id"], now=ctx.now):
        return 0
    KINDS[effect["kind"]](tx, ctx, effect)
    return 1


def _put_off(ctx: Ctx, effect: Row, error: Exception) -> None:
    words = error.message if isinstance(error, TallymanError) else f"{type(error).__name__}: {error}"
    ctx.db.transact(
        lambda tx: tx.write(
            "common.effect_failed",
            id=effect["id"],
            due=ctx.now + delay(effect["tries"]),
            fault=words[:500],
        )
    )


def send_mails(ctx: Ctx, send: Callable[[str, str, str], str]) -> int:
    """Hands every due mail to `send(to, subject, body)`, which gives the server's answer."""
    sent = 0
    for mail in ctx.db.transact(lambda tx: tx.all("common.mails_due", now=ctx.now)):
        try:
            answer = send(mail["to_address"], mail["subject"], _with_link(mail))
        except OSError as error:
            due = ctx.now + delay(mail["tries"])
            _note(ctx, "common.mail_failed", id=mail["id"], due=due, answer=str(error)[:500])
            continue
        _note(ctx, "common.mail_sent", id=mail["id"], now=ctx.now, answer=answer[:500])
        sent += 1
    return sent


def _with_link(mail: Row) -> str:
    """The body with its link, whose token stands in no table."""
    body = str(mail["body"])
    if mail["link_id"] is None:
        return body
    token = link_token(key_ring(), mail["link_kind"], mail["link_id"], mail["link_person"])
    page = "welcome" if mail["link_kind"] == "invitation" else "new-password"
    return body.replace("{link}", f"{address()}/{page}/{token}")


def _note(ctx: Ctx, statement: str, **params: Any) -> None:
    ctx.db.transact(lambda tx: tx.write(statement, **params))


def tidy(ctx: Ctx) -> None:
    """Hints and sessions that are of no more use go."""

    def work(tx: Tx) -> None:
        tx.write("common.prune_changes", before=ctx.now - timedelta(minutes=15))
        tx.write("people.prune_sessions", now=ctx.now)
        tx.write("common.prune_marks")
        tx.write("runs.close_segments")
        tx.write("health.forget", before=ctx.now - FORGOTTEN_AFTER)
        uploads.tidy(tx, ctx)

    ctx.db.transact(work)
