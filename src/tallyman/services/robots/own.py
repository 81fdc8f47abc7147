"""A person's own computer: connecting it with an attended seat, and what is known of it."""

from __future__ import annotations

from tallyman.core.runs import is_silent
from tallyman.errors import Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.naming import clean_name, named
from tallyman.services.people import token_digest
from tallyman.services.robots.answers import Code
from tallyman.services.robots.answers_of_own import OwnComputerShown, OwnSeats
from tallyman.services.robots.hosts import CODE_LASTS, made_code
from tallyman.store.db import Tx
from tallyman.store.records.robots import OwnComputer, OwnSeatsOf


def _person(ctx: Ctx) -> int:
    if ctx.actor.person_id is None:
        raise Refused("A program has no computer of its own.", "Sign in as a person.")
    return ctx.actor.person_id


def seats_of(tx: Tx, ctx: Ctx) -> OwnSeats:
    """The attended seats that the actor has or shares."""
    rows = tx.all(OwnSeatsOf, "own.seats_of", person=_person(ctx))
    return OwnSeats(
        number=sum(row.number for row in rows),
        used=sum(row.used for row in rows),
        shared_by=[row.group_name for row in rows if row.group_name],
    )


def computer_of(tx: Tx, ctx: Ctx) -> OwnComputerShown | None:
    """The actor's own computer as it stands, or None."""
    row = tx.one(OwnComputer, "own.of_owner", person=_person(ctx))
    if row is None:
        return None
    return OwnComputerShown(
        host_id=row.id,
        name=row.name,
        connected=row.connected,
        heard_at=row.heard_at,
        silent=row.connected and is_silent(row.heard_at, ctx.now),
        revoked_at=row.revoked_at,
        code_until=row.code_until if row.code_until is not None and row.code_until > ctx.now else None,
        in_use_since=row.in_use_since,
    )


@in_transaction
def connect(tx: Tx, ctx: Ctx, name: str) -> Code:
    """Adds the actor's own computer, with a robot that works on it for them alone; gives the one-time code.

    Of one that is known already, a new code. Raises Refused without an attended seat.
    """
    person = _person(ctx)
    if not seats_of(tx, ctx).number:
        raise Refused(
            "You have no attended seat, so no run can work on your computer.",
            "Ask whoever looks after robots for one.",
        )
    # Of two who come at once from the same desk, one waits here and then finds the computer.
    tx.values(int, "own.lock_person", person=person)
    code, until = made_code(), ctx.now + CODE_LASTS
    known = tx.one(OwnComputer, "own.of_owner", person=person)
    if known is not None:
        tx.write("robots.new_code", id=known.id, code=token_digest(code), until=until)
        audit(tx, ctx, "host code made", f"host:{known.id}", f"Made a new code for {known.name}")
        changed(tx, ctx, "robots")
        return Code(id=known.id, code=code, until=until)
    name = clean_name("name", name)
    new = {"name": name, "code": token_digest(code), "until": until, "now": ctx.now}
    host_id = named(lambda: tx.insert("robots.add_host", **new), "name", name)
    tx.write("own.belongs", id=host_id, person=person)
    robot = {"name": name, "host": host_id, "tags": [], "account": ""}
    robot_id = named(lambda: tx.insert("robots.add_robot", **robot, now=ctx.now), "name", name)
    tx.write("robots.add_slot", kind="robot", owner=robot_id, n=0)
    audit(tx, ctx, "host added", f"host:{host_id}", f"Added {name}, the own computer of {ctx.actor.name}")
    changed(tx, ctx, "robots")
    return Code(id=int(host_id), code=code, until=until)
