"""Sign-in by password, second factor or single sign-on; sessions; and who somebody is by their roles."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import replace
from datetime import datetime, timedelta

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from tallyman.errors import Fault, InputFaults, NotFound, NotSignedIn, SecondFactor
from tallyman.services import holding
from tallyman.services.context import Actor, Ctx, audit, company_day
from tallyman.services.people import guesses, second_factor
from tallyman.store.db import Tx
from tallyman.store.records.people import PeopleAwayFor, PeopleByEmail, Person, SecondFactorStep, Session

IDLE = timedelta(hours=2)
LONGEST = timedelta(hours=12)
STEP_LASTS = timedelta(minutes=10)
MOST_CODES = 5
BY_PASSWORD = "password"
HASHER = PasswordHasher(time_cost=2, memory_cost=19456, parallelism=1)
# Checked when the account does not exist, so that both answers take as long: a password nobody knows, kept as
# HASHER keeps them.
NOBODY = "$argon2id$v=19$m=19456,t=2,p=1$gOyied1QlEm4TYFGSsLD/w$gKe1eSqhRnouSP2ZTQtOkk32KvAAzyrIEfIDNgD0dx8"


def token_digest(token: str) -> str:
    """How a token is kept: only its digest."""
    return hashlib.sha256(token.encode()).hexdigest()


def hash_password(password: str) -> str:
    """How a password is kept (argon2id)."""
    return HASHER.hash(password)


def matches(stored: str, password: str) -> bool:
    """Whether a password is the one kept."""
    try:
        return HASHER.verify(stored, password)
    except (VerificationError, InvalidHashError):
        return False


def sign_in(ctx: Ctx, email: str, password: str, agent: str = "", browser: str = "") -> tuple[str, datetime]:
    """A new session's token and end. Raises NotSignedIn, or SlowDown after repeated failures.

    Neither answer tells whether the account exists. `browser` is what a browser keeps of earlier sign-ins.
    """
    email = email.strip().lower()
    counters = guesses.of_sign_in(ctx, email, browser)

    def look(tx: Tx) -> PeopleByEmail | None:
        guesses.book(tx, ctx, counters)
        return tx.one(PeopleByEmail, "people.by_email", email=email)

    person = ctx.db.transact(look)
    good = matches(person.password_hash if person else NOBODY, password)
    if person is None or not good:
        raise NotSignedIn("Address and password do not belong together.", "Check both, and try again.")
    entered = ctx.db.transact(lambda tx: _by_password(tx, ctx, person, counters, agent))
    if isinstance(entered, str):
        raise SecondFactor("A code is asked for.", "Take it from your app.", step=entered)
    return entered


def _by_password(
    tx: Tx, ctx: Ctx, person: PeopleByEmail, counters: list[guesses.Counter], agent: str
) -> tuple[str, datetime] | str:
    """A session; or, with a second factor, the token of the step that waits for its code."""
    guesses.was_right(tx, counters)
    if not second_factor.is_on(tx, person.id):
        return open_session(tx, ctx, person.id, person.name, agent, BY_PASSWORD)
    step = secrets.token_urlsafe(32)
    ends = ctx.now + STEP_LASTS
    tx.write("second_factor.add_step", token=token_digest(step), person=person.id, how=BY_PASSWORD, ends=ends)
    return step


def sign_in_second(
    ctx: Ctx, step: str, code: str, agent: str = "", browser: str = ""
) -> tuple[str, datetime]:
    """The second half of a sign-in: a session against a code. Raises NotSignedIn, SlowDown or InputFaults."""
    digest = token_digest(step)
    over = NotSignedIn("This sign-in took too long, or too many codes were wrong.", "Sign in from the start.")

    def work(tx: Tx) -> tuple[str, datetime] | None:
        row = tx.one(SecondFactorStep, "second_factor.step", token=digest, now=ctx.now)
        if row is None:
            raise over
        counters = guesses.of_code(row.person_id, row.email, browser)
        guesses.book(tx, ctx, counters)
        actor = Actor(row.person_id, row.name, address=ctx.actor.address)
        how = second_factor.accepts(tx, Ctx(ctx.db, ctx.now, actor), row.person_id, code)
        if not how:
            if row.tries + 1 >= MOST_CODES:
                tx.write("second_factor.end_step", token=digest)
            else:
                tx.write("second_factor.step_failed", token=digest)
            return None
        guesses.was_right(tx, counters)
        tx.write("second_factor.end_step", token=digest)
        return open_session(tx, ctx, row.person_id, row.name, agent, f"password, {how}")

    entered = ctx.db.transact(work)
    if entered is None:
        raise InputFaults([Fault("code", code[:12], second_factor.WRONG)])
    return entered


def open_session(
    tx: Tx, ctx: Ctx, person_id: int, name: str, agent: str, how: str, outside: str | None = None
) -> tuple[str, datetime]:
    """A new session's token and end. `outside` is what ending it elsewhere needs, after single sign-on."""
    token = secrets.token_urlsafe(32)
    ends = ctx.now + LONGEST
    actor = Actor(person_id, name, address=ctx.actor.address)
    tx.write(
        "people.add_session",
        token=token_digest(token),
        person=person_id,
        now=ctx.now,
        ends=ends,
        address=ctx.actor.address,
        agent=agent[:200],
        how=how,
        outside=outside,
    )
    audit(tx, Ctx(ctx.db, ctx.now, actor), "sign in", f"person:{person_id}", f"Signed in by {how}")
    return token, ends


def who_is(ctx: Ctx, token: str) -> Actor:
    """The person of an open session. Raises NotSignedIn when it has ended."""
    digest = token_digest(token)

    def look(tx: Tx) -> Actor:
        row = tx.one(Session, "people.session", token=digest, now=ctx.now, idle=ctx.now - IDLE)
        if row is None:
            raise NotSignedIn("Your session has ended.", "Sign in again.")
        if ctx.now - row.seen_at > timedelta(minutes=1):
            tx.write("people.touch_session", token=digest, now=ctx.now)
        actor = actor_of(tx, ctx, row.person_id)
        if actor.factor_for and row.how == BY_PASSWORD and not second_factor.is_on(tx, row.person_id):
            return actor
        return replace(actor, factor_for=())

    return ctx.db.transact(look)


def actor_of(tx: Tx, ctx: Ctx, person_id: int) -> Actor:
    """A person with everything their roles reach. Raises NotFound for nobody."""
    person = tx.one(Person, "people.by_id", id=person_id)
    if person is None:
        raise NotFound("There is no such person.", "Load the page again.")
    held = holding.held_of(tx, person_id)
    reach = holding.reach_of(tx, held)
    return Actor(
        person_id,
        person.name,
        person.zone,
        person.email,
        tuple(dict.fromkeys(one.role for one in held)),
        frozenset(reach),
        ctx.actor.address,
        reach,
        tuple(row.id for row in away_for(tx, ctx, person_id)),
        locale=person.locale,
        factor_for=tuple(dict.fromkeys(one.role for one in held if one.second_factor)),
    )


def away_for(tx: Tx, ctx: Ctx, person_id: int) -> list[PeopleAwayFor]:
    """The people whose desk somebody looks after today, by the company's calendar."""
    near = {"since": ctx.now.date() + timedelta(days=1), "until": ctx.now.date() - timedelta(days=1)}
    rows = tx.all(PeopleAwayFor, "people.away_for", id=person_id, **near)
    # Nearly nobody stands in for anybody, so the company is asked for its zone only then.
    today = company_day(tx, ctx) if rows else ctx.now.date()
    return [row for row in rows if (row.away_from or today) <= today <= (row.away_until or today)]


def sign_out(ctx: Ctx, token: str) -> None:
    """Ends a session."""
    ctx.db.transact(lambda tx: tx.write("people.end_session", token=token_digest(token)))
