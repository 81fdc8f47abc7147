"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Literal

from tallyman.core.free import FreeObject
from tallyman.core.runs import Need
from tallyman.core.working import Working
from tallyman.services.tally import Unusual
from tallyman.services.workshop import WheelName
from tallyman.store.records.runs import RunFile as RunFile
from tallyman.store.records.runs import Step as Step
from tallyman.store.records.starts import RunCallBack as RunCallBack


@dataclass(frozen=True, slots=True)
class RunRow:
    """A run in the list, with the reason for its state."""

    id: int
    routine_id: int
    routine: str
    area: str
    state: str
    outcome: str | None
    reason: str
    trial: bool
    started_words: str
    due_at: datetime
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    robot: str | None
    cancel_at: datetime | None
    again_of: int | None


@dataclass(frozen=True, slots=True)
class RunPage:
    """A page of runs, the newest first."""

    rows: list[RunRow]
    next: str | None
    open: dict[str, int]
    now: datetime


@dataclass(frozen=True, slots=True)
class RunEntry:
    """What a run posted to the tally."""

    id: int
    idea_id: int | None
    line: str
    month: str
    units: Decimal
    hours: Decimal
    money: Decimal
    kind: str
    why: str


@dataclass(frozen=True, slots=True)
class Fix:
    """What a person said a run is to be counted as."""

    units: Decimal
    handed_back: Decimal
    why: str
    at: datetime
    person: str


@dataclass(frozen=True, slots=True)
class Late:
    """An outcome that came after a run was given up as lost, and waits for a person."""

    state: str
    reason: str
    outcome: str | None
    counts: dict[str, str]


@dataclass(frozen=True, slots=True)
class RunMay:
    """What the signed-in person may do with the run now."""

    cancel: bool
    pause: bool
    why_no_pause: str
    go_on: bool
    decide_late: bool
    start_again: bool
    say_right: bool
    correct: bool


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of a run on one robot, until it ended or was held."""

    n: int
    robot: str
    host: str
    started_at: datetime
    ended_at: datetime | None
    ended_as: str | None


@dataclass(frozen=True, slots=True)
class Stalled:
    """Since when a run gives no sign, and how many seconds of silence its routine may have."""

    since: datetime
    bound_seconds: int
    working: Working


@dataclass(frozen=True, slots=True)
class ScreenShown:
    """The picture of a run's screen when it stalled: of when, whether there is one, and else why not."""

    at: datetime
    there: bool
    said: str


@dataclass(frozen=True, slots=True)
class RunProgress:
    """How far a run says it is: so much done, of how much if that is known, and words."""

    done: float | None
    of: float | None
    words: str


@dataclass(frozen=True, slots=True)
class RunWhole:
    """One run: state, needs, segments, steps, inputs, outputs and entries."""

    id: int
    routine_id: int
    routine: str
    # Whose run it is, and where that stands.
    of: Literal["routine", "robot", "release"]
    of_link: str
    area: str
    package: str
    release_version: str
    state: str
    outcome: str | None
    reason: str
    trial: bool
    progress: RunProgress | None
    # What it handed over.
    files: list[RunFile]
    # Where its end is told, if whoever called it asked for that, and what came of it.
    call_back: RunCallBack | None
    robot: str | None
    host: str | None
    fence: int
    started_words: str
    # Whose own computer it is for, of an attended run.
    meant_for: str | None
    due_at: datetime
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    lease_until: datetime | None
    cancel_at: datetime | None
    canceller: str | None
    pause_at: datetime | None
    pauser: str | None
    held_at: datetime | None
    saved_at: datetime | None
    segment: int
    segments: list[Segment]
    inputs: FreeObject
    outputs: FreeObject | None
    counts: dict[str, str] | None
    again_of: int | None
    # Started together with others: their group.
    group_id: int | None
    attempt: int
    late: Late | None
    unusual: Unusual | None
    late_at: datetime | None
    tried_again_as: int | None
    limit_minutes: int
    waits_for: str
    needs: list[Need]
    steps: list[Step]
    entries: list[RunEntry]
    caution: str | None
    fix: Fix | None
    usual_seconds: int | None
    stalled: Stalled | None
    # What its screen showed when it stalled last, where its area wants that kept.
    screen: ScreenShown | None
    # Of a running one: since when its host was not heard from.
    silent_since: datetime | None
    may: RunMay
    now: datetime


@dataclass(frozen=True, slots=True)
class LogLine:
    """One line of a run's log."""

    n: int
    at: datetime
    level: str
    text: str


@dataclass(frozen=True, slots=True)
class Log:
    """Lines after the number asked for, and how many there are."""

    lines: list[LogLine]
    total: int


@dataclass(frozen=True, slots=True)
class Cancelled:
    """The state after asking to cancel."""

    state: str


@dataclass(frozen=True, slots=True)
class Connected:
    """The host's name, and the token for the Authorization header."""

    host: str
    token: str


@dataclass(frozen=True, slots=True)
class HeldOut:
    """A run whose lease was renewed."""

    run: int
    fence: int


@dataclass(frozen=True, slots=True)
class HeartbeatAnswer:
    """Renewed leases; runs to end cleanly, to pause, to drop at once; run-as accounts to look at.

    `token`, if there is one, takes the place of the runner's token. `read`: a reading of the host is wanted
    with the next beat, with these applications, each with what it is found by. `prove`: accounts whose
    passwords are to be tried.
    """

    at: datetime
    kept: list[HeldOut]
    cancel: list[int]
    pause: list[int]
    stop: list[int]
    accounts: list[str]
    token: str | None
    read: dict[str, list[str]] | None
    prove: list[str]
    # Runs of whose screen a picture is to be taken.
    screens: list[int]


@dataclass(frozen=True, slots=True)
class Signed:
    """How a package was signed: the public half of the key, and the signature of its digest."""

    public: str
    signature: str


@dataclass(frozen=True, slots=True)
class WorkGiven:
    """A run to execute."""

    run: int
    fence: int
    segment: int
    robot: str
    robot_id: int
    account: str
    package: str
    version: str
    entry: str
    digest: str
    wheels: list[WheelName]
    saved: str | None
    inputs: FreeObject
    input_schema: FreeObject
    limit_seconds: int
    lease_seconds: int
    memory_mb: int
    secrets: list[str]
    signed: Signed | None


@dataclass(frozen=True, slots=True)
class Reported:
    """Whether the run is still this runner's."""

    current: bool


@dataclass(frozen=True, slots=True)
class Uploaded:
    """How many bytes are here."""

    have: int


@dataclass(frozen=True, slots=True)
class Kept:
    """The state that the server keeps."""

    state: str


@dataclass(frozen=True, slots=True)
class SecretValues:
    """The values that the package declares, by name."""

    values: dict[str, str]
    # Those of them that are no secrets, by name.
    named: list[str]
