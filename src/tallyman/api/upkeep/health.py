"""The health page, and the same figures for a monitoring system."""

from __future__ import annotations

import shutil
from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import Done, In, Model, Number, SignedIn
from tallyman.config import VERSION, settings
from tallyman.services.upkeep import health

router = APIRouter(tags=["health"])


class LoopState(Model):
    """How one loop of an engine does; times in milliseconds."""

    turns: int
    took_ms: int
    late_ms: int
    did: int
    fault: str


class Process(Model):
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


class Point(Model):
    """One thing that must hold, the fact, and what mends it."""

    words: str
    met: bool
    fact: str
    mend: str


class HostState(Model):
    """A host and its clock."""

    id: int
    name: str
    heard_at: datetime | None
    silent: bool
    connected: bool
    clock_ahead_ms: int | None
    seats: int
    seats_used: int


class Open(Model):
    """How many are open, how many of them failed at least once, and the age of the oldest."""

    open: int
    failing: int
    oldest_seconds: float | None


class Due(Model):
    """Triggers that are due."""

    due: int
    oldest_seconds: float | None


class Hitch(Model):
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


class SetAside(Model):
    """What failed and a person gave up."""

    id: int
    words: str
    about: str
    object: str
    fault: str
    aside_at: datetime
    aside_why: str
    person: str


class DatabaseState(Model):
    """The database; `nodes` is 0 if it is no cluster."""

    version: str
    uptime_seconds: int
    connections: int
    most_connections: int
    nodes: int
    bytes: int
    migration: str | None


class Disk(Model):
    """The disk that holds the data folder, in bytes."""

    total: int
    free: int


class Health(Model):
    """Everything the operator needs to see whether the installation is well."""

    points: list[Point]
    processes: list[Process]
    hosts: list[HostState]
    effects: Open
    mails: Open
    triggers: Due
    runs: dict[str, int]
    oldest_waiting_seconds: float | None
    ended_lately: dict[str, int]
    hitches: list[Hitch]
    hitches_more: int
    set_aside: list[SetAside]
    database: DatabaseState
    disk: Disk
    version: str
    may_mend: bool
    now: datetime


class Why(In):
    """The reason for giving something up."""

    why: Annotated[str, Field(max_length=2000)]


def disk() -> Any:
    """The disk of the data folder."""
    folder = settings().var
    return shutil.disk_usage(folder if folder.exists() else folder.parent)


@router.get("/health")
def page(ctx: SignedIn) -> Health:
    """The health of the installation."""
    used = disk()
    found = health.page(ctx)
    space = {"total": used.total, "free": used.free}
    return Health.model_validate({**found, "disk": space, "version": VERSION})


@router.post("/health/hitches/{number}/again")
def try_again(number: Number, ctx: SignedIn) -> Done:
    """Has what failed tried again at once."""
    health.try_again(ctx, number)
    return Done()


@router.post("/health/hitches/{number}/aside")
def set_aside(number: Number, given: Why, ctx: SignedIn) -> Done:
    """Gives up for good what failed."""
    health.set_aside(ctx, number, given.why)
    return Done()
