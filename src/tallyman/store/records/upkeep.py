"""Records of the room `upkeep`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.runs.words import RunState
from tallyman.core.upkeep.words import ErrandState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DueEffect(Record):
    """Open effects whose time has come, oldest first; none of an object that waits after a failure; …"""

    JSON: ClassVar[tuple[int, ...]] = (3,)
    id: int
    kind: str
    object: str
    payload: Any
    made_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class EffectsFirst(Record):
    """The oldest open effect of an object."""

    id: int
    kind: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Errand(Record):
    """An errand."""

    JSON: ClassVar[tuple[int, ...]] = (7, 8)
    id: int
    kind: str
    person_id: int
    state: ErrandState
    done: int
    total: int
    words: str
    input: Any
    result: Any
    made_at: datetime
    ended_at: datetime | None
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ErrandsOfPerson(Record):
    """What somebody has under way, or had lately, the latest 20."""

    id: int
    kind: str
    state: ErrandState
    done: int
    total: int
    words: str
    made_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ErrandsFile(Record):
    """The file that long work made."""

    name: str
    media_type: str
    data: bytes


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthProcesses(Record):
    """All web and engine processes heard from lately."""

    JSON: ClassVar[tuple[int, ...]] = (8,)
    id: str
    kind: str
    machine: str
    pid: int
    version: str
    started_at: datetime
    seen_at: datetime
    apart_ms: int
    loops: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthOpenEffects(Record):
    """How many effects are open, and since when the oldest is due."""

    open: int
    oldest: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthOverdueTriggers(Record):
    """How many triggers are due, and since when the first one is."""

    due: int
    oldest: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthRunsByState(Record):
    """How many runs are open, and since when the first waiting one is due."""

    state: RunState
    runs: int
    oldest: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthEndedLately(Record):
    """How the runs of the last hour ended."""

    state: RunState
    runs: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HealthDatabase(Record):
    """The database's version, how long it runs, and its connections."""

    version: str
    uptime_seconds: str | None
    connections: str | None
    most_connections: str | None
    cluster_size: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HitchesWaiting(Record):
    """The rows of one kind of work that wait after a failure, or are stuck or given up."""

    BOOLS: ClassVar[tuple[int, ...]] = (1,)
    row_key: str
    stuck: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HitchesOne(Record):
    """How often a row failed, locked."""

    tries: int
    due_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OpenHitch(Record):
    """What failed and was not given up, the stuck ones first; and how many effects wait behind one …"""

    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    work: str
    object: str
    about: str
    tries: int
    first_at: datetime
    due_at: datetime
    stuck: bool
    fault: str
    effects: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HitchesOpenByWork(Record):
    """How many rows of each kind of work failed, and how many of them are stuck."""

    work: str
    failing: int
    stuck: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HitchesFind(Record):
    """One that was not given up, locked."""

    id: int
    work: str
    row_key: str
    object: str
    about: str
    tries: int
    fault: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HitchesSetAsideRows(Record):
    """What persons gave up, the latest first."""

    id: int
    work: str
    object: str
    about: str
    fault: str
    aside_at: datetime
    aside_why: str
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OnceFound(Record):
    """What an earlier start with this key made, and by which words."""

    object: str
    said_digest: str


GIVES: dict[str, type[Record]] = {
    "effects.due": DueEffect,
    "effects.first": EffectsFirst,
    "errands.one": Errand,
    "errands.open": EffectsFirst,
    "errands.of_person": ErrandsOfPerson,
    "errands.file": ErrandsFile,
    "health.processes": HealthProcesses,
    "health.open_effects": HealthOpenEffects,
    "health.outbox": HealthOpenEffects,
    "health.overdue_triggers": HealthOverdueTriggers,
    "health.runs_by_state": HealthRunsByState,
    "health.ended_lately": HealthEndedLately,
    "health.database": HealthDatabase,
    "hitches.waiting": HitchesWaiting,
    "hitches.one": HitchesOne,
    "hitches.open": OpenHitch,
    "hitches.open_by_work": HitchesOpenByWork,
    "hitches.find": HitchesFind,
    "hitches.set_aside_rows": HitchesSetAsideRows,
    "once.found": OnceFound,
}
