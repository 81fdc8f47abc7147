"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from typing_extensions import TypedDict

from tallyman.core.free import FreeObject
from tallyman.core.runs import Need, Outcome, RunState
from tallyman.core.working import Part
from tallyman.services.answers import AreaName
from tallyman.services.selfservice import RoutinePublished
from tallyman.services.workshop import RoutineParts
from tallyman.store.records.starts import GroupRun as GroupRun
from tallyman.store.records.starts import StartCall as StartCall
from tallyman.store.records.starts import TriggerStart as TriggerStart
from tallyman.store.records.workshop import TryoutRun as TryoutRun

# Wall times within which starts are allowed: from ≤ t < to.
WindowOut = TypedDict("WindowOut", {"from": str, "to": str})


@dataclass(frozen=True, slots=True)
class NextTime:
    """One of the next times: the instant, what the wall of its zone shows then, how far that is from UTC,
    and what moved it or tells it apart."""

    at: datetime
    wall: str
    offset: str
    note: str


@dataclass(frozen=True, slots=True)
class Trigger:
    """A start on the clock: its sentence and next times."""

    id: int
    form: FreeObject
    zone: str
    on_closed: str
    window: WindowOut | None
    missed: str
    missed_hours: int
    latest_minutes: int | None
    sentence: str
    times: list[NextTime]
    version: int


@dataclass(frozen=True, slots=True)
class EndedTrigger:
    """A start that ended: its sentence, when it ended, how many runs it started, and the last of them."""

    id: int
    sentence: str
    ended_at: datetime
    started: int
    last_at: datetime | None


@dataclass(frozen=True, slots=True)
class Preview:
    """The sentence of a form, its next five times, and the form as it will be kept; `closed_days_of` is the
    area whose closed days count, empty where the company's do."""

    sentence: str
    times: list[NextTime]
    kept: FreeObject
    closed_days_of: str


@dataclass(frozen=True, slots=True)
class TriggerHistory:
    """What a trigger started, merged, skipped or missed, the latest first."""

    rows: list[TriggerStart]
    next: int | None


@dataclass(frozen=True, slots=True)
class Routine(RoutineParts):
    """A routine with what it needs to start and to go live, and what starts it."""

    triggers: list[Trigger]
    ended: list[EndedTrigger]
    published: RoutinePublished | None


@dataclass(frozen=True, slots=True)
class SeatWait:
    """A coming start that finds no seat at once, and for how many minutes."""

    name: str
    at: datetime
    minutes: str


@dataclass(frozen=True, slots=True)
class SeatsComing:
    """What the starts on the clock until a time mean for the seats of all hosts.

    `wanted`: how many runs there would be at once, were nothing in their way; `waits`: the first of those
    that would find no seat; `unread`: triggers that cannot be read; `lengths`: how long each routine's runs
    are taken to last; `left_out`: how many starts beyond the most that are looked at.
    """

    until: datetime
    starts: int
    left_out: int
    seats: int
    wanted: int
    wanted_at: datetime | None
    wanted_working: FreeObject | None
    unread: int
    waits: list[SeatWait]
    waiting: int
    waiting_one_more: int
    spared_working: FreeObject
    lengths: list[Part]


@dataclass(frozen=True, slots=True)
class HostPast:
    """A run that worked, or works, on a host: since when, and until when there."""

    run_id: int
    routine: str
    robot: str
    state: RunState
    started_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True, slots=True)
class HostComing:
    """A routine's next start on the clock that robots of a host may take; `robots`: which of them."""

    routine_id: int
    routine: str
    at: datetime
    robots: list[str]


@dataclass(frozen=True, slots=True)
class HostWork:
    """What a host did in the last week, the latest first, and what comes within a day that it may take.

    `past_more`: there were more runs; `more`: how many more starts come; `unseen`: how many that the reader
    may not see.
    """

    past: list[HostPast]
    past_more: bool
    coming: list[HostComing]
    more: int
    unseen: int
    now: datetime


@dataclass(frozen=True, slots=True)
class RobotThere:
    """A robot that may work in an area, to be chosen for a start there."""

    id: int
    name: str
    host: str


@dataclass(frozen=True, slots=True)
class TryoutView:
    """Where a release can be tried out, on which robots of the area, what that needs, and what was tried."""

    areas: list[AreaName]
    area_id: int | None
    robots: list[RobotThere]
    pre_check: list[Need]
    last: list[TryoutRun]


@dataclass(frozen=True, slots=True)
class StartLook:
    """What a start would need this moment as it is chosen, and the robots to choose among; none where
    people's own computers take it."""

    robots: list[RobotThere]
    pre_check: list[Need]


@dataclass(frozen=True, slots=True)
class Started:
    """The run that was started, or the group of several; and how many they are."""

    run: int | None
    group: int | None
    count: int


@dataclass(frozen=True, slots=True)
class CancelledRuns:
    """How many runs of a group were cancelled."""

    count: int


@dataclass(frozen=True, slots=True)
class RefusedRow:
    """A row of a table that started nothing, and why."""

    line: int
    faults: list[str]


@dataclass(frozen=True, slots=True)
class GroupView:
    """Runs that were started together: how they stand, and the rows that were refused."""

    id: int
    routine_id: int
    routine: str
    area: str
    words: str
    made_at: datetime
    person: str | None
    runs: list[GroupRun]
    counts: dict[str, int]
    refused: list[RefusedRow]
    waiting: int
    may_cancel: bool
    now: datetime


@dataclass(frozen=True, slots=True)
class RunTold:
    """A run as whoever started it by its routine's address is told of it."""

    run: int
    state: RunState
    outcome: Outcome | None
    reason: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    outputs: FreeObject


@dataclass(frozen=True, slots=True)
class Called:
    """What a call started; `repeated`: the same key started it before."""

    run: int
    repeated: bool
    told: RunTold


@dataclass(frozen=True, slots=True)
class RoutineAddress:
    """A routine's address but for its token, of which the last characters tell it apart; the one of before
    works until `old_until`."""

    routine_id: int
    networks: list[str]
    a_minute: int
    token_end: str
    old_until: datetime | None
    person: str
    made_at: datetime
    version: int


@dataclass(frozen=True, slots=True)
class AddressGiven:
    """The token of an address, shown once."""

    token: str


@dataclass(frozen=True, slots=True)
class CallsPage:
    """Calls of an address, the latest first; `next`: those before this one."""

    rows: list[StartCall]
    next: int | None
