"""Records of the room `starts`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.runs.words import Outcome, RunState
from tallyman.core.starts.words import Became, Missed, OnClosed, TriggerKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunGroup(Record):
    """A group of runs, with its routine and who started it."""

    JSON: ClassVar[tuple[int, ...]] = (6,)
    id: int
    routine_id: int
    routine: str
    area_id: int
    area: str
    words: str
    refused: Any
    made_at: datetime
    person: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class GroupRun(Record):
    """The runs of a group in their order."""

    JSON: ClassVar[tuple[int, ...]] = (9,)
    id: int
    line: int | None
    state: RunState
    outcome: Outcome | None
    reason: str
    due_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    robot: str | None
    inputs: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriggersOfRoutine(Record):
    """The triggers of a routine."""

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
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriggersDue(Record):
    """Triggers whose time has come, but for those that wait after a failure; 200 at once."""

    id: int
    routine_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DueTrigger(Record):
    """A trigger's row, locked; one that another engine is at is passed over, which only spares work."""

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
    handled_to: datetime | None
    retired_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriggerStart(Record):
    """What became of a trigger's nominal times, the latest noted first."""

    id: int
    nominal_at: datetime | None
    at: datetime
    what: Became
    why: str
    run_id: int | None
    run_state: RunState | None
    run_outcome: Outcome | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriggersComing(Record):
    """What the clock starts next."""

    id: int
    routine_id: int
    routine: str
    expression: str
    zone: str
    on_closed: OnClosed
    next_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriggersEnded(Record):
    """The triggers of a routine that ended, the latest first, with what each started; the last 50."""

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
    retired_at: datetime
    started: int
    last_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ComingTrigger(Record):
    """The triggers that start something for robots until a time, with their routines."""

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
    routine: str
    area_id: int
    limit_minutes: int
    next_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HostRuns(Record):
    """What worked on a host since a time, or works there, the latest begun first."""

    id: int
    routine: str
    robot: str
    state: RunState
    started_at: datetime
    ended_at: datetime | None


GIVES: dict[str, type[Record]] = {
    "groups.one": RunGroup,
    "groups.runs": GroupRun,
    "triggers.of_routine": TriggersOfRoutine,
    "triggers.one": TriggersOfRoutine,
    "triggers.due": TriggersDue,
    "triggers.lock": DueTrigger,
    "triggers.history": TriggerStart,
    "triggers.coming": TriggersComing,
    "triggers.ended": TriggersEnded,
    "triggers.within": ComingTrigger,
    "triggers.runs_of_host": HostRuns,
}
