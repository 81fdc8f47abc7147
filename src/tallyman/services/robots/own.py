"""A person's own computer: connecting it with an attended seat, and what is known of it."""

from __future__ import annotations

from tallyman.core.runs import is_silent
from tallyman.errors import Refused
from tallyman.services.context import Ctx, audit, in_transaction
from tallyman.services.naming import clean_name
from tallyman.services.robots.answers import Code
from tallyman.services.robots.answers_of_own import OwnComputerShown, OwnSeats
from tallyman.services.robots.hosts import CODE_LASTS, give_code, insert_host, made_code
from tallyman.services.robots.robots import Given, insert_robot
from tallyman.services.robots.seats import give_seats
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
    known = tx.one(OwnComputer, "own.of_owner", person=person)
    if known is not None:
        return give_code(tx, ctx, known.id, known.name)
    name = clean_name("name", name)
    code = made_code()
    host_id = insert_host(tx, ctx, name, code)
    tx.write("own.belongs", id=host_id, person=person)
    # Its runs take the seat of its person, and what asks first needs no trial run.
    give_seats(tx, host_id, 0, "trial")
    insert_robot(tx, ctx, Given(name, host_id, [], []))
    audit(tx, ctx, "host added", f"host:{host_id}", f"Added {name}, the own computer of {ctx.actor.name}")
    return Code(id=host_id, code=code, until=ctx.now + CODE_LASTS)
