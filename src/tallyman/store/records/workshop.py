"""Records of the room `workshop`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.ideas.words import Building, Stage
from tallyman.core.runs.words import Attended, Outcome, RunState
from tallyman.core.workshop.words import Basis, Origin, PartState, RolloutHow, RolloutState, Said, SeenBy
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ReleaseToApprove(Record):
    """Releases that are set up where a second person's yes is asked for, and wait for one of …"""

    id: int
    package: str
    version: str
    person: str
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ReleaseRow(Record):
    """All releases, the newest first, with the routines that use each."""

    JSON: ClassVar[tuple[int, ...]] = (6,)
    id: int
    package: str
    version: str
    about: str
    note: str
    entry: str
    tags: list[str]
    size: int
    at: datetime
    withdrawn_at: datetime | None
    person: str
    seen_by: SeenBy
    area: str | None
    routines: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ReleaseWhole(Record):
    """One release, whole."""

    JSON: ClassVar[tuple[int, ...]] = (6, 7, 8, 9, 16, 17, 18)
    BOOLS: ClassVar[tuple[int, ...]] = (15,)
    id: int
    package: str
    version: str
    about: str
    note: str
    entry: str
    inputs: Any
    outputs: Any
    tags: list[str]
    files: Any
    digest: str
    size: int
    at: datetime
    withdrawn_at: datetime | None
    withdrawn_why: str
    checkpoints: bool
    wheels: Any
    secrets: Any
    counts: Any
    says: Said
    origin: Origin
    seen_by: SeenBy
    area_id: int | None
    area: str | None
    signature: str | None
    public_half: str | None
    key_name: str | None
    person_id: int
    person: str
    approved_at: datetime | None
    approval_note: str | None
    approved_by: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Version(Record):
    """The versions of a package, the newest first."""

    id: int
    version: str
    seen_by: SeenBy


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PackagesNumbers(Record):
    """The numbers of a package's releases, withdrawn ones too; a try-out has none."""

    id: int
    version: str
    digest: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PackagesUnseen(Record):
    """The releases that somebody does not see: try-outs of others, and those of areas that are none …"""

    id: int
    package: str
    seen_by: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutineUsing(Record):
    """The routines in use of a release that lie in no area of some."""

    id: int
    name: str
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PackagesWheelsByDigest(Record):
    """Which of some wheels are kept."""

    digest: str
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class WheelRow(Record):
    """All wheels, by name."""

    digest: str
    name: str
    size: int
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PackagesLockRelease(Record):
    """A release's row, locked."""

    id: int
    retired_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutineRelease(Record):
    """The releases a routine has had, the first one first."""

    id: int
    release_id: int
    version: str
    since: datetime
    person: str | None
    why: str
    rollout_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RolloutsLock(Record):
    """A roll-out's row, locked."""

    id: int
    release_id: int
    state: RolloutState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Rollout(Record):
    """A roll-out, with its release and what goes first."""

    JSON: ClassVar[tuple[int, ...]] = (18,)
    id: int
    release_id: int
    how: RolloutHow
    why: str
    first_robot: int | None
    first_area: int | None
    good_wanted: int
    bad_allowed: int
    state: RolloutState
    person_id: int
    made_at: datetime
    ended_at: datetime | None
    ended_by: int | None
    ended_words: str
    package: str
    version: str
    withdrawn_at: datetime | None
    withdrawn_why: str
    schema: Any
    person: str
    robot: str | None
    robot_retired_at: datetime | None
    area: str | None
    ended_by_name: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RolloutPart(Record):
    """The routines of a roll-out, those that go first before the others."""

    JSON: ClassVar[tuple[int, ...]] = (8, 9, 18)
    BOOLS: ClassVar[tuple[int, ...]] = (4, 10)
    id: int
    rollout_id: int
    routine_id: int
    open_routine: int | None
    goes_first: bool
    state: PartState
    words: str
    old_release: int
    old_inputs: Any
    new_inputs: Any
    was_on_trial: bool
    changed_at: datetime | None
    routine: str
    area_id: int
    area: str
    release_id: int
    retired_at: datetime | None
    old_version: str
    old_schema: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RolloutsTrialRuns(Record):
    """How runs of the new release ended in the routines that go first, since a roll-out began."""

    routine_id: int
    state: RunState
    runs: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RolloutsWaitingOf(Record):
    """Runs of a routine with one release that nothing began yet."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    id: int
    inputs: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TriedOn(Record):
    """The roll-out that begins with one robot and changes the routine of a run that nothing began yet."""

    JSON: ClassVar[tuple[int, ...]] = (6, 7)
    id: int
    first_robot: int | None
    release_id: int
    part_id: int
    old_release: int
    had: int
    inputs: Any
    schema: Any
    withdrawn_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RolloutRow(Record):
    """The last 100 roll-outs, those under way before the others."""

    id: int
    how: RolloutHow
    state: RolloutState
    made_at: datetime
    ended_at: datetime | None
    package: str
    version: str
    release_id: int
    person: str
    routines: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class EndedRun(Record):
    """The runs of a routine that began since a day and ended, each with how and when."""

    id: int
    state: RunState
    ended_at: datetime | None
    release_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Routine(Record):
    """One routine with its release, area and counting point."""

    JSON: ClassVar[tuple[int, ...]] = (4, 5, 19, 28, 29, 30)
    BOOLS: ClassVar[tuple[int, ...]] = (10, 11, 24, 32, 35)
    id: int
    name: str
    area_id: int
    release_id: int
    inputs: Any
    tags: list[str]
    priority: int
    run_limit: int
    lease_minutes: int
    limit_minutes: int
    again_after_lost: bool
    on_trial: bool
    live_at: datetime | None
    retired_at: datetime | None
    version: int
    made_by: int
    made_at: datetime
    memory_mb: int
    most_attempts: int
    asked: Any
    trial_of: int | None
    attended: Attended
    attended_for: int | None
    tryout_of: int | None
    aside: bool | None
    area: str
    package: str
    release_version: str
    schema: Any
    release_tags: list[str]
    release_secrets: Any
    attended_by: str | None
    checkpoints: bool
    withdrawn_at: datetime | None
    withdrawn_why: str
    unapproved: bool
    idea_id: int | None
    basis: Basis | None
    count_name: str | None
    idea: str | None
    idea_stage: Stage | None
    idea_building: Building | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesRoutines(Record):
    """All routines in use with the last run of each."""

    BOOLS: ClassVar[tuple[int, ...]] = (2,)
    id: int
    name: str
    on_trial: bool
    priority: int
    area_id: int
    area: str
    package: str
    release_version: str
    idea_id: int | None
    idea: str | None
    last_run: int | None
    next_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesLastStates(Record):
    """The state of some runs."""

    id: int
    state: RunState
    outcome: Outcome | None
    ended_at: datetime | None
    made_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesLock(Record):
    """A routine's row, locked."""

    BOOLS: ClassVar[tuple[int, ...]] = (1,)
    id: int
    on_trial: bool
    live_at: datetime | None
    retired_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesCountingOfIdea(Record):
    """Which routine counts for an idea."""

    routine_id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeaName(Record):
    """Ideas being built, what ran before it was registered, and what a retired routine counted for, …"""

    id: int
    title: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesLocksOf(Record):
    """The locks a routine takes, and which run holds each now."""

    id: int
    name: str
    held_by: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesLocksOfMany(Record):
    """The locks that some routines take, and which run holds each now."""

    routine_id: int
    name: str
    held_by: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class LockHeld(Record):
    """Which run holds each of some named locks now."""

    name: str
    held_by: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesLocks(Record):
    """All named locks."""

    id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesReadyToGoLive(Record):
    """Routines on trial that count for an idea."""

    id: int
    name: str
    idea_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesCountedLast(Record):
    """The routine that counted for an idea last, and until when; the one that counts now has no end."""

    routine_id: int
    name: str
    ended_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesOpenRuns(Record):
    """Runs of a routine that wait, work or are held; the first 20, and one more that tells that …"""

    id: int
    state: RunState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RoutinesAsking(Record):
    """What each routine in use asks of a robot; not those that work on people's own computers."""

    JSON: ClassVar[tuple[int, ...]] = (3, 4, 5)
    id: int
    name: str
    area_id: int
    tags: list[str]
    release_tags: list[str]
    asked: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class RetiredRoutine(Record):
    """Routines that are out of use, the latest first."""

    id: int
    name: str
    retired_at: datetime
    area: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TryoutRun(Record):
    """The last twenty try-outs of a release."""

    JSON: ClassVar[tuple[int, ...]] = (9,)
    id: int
    state: RunState
    outcome: Outcome | None
    reason: str
    made_at: datetime
    started_at: datetime | None
    ended_at: datetime | None
    area: str
    robot: str | None
    inputs: Any


GIVES: dict[str, type[Record]] = {
    "approvals.waiting": ReleaseToApprove,
    "packages.releases": ReleaseRow,
    "packages.release": ReleaseWhole,
    "packages.versions": Version,
    "packages.numbers": PackagesNumbers,
    "packages.unseen": PackagesUnseen,
    "packages.set_up_outside": RoutineUsing,
    "packages.wheels_by_digest": PackagesWheelsByDigest,
    "packages.wheels": WheelRow,
    "packages.lock_release": PackagesLockRelease,
    "rollouts.releases_of": RoutineRelease,
    "rollouts.lock": RolloutsLock,
    "rollouts.one": Rollout,
    "rollouts.parts": RolloutPart,
    "rollouts.trial_runs": RolloutsTrialRuns,
    "rollouts.waiting_of": RolloutsWaitingOf,
    "rollouts.tried_on": TriedOn,
    "rollouts.listed": RolloutRow,
    "rollouts.ended_since": EndedRun,
    "routines.routine": Routine,
    "routines.routines": RoutinesRoutines,
    "routines.last_states": RoutinesLastStates,
    "routines.lock": RoutinesLock,
    "routines.counting_of_idea": RoutinesCountingOfIdea,
    "routines.ideas_to_count": IdeaName,
    "routines.locks_of": RoutinesLocksOf,
    "routines.locks_of_many": RoutinesLocksOfMany,
    "routines.locks_held": LockHeld,
    "routines.locks": RoutinesLocks,
    "routines.ready_to_go_live": RoutinesReadyToGoLive,
    "routines.counted_last": RoutinesCountedLast,
    "routines.using_release": RoutineUsing,
    "routines.open_runs": RoutinesOpenRuns,
    "routines.asking": RoutinesAsking,
    "routines.retired": RetiredRoutine,
    "tryouts.routine_of": RoutineUsing,
    "tryouts.last": TryoutRun,
}
