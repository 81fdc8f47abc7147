"""Seeing the application as a role or another person would: everything readable, nothing changed."""

from __future__ import annotations

from dataclasses import replace

from tallyman.core.access import Held
from tallyman.errors import FactorMissing, Fault, Forbidden, InputFaults, NotFound
from tallyman.services import holding
from tallyman.services.access import find_role
from tallyman.services.context import Actor, Ctx, in_transaction
from tallyman.services.people.sessions import actor_of
from tallyman.store.db import Tx
from tallyman.store.records.house import Area


@in_transaction
def seen_as(tx: Tx, ctx: Ctx, spec: str) -> Actor:
    """The actor that `person:7`, `role:3` or `role:3:12` (for an area) stands for, to read only.

    Asks for access.see; nobody sees as somebody by way of somebody else.
    """
    ctx.require("access.see")
    kind, _, rest = spec.partition(":")
    first, _, second = rest.partition(":")
    if kind not in ("person", "role") or not first.isdigit() or (second and not second.isdigit()):
        raise InputFaults([Fault("X-See-As", spec[:60], "give person:7, role:3 or role:3:12")])
    number, area_id = int(first[:18]), int(second[:18]) if second else None
    if kind == "person":
        return replace(actor_of(tx, ctx, number), read_only=ctx.actor.name)
    role = find_role(tx, number)
    area = tx.one(Area, "areas.area", id=area_id) if area_id is not None else None
    if area_id is not None and area is None:
        raise NotFound("There is no such area.", "Choose one.")
    held = Held(role.name, holding.permissions_of_role(role.name, role), area_id, area.name if area else "")
    reach = holding.reach_of(tx, [held])
    name = f"somebody with the role {role.name} for {held.where}"
    return Actor(
        0,
        name,
        ctx.actor.zone,
        "",
        (role.name,),
        frozenset(reach),
        ctx.actor.address,
        reach,
        read_only=ctx.actor.name,
    )


def refuse_without_factor(actor: Actor) -> None:
    """Raises FactorMissing while somebody has not set up the second factor that a role of theirs asks for."""
    if actor.factor_for and not actor.read_only:
        raise FactorMissing(
            f"Your role {' and '.join(actor.factor_for)} asks for a second factor.",
            "Set it up in your profile; it takes a minute.",
        )


def refuse_changes(actor: Actor) -> None:
    """Raises Forbidden for a change by whoever only sees as somebody else."""
    if actor.read_only:
        raise Forbidden(
            f"You see this as {actor.name}; nothing can be changed meanwhile.",
            "End seeing as somebody else first.",
        )
