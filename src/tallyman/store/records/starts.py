"""Records of the room `starts`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.runs.words import Outcome, RunState
from tallyman.core.starts.words import Became, CallBackState, CallOutcome, Missed, OnClosed, TriggerKind
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class StartAddress(Record):
    """The address of a routine, with whoever gave it."""

    JSON: ClassVar[tuple[int, ...]] = (5,)
    routine_id: int
    token_digest: str
    token_end: str
    old_digest: str | None
    old_until: datetime | None
    networks: Any
    a_minute: int
    made_by: int
    made_at: datetime
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AddressLocked(Record):
    """The row of a routine's address, locked."""

    routine_id: int
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class StartCall(Record):
    """The calls of an address before one, the latest first; so many."""

    id: int
    at: datetime
    came_from: str
    outcome: CallOutcome
    why: str
    run_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CalledRun(Record):
    """A run that a routine's address started, as its caller is told of it."""

    JSON: ClassVar[tuple[int, ...]] = (7,)
    id: int
    state: RunState
    outcome: Outcome | None
    reason: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    outputs: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CallBackDue(Record):
    """Runs that ended and whose end is still to be told, fifty at once; none that is being told, or …"""

    JSON: ClassVar[tuple[int, ...]] = (10,)
    id: int
    address: str
    claimed_at: datetime | None
    routine_id: int
    state: RunState
    outcome: Outcome | None
    reason: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    outputs: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunCallBack(Record):
    """Where the end of a run is told, and what came of it."""

    address: str
    state: CallBackState
    words: str
    sent_at: datetime | None


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
    "called.address": StartAddress,
    "called.lock_address": AddressLocked,
    "called.calls": StartCall,
    "called.called_run": CalledRun,
    "called.call_backs_due": CallBackDue,
    "called.call_back_of": RunCallBack,
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
