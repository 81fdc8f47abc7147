"""Carrying out what follows from changes: tally entries, notifications, mails; each exactly once."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any
from zoneinfo import ZoneInfo

from tallyman.config import address, key_ring
from tallyman.errors import TallymanError
from tallyman.formats.envelope import link_token
from tallyman.services import mailing, tally, uploads
from tallyman.services.context import MAIL_CHOICES, Ctx, changed
from tallyman.services.people import inviting
from tallyman.store.db import Row, Tx

DIGEST_HOUR = 7
LONGEST_DELAY = timedelta(minutes=15)
FORGOTTEN_AFTER = timedelta(hours=1)
TRIES_KEPT = timedelta(days=1)
# The page that a link in a mail opens, by the kind of the link.
LINK_PAGES = {"invitation": "welcome", "password": "new-password", "sizing": "asked-sizing"}


def _tell(tx: Tx, ctx: Ctx, effect: Row) -> None:
    """A notification and a mail for each person named."""
    payload: dict[str, Any] = effect["payload"]
    for person_id in payload["people"]:
        person = tx.one("people.by_id", id=person_id)
        if person is None:
            continue
        text, link = str(payload["text"])[:500], payload["link"]
        kind = payload.get("told", "news")
        how = (person["mail"] or {}).get(kind, MAIL_CHOICES[0])
        later = _next_digest(effect["made_at"], person["zone"]) if how == "daily" else None
        tx.write(
            "common.notify",
            person=person_id,
            effect=effect["id"],
            now=effect["made_at"],
            text=text,
            link=link,
            kind=kind,
            digest=later,
        )
        changed(tx, ctx, "notifications", person_id)
        if how != MAIL_CHOICES[0] or person["state"] == "left":
            continue
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
            kind=kind,
            person=person_id,
        )


def _next_digest(at: datetime, zone: str) -> datetime:
    """The next morning's hour of digests where a person lives."""
    local = at.astimezone(ZoneInfo(zone))
    morning = local.replace(hour=DIGEST_HOUR, minute=0, second=0, microsecond=0)
    return (morning if morning > local else morning + timedelta(days=1)).astimezone(UTC)


def digests(ctx: Ctx) -> int:
    """One mail a day for each who wants news so; gives how many were put into the outbox."""

    def work(tx: Tx, person_id: int) -> int:
        rows = tx.all("common.digest_of", person=person_id, now=ctx.now)
        person = tx.one("people.by_id", id=person_id)
        # Whoever takes the rows first sends them; a second engine finds none.
        if not rows or person is None or not tx.write("common.digested", person=person_id, now=ctx.now):
            return 0
        if person["state"] != "active":
            return 0
        lines = "\n\n".join(f"{row['text']}.\n{address()}{row['link']}" for row in rows)
        number = f"{len(rows)} {'message' if len(rows) == 1 else 'messages'}"
        tx.write(
            "common.mail",
            effect=None,
            to=person["email"],
            subject=f"Tallyman, the day's {number}",
            body=f"{person['name']},\n\n{lines}\n\nYou chose one mail a day; your profile changes that.\n",
            now=ctx.now,
            kind="digest",
            person=person_id,
        )
        return 1

    due = ctx.db.transact(lambda tx: tx.all("common.digests_due", now=ctx.now))
    return sum(ctx.db.transact(partial(work, person_id=row["person_id"])) for row in due)


def _tally(tx: Tx, ctx: Ctx, effect: Row) -> None:
    tally.post_run(tx, ctx, effect["payload"]["run"])


def _forgotten(tx: Tx, ctx: Ctx, effect: Row) -> None:
    inviting.send_reset(tx, ctx, effect["payload"]["email"])


KINDS: dict[str, Callable[[Tx, Ctx, Row], None]] = {"tell": _tell, "tally": _tally, "forgotten": _forgotten}


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


def send_mails(ctx: Ctx, send: Callable[[str, str, str], str] | None = None) -> int:
    """Hands every due mail to `send(to, subject, body)`, which gives the server's answer; without one, to
    the mail server."""
    sent = 0
    due_now = ctx.db.transact(lambda tx: tx.all("common.mails_due", now=ctx.now))
    if due_now and send is None:
        send = partial(mailing.hand_over, ctx.db.transact(lambda tx: mailing.server(tx, ctx)))
    for mail in due_now:
        assert send is not None
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
    page = LINK_PAGES[mail["link_kind"]]
    return body.replace("{link}", f"{address()}/{page}/{token}")


def _note(ctx: Ctx, statement: str, **params: Any) -> None:
    ctx.db.transact(lambda tx: tx.write(statement, **params))


def tidy(ctx: Ctx) -> None:
    """Hints and sessions that are of no more use go."""

    def work(tx: Tx) -> None:
        tx.write("common.prune_changes", before=ctx.now - timedelta(minutes=15))
        tx.write("people.prune_sessions", now=ctx.now)
        tx.write("people.prune_tries", before=ctx.now - TRIES_KEPT)
        tx.write("runs.prune_asks", before=ctx.now - TRIES_KEPT)
        tx.write("factors.prune_steps", now=ctx.now)
        tx.write("outside.prune", now=ctx.now)
        tx.write("common.prune_marks")
        tx.write("runs.close_segments")
        tx.write("health.forget", before=ctx.now - FORGOTTEN_AFTER)
        uploads.tidy(tx, ctx)

    ctx.db.transact(work)
