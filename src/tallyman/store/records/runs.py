"""Records of the room `runs`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.runs.words import Attended, Outcome, RunState, SlotKind
from tallyman.core.workshop.words import Basis
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AttendedToAsk(Record):
    """Runs whose person is to be asked now, and was not; the first 100."""

    id: int
    for_person: int | None
    routine: str
    area_id: int
    lapses_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunFor(Record):
    """What waits, works or is held for a person, the first due first."""

    JSON: ClassVar[tuple[int, ...]] = (11, 21)
    BOOLS: ClassVar[tuple[int, ...]] = (12,)
    id: int
    state: RunState
    attended: Attended
    started_words: str
    made_at: datetime
    due_at: datetime
    lapses_at: datetime | None
    agreed_at: datetime | None
    started_at: datetime | None
    ended_at: datetime | None
    reason: str
    inputs: Any
    trial: bool
    cancel_at: datetime | None
    routine_id: int
    routine: str
    area_id: int
    area: str
    package: str
    release_version: str
    about: str
    schema: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AttendedAsking(Record):
    """Runs that wait for a person's answer now; the first 20."""

    id: int
    routine: str
    lapses_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunFile(Record):
    """The files that a run handed over, by name."""

    id: int
    name: str
    size: int
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HandedFile(Record):
    """A file that a run handed over."""

    name: str
    digest: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Run(Record):
    """One run with names."""

    JSON: ClassVar[tuple[int, ...]] = (21, 22, 23, 40, 51)
    BOOLS: ClassVar[tuple[int, ...]] = (8, 37, 64)
    id: int
    routine_id: int
    release_id: int
    trigger_id: int | None
    nominal_at: datetime | None
    started_by: int | None
    started_words: str
    again_of: int | None
    trial: bool
    due_at: datetime
    order_at: datetime
    lapses_at: datetime | None
    state: RunState
    outcome: Outcome | None
    reason: str
    robot_id: int | None
    host_id: int | None
    fence: int
    lease_until: datetime | None
    cancel_at: datetime | None
    cancel_by: int | None
    inputs: Any
    outputs: Any
    counts: Any
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    changed_at: datetime
    segment: int
    pause_at: datetime | None
    pause_by: int | None
    held_at: datetime | None
    saved_digest: str | None
    saved_at: datetime | None
    window_from: str | None
    window_to: str | None
    window_zone: str | None
    open_days: bool
    handed_until: datetime | None
    attempt: int
    late: Any
    late_at: datetime | None
    attended: Attended
    for_person: int | None
    asked_at: datetime | None
    agreed_at: datetime | None
    stalled_at: datetime | None
    longest_quiet_s: int | None
    only_robot: int | None
    group_id: int | None
    group_line: int | None
    progress: Any
    routine: str
    area_id: int
    limit_minutes: int
    trial_of: int | None
    tryout_of: int | None
    area: str
    package: str
    release_version: str
    robot: str | None
    host: str | None
    canceller: str | None
    tried_again_as: int | None
    checkpoints: bool
    pauser: str | None
    heard_at: datetime | None
    meant_for: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class LockedRun(Record):
    """A run's row, locked."""

    JSON: ClassVar[tuple[int, ...]] = (10,)
    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    routine_id: int
    release_id: int
    state: RunState
    fence: int
    host_id: int | None
    robot_id: int | None
    trial: bool
    cancel_at: datetime | None
    pause_at: datetime | None
    inputs: Any
    started_at: datetime | None
    due_at: datetime
    lease_until: datetime | None
    segment: int
    saved_digest: str | None
    handed_until: datetime | None
    ended_at: datetime | None
    attempt: int
    for_person: int | None
    lapses_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsWaitingRoutines(Record):
    """What the routines that have waiting runs ask of a robot; few, however many runs wait."""

    JSON: ClassVar[tuple[int, ...]] = (4, 5, 6)
    routine_id: int
    area_id: int
    area: str
    run_limit: int
    tags: list[str]
    release_tags: list[str]
    asked: Any
    trial_of: int | None
    tryout_of: int | None
    made_by: int
    attended: Attended
    active: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsWaitingFirst(Record):
    """Due waiting runs of some routines, after a place in the order in which they start; none that …"""

    BOOLS: ClassVar[tuple[int, ...]] = (7, 11)
    id: int
    routine_id: int
    due_at: datetime
    order_at: datetime
    window_from: str | None
    window_to: str | None
    window_zone: str | None
    open_days: bool
    for_person: int | None
    agreed_at: datetime | None
    only_robot: int | None
    failed_before: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class WantedRun(Record):
    """What some waiting runs ask of a robot."""

    JSON: ClassVar[tuple[int, ...]] = (18, 19, 20)
    BOOLS: ClassVar[tuple[int, ...]] = (6, 28)
    id: int
    routine_id: int
    due_at: datetime
    window_from: str | None
    window_to: str | None
    window_zone: str | None
    open_days: bool
    area_id: int
    area: str
    run_limit: int
    handed_until: datetime | None
    release_id: int
    robot: str | None
    host: str | None
    for_person: int | None
    agreed_at: datetime | None
    person: str | None
    only_robot: int | None
    tags: list[str]
    release_tags: list[str]
    asked: Any
    trial_of: int | None
    tryout_of: int | None
    made_by: int
    package: str
    release_version: str
    withdrawn_at: datetime | None
    withdrawn_why: str
    unapproved: bool
    active: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsHandedTooLong(Record):
    """Claims that no runner began in time; a hundred at once."""

    id: int
    fence: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsAsked(Record):
    """The run a host was given for an ask whose answer may not have arrived, if it still works on it."""

    run_id: int
    robot_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsDueByRoutine(Record):
    """How many runs of each routine wait whose time has come."""

    routine_id: int
    runs: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsSegments(Record):
    """The segments of a run."""

    n: int
    fence: int
    robot: str
    host: str
    host_id: int
    started_at: datetime
    ended_at: datetime | None
    ended_as: RunState | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsToldOf(Record):
    """What a telling under a fencing number is held against: whose segment, the package's secrets, …"""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    host_id: int | None
    ended_at: datetime | None
    secrets: Any
    lines_so_far: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsFilesOfHost(Record):
    """What a host may fetch: packages, saved states and inputs of the runs it works on."""

    JSON: ClassVar[tuple[int, ...]] = (1, 3, 4)
    digest: str
    wheels: Any
    saved_digest: str | None
    inputs: Any
    schema: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsOfHost(Record):
    """What a host is working on."""

    id: int
    fence: int
    cancel_at: datetime | None
    pause_at: datetime | None
    lease_until: datetime | None
    routine_id: int
    stalled_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsLate(Record):
    """A lost run's late outcome, locked."""

    JSON: ClassVar[tuple[int, ...]] = (5,)
    id: int
    routine_id: int
    release_id: int
    state: RunState
    fence: int
    late: Any
    late_at: datetime | None
    ended_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsLateOpen(Record):
    """Outcomes that came late and wait for a person."""

    id: int
    routine: str
    late_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsReports(Record):
    """The batches of a run that hold the lines after a number, up to another; with how many lines …"""

    lines_packed: bytes
    lines_before: Decimal | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Step(Record):
    """The steps of a run."""

    JSON: ClassVar[tuple[int, ...]] = (5, 6)
    n: int
    name: str
    started_at: datetime
    ended_at: datetime | None
    fault: str | None
    data_in: Any
    data_out: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCurrentSteps(Record):
    """The last step of some runs."""

    run_id: int
    n: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCountsByState(Record):
    """How many runs are open now."""

    state: RunState
    runs: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsWentWrong(Record):
    """Runs that ended badly since a time, the latest first."""

    id: int
    routine: str
    state: RunState
    reason: str
    ended_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsForPosting(Record):
    """What of an ended run is reckoned."""

    JSON: ClassVar[tuple[int, ...]] = (6, 13)
    BOOLS: ClassVar[tuple[int, ...]] = (4,)
    id: int
    routine_id: int
    state: RunState
    outcome: Outcome | None
    trial: bool
    attended: Attended
    counts: Any
    started_at: datetime | None
    ended_at: datetime | None
    area_id: int
    idea_id: int | None
    basis: Basis | None
    count_name: str | None
    input: Any
    fixed_units: Decimal | None
    fixed_back: Decimal | None
    fixed_why: str | None
    fixed_by: int | None
    worked_micros: Decimal
    segments: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckSlots(Record):
    """Places held by runs that do not run; the first 20."""

    kind: SlotKind
    owner_id: int
    n: int
    run_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckHanded(Record):
    """Claims that are handed out but do not wait; the first 20."""

    id: int
    state: RunState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckRunning(Record):
    """Running runs that lack a place: a robot, a seat, or their routine's limit; the first 20."""

    id: int
    places: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckLocks(Record):
    """Running runs that do not hold a lock their routine takes; the first 20."""

    id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckStuck(Record):
    """Runs that nobody works on any more: their lease ended long ago; the first 20."""

    id: int
    lease_until: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunsCheckStarts(Record):
    """Starts that are noted with a run that is not theirs; the first 20."""

    id: int
    run_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RunScreen(Record):
    """The picture of a run's screen when it stalled last."""

    at: datetime
    digest: str | None
    said: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class StallingNow(Record):
    """Runs that are stalled now, the first 20."""

    id: int
    routine: str
    stalled_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UploadsLock(Record):
    """An upload, locked."""

    digest: str
    size: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ListRuns(Record):
    """Runs in a list."""

    BOOLS: ClassVar[tuple[int, ...]] = (7,)
    id: int
    routine_id: int
    routine: str
    area: str
    state: RunState
    outcome: Outcome | None
    reason: str
    trial: bool
    started_words: str
    due_at: datetime
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    robot_id: int | None
    robot: str | None
    cancel_at: datetime | None
    again_of: int | None
    changed_at: datetime


GIVES: dict[str, type[Record]] = {
    "attended.to_ask": AttendedToAsk,
    "attended.open_of": RunFor,
    "attended.ended_of": RunFor,
    "attended.asking": AttendedAsking,
    "handed.of_run": RunFile,
    "handed.one": HandedFile,
    "runs.one": Run,
    "runs.lock": LockedRun,
    "runs.waiting_routines": RunsWaitingRoutines,
    "runs.waiting_first": RunsWaitingFirst,
    "runs.wanted": WantedRun,
    "runs.handed_too_long": RunsHandedTooLong,
    "runs.handed_to": RunsHandedTooLong,
    "runs.asked": RunsAsked,
    "runs.due_by_routine": RunsDueByRoutine,
    "runs.segments": RunsSegments,
    "runs.told_of": RunsToldOf,
    "runs.files_of_host": RunsFilesOfHost,
    "runs.of_host": RunsOfHost,
    "runs.late": RunsLate,
    "runs.late_open": RunsLateOpen,
    "runs.reports": RunsReports,
    "runs.steps": Step,
    "runs.current_steps": RunsCurrentSteps,
    "runs.counts_by_state": RunsCountsByState,
    "runs.went_wrong": RunsWentWrong,
    "runs.for_posting": RunsForPosting,
    "runs.check_slots": RunsCheckSlots,
    "runs.check_handed": RunsCheckHanded,
    "runs.check_running": RunsCheckRunning,
    "runs.check_locks": RunsCheckLocks,
    "runs.check_states": RunsCheckHanded,
    "runs.check_segments": RunsCheckHanded,
    "runs.check_stuck": RunsCheckStuck,
    "runs.check_starts": RunsCheckStarts,
    "screens.of_run": RunScreen,
    "stalling.now": StallingNow,
    "uploads.lock": UploadsLock,
    "list.runs": ListRuns,
}
