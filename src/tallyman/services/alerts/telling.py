"""Telling people: once in the application, and by mail as each chose."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime, timedelta
from functools import partial
from zoneinfo import ZoneInfo

from tallyman.config import address
from tallyman.core.alerts.kinds import MAIL_CHOICES, Kind
from tallyman.core.free import Free, FreeObject
from tallyman.services.context import Ctx, changed, effect, everyone_with
from tallyman.services.upkeep import Rows, Work
from tallyman.store.db import Tx
from tallyman.store.record import Record
from tallyman.store.records.alerts import AlertsDigestOf
from tallyman.store.records.people import Person
from tallyman.store.records.upkeep import DueEffect

DIGESTS = Work("digests", "somebody's daily mail")

# The kind of effect by which a message is carried out.
TELL = "tell"
DIGEST_HOUR = 7


def tell(
    tx: Tx,
    ctx: Ctx,
    kind: Kind,
    row: Mapping[str, Free] | Record,
    to: Iterable[int | None] = (),
    but: Iterable[int | None] = (),
    /,
    **values: object,
) -> None:
    """Tells people of something about the object of `row`: nobody twice, and never who does it.

    Who is told says the kind, and `to` names others besides; `but` are left out. The object's number is
    `row["id"]`, where it belongs `row["area_id"]`.
    """
    row = row.as_dict() if isinstance(row, Record) else row
    given = {"actor": ctx.actor.name, "id": row.get("id"), **values}
    people = [row.get(part) for part in kind.parts] + list(to)
    if kind.holders is not None:
        people += everyone_with(tx, kind.holders, row.get("area_id"))
    wanted = sorted({one for one in people if one} - {ctx.actor.person_id} - set(but))
    if not wanted:
        return
    obj = kind.about if row.get("id") is None else f"{kind.about}:{row['id']}"
    said = {"text": kind.words.format_map(given), "link": kind.link.format_map(given)}
    effect(tx, ctx, TELL, obj, people=wanted, told=kind.topic, kind=kind.key, **said)


def carry(tx: Tx, ctx: Ctx, effect: DueEffect) -> None:
    """Carries a message out: a notification for each person named, and a mail for who wants it at once."""
    payload: FreeObject = effect.payload
    for person_id in payload["people"]:
        person = tx.one(Person, "people.by_id", id=person_id)
        if person is None:
            continue
        text, link = str(payload["text"])[:500], payload["link"]
        kind = payload.get("told", "news")
        how = (person.mail or {}).get(kind, MAIL_CHOICES[0])
        later = _next_digest(effect.made_at, person.zone) if how == "daily" else None
        tx.write(
            "alerts.notify",
            person=person_id,
            effect=effect.id,
            now=effect.made_at,
            text=text,
            link=link,
            kind=kind,
            digest=later,
        )
        changed(tx, ctx, "notifications", person_id)
        if how != MAIL_CHOICES[0] or person.state == "left":
            continue
        body = (
            f"{person.name},\n\n{sentence(text)}\n\nIt is in Tallyman: {address()}{link}\n\n"
            "You get this because you have a part in it, or look after what it is about.\n"
        )
        tx.write(
            "mails.add",
            effect=effect.id,
            to=person.email,
            subject=" ".join(text.split())[:180],
            body=body,
            now=effect.made_at,
            kind=kind,
            person=person_id,
        )


def sentence(text: str) -> str:
    """A text as a sentence: it ends with a stop, unless it ends already."""
    return text if text.endswith((".", "?", "!")) else f"{text}."


def _next_digest(at: datetime, zone: str) -> datetime:
    """The next morning's hour of digests where a person lives."""
    local = at.astimezone(ZoneInfo(zone))
    morning = local.replace(hour=DIGEST_HOUR, minute=0, second=0, microsecond=0)
    return (morning if morning > local else morning + timedelta(days=1)).astimezone(UTC)


def digests(ctx: Ctx) -> int:
    """One mail a day for each who wants news so; gives how many were put into the outbox."""
    turn, sent = Rows(ctx, DIGESTS), 0
    for row in ctx.db.transact(lambda tx: tx.values(int, "alerts.digests_due", now=ctx.now)):
        act = partial(ctx.db.transact, partial(_digest, ctx=ctx, person_id=row))
        sent += turn.go(str(row), act, obj=f"person:{row}").done
    return sent


def _digest(tx: Tx, ctx: Ctx, person_id: int) -> int:
    rows = tx.all(AlertsDigestOf, "alerts.digest_of", person=person_id, now=ctx.now)
    person = tx.one(Person, "people.by_id", id=person_id)
    # Whoever takes the rows first sends them; a second engine finds none.
    if not rows or person is None or not tx.write("alerts.digested", person=person_id, now=ctx.now):
        return 0
    if person.state != "active":
        return 0
    lines = "\n\n".join(f"{sentence(row.text)}\n{address()}{row.link}" for row in rows)
    number = f"{len(rows)} {'message' if len(rows) == 1 else 'messages'}"
    tx.write(
        "mails.add",
        effect=None,
        to=person.email,
        subject=f"Tallyman, the day's {number}",
        body=f"{person.name},\n\n{lines}\n\nYou chose one mail a day; your profile changes that.\n",
        now=ctx.now,
        kind="digest",
        person=person_id,
    )
    return 1
