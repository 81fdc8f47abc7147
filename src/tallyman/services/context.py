"""What every use case is given: the database, the time, and who asks; and what every change leaves."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Mapping
from contextvars import ContextVar
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar
from zoneinfo import ZoneInfo

from tallyman.core.access.permissions import PERMISSIONS, Reach, roles_with
from tallyman.core.house.seals import content_digest
from tallyman.core.house.workdays import Calendar
from tallyman.errors import Forbidden, NotFound, TallymanError
from tallyman.services.holding import people_with, scope
from tallyman.store.db import Database, Tx, dump
from tallyman.store.records.common import ChangeNote, ClosedDay, CommonClosedDaysOf, Company

__all__ = [
    "PROGRAM",
    "SAID_CHANGED",
    "WORK",
    "Actor",
    "ChangeNote",
    "Ctx",
    "Database",
    "audit",
    "calendar_of",
    "changed",
    "company_day",
    "company_of",
    "effect",
    "everyone_with",
    "forbidden",
    "in_transaction",
    "unseen",
    "working_days_a_year",
]

P = ParamSpec("P")
T = TypeVar("T")


@dataclass(frozen=True)
class Actor:
    """Who asks: a signed-in person, a program of theirs, or Tallyman itself.

    `permissions` are those held anywhere; `reach` says where each holds (None: everywhere). Without a
    reach every permission holds everywhere. `stands_in_for` are people away whose desk is looked after.
    """

    person_id: int | None
    name: str
    zone: str = "UTC"
    email: str = ""
    roles: tuple[str, ...] = ()
    permissions: frozenset[str] = frozenset()
    address: str = "-"
    reach: Reach | None = None
    stands_in_for: tuple[int, ...] = ()
    read_only: str = ""
    locale: str = "en-GB"
    # Roles that ask for a second factor, which this sign-in does not have.
    factor_for: tuple[str, ...] = ()
    # The program of theirs that asks, by its token.
    program: str = ""

    def may(self, permission: str) -> bool:
        """Whether a permission is held, for the company or for some area."""
        return permission in self.permissions

    @property
    def for_ideas(self) -> bool:
        """Whether parts in ideas count: always for people, for programs with any permission about ideas."""
        return not self.program or any(one.startswith("idea.") for one in self.permissions)

    def areas(self, permission: str) -> frozenset[int] | None:
        """The areas where a permission holds; None is everywhere."""
        if not self.may(permission):
            return frozenset()
        return None if self.reach is None else self.reach[permission]

    def may_at(self, permission: str, area_id: int | None) -> bool:
        """Whether a permission holds at an area; at no area it must hold everywhere."""
        areas = self.areas(permission)
        return areas is None or (area_id is not None and area_id in areas)

    def is_or_stands_in_for(self, *person_ids: int | None) -> bool:
        """Whether the actor is one of these people, or looks after the desk of one who is away.

        A program is its person only for what its token says anything about.
        """
        if not self.for_ideas:
            return False
        mine = {self.person_id, *self.stands_in_for} - {None}
        return not mine.isdisjoint(person_ids)


# The subjects that a request changed, for its answer to name them; nothing is gathered outside a request.
SAID_CHANGED: ContextVar[set[str] | None] = ContextVar("said_changed", default=None)
WEEKEND = frozenset({6, 7})
# The hint that there may be work now: something waits that did not, or a place is free that was not.
WORK = "work"
PROGRAM = Actor(None, "Tallyman", permissions=frozenset(PERMISSIONS))


@dataclass(frozen=True)
class Ctx:
    """One request or loop step: database, aware UTC time, and who asks."""

    db: Database
    now: datetime
    actor: Actor = field(default=PROGRAM)

    @property
    def here(self) -> datetime:
        """The same moment by the actor's own clock, for words that they read."""
        return self.now.astimezone(ZoneInfo(self.actor.zone))

    def require(self, permission: str) -> None:
        """Raises Forbidden, naming the permission, unless it is held somewhere."""
        if not self.actor.may(permission):
            raise forbidden(permission)

    def require_at(self, permission: str, area_id: int | None) -> None:
        """Raises Forbidden unless a permission holds at an area; at no area, for the whole company."""
        if not self.actor.may_at(permission, area_id):
            raise forbidden(permission, area_id)

    def require_for_ideas(self) -> None:
        """Raises Forbidden for a program whose token says nothing about ideas."""
        if not self.actor.for_ideas:
            raise forbidden("idea.see")

    def scope(self, permission: str) -> dict[str, object]:
        """How far a permission reaches, as parameters of a statement."""
        return scope(self.actor.areas(permission))

    def today(self, zone: str) -> date:
        """The date in a zone at the time of the request."""
        return self.now.astimezone(ZoneInfo(zone)).date()


def forbidden(permission: str, area_id: int | None = None) -> Forbidden:
    """The refusal that names what is missing; who can give it is added where it is answered."""
    roles = " or ".join(roles_with(permission))
    where = " there" if area_id is not None else ""
    return Forbidden(
        f"You may not {PERMISSIONS[permission]}{where}: the permission {permission} is missing.",
        f"It comes with the role {roles}.",
        permission=permission,
        area=area_id,
    )


def unseen(ctx: Ctx, permission: str, found: bool, missing: NotFound) -> TallymanError:
    """What to answer for an object that is not there, or that may not be seen: both alike.

    Who sees everything of the kind is told that it is not there; others hear the same whether it is
    there or not, so that nothing leaks.
    """
    if not found and ctx.actor.areas(permission) is None:
        return missing
    words = f"the permission {permission} is missing for its area, or it does not exist"
    return Forbidden(
        f"You may not {PERMISSIONS[permission]} here: {words}.",
        f"It comes with the role {' or '.join(roles_with(permission))}.",
        permission=permission,
        area=None,
    )


def in_transaction(use: Callable[Concatenate[Tx, Ctx, P], T]) -> Callable[Concatenate[Ctx, P], T]:
    """Makes a use case one transaction: its callers give the context, and it is given a transaction too.

    It must do nothing but use the transaction, as it is done again when another one was in its way. What
    takes long or goes out of the house (a parsed file, a password's hash) comes before: such a use case
    calls `transact` itself.
    """

    @wraps(use)
    def whole(ctx: Ctx, /, *given: P.args, **named: P.kwargs) -> T:
        return ctx.db.transact(lambda tx: use(tx, ctx, *given, **named))

    return whole


def audit(
    tx: Tx,
    ctx: Ctx,
    action: str,
    obj: str,
    words: str,
    before: Mapping[str, object] | None = None,
    after: Mapping[str, object] | None = None,
) -> None:
    """Records a change in the audit trail, in the transaction that makes it."""
    salt = secrets.token_hex(16)
    who, address = ctx.actor.name, ctx.actor.address
    kept_before = None if before is None else dump(dict(before))
    kept_after = None if after is None else dump(dict(after))
    tx.write(
        "common.audit",
        at=ctx.now,
        person=ctx.actor.person_id,
        who=who,
        address=address,
        action=action,
        object=obj,
        words=words[:500],
        before=kept_before,
        after=kept_after,
        salt=salt,
        digest=content_digest(salt, who, address, words[:500], kept_before, kept_after),
    )


def effect(tx: Tx, ctx: Ctx, kind: str, obj: str, /, **payload: object) -> None:
    """Writes down what must follow; the engine carries it out, in order per object."""
    tx.write("common.effect", kind=kind, object=obj, payload=payload, now=ctx.now)


def changed(tx: Tx, ctx: Ctx, subject: str, number: int | None = None) -> None:
    """Hints to live pages that something of this subject changed; whoever asked for it is told at once."""
    told = SAID_CHANGED.get()
    if told is not None:
        told.add(subject)
    tx.at_end("common.changed", subject=subject, id=number, now=ctx.now)


def everyone_with(tx: Tx, permission: str, area_id: int | None = None) -> list[int]:
    """The people who hold a permission at an area, or for the whole company."""
    return [row.id for row in people_with(tx, permission, area_id)]


def calendar_of(tx: Tx, area_id: int | None = None) -> Calendar:
    """The company's working days; for an area without its own closed days and those of areas above it."""
    closed = frozenset(row.day for row in tx.kept(ClosedDay, "common.closed_days"))
    if area_id is not None:
        closed |= frozenset(
            row.day for row in tx.kept(CommonClosedDaysOf, "common.closed_days_of", area=area_id)
        )
    return Calendar(WEEKEND, closed)


def working_days_a_year(calendar: Calendar, year: int) -> int:
    """How many working days a calendar year has."""
    first = date(year, 1, 1)
    days = (date(year + 1, 1, 1) - first).days
    return sum(calendar.is_open(first + timedelta(days=n)) for n in range(days))


def company_of(tx: Tx) -> Company:
    """The company's name, zone and currency; before it is set up, neutral ones."""
    rows = tx.kept(Company, "common.company")
    return rows[0] if rows else Company("Tallyman", "UTC", "EUR")


def company_day(tx: Tx, ctx: Ctx) -> date:
    """Today in the company's zone."""
    return ctx.today(company_of(tx).zone)
