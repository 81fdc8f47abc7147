"""Records of the room `uses`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.starts.words import Missed, OnClosed, TriggerKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesPair(Record):
    """Which areas lie in some areas."""

    upper: int
    lower: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesRobotsWithAccounts(Record):
    """Under which accounts the robots of some hosts work."""

    id: int
    host_id: int
    account: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesAccountsOfSecrets(Record):
    """Of which accounts some secrets are the password."""

    secret_id: int
    host_id: int
    account: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesStart(Record):
    """The starts on the clock of some routines."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    id: int
    kind: TriggerKind
    routine_id: int
    expression: str
    form: Any
    zone: str
    on_closed: OnClosed
    window_from: str | None
    window_to: str | None
    missed: Missed
    missed_hours: int
    latest_minutes: int | None
    next_at: datetime | None
    routine: str
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesRoutines(Record):
    """Some routines in use."""

    id: int
    name: str
    area_id: int
    release_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesPackages(Record):
    """The releases of some packages, the oldest first."""

    package_id: int
    name: str
    id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesReleases(Record):
    """Some releases with their packages."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    id: int
    version: str
    package_id: int
    package: str
    secrets: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesSecrets(Record):
    """Some secrets of people that are in use, without their values."""

    id: int
    name: str
    kind: str
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UsesSystems(Record):
    """Some systems."""

    id: int
    name: str


GIVES: dict[str, type[Record]] = {
    "uses.areas_of_areas": UsesPair,
    "uses.routines_of_areas": UsesPair,
    "uses.robots_of_areas": UsesPair,
    "uses.secrets_of_areas": UsesPair,
    "uses.ideas_of_areas": UsesPair,
    "uses.robots_of_hosts": UsesPair,
    "uses.routines_of_owners": UsesPair,
    "uses.robots_with_accounts": UsesRobotsWithAccounts,
    "uses.accounts_of_secrets": UsesAccountsOfSecrets,
    "uses.releases_of_packages": UsesPair,
    "uses.routines_of_releases": UsesPair,
    "uses.ideas_of_routines": UsesPair,
    "uses.routines_of_ideas": UsesPair,
    "uses.ideas_of_systems": UsesPair,
    "uses.systems_of_ideas": UsesPair,
    "uses.starts_of_routines": UsesStart,
    "uses.starts": UsesStart,
    "uses.routines": UsesRoutines,
    "uses.packages": UsesPackages,
    "uses.releases": UsesReleases,
    "uses.secrets": UsesSecrets,
    "uses.systems": UsesSystems,
}
