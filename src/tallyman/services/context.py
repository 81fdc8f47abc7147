"""What every use case is given: the database, the time, and who asks; and what every change leaves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from tallyman.core.access import PERMISSIONS, roles_with
from tallyman.core.workdays import Calendar
from tallyman.errors import Forbidden
from tallyman.store.db import Database, Row, Tx

__all__ = [
    "PROGRAM",
    "Actor",
    "Ctx",
    "Database",
    "audit",
    "calendar_of",
    "changed",
    "company_of",
    "effect",
    "everyone_with",
    "forbidden",
    "tell",
    "working_days_a_year",
]


@dataclass(frozen=True)
class Actor:
    """Who asks: a signed-in person, or the program itself."""

    person_id: int | None
    name: str
    zone: str = "UTC"
    email: str = ""
    roles: tuple[str, ...] = ()
    permissions: frozenset[str] = frozenset()
    address: str = "-"

    def may(self, permission: str) -> bool:
        """Whether a permission is held."""
        return permission in self.permissions


PROGRAM = Actor(None, "Tallyman", permissions=frozenset(PERMISSIONS))


@dataclass(frozen=True)
class Ctx:
    """One request or loop step: database, aware UTC time, and who asks."""

    db: Database
    now: datetime
    actor: Actor = field(default=PROGRAM)

    def require(self, permission: str) -> None:
        """Raises Forbidden, naming the permission and who can give it, unless it is held."""
        if not self.actor.may(permission):
            raise forbidden(permission)

    def today(self, zone: str) -> date:
        """The date in a zone at the time of the request."""
        return self.now.astimezone(ZoneInfo(zone)).date()


def forbidden(permission: str) -> Forbidden:
    """The refusal that names what is missing and which roles hold it."""
    roles = " or ".join(roles_with(permission))
    return Forbidden(
        f"You may not {PERMISSIONS[permission]}: the permission {permission} is missing.",
        f"It comes with the role {roles}; ask the lead of the automation team.",
        permission=permission,
    )


def audit(
    tx: Tx,
    ctx: Ctx,
    action: str,
    obj: str,
    words: str,
    before: Mapping[str, Any] | None = None,
    after: Mapping[str, Any] | None = None,
) -> None:
    """Records a change in the audit trail, in the transaction that makes it."""
    tx.write(
        "common.audit",
        at=ctx.now,
        person=ctx.actor.person_id,
        who=ctx.actor.name,
        address=ctx.actor.address,
        action=action,
        object=obj,
        words=words[:500],
        before=None if before is None else dict(before),
        after=None if after is None else dict(after),
    )


def effect(tx: Tx, ctx: Ctx, kind: str, obj: str, **payload: Any) -> None:
    """Writes down what must follow; the engine carries it out, in order per object."""
    tx.write("common.effect", kind=kind, object=obj, payload=payload, now=ctx.now)


def changed(tx: Tx, ctx: Ctx, subject: str, number: int | None = None) -> None:
    """Hints to live pages that something of this subject changed."""
    tx.write("common.changed", subject=subject, id=number, now=ctx.now)


def tell(tx: Tx, ctx: Ctx, person_ids: list[int], text: str, link: str, obj: str) -> None:
    """Tells people in the application and by mail, by way of an effect; nobody twice."""
    wanted = sorted({one for one in person_ids if one and one != ctx.actor.person_id})
    if wanted:
        effect(tx, ctx, "tell", obj, people=wanted, text=text, link=link)


def everyone_with(tx: Tx, permission: str) -> list[int]:
    """The people who hold a permission."""
    rows = tx.all("people.with_roles", roles=tuple(roles_with(permission)) or ("-",))
    return [row["id"] for row in rows]


def calendar_of(tx: Tx) -> Calendar:
    """The company's working days."""
    closed = frozenset(row["day"] for row in tx.all("common.closed_days"))
    return Calendar(frozenset({6, 7}), closed)


def working_days_a_year(calendar: Calendar, year: int) -> int:
    """How many working days a calendar year has."""
    first = date(year, 1, 1)
    days = (date(year + 1, 1, 1) - first).days
    return sum(calendar.is_open(first + timedelta(days=n)) for n in range(days))


def company_of(tx: Tx) -> Row:
    """The company's name, zone and currency; before it is set up, neutral ones."""
    return tx.one("common.company") or {"name": "Tallyman", "zone": "UTC", "currency": "EUR"}
