"""The first run of a fresh installation: one code, printed at the start, makes one person the lead."""

from __future__ import annotations

import base64
import hashlib
import hmac
import re
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from tallyman.config import key_ring
from tallyman.errors import Clash, Fault, InputFaults, Refused
from tallyman.services.context import Actor, Ctx, audit, changed
from tallyman.services.house import company
from tallyman.services.people import guesses
from tallyman.services.people.invitations import check_address, check_name, check_password
from tallyman.services.people.sessions import hash_password
from tallyman.store.db import Tx

MOST_TRIES = 10
CODE_BYTES = 10


@dataclass(frozen=True)
class Given:
    """The first person, and whose installation this is."""

    code: str
    name: str
    email: str
    password: str
    zone: str
    company: str
    currency: str


def needed(tx: Tx) -> bool:
    """Whether nobody is here yet."""
    return tx.value(int, "people.anybody") is None


def code(ctx: Ctx) -> str | None:
    """The one-time code while nobody is here yet: the same in every process that has the keys; else None."""
    if not ctx.db.transact(needed):
        return None
    sign = hmac.new(key_ring().links, b"the first person", hashlib.sha256).digest()[:CODE_BYTES]
    text = base64.b32encode(sign).decode()
    return "-".join(text[at : at + 4] for at in range(0, len(text), 4))


def come(ctx: Ctx, given: Given) -> None:
    """Makes the first person the lead. Raises Refused once somebody is here, InputFaults otherwise."""
    wanted = code(ctx)
    if wanted is None:
        raise Refused("Somebody is here already.", "Sign in, or ask for an invitation.")
    guesses.tried(ctx, [guesses.Counter(f"first code:{ctx.actor.address}", free=MOST_TRIES)])
    if not hmac.compare_digest(_plain(wanted), _plain(given.code)):
        message = "this is not the code that was printed when Tallyman was started"
        raise InputFaults([Fault("code", given.code[:24], message)])
    name, email = check_name(given.name), check_address(given.email)
    check_password(given.password, name, email)
    company.check_company(given.company, given.zone, given.currency)
    ctx.db.transact(lambda tx: _make(tx, ctx, given, name, email))


def _plain(text: str) -> bytes:
    return re.sub(r"[^A-Z2-7]", "", text.upper()).encode()


def _make(tx: Tx, ctx: Ctx, given: Given, name: str, email: str) -> None:
    try:
        # Of two that come at the same time, one is first.
        tx.write("people.first", at=ctx.now)
    except Clash:
        raise Refused("Somebody was faster.", "Sign in, or ask for an invitation.") from None
    tx.write("common.set_company", name=given.company.strip(), zone=given.zone, currency=given.currency)
    number = tx.insert(
        "people.add",
        name=name,
        email=email,
        password_hash=hash_password(given.password),
        zone=str(ZoneInfo(given.zone)),
        division=None,
        now=ctx.now,
    )
    tx.write("people.give_role", person=number, role="lead", now=ctx.now)
    by = Ctx(ctx.db, ctx.now, Actor(number, name, address=ctx.actor.address))
    words = f"{name} is the first here, and lead"
    audit(tx, by, "first person", f"person:{number}", words, None, {"company": given.company.strip()})
    changed(tx, ctx, "people", number)
