"""Carrying out what follows from changes: tally entries, notifications, mails; each once."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any
from zoneinfo import ZoneInfo

from tallyman.config import address, key_ring
from tallyman.formats.envelope import link_token
from tallyman.services import errands, hitches, mailing, tally
from tallyman.services.context import MAIL_CHOICES, Ctx, changed
from tallyman.services.hitches import Rows
from tallyman.services.people import inviting
from tallyman.services.runs import uploads
from tallyman.store.db import Row, Tx

DIGEST_HOUR = 7
# Longer than all the waiting that handing a mail over may take.
HANDED_OVER_WITHIN = timedelta(minutes=5)
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
            subject=" ".join(text.split())[:180],
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
    turn, sent = Rows(ctx, hitches.DIGESTS), 0
    for row in ctx.db.transact(lambda tx: tx.all("common.digests_due", now=ctx.now)):
        act = partial(ctx.db.transact, partial(_digest, ctx=ctx, person_id=row["person_id"]))
        sent += turn.go(str(row["person_id"]), act, obj=f"person:{row['person_id']}").done
    return sent


def _digest(tx: Tx, ctx: Ctx, person_id: int) -> int:
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


def _tally(tx: Tx, ctx: Ctx, effect: Row) -> None:
    tally.post_run(tx, ctx, effect["payload"]["run"])


def _forgotten(tx: Tx, ctx: Ctx, effect: Row) -> None:
    inviting.send_reset(tx, ctx, effect["payload"]["email"])


KINDS: dict[str, Callable[[Tx, Ctx, Row], None]] = {"tell": _tell, "tally": _tally, "forgotten": _forgotten}
WORDS = {"tell": "telling people", "tally": "posting to the tally", "forgotten": "a link for a new password"}
# Given address, subject, body and what the Message-ID begins with; gives the mail server's answer.
Send = Callable[[str, str, str, str], str]


def carry_out(ctx: Ctx) -> int:
    """Every open effect whose time has come, in order per object. Gives how many were done."""
    done, turn = 0, Rows(ctx, hitches.EFFECTS)
    failed: set[str] = set()
    for effect in ctx.db.transact(lambda tx: tx.all("common.effects_due", now=ctx.now)):
        obj = effect["object"]
        if obj in failed:
            continue
        act = partial(ctx.db.transact, partial(_one, ctx=ctx, effect=effect))
        tried = turn.go(obj, act, about=str(WORDS.get(effect["kind"], effect["kind"])), obj=obj)
        if tried.failed:
            failed.add(obj)
        done += tried.done
    return done


def _one(tx: Tx, ctx: Ctx, effect: Row) -> int | None:
    first = tx.one("common.effect_first", object=effect["object"])
    if first is None or first["id"] != effect["id"]:
        return None
    if not tx.write("common.effect_take", id=effect["id"], now=ctx.now):
        return None
    KINDS[effect["kind"]](tx, ctx, effect)
    return 1


def send_mails(ctx: Ctx, send: Send | None = None) -> int:
    """Hands every due mail over by `send`, which gives the server's answer; without one, to the mail server.

    Each mail is claimed first, so that of several engines one hands it over. A claim whose engine died
    before it heard an answer ends; the mail goes again under the same Message-ID, and its answer says so.
    """
    due_now = ctx.db.transact(lambda tx: tx.all("common.mails_due", now=ctx.now))
    if due_now and send is None:
        send = partial(mailing.hand_over, ctx.db.transact(lambda tx: mailing.server(tx, ctx)))
    turn, sent = Rows(ctx, hitches.MAILS), 0
    for mail in due_now:
        assert send is not None
        about = f"{mail['subject']}, to {mail['to_address']}"
        sent += turn.go(str(mail["id"]), partial(_send, ctx, mail, send), about=about).done
    return sent


def _send(ctx: Ctx, mail: Row, send: Send) -> int | None:
    claim = {"id": mail["id"], "claim": secrets.token_hex(16)}
    if not _note(ctx, "common.mail_claim", **claim, now=ctx.now, until=ctx.now + HANDED_OVER_WITHIN):
        return None
    message_id = f"{mail['id']}.{mail['made_at']:%Y%m%d%H%M%S%f}"
    try:
        answer = send(mail["to_address"], mail["subject"], _with_link(mail), message_id)
    except BaseException as error:
        unheard = ctx.now if isinstance(error, mailing.Unheard) else None
        _note(ctx, "common.mail_failed", **claim, answer=hitches.reason(error), unheard=unheard)
        raise
    if mail["claimed_at"] is not None:
        before = f"{mail['claimed_at']:%d %b %H:%M} UTC"
        answer = f"{answer[:300]}; also handed over at {before}, when no answer was heard: it may come twice"
    _note(ctx, "common.mail_sent", **claim, now=ctx.now, answer=answer[:500])
    return 1


def _with_link(mail: Row) -> str:
    """The body with its link, whose token stands in no table."""
    body = str(mail["body"])
    if mail["link_id"] is None:
        return body
    token = link_token(key_ring(), mail["link_kind"], mail["link_id"], mail["link_person"])
    page = LINK_PAGES[mail["link_kind"]]
    return body.replace("{link}", f"{address()}/{page}/{token}")


def _note(ctx: Ctx, statement: str, **params: Any) -> int:
    return ctx.db.transact(lambda tx: tx.write(statement, **params))


# What is thrown away, each by itself.
TIDIED: dict[str, Callable[[Tx, Ctx], object]] = {
    "hints": lambda tx, ctx: tx.write("common.prune_changes", before=ctx.now - timedelta(minutes=15)),
    "sessions": lambda tx, ctx: tx.write("people.prune_sessions", now=ctx.now),
    "tries": lambda tx, ctx: tx.write("people.prune_tries", before=ctx.now - TRIES_KEPT),
    "asks": lambda tx, ctx: tx.write("runs.prune_asks", before=ctx.now - TRIES_KEPT),
    "sign-ins": lambda tx, ctx: tx.write("factors.prune_steps", now=ctx.now),
    "sign-ins outside": lambda tx, ctx: tx.write("outside.prune", now=ctx.now),
    "marks": lambda tx, ctx: tx.write("common.prune_marks"),
    "processes": lambda tx, ctx: tx.write("health.forget", before=ctx.now - FORGOTTEN_AFTER),
    "hitches": hitches.tidy,
    "uploads": uploads.tidy,
    "files of errands": errands.tidy,
}


def tidy(ctx: Ctx) -> None:
    """Hints, sessions and the like that are of no more use go."""
    turn = Rows(ctx, hitches.TIDY)
    for name, throw_away in TIDIED.items():
        turn.go(name, partial(_throw_away, ctx, throw_away), about=name)


def repair(ctx: Ctx) -> int:
    """Mends what processes of releases before left behind; gives how many rows. Asked when an engine starts,
    as engines are replaced last."""
    return ctx.db.transact(lambda tx: tx.write("runs.close_segments"))


def _throw_away(ctx: Ctx, throw_away: Callable[[Tx, Ctx], object]) -> None:
    ctx.db.transact(lambda tx: throw_away(tx, ctx))
