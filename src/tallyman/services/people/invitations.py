"""Invitations and forgotten passwords: links in mails that show a page and act only when it is sent."""

from __future__ import annotations

import hashlib
import re
from dataclasses import dataclass
from datetime import timedelta

from tallyman.core.starts import zone_fault
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.access import give_in
from tallyman.services.context import Ctx, audit, changed, company_of, effect, in_transaction
from tallyman.services.people import guesses, links
from tallyman.services.people.answers import LinkOut
from tallyman.services.people.sessions import hash_password
from tallyman.store.db import Tx
from tallyman.store.records.people import (
    LinksLatest,
    PeopleAnyByEmail,
    PeopleByEmail,
    PeopleDivisions,
    Person,
)
from tallyman.store.records.upkeep import DueEffect

INVITED_FOR = timedelta(days=7)
# The kind of effect by which a link for a new password is sent.
FORGOTTEN = "forgotten"
RESET_FOR = timedelta(hours=1)
RESET_AGAIN = timedelta(minutes=2)
SHORTEST_PASSWORD = 12
LONGEST_PASSWORD = 200
LONGEST_NAME = 120
MOST_INVITATIONS_A_DAY = 50
ADDRESS = re.compile(r"^[^@\s,;<>\"]{1,64}@[A-Za-z0-9.-]{1,120}\.[A-Za-z]{2,20}$")


@dataclass(frozen=True)
class Invited:
    """Whom to invite, and the role they get at once, if any."""

    email: str
    name: str
    division_id: int | None = None
    role_id: int | None = None
    area_id: int | None = None


def check_address(email: str) -> str:
    """A mail address in small letters. Raises InputFaults."""
    clean = email.strip().lower()
    if len(clean) > 190 or not ADDRESS.match(clean):
        raise InputFaults(
            [Fault("email", email[:80], "give a mail address such as ada.pell@company.example")]
        )
    return clean


def check_name(name: str) -> str:
    """A person's name. Raises InputFaults."""
    clean = " ".join(name.split())
    if not 1 <= len(clean) <= LONGEST_NAME:
        raise InputFaults([Fault("name", name[:80], f"give a name of 1 to {LONGEST_NAME} characters")])
    return clean


def check_password(password: str, *known: str) -> None:
    """Raises InputFaults for a password that is too short or made of what everybody knows of one."""
    message = ""
    small = password.lower()
    words = [part for text in known for part in re.split(r"[\W_]+", text.lower()) if len(part) > 3]
    if not SHORTEST_PASSWORD <= len(password) <= LONGEST_PASSWORD:
        message = f"{SHORTEST_PASSWORD} to {LONGEST_PASSWORD} characters; a few words are best"
    elif len(set(small)) < 6:
        message = "too few different characters; a few words are best"
    elif any(word in small for word in words):
        message = "leave your name and address out of it"
    if message:
        # The value itself is never repeated.
        raise InputFaults([Fault("password", "…", message)])


def _send_invitation(tx: Tx, ctx: Ctx, person: Person) -> None:
    company = company_of(tx).name
    subject = f"{ctx.actor.name} invites you to Tallyman at {company}"
    body = (
        f"{person.name},\n\n{ctx.actor.name} invites you to Tallyman, where {company} gathers ideas for "
        "automation and follows what they bring.\n\nAccept here; the page asks for your name, a password and "
        f"your time zone:\n\n{{link}}\n\nThe link is yours alone and works for {INVITED_FOR.days} days.\n"
    )
    links.send(tx, ctx, "invitation", person.id, person.email, INVITED_FOR, subject, body)


@in_transaction
def invite(tx: Tx, ctx: Ctx, given: Invited) -> int:
    """Invites somebody, who can be picked from now on; gives their number.

    Anybody may invite a colleague; a role with it asks for role.decide where it is held.
    """
    ctx.require("idea.make")
    email, name = check_address(given.email), check_name(given.name)
    return invite_in(tx, ctx, given, email, name)


def invite_in(tx: Tx, ctx: Ctx, given: Invited, email: str, name: str) -> int:
    """As `invite`, within a transaction; address and name are checked already."""
    known = tx.one(PeopleAnyByEmail, "people.any_by_email", email=email)
    if known is not None:
        how = {"invited": "invited already", "left": "no longer active"}.get(known.state, "here already")
        raise InputFaults([Fault("email", email, f"{known.name} is {how}; choose them by name")])
    since = ctx.now - timedelta(days=1)
    if not ctx.actor.may("person.make"):
        sent = tx.count("people.invited_by", person=ctx.actor.person_id, since=since)
        if sent >= MOST_INVITATIONS_A_DAY:
            raise Refused(
                f"You invited {sent} people within a day.", "Ask the lead to import them as a list."
            )
    if given.division_id is not None and given.division_id not in {
        row.id for row in tx.all(PeopleDivisions, "people.divisions")
    }:
        raise InputFaults([Fault("division", given.division_id, "there is no such division; choose one")])
    number = tx.insert(
        "people.invite",
        name=name,
        email=email,
        zone=company_of(tx).zone,
        division=given.division_id,
        now=ctx.now,
    )
    person = tx.one(Person, "people.by_id", id=number)
    assert person is not None
    _send_invitation(tx, ctx, person)
    audit(tx, ctx, "person invited", f"person:{number}", f"Invited {name} <{email}>")
    if given.role_id is not None:
        give_in(tx, ctx, given.role_id, number, None, given.area_id)
    changed(tx, ctx, "people", number)
    return number


@in_transaction
def invite_again(tx: Tx, ctx: Ctx, person_id: int) -> None:
    """Sends a new invitation; the former link ends."""
    ctx.require("idea.make")
    person = tx.one(Person, "people.by_id", id=person_id)
    latest = tx.value(int, "links.made_by", kind="invitation", person=person_id)
    if latest is None or latest != ctx.actor.person_id:
        ctx.require("person.make")
    if person is None or person.state != "invited":
        raise Refused("Only somebody who has not accepted yet is invited again.", "Load the page again.")
    _send_invitation(tx, ctx, person)
    audit(tx, ctx, "person invited again", f"person:{person_id}", f"Invited {person.name} again")
    changed(tx, ctx, "people", person_id)


@in_transaction
def look(tx: Tx, ctx: Ctx, kind: str, token: str) -> LinkOut:
    """What the page of a link shows; looking changes nothing."""
    row = links.open_link(tx, ctx, kind, token)
    company = company_of(tx)
    return LinkOut(name=row.name, email=row.email, zone=row.zone, company=company.name, ends_at=row.ends_at)


@in_transaction
def accept(tx: Tx, ctx: Ctx, token: str, name: str, password: str, zone: str) -> str:
    """Accepts an invitation; gives the address to sign in with."""
    clean = check_name(name)
    fault = zone_fault(zone, "zone")
    if fault:
        raise InputFaults([fault])
    row = links.open_link(tx, ctx, "invitation", token)
    check_password(password, clean, row.email)
    if not tx.write("links.use", id=row.id, now=ctx.now):
        raise NotFound("This link does not work any more.", "Ask for a new one.")
    done = tx.write(
        "people.accept", id=row.person_id, name=clean, zone=zone, password=hash_password(password)
    )
    if not done:
        raise Refused("This invitation was accepted already.", "Sign in.")
    audit(tx, ctx, "invitation accepted", f"person:{row.person_id}", f"{clean} accepted")
    changed(tx, ctx, "people", row.person_id)
    return str(row.email)


def forgot(ctx: Ctx, email: str) -> None:
    """Has a link for a new password sent if there is such a person.

    Says and does the same if there is not, in the same time: who is here is looked up by the engine.
    """
    clean = email.strip().lower()[:190]
    guesses.tried(
        ctx, [guesses.Counter(f"forgotten:{ctx.actor.address}", free=20, longest=timedelta(minutes=1))]
    )
    key = hashlib.sha256(clean.encode("utf-8", "replace")).hexdigest()[:16]
    ctx.db.transact(lambda tx: effect(tx, ctx, FORGOTTEN, f"forgotten:{key}", email=clean))


def carry(tx: Tx, ctx: Ctx, effect: DueEffect) -> None:
    """Sends the link for a new password that somebody asked for."""
    send_reset(tx, ctx, effect.payload["email"])


def send_reset(tx: Tx, ctx: Ctx, email: str) -> None:
    """Sends a link for a new password to a person who may sign in by that address; nothing to others."""
    person = tx.one(PeopleByEmail, "people.by_email", email=email)
    if person is None:
        return
    latest = tx.all(LinksLatest, "links.latest", kind="password", people=(person.id,))
    if latest and ctx.now - latest[0].made_at < RESET_AGAIN:
        return
    body = (
        f"{person.name},\n\nsomebody asked for a new password for your sign-in at Tallyman. If it was "
        "you, choose one here:\n\n{link}\n\nThe link works once and for an hour. If it was not you, do "
        "nothing: your password stays.\n"
    )
    links.send(tx, ctx, "password", person.id, person.email, RESET_FOR, "A new password for Tallyman", body)
    audit(tx, ctx, "password forgotten", f"person:{person.id}", "Asked for a new password by mail")


@in_transaction
def reset(tx: Tx, ctx: Ctx, token: str, password: str) -> None:
    """Sets a new password by a link; every session of the person ends."""
    row = links.open_link(tx, ctx, "password", token)
    check_password(password, row.name, row.email)
    if not tx.write("links.use", id=row.id, now=ctx.now):
        raise NotFound("This link does not work any more.", "Ask for a new one.")
    tx.write("people.set_password", id=row.person_id, password=hash_password(password))
    tx.write("people.end_sessions_of", person=row.person_id, but="")
    audit(tx, ctx, "password changed", f"person:{row.person_id}", "Chose a new password by mail")
