"""Records of the room `robots`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.runs.words import RunState, SeatKind, SeatOfPeople, SlotKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccountKept(Record):
    """The passwords kept for accounts of a host, and how signing in with each went; a secret that is …"""

    BOOLS: ClassVar[tuple[int, ...]] = (6,)
    host_id: int
    account: str
    secret_id: int
    asked_at: datetime
    for_version: int | None
    answered_at: datetime | None
    proved: bool | None
    said: str
    secret: str
    version: int
    expires_on: date | None
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccountsLock(Record):
    """One of them, locked."""

    account: str
    secret_id: int
    answered_at: datetime | None
    for_version: int | None
    kind: str
    secret: str
    version: int
    area_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OwnComputer(Record):
    """A person's own computer."""

    BOOLS: ClassVar[tuple[int, ...]] = (4,)
    id: int
    name: str
    heard_at: datetime | None
    code_until: datetime | None
    connected: bool
    revoked_at: datetime | None
    in_use_since: datetime | None
    robot_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OwnSeatsOf(Record):
    """The attended seats that a person has, and those that groups of theirs share, with how many are …"""

    id: int
    number: int
    group_name: str | None
    used: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OwnFreeSeat(Record):
    """A free attended or builder seat of a person's, or of a group of theirs."""

    owner_id: int
    n: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ReadingRow(Record):
    """The history of a host since a time."""

    at: datetime
    cpu_percent: Decimal | None
    memory_free_mb: int | None
    disk_free_mb: int | None
    clock_ahead_ms: int | None
    screen: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsPaths(Record):
    """Some areas, each with itself and all above it."""

    area_id: int
    above_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostSeen(Record):
    """All hosts with their seats in use."""

    JSON: ClassVar[tuple[int, ...]] = (5, 9, 26, 27)
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
    revoked_at: datetime | None
    read_at: datetime | None
    disk_free_mb: int | None
    apps: Any
    known: Any
    seats_used: int
    trial_seats: int
    trial_used: int
    owner: str | None
    in_use_since: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostRow(Record):
    """One host."""

    JSON: ClassVar[tuple[int, ...]] = (4, 8)
    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    name: str
    heard_at: datetime | None
    account: str | None
    facts: Any
    seats: int
    code_until: datetime | None
    connected: bool
    apps: Any
    disk_free_mb: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsLockHost(Record):
    """A host's row, locked."""

    id: int
    name: str
    seats: int
    trial_seats: int
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
    read_at: datetime | None
    owner_id: int | None
    in_use_since: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsSilentHosts(Record):
    """Connected hosts that fell silent and were not told of yet."""

    id: int
    name: str
    heard_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsFreePlaces(Record):
    """Some free place of a robot, of its host and of a routine; any of them, so that many who look …"""

    BOOLS: ClassVar[tuple[int, ...]] = (2,)
    kind: SlotKind | None
    n: int | None
    of_trial: bool | None
    builder: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotSeen(Record):
    """All robots in work with their host."""

    JSON: ClassVar[tuple[int, ...]] = (7, 12, 17, 19)
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
    apps: Any
    disk_free_mb: int | None
    clock_ahead_ms: int | None
    set_up_at: datetime
    seats_used: int
    trial_seats: int
    trial_used: int
    busy_with: int | None
    owner_id: int | None
    owner: str | None
    in_use_since: datetime | None
    owner_seats: int
    owner_seats_used: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsOnHosts(Record):
    """How many robots in work each host has."""

    host_id: int
    robots: int


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


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RobotsAccountsOfHost(Record):
    """The run-as accounts that the robots of a host work under, and whether a password of each is to …"""

    BOOLS: ClassVar[tuple[int, ...]] = (1,)
    account: str
    to_prove: bool | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatLot(Record):
    """Seats bought, lot by lot, the newest first; those taken back stand no more."""

    id: int
    kind: SeatKind
    number: int
    first_on: date
    last_on: date | None
    price: Decimal | None
    note: str
    version: int
    made_at: datetime
    made_by: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsLot(Record):
    """One lot, locked."""

    id: int
    kind: SeatKind
    number: int
    first_on: date
    last_on: date | None
    price: Decimal | None
    note: str
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsEnding(Record):
    """Lots whose last day is near, and how near it was when that was told last."""

    id: int
    kind: SeatKind
    number: int
    last_on: date | None
    told: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatGiven(Record):
    """Seats that people have, and those that groups share."""

    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    kind: SeatOfPeople
    number: int
    person_id: int | None
    person: str | None
    group_id: int | None
    group_name: str | None
    gone: bool | None
    used: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsInUse(Record):
    """How many seats of each kind are in use now."""

    kind: SlotKind
    used: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatUse(Record):
    """Segments of runs that took a seat within a span of time, on which host, and of which kind it …"""

    BOOLS: ClassVar[tuple[int, ...]] = (3, 4, 5)
    host_id: int
    started_at: datetime
    ended_at: datetime | None
    of_trial: bool
    of_tryout: bool
    attended: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsPeaks(Record):
    """The peaks of days since one, of all hosts together, the oldest first."""

    day: date
    kind: SeatKind
    most: int
    at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsPeaksOfHosts(Record):
    """The highest peak of each host in days since one, by kind."""

    host_id: int
    kind: SeatKind
    most: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SeatsOfBuilders(Record):
    """The builder seats that some people have, with those that groups of theirs share, and how many …"""

    id: int
    name: str
    number: Decimal
    used: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrialsRoutineOf(Record):
    """The routine of a robot's own trial runs."""

    id: int
    name: str
    area_id: int
    release_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class LatestTrial(Record):
    """The latest trial run of each robot that had one."""

    robot_id: int | None
    id: int
    state: RunState
    made_at: datetime
    ended_at: datetime | None
    reason: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TrialsReleaseOf(Record):
    """A release by its package and number."""

    id: int
    digest: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class LastDone(Record):
    """The latest run that each robot in work finished."""

    robot_id: int
    id: int
    state: RunState
    made_at: datetime
    ended_at: datetime | None
    reason: str


GIVES: dict[str, type[Record]] = {
    "accounts.of_host": AccountKept,
    "accounts.all": AccountKept,
    "accounts.lock": AccountsLock,
    "own.of_owner": OwnComputer,
    "own.seats_of": OwnSeatsOf,
    "own.free_seat": OwnFreeSeat,
    "readings.of_host": ReadingRow,
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
    "robots.on_hosts": RobotsOnHosts,
    "robots.robot_areas": RobotsRobotAreas,
    "robots.robot_areas_of_host": RobotsRobotAreasOfHost,
    "robots.robot": RobotRow,
    "robots.accounts_of_host": RobotsAccountsOfHost,
    "seats.lots": SeatLot,
    "seats.lot": SeatsLot,
    "seats.ending": SeatsEnding,
    "seats.given": SeatGiven,
    "seats.in_use": SeatsInUse,
    "seats.uses": SeatUse,
    "seats.peaks": SeatsPeaks,
    "seats.peaks_of_hosts": SeatsPeaksOfHosts,
    "seats.of_builders": SeatsOfBuilders,
    "trials.routine_of": TrialsRoutineOf,
    "trials.latest": LatestTrial,
    "trials.latest_of": LatestTrial,
    "trials.release_of": TrialsReleaseOf,
    "trials.last_done": LastDone,
    "trials.last_done_of": LastDone,
}
