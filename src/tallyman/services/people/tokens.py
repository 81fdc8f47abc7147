"""Tokens for programs: what a person's program may do of what the person may, until when; shown once."""

from __future__ import annotations

import secrets
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.access import PERMISSIONS, SUBJECTS, in_words
from tallyman.core.alerts import kinds
from tallyman.errors import Fault, Forbidden, InputFaults, NotFound, NotSignedIn, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import Actor, Ctx, audit, changed, in_transaction
from tallyman.services.people import actor_of, token_digest
from tallyman.services.people.answers import MyTokens, PermissionOut, TokenMade, TokenRow
from tallyman.services.people.second_factor import is_on
from tallyman.store.db import Tx
from tallyman.store.records.people import Token, TokensByHash, TokensOfPerson

LONGEST = timedelta(days=366)
MOST_OPEN = 50
# So that a token found in a log or a file is known for what it is.
START = "tally_"
# Not for programs: what gives a person's own access away.
NOT_FOR_PROGRAMS = {"token.make", "token.retire"}


def make(ctx: Ctx, name: str, scope: list[str], ends_on: date) -> TokenMade:
    """A token for a program; gives it and its number. It is shown this once."""
    ctx.require("token.make")
    last = (ctx.now + LONGEST).astimezone(ZoneInfo(ctx.actor.zone)).date()
    faults = []
    if not 1 <= len(name.strip()) <= 80:
        faults.append(Fault("name", name[:80], "say which program it is for, in 1 to 80 characters"))
    if not ctx.today(ctx.actor.zone) < ends_on <= last:
        faults.append(
            Fault("ends_on", ends_on.isoformat(), f"choose a day after today, {last} at the latest")
        )
    unknown = [one for one in scope if one not in PERMISSIONS or one in NOT_FOR_PROGRAMS]
    more = [one for one in scope if one not in unknown and not ctx.actor.may(one)]
    faults += [Fault("scope", one[:40], "there is no such permission for programs") for one in unknown]
    faults += [Fault("scope", one, "you do not hold it yourself") for one in more]
    if not scope:
        faults.append(Fault("scope", None, "tick at least one thing that the program may do"))
    if faults:
        raise InputFaults(faults)
    token = START + secrets.token_urlsafe(32)
    ends = datetime.combine(ends_on + timedelta(days=1), time(), ZoneInfo(ctx.actor.zone))

    def work(tx: Tx) -> int:
        if tx.count("tokens.open_of", person=ctx.actor.person_id, now=ctx.now) >= MOST_OPEN:
            raise Refused(f"You have {MOST_OPEN} tokens already.", "Revoke those that are not used.")
        number = tx.insert(
            "tokens.add",
            person=ctx.actor.person_id,
            name=name.strip(),
            token=token_digest(token),
            scope=sorted(set(scope)),
            now=ctx.now,
            ends=ends,
        )
        words = f"Made the token {name.strip()}, until {ends_on}"
        audit(tx, ctx, "token made", f"token:{number}", words, None, {"scope": sorted(set(scope))})
        changed(tx, ctx, "tokens", number)
        return number

    return TokenMade(id=ctx.db.transact(work), token=token)


def _shown(ctx: Ctx, row: TokensOfPerson) -> TokenRow:
    state = "revoked" if row.revoked_at else ("over" if row.ends_at <= ctx.now else "open")
    mine = row.person_id == ctx.actor.person_id
    may = state == "open" and (mine or ctx.actor.may("token.retire"))
    return TokenRow(
        id=row.id,
        person=row.person,
        name=row.name,
        made_at=row.made_at,
        ends_at=row.ends_at,
        used_at=row.used_at,
        used_from=row.used_from,
        state=state,
        words=in_words(row.scope),
        may_revoke=may,
    )


def mine(ctx: Ctx) -> MyTokens:
    """One's own tokens, and what one could give a program."""
    rows = ctx.db.transact(lambda tx: tx.all(TokensOfPerson, "tokens.of_person", person=ctx.actor.person_id))
    held = sorted(ctx.actor.permissions - NOT_FOR_PROGRAMS, key=list(PERMISSIONS).index)
    return MyTokens(
        tokens=[_shown(ctx, row) for row in rows],
        choices=[
            PermissionOut(permission=one, words=PERMISSIONS[one], about=SUBJECTS[one.partition(".")[0]].title)
            for one in held
        ],
        may_make=ctx.actor.may("token.make"),
    )


def everybodys(ctx: Ctx) -> list[TokenRow]:
    """Everybody's tokens."""
    ctx.require("token.see")
    return [_shown(ctx, row) for row in ctx.db.transact(lambda tx: tx.all(TokensOfPerson, "tokens.all"))]


@in_transaction
def revoke(tx: Tx, ctx: Ctx, token_id: int) -> None:
    """A token works no more: one's own, or anybody's with token.retire; its owner is told."""
    row = tx.one(Token, "tokens.one", id=token_id)
    if row is None or row.person_id != ctx.actor.person_id:
        ctx.require("token.retire")
    if row is None:
        raise NotFound("There is no such token.", "Load the page again.")
    if not tx.write("tokens.revoke", id=token_id, now=ctx.now):
        raise Refused("This token was revoked already.", "Load the page again.")
    audit(tx, ctx, "token revoked", f"token:{token_id}", f"Revoked the token {row.name}")
    owner = row.person_id
    tell(tx, ctx, kinds.TOKEN_REVOKED, {"id": owner}, [owner], name=row.name)
    changed(tx, ctx, "tokens", token_id)


@in_transaction
def who_is(tx: Tx, ctx: Ctx, token: str) -> Actor:
    """The person a program works for, with no more than the token's scope. Raises NotSignedIn."""
    row = tx.one(TokensByHash, "tokens.by_hash", token=token_digest(token), now=ctx.now)
    if row is None:
        raise NotSignedIn(
            "This token is not known, was revoked, or has run out.", "Make another in your profile."
        )
    used = row.used_at
    if used is None or ctx.now - used > timedelta(minutes=1) or row.used_from != ctx.actor.address:
        tx.write("tokens.used", id=row.id, now=ctx.now, address=ctx.actor.address)
    actor = actor_of(tx, ctx, row.person_id)
    scope = frozenset(row.scope) - NOT_FOR_PROGRAMS
    held = {one: areas for one, areas in (actor.reach or {}).items() if one in scope}
    return replace(
        actor,
        name=f"{actor.name} by {row.name}"[:120],
        permissions=frozenset(held),
        reach=held,
        program=row.name,
        factor_for=() if is_on(tx, row.person_id) else actor.factor_for,
        stands_in_for=(),
    )


def refuse_programs(actor: Actor) -> None:
    """Raises Forbidden for a program at what a person does themselves: sign-ins, profile, tokens."""
    if actor.program:
        raise Forbidden(
            f"A person does this themselves; {actor.program} is a program.", "Sign in on the page for it."
        )
