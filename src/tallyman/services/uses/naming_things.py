"""What things are called, where they are found, and whether the reader may see them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from itertools import groupby

from tallyman.core.uses import Kind, Thing
from tallyman.errors import InputFaults
from tallyman.services.context import Ctx
from tallyman.services.house import areas_seen
from tallyman.services.ideas import seen_among
from tallyman.services.robots import hosts_seen, robots_seen
from tallyman.services.safe import OF_PEOPLE
from tallyman.services.starts import schedule_of
from tallyman.services.uses.answers import UsedThing
from tallyman.services.workshop import sight
from tallyman.store.db import Tx
from tallyman.store.records.uses import (
    UsesPackages,
    UsesReleases,
    UsesRoutines,
    UsesSecrets,
    UsesStart,
    UsesSystems,
)

COMPANY = "0"
Named = dict[str, tuple[str, str]]


@dataclass(frozen=True)
class Keys:
    """The keys of things of one kind: as text, and as numbers for a statement."""

    texts: tuple[str, ...]

    @property
    def numbers(self) -> tuple[int, ...]:
        """The keys as numbers, never none of them."""
        return tuple(int(one) for one in self.texts) or (0,)


def _ideas(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    if not ctx.actor.for_ideas:
        return {}
    rows = seen_among(tx, ctx, keys.numbers)
    return {str(row.id): (f"I-{row.id} {row.title}", f"/ideas/{row.id}") for row in rows}


def _packages(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = tx.all(UsesPackages, "uses.packages", ids=keys.numbers) if ctx.actor.may("package.see") else []
    # The newest that the reader sees stands for the package: it comes last.
    seen = sight.seen(tx, ctx, rows)
    return {str(row.package_id): (row.name, f"/workshop/releases/{row.id}") for row in seen}


def _releases(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = tx.all(UsesReleases, "uses.releases", ids=keys.numbers) if ctx.actor.may("package.see") else []
    seen = sight.seen(tx, ctx, rows)
    return {str(row.id): (f"{row.package} {row.version}", f"/workshop/releases/{row.id}") for row in seen}


def _routines(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = tx.all(UsesRoutines, "uses.routines", ids=keys.numbers)
    seen = [row for row in rows if ctx.actor.may_at("routine.see", row.area_id)]
    return {str(row.id): (row.name, f"/workshop/routines/{row.id}") for row in seen}


def _areas(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = areas_seen(tx, ctx) if ctx.actor.may("area.see") else []
    return {
        str(row.id): (row.name, f"/house/areas?area={row.id}") for row in rows if str(row.id) in keys.texts
    }


def _hosts(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = hosts_seen(tx, ctx) if ctx.actor.may("robot.see") else []
    return {str(row.id): (row.name, f"/robots/hosts/{row.id}") for row in rows if str(row.id) in keys.texts}


def _robots(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = robots_seen(tx, ctx) if ctx.actor.may("robot.see") else []
    return {str(row.id): (row.name, f"/robots/{row.id}") for row in rows if str(row.id) in keys.texts}


def _accounts(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    hosts = {str(row.id): row.name for row in hosts_seen(tx, ctx)} if ctx.actor.may("robot.see") else {}
    split = {key: key.partition(":") for key in keys.texts}
    return {
        key: (f"{name} on {hosts[host]}", f"/robots/hosts/{host}")
        for key, (host, _, name) in split.items()
        if host in hosts
    }


def _secrets(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    if not ctx.actor.may("secret.see"):
        return {}
    rows = tx.all(UsesSecrets, "uses.secrets", ids=keys.numbers, kinds=tuple(OF_PEOPLE))
    seen = [row for row in rows if ctx.actor.may_at("secret.see", row.area_id)]
    return {str(row.id): (row.name, f"/house/secrets?secret={row.id}") for row in seen}


def _systems(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = tx.all(UsesSystems, "uses.systems", ids=keys.numbers) if ctx.actor.may("system.see") else []
    return {str(row.id): (row.name, f"/house/systems?system={row.id}") for row in rows}


def _calendars(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    named = {key: (f"closed days of {name}", link) for key, (name, link) in _areas(tx, ctx, keys).items()}
    if COMPANY in keys.texts:
        named[COMPANY] = ("closed days of the company", "/house/areas")
    return named


def _sentence(tx: Tx, row: UsesStart) -> str:
    """When a start on the clock starts, in words; one that cannot be read stops no other."""
    try:
        return schedule_of(tx, row).sentence
    except InputFaults:
        return "a start that cannot be read"


def _starts(tx: Tx, ctx: Ctx, keys: Keys) -> Named:
    rows = tx.all(UsesStart, "uses.starts", ids=keys.numbers)
    seen = [row for row in rows if ctx.actor.may_at("routine.see", row.area_id)]
    return {
        str(row.id): (f"{row.routine}: {_sentence(tx, row)}", f"/workshop/routines/{row.routine_id}")
        for row in seen
    }


NAMES: Mapping[Kind, Callable[[Tx, Ctx, Keys], Named]] = {
    "idea": _ideas,
    "package": _packages,
    "release": _releases,
    "routine": _routines,
    "area": _areas,
    "host": _hosts,
    "robot": _robots,
    "account": _accounts,
    "secret": _secrets,
    "system": _systems,
    "calendar": _calendars,
    "start": _starts,
}


def named(tx: Tx, ctx: Ctx, things: Iterable[Thing]) -> dict[Thing, UsedThing]:
    """Those of some things that are there and that the reader may see."""
    found: dict[Thing, UsedThing] = {}
    for kind, same in groupby(sorted(set(things)), key=lambda one: one.kind):
        names = NAMES[kind](tx, ctx, Keys(tuple(one.key for one in same)))
        found.update({Thing(kind, key): UsedThing(kind, key, *name) for key, name in names.items()})
    return found
