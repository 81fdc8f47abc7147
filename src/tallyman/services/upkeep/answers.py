"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class LoopState:
    """How one loop of an engine does; times in milliseconds."""

    turns: int
    took_ms: int
    late_ms: int
    did: int
    fault: str


@dataclass(frozen=True, slots=True)
class Process:
    """A web or engine process."""

    kind: str
    machine: str
    pid: int
    version: str
    started_at: datetime
    seen_at: datetime
    apart_ms: int
    loops: dict[str, LoopState]
    silent: bool
    says: str
    well: bool


@dataclass(frozen=True, slots=True)
class Point:
    """One thing that must hold, the fact, and what mends it."""

    words: str
    met: bool
    fact: str
    mend: str


@dataclass(frozen=True, slots=True)
class HostState:
    """A host and its clock."""

    id: int
    name: str
    heard_at: datetime | None
    silent: bool
    connected: bool
    clock_ahead_ms: int | None
    seats: int
    seats_used: int


@dataclass(frozen=True, slots=True)
class Open:
    """How many are open, how many of them failed at least once, and the age of the oldest."""

    open: int
    failing: int
    oldest_seconds: float | None


@dataclass(frozen=True, slots=True)
class Due:
    """Triggers that are due."""

    due: int
    oldest_seconds: float | None


@dataclass(frozen=True, slots=True)
class Hitch:
    """A row of a loop that failed: what it is, why, how often it was tried, and when it is next.

    `words` says which kind of work, `about` and `object` which row. `due_at` is empty once it is stuck.
    `behind`: how many effects of the same object wait for it.
    """

    id: int
    work: str
    words: str
    about: str
    object: str
    tries: int
    first_at: datetime
    due_at: datetime | None
    stuck: bool
    fault: str
    behind: int


@dataclass(frozen=True, slots=True)
class SetAside:
    """What failed and a person gave up."""

    id: int
    words: str
    about: str
    object: str
    fault: str
    aside_at: datetime
    aside_why: str
    person: str


@dataclass(frozen=True, slots=True)
class DatabaseState:
    """The database; `nodes` is 0 if it is no cluster."""

    version: str
    uptime_seconds: int
    connections: int
    most_connections: int
    nodes: int
    bytes: int
    migration: str | None


@dataclass(frozen=True, slots=True)
class Disk:
    """The disk that holds the data folder, in bytes."""

    total: int
    free: int


@dataclass(frozen=True, slots=True)
class Figures:
    """How the installation does in numbers, for the page and for a monitoring system; times in seconds.

    `runs` by state, `ended_lately` those of the last hour, `failing` and `stuck` rows by kind of work.
    """

    processes: list[Process]
    hosts: list[HostState]
    effects: Open
    mails: Open
    triggers: Due
    runs: dict[str, int]
    oldest_waiting_seconds: float | None
    ended_lately: dict[str, int]
    failing: dict[str, int]
    stuck: dict[str, int]
    database: DatabaseState
    now: datetime


@dataclass(frozen=True, slots=True)
class Health(Figures):
    """Everything the operator needs to see whether the installation is well."""

    points: list[Point]
    hitches: list[Hitch]
    hitches_more: int
    set_aside: list[SetAside]
    disk: Disk
    version: str
    may_mend: bool


@dataclass(frozen=True, slots=True)
class ErrandOut:
    """Long work: how far it is."""

    id: int
    kind: str
    state: str
    done: int
    total: int
    words: str
    made_at: datetime
    ended_at: datetime | None
