"""The people that can be picked, the signed-in person, what they were told."""

from __future__ import annotations

from collections.abc import Sequence

from tallyman.services.context import Ctx, company_of, in_transaction
from tallyman.services.people.answers import Directory, Division, Happened, Me, Person
from tallyman.store.db import Tx
from tallyman.store.lists import like
from tallyman.store.records.common import CommonHistory
from tallyman.store.records.people import PeopleDivisions, Pickable

# As many as a field offers at once; by words the others are found.
PICKED_FROM = 50


@in_transaction
def directory(tx: Tx, ctx: Ctx, text: str = "", keep: Sequence[int] = ()) -> Directory:
    """The first who can be picked and whom the words fit, and those of `keep`; roles for who may see them."""
    rows = tx.all(
        Pickable, "people.directory", text=like(text.strip()) if text.strip() else None, limit=PICKED_FROM + 1
    )
    first = rows[:PICKED_FROM]
    others = set(keep) - {row.id for row in first}
    kept = tx.all(Pickable, "people.pickable", ids=tuple(others)) if others else []
    sees = ctx.actor.may("person.see")
    people = [
        Person(
            id=one.id,
            name=one.name,
            email=one.email,
            state=one.state,
            division=one.division,
            roles=one.roles if sees else None,
        )
        for one in (*kept, *first)
    ]
    return Directory(people=people, more=len(rows) > PICKED_FROM)


def divisions(ctx: Ctx) -> list[Division]:
    """Where work belongs."""
    return [
        Division(id=one.id, name=one.name, own=one.own, parent_id=one.parent_id)
        for one in ctx.db.transact(lambda tx: tx.all(PeopleDivisions, "people.divisions"))
    ]


@in_transaction
def me(tx: Tx, ctx: Ctx) -> Me:
    """The signed-in person with permissions, unread count and the company's basics."""
    company = company_of(tx)
    return Me(
        id=ctx.actor.person_id or 0,
        name=ctx.actor.name,
        email=ctx.actor.email,
        zone=ctx.actor.zone,
        roles=list(ctx.actor.roles),
        seen_by=ctx.actor.read_only,
        locale=ctx.actor.locale,
        factor_for=list(ctx.actor.factor_for),
        requests=tx.count("access.open_requests", person=ctx.actor.person_id),
        permissions=sorted(ctx.actor.permissions),
        everywhere=sorted(one for one in ctx.actor.permissions if ctx.actor.areas(one) is None),
        unread=tx.count("alerts.unread", person=ctx.actor.person_id),
        company=company.name,
        currency=company.currency,
        company_zone=company.zone,
    )


def history(ctx: Ctx, subject: str, number: int) -> list[Happened]:
    """What happened to an object; whoever asks must be allowed to see the object first."""
    return [
        Happened(id=one.id, at=one.at, who=one.who, action=one.action, words=one.words)
        for one in ctx.db.transact(
            lambda tx: tx.all(CommonHistory, "common.history", object=f"{subject}:{number}")
        )
    ]
