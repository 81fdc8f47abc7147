"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.core.free import FreeObject
from tallyman.core.runs import Need
from tallyman.services.answers import AreaName, HangsOn
from tallyman.services.house import AreaBelow, VersionRow
from tallyman.store.records.robots import ReadingRow as ReadingRow


@dataclass(frozen=True, slots=True)
class Host:
    """A host: when it was heard, under which account, and its seats."""

    id: int
    name: str
    heard_at: datetime | None
    connected_at: datetime | None
    connected: bool
    silent: bool
    code_open: bool
    account: str | None
    facts: FreeObject | None
    clock_ahead_ms: int | None
    hours_from: str | None
    hours_to: str | None
    hours_zone: str | None
    seats: int
    seats_used: int
    trial_seats: int
    trial_used: int
    leaving_at: datetime | None
    # In maintenance now: since when, until when (None: until it is ended), and why.
    maintenance_at: datetime | None
    maintenance_until: datetime | None
    maintenance_why: str
    used_at: datetime | None
    used_from: str
    token_at: datetime | None
    bound: bool
    # When its token was revoked, if no code has connected it again since.
    revoked_at: datetime | None
    # What its runner reports: what it can do in words, and the accounts that the host knows.
    abilities: list[str]
    known: list[str] | None
    disk_free_mb: int | None
    read_at: datetime | None
    # Of a person's own computer: whose, and since when they use it.
    owner: str | None
    in_use_since: datetime | None
    may_change: bool
    may_retire: bool


@dataclass(frozen=True, slots=True)
class Robot:
    """A robot on its host, with tags and areas."""

    id: int
    name: str
    host_id: int
    host: str
    # Whose own computer that host is.
    owner: str | None
    runner_account: str | None
    silent: bool
    tags: list[str]
    areas: list[AreaName]
    busy_with: int | None
    account: str
    account_fault: str
    as_runner: bool
    version: int
    # What is not met yet before it can work, in words.
    lacks: list[str]
    may_change: bool
    may_retire: bool


@dataclass(frozen=True, slots=True)
class RobotPage:
    """A robot with every point of bringing it to work, and what it can be changed to.

    `password_kept`: whether the password of its account is; `may_trial`, `may_password`: whether the reader
    may start its trial run, and put in or replace that password.
    """

    robot: Robot
    host: Host
    points: list[Need]
    hosts: list[Host]
    areas: list[AreaBelow]
    password_kept: bool
    may_trial: bool
    may_password: bool


@dataclass(frozen=True, slots=True)
class HostPage:
    """A host with its robots and how it was of late.

    `upgrade`: what a newer runner would bring; empty if it is as new as the server.
    """

    host: Host
    robots: list[Robot]
    readings: list[ReadingRow]
    upgrade: str


@dataclass(frozen=True, slots=True)
class Robots:
    """Areas, hosts and robots."""

    areas: list[AreaBelow]
    hosts: list[Host]
    robots: list[Robot]
    now: datetime


@dataclass(frozen=True, slots=True)
class SeatsLook:
    """What another number of seats would do: how many there are and are in use, and what stands against it.

    `left`: how many of those bought would then not be given; where it was never entered how many are bought
    it is None, and said is what one costs a year, and all of the company's.
    """

    now: int
    then: int
    used: int
    left: int | None
    seat_a_year: str | None
    all_now: str | None
    all_then: str | None
    against: str


@dataclass(frozen=True, slots=True)
class MaintenanceLook:
    """What maintenance of a host would mean: runs that go on, and routines that would wait.

    `unseen`: how many more would wait that the reader may not see.
    """

    hangs: list[HangsOn]
    unseen: int


@dataclass(frozen=True, slots=True)
class Code:
    """The one-time code of a host; it is shown only once."""

    id: int
    code: str
    until: datetime


@dataclass(frozen=True, slots=True)
class Application:
    """An application that runners look for, what it is found by, and on how many hosts it is."""

    name: str
    found_by: list[str]
    hosts: int


@dataclass(frozen=True, slots=True)
class ApplicationsRule:
    """The house's list of them, with its versions."""

    version: int
    applications: list[Application]
    versions: list[VersionRow]
