"""One's own profile: name, zone, dates and numbers, mails, stand-in, password, sign-ins."""

from __future__ import annotations

from datetime import date

from tallyman.core.alerts import MAIL_CHOICES, TOPICS, kinds
from tallyman.core.starts import zone_fault
from tallyman.errors import Conflict, Fault, InputFaults, NotFound
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.people import guesses, second_factor
from tallyman.services.people.answers import LocaleOut, MailOut, Named, Profile, SessionOut
from tallyman.services.people.invitations import check_name, check_password
from tallyman.services.people.sessions import away_for, hash_password, matches, token_digest
from tallyman.store.db import Tx
from tallyman.store.records.people import PeopleSessionsOf, Person

LOCALES = {
    "en-GB": "1,234.5 and 23 Nov 2026",
    "en-US": "1,234.5 and Nov 23, 2026",
    "de-DE": "1.234,5 and 23. Nov 2026",
    "fr-FR": "1 234,5 and 23 nov. 2026",
    "pt-PT": "1 234,5 and 23/11/2026",
    "sv-SE": "1 234,5 and 2026-11-23",
}


def _me(tx: Tx, ctx: Ctx) -> Person:
    person = tx.one(Person, "people.by_id", id=ctx.actor.person_id)
    assert person is not None
    return person


def profile(ctx: Ctx, token: str) -> Profile:
    """The signed-in person's profile; `token` marks the session that asks."""
    mine = token_digest(token)[:16] if token else ""

    def work(tx: Tx) -> Profile:
        person = _me(tx, ctx)
        chosen = person.mail or {}
        sessions = tx.all(PeopleSessionsOf, "people.sessions_of", person=person.id, now=ctx.now)
        stand_in = tx.one(Person, "people.by_id", id=person.stand_in_id) if person.stand_in_id else None
        return Profile(
            name=person.name,
            email=person.email,
            zone=person.zone,
            locale=person.locale,
            locales=[LocaleOut(value=key, words=words) for key, words in LOCALES.items()],
            mail=[
                MailOut(kind=kind, words=words, how=chosen.get(kind, "at once"))
                for kind, words in TOPICS.items()
            ],
            away_from=person.away_from,
            away_until=person.away_until,
            stand_in=Named(id=stand_in.id, name=stand_in.name) if stand_in else None,
            version=person.version,
            second_factor=second_factor.status(tx, person.id),
            sessions=[
                SessionOut(
                    handle=row.handle,
                    made_at=row.made_at,
                    seen_at=row.seen_at,
                    address=row.address,
                    agent=row.agent,
                    how=row.how,
                    this=row.handle == mine,
                )
                for row in sessions
            ],
            stands_in_for=[row.name for row in away_for(tx, ctx, person.id)],
        )

    return ctx.db.transact(work)


@in_transaction
def change_profile(
    tx: Tx, ctx: Ctx, name: str, zone: str, locale: str, mail: dict[str, str], version: int
) -> None:
    """Changes name, zone, how dates and numbers are written, and which mails are wanted."""
    clean = check_name(name)
    faults = [fault for fault in [zone_fault(zone, "zone")] if fault]
    if locale not in LOCALES:
        faults.append(Fault("locale", locale, f"allowed: {', '.join(LOCALES)}"))
    for kind, how in mail.items():
        if kind not in TOPICS or how not in MAIL_CHOICES:
            faults.append(Fault("mail", f"{kind}: {how}", f"allowed: {', '.join(MAIL_CHOICES)}"))
    if faults:
        raise InputFaults(faults)
    old = _me(tx, ctx)
    done = tx.write(
        "people.change_profile",
        id=old.id,
        name=clean,
        zone=zone,
        locale=locale,
        mail=mail,
        version=version,
    )
    if not done:
        raise Conflict(
            "Your profile was changed in another window meanwhile.",
            "Look at it now, then save yours again.",
            theirs={"name": old.name, "zone": old.zone},
            yours={"name": clean, "zone": zone},
            version=old.version,
        )
    before = {key: getattr(old, key) for key in ("name", "zone", "locale", "mail")}
    after = {"name": clean, "zone": zone, "locale": locale, "mail": mail}
    audit(tx, ctx, "profile changed", f"person:{old.id}", "Changed the profile", before, after)
    changed(tx, ctx, "people", old.id)


@in_transaction
def set_away(tx: Tx, ctx: Ctx, start: date | None, end: date | None, stand_in_id: int | None) -> None:
    """From when to when one is away, and who looks after the desk meanwhile; none of them ends it."""
    faults = []
    if end is None and (start is not None or stand_in_id is not None):
        faults.append(Fault("away_until", None, "say until when"))
    if end is not None and start is not None and end < start:
        faults.append(Fault("away_until", end.isoformat(), f"it lies before {start}"))
    if stand_in_id is not None and stand_in_id == ctx.actor.person_id:
        faults.append(Fault("stand_in", ctx.actor.name, "name somebody else"))
    if faults:
        raise InputFaults(faults)
    me = _me(tx, ctx)
    if end is not None and end < company_day(tx, ctx):
        raise InputFaults([Fault("away_until", end.isoformat(), "it is over already")])
    if stand_in_id is not None:
        other = tx.one(Person, "people.by_id", id=stand_in_id)
        if other is None or other.state != "active":
            raise InputFaults([Fault("stand_in", stand_in_id, "choose somebody who is active")])
    tx.write("people.set_away", id=me.id, start=start, end=end, stand_in=stand_in_id)
    words = f"Away until {end}" if end else "Back again"
    audit(tx, ctx, "away", f"person:{me.id}", words)
    if stand_in_id is not None and end is not None:
        tell(tx, ctx, kinds.STANDS_IN, {"id": me.id}, [stand_in_id], until=end)
    changed(tx, ctx, "people", me.id)


def change_password(ctx: Ctx, old: str, new: str, token: str) -> None:
    """Changes the password; every other session ends."""
    check_password(new, ctx.actor.name, ctx.actor.email)
    counters = [guesses.Counter(f"own password:{ctx.actor.person_id}")]
    guesses.tried(ctx, counters)

    def work(tx: Tx) -> None:
        kept = tx.value(str, "people.password_of", id=ctx.actor.person_id)
        if not matches(str(kept or ""), old):
            raise InputFaults([Fault("old", "…", "this is not your password")])
        guesses.was_right(tx, counters)
        tx.write("people.set_password", id=ctx.actor.person_id, password=hash_password(new))
        tx.write("people.end_sessions_of", person=ctx.actor.person_id, but=token_digest(token))
        audit(tx, ctx, "password changed", f"person:{ctx.actor.person_id}", "Changed the password")

    ctx.db.transact(work)


@in_transaction
def end_session(tx: Tx, ctx: Ctx, handle: str) -> None:
    """Signs out elsewhere: one of one's own sessions, by its handle."""
    if not tx.write("people.end_by_handle", person=ctx.actor.person_id, handle=handle):
        raise NotFound("This sign-in has ended already.", "Load the page again.")
    audit(tx, ctx, "signed out elsewhere", f"person:{ctx.actor.person_id}", "Ended a sign-in elsewhere")


@in_transaction
def end_other_sessions(tx: Tx, ctx: Ctx, token: str) -> int:
    """Signs out everywhere else; gives how many sign-ins ended."""
    ended = tx.write("people.end_sessions_of", person=ctx.actor.person_id, but=token_digest(token))
    audit(tx, ctx, "signed out elsewhere", f"person:{ctx.actor.person_id}", f"Ended {ended} sign-ins")
    return ended
