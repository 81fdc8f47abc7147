"""Sign-in by password, second factor or single sign-on; sessions; and who somebody is by their roles."""

from __future__ import annotations

import hashlib
import secrets
from datetime import datetime, timedelta

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from tallyman.errors import NotFound, NotSignedIn, SlowDown
from tallyman.services import holding
from tallyman.services.context import Actor, Ctx, audit
from tallyman.store.db import Row, Tx

IDLE = timedelta(hours=2)
LONGEST = timedelta(hours=12)
FREE_TRIES = 3
FORGET = timedelta(minutes=15)
LONGEST_WAIT = timedelta(minutes=5)
HASHER = PasswordHasher(time_cost=2, memory_cost=19456, parallelism=1)
# Checked when the account does not exist, so that both answers take as long.
NOBODY = HASHER.hash(secrets.token_hex(16))


def token_digest(token: str) -> str:
    """How a token is kept: only its digest."""
    return hashlib.sha256(token.encode()).hexdigest()


def hash_password(password: str) -> str:
    """How a password is kept (argon2id)."""
    return HASHER.hash(password)


def _wait(row: Row | None, now: datetime) -> timedelta:
    """How long until the next try is allowed: doubling after three failures."""
    if row is None or now - row["last_at"] > FORGET:
        return timedelta()
    extra = row["failures"] - FREE_TRIES
    if extra < 0:
        return timedelta()
    pause = min(timedelta(seconds=2 ** min(extra + 1, 12)), LONGEST_WAIT)
    last: datetime = row["last_at"]
    return max(timedelta(), last + pause - now)


def matches(stored: str, password: str) -> bool:
    """Whether a password is the one kept."""
    try:
        return HASHER.verify(stored, password)
    except (VerificationError, InvalidHashError):
        return False


def sign_in(ctx: Ctx, email: str, password: str, agent: str = "") -> tuple[str, datetime]:
    """A new session's token and end. Raises NotSignedIn, or SlowDown after repeated failures.

    Neither answer tells whether the account exists.
    """
    email = email.strip().lower()
    keys = [f"account:{email}"[:200], f"address:{ctx.actor.address}"[:200]]

    def look(tx: Tx) -> tuple[Row | None, timedelta]:
        rows = [tx.one("people.tries", who=key) for key in keys]
        return tx.one("people.by_email", email=email), max(_wait(row, ctx.now) for row in rows)

    person, wait = ctx.db.transact(look)
    if wait:
        seconds = int(wait.total_seconds()) + 1
        raise SlowDown(
            f"Too many failed tries; the next is allowed in {seconds} s.",
            "Wait, then try again.",
            seconds=seconds,
        )
    good = matches(person["password_hash"] if person else NOBODY, password)

    if person is None or not good:

        def fail(tx: Tx) -> None:
            for key in keys:
                tx.write("people.try_failed", who=key, now=ctx.now, forget=ctx.now - FORGET)

        ctx.db.transact(fail)
        raise NotSignedIn("Address and password do not belong together.", "Check both, and try again.")
    return _open_session(ctx, person, keys, agent, "password")


def _open_session(ctx: Ctx, person: Row, keys: list[str], agent: str, how: str) -> tuple[str, datetime]:
    token = secrets.token_urlsafe(32)
    ends = ctx.now + LONGEST
    actor = Actor(person["id"], person["name"], address=ctx.actor.address)

    def enter(tx: Tx) -> None:
        for key in keys:
            tx.write("people.try_worked", who=key)
        tx.write(
            "people.add_session",
            token=token_digest(token),
            person=person["id"],
            now=ctx.now,
            ends=ends,
            address=ctx.actor.address,
            agent=agent[:200],
            how=how,
        )
        audit(tx, Ctx(ctx.db, ctx.now, actor), "sign in", f"person:{person['id']}", "Signed in")

    ctx.db.transact(enter)
    return token, ends


def who_is(ctx: Ctx, token: str) -> Actor:
    """The person of an open session. Raises NotSignedIn when it has ended."""
    digest = token_digest(token)

    def look(tx: Tx) -> Actor:
        row = tx.one("people.session", token=digest, now=ctx.now, idle=ctx.now - IDLE)
        if row is None:
            raise NotSignedIn("Your session has ended.", "Sign in again.")
        if ctx.now - row["seen_at"] > timedelta(minutes=1):
            tx.write("people.touch_session", token=digest, now=ctx.now)
        return actor_of(tx, ctx, row["person_id"])

    return ctx.db.transact(look)


def actor_of(tx: Tx, ctx: Ctx, person_id: int) -> Actor:
    """A person with everything their roles reach. Raises NotFound for nobody."""
    person = tx.one("people.by_id", id=person_id)
    if person is None:
        raise NotFound("There is no such person.", "Load the page again.")
    held = holding.held_of(tx, person_id)
    reach = holding.reach_of(tx, held)
    return Actor(
        person_id,
        person["name"],
        person["zone"],
        person["email"],
        tuple(dict.fromkeys(one.role for one in held)),
        frozenset(reach),
        ctx.actor.address,
        reach,
        tuple(row["id"] for row in tx.all("people.away_for", id=person_id, today=ctx.now.date())),
        locale=person["locale"],
    )


def sign_out(ctx: Ctx, token: str) -> None:
    """Ends a session."""
    ctx.db.transact(lambda tx: tx.write("people.end_session", token=token_digest(token)))
