"""Records of the room `robots`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.runs.words import SlotKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsPaths(Record):
    """Some areas, each with itself and all above it."""

    area_id: int
    above_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostSeen(Record):
    """All hosts with their seats in use."""

    JSON: ClassVar[tuple[int, ...]] = (5, 9)
    BOOLS: ClassVar[tuple[int, ...]] = (20, 22)
    id: int
    name: str
    heard_at: datetime | None
    connected_at: datetime | None
    account: str | None
    facts: Any
    clock_ahead_ms: int | None
    seats: int
    made_at: datetime
    accounts: Any
    hours_from: str | None
    hours_to: str | None
    hours_zone: str | None
    leaving_at: datetime | None
    maintenance_at: datetime | None
    maintenance_until: datetime | None
    maintenance_why: str
    used_at: datetime | None
    used_from: str
    token_at: datetime | None
    bound: bool
    code_until: datetime | None
    connected: bool
    seats_used: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostRow(Record):
    """One host."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    name: str
    heard_at: datetime | None
    account: str | None
    facts: Any
    seats: int
    code_until: datetime | None
    connected: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsLockHost(Record):
    """A host's row, locked."""

    id: int
    name: str
    seats: int
    maintenance_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsHostByCode(Record):
    """The host a valid one-time code belongs to."""

    id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostByToken(Record):
    """The host a runner's token belongs to: the one it has, or the one that takes its place."""

    JSON: ClassVar[tuple[int, ...]] = (5,)
    id: int
    name: str
    heard_at: datetime | None
    silent_told: int
    clock_ahead_ms: int | None
    accounts: Any
    machine: str
    token_at: datetime | None
    next_token: str | None
    used_at: datetime | None
    used_from: str
    leaving_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsSilentHosts(Record):
    """Connected hosts that fell silent and were not told of yet."""

    id: int
    name: str
    heard_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsFreePlaces(Record):
    """Some free place of a robot, of its host and of a routine; any of them, so that many who look …"""

    kind: SlotKind | None
    n: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotSeen(Record):
    """All robots in work with their host."""

    JSON: ClassVar[tuple[int, ...]] = (7, 12, 17)
    id: int
    name: str
    host_id: int
    host: str
    heard_at: datetime | None
    account: str
    runner_account: str | None
    accounts: Any
    hours_from: str | None
    hours_to: str | None
    hours_zone: str | None
    leaving_at: datetime | None
    facts: Any
    seats: int
    maintenance_at: datetime | None
    maintenance_until: datetime | None
    maintenance_why: str
    tags: list[str]
    version: int
    seats_used: int
    busy_with: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsRobotAreas(Record):
    """Which areas each robot may work in."""

    robot_id: int
    area_id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsRobotAreasOfHost(Record):
    """Which areas each robot of one host may work in."""

    robot_id: int
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotRow(Record):
    """One robot."""

    JSON: ClassVar[tuple[int, ...]] = (3,)
    id: int
    name: str
    host_id: int
    tags: list[str]
    account: str
    version: int


GIVES: dict[str, type[Record]] = {
    "robots.paths": RobotsPaths,
    "robots.hosts": HostSeen,
    "robots.host": HostRow,
    "robots.lock_host": RobotsLockHost,
    "robots.host_by_code": RobotsHostByCode,
    "robots.host_by_token": HostByToken,
    "robots.silent_hosts": RobotsSilentHosts,
    "robots.free_places": RobotsFreePlaces,
    "robots.robots": RobotSeen,
    "robots.robots_of_host": RobotSeen,
    "robots.robot_areas": RobotsRobotAreas,
    "robots.robot_areas_of_host": RobotsRobotAreasOfHost,
    "robots.robot": RobotRow,
}
