"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.core.free import FreeObject
from tallyman.core.runs import Asked, Attended, Need
from tallyman.core.workshop.side_by_side import State
from tallyman.core.workshop.words import Origin, PartState, RolloutHow, RolloutState, Said, SeenBy, Weight
from tallyman.services.house import AreaBelow
from tallyman.store.records.workshop import IdeaName as IdeaName
from tallyman.store.records.workshop import ReleaseRow as ReleaseRow
from tallyman.store.records.workshop import RetiredRoutine as RetiredRoutine
from tallyman.store.records.workshop import RolloutRow as RolloutRow
from tallyman.store.records.workshop import RoutineRelease as RoutineRelease
from tallyman.store.records.workshop import Version as Version
from tallyman.store.records.workshop import WheelRow as WheelRow


@dataclass(frozen=True, slots=True)
class WheelName:
    """A wheel that a release needs."""

    name: str
    digest: str


@dataclass(frozen=True, slots=True)
class Release:
    """A release with its schemas and files."""

    id: int
    package: str
    version: str
    about: str
    note: str
    entry: str
    inputs: FreeObject
    outputs: FreeObject
    tags: list[str]
    files: list[tuple[str, int]]
    digest: str
    size: int
    at: datetime
    person: str
    withdrawn_at: datetime | None
    withdrawn_why: str
    may_withdraw: bool
    checkpoints: bool
    secrets: list[str] | None
    counts: list[str]
    says: Said
    origin: Origin
    signed_by: str | None
    wheels: list[WheelName] | None
    versions: list[Version]
    seen_by: SeenBy
    area: str | None
    # Whether the reader released it, may try it out, and may change who sees it.
    mine: bool
    tries: bool
    may_move: bool


@dataclass(frozen=True, slots=True)
class UnseenReleases:
    """How many releases the reader does not see: try-outs of others, and those of other areas."""

    tryouts: int
    areas: int


@dataclass(frozen=True, slots=True)
class ReleaseMove:
    """What comes of others seeing a release: who sees it then, who no longer does, what is against it; and of
    a try-out, which number it may get."""

    gains: list[str]
    loses: list[str]
    against: list[str]
    look: ReleaseLook | None


@dataclass(frozen=True, slots=True)
class ChangeLine:
    """One difference of two releases: how heavy it is, what it is about, and what is different."""

    weight: Weight
    kind: str
    name: str
    words: str


@dataclass(frozen=True, slots=True)
class NextNumber:
    """The number that says so much changes, and whether it says enough."""

    says: Weight
    number: str
    enough: bool


@dataclass(frozen=True, slots=True)
class ReleaseLook:
    """What a package would be as a release.

    `number`, `said`: the number of its package.toml, and what that says; without one, `numbers` are those it
    may get. `against`: why its number is refused.
    """

    package: str
    about: str
    before: str | None
    before_id: int | None
    found: Weight | None
    changes: list[ChangeLine]
    numbers: list[NextNumber]
    number: str | None
    said: Weight | None
    against: list[str]


@dataclass(frozen=True, slots=True)
class Differences:
    """What is different since another release; nothing of all where there is none before it."""

    before: str | None
    before_id: int | None
    found: Weight | None
    changes: list[ChangeLine]


@dataclass(frozen=True, slots=True)
class SideRow:
    """One row of two texts side by side; of a row `left out`, `left` says how many lines are the same."""

    state: State
    left_number: int | None
    left: str
    right_number: int | None
    right: str


@dataclass(frozen=True, slots=True)
class FileSides:
    """A file of two releases side by side."""

    name: str
    before: str
    after: str
    rows: list[SideRow]


@dataclass(frozen=True, slots=True)
class Approval:
    """A second person's yes to a release: who gave it, or whether the reader may, and what is against that.

    `areas`: where it is set up and asked for. `new_secrets`: those that the release before did not ask for.
    """

    approved_at: datetime | None
    approved_by: str | None
    note: str
    areas: list[str]
    new_secrets: list[str]
    may: bool
    against: str


@dataclass(frozen=True, slots=True)
class WheelKept:
    """The SHA-256 by which a requirements.txt names the wheel."""

    digest: str


@dataclass(frozen=True, slots=True)
class RoutineRow:
    """A routine in the list."""

    id: int
    name: str
    on_trial: bool
    area: str
    package: str
    release_version: str
    idea_id: int | None
    idea: str | None
    last_run: int | None
    last_state: str | None
    last_at: datetime | None
    next_at: datetime | None


@dataclass(frozen=True, slots=True)
class RoutineMay:
    """What the signed-in person may do with the routine."""

    change: bool
    start: bool
    decide: bool
    retire: bool


@dataclass(frozen=True, slots=True)
class Choices:
    """What a new routine can be made of."""

    areas: list[AreaBelow]
    ideas: list[IdeaName]
    locks: list[str]


@dataclass(frozen=True, slots=True)
class Takers:
    """How many of all robots could take a routine, and the working with those that the reader may see.

    `systems`, `applications`, `tags`: what may be asked for, as hosts report it and robots have it.
    `pre_check`: what a start of it would need this moment, where the reader may see its area.
    """

    able: int
    robots: int
    unseen: int
    working: FreeObject
    systems: list[str]
    applications: list[str]
    tags: list[str]
    pre_check: list[Need]


@dataclass(frozen=True, slots=True)
class Lying:
    """A routine or a robot, where it lies, and whether the reader may move it to the area looked at."""

    what: str
    id: int
    name: str
    lies_in: str
    is_here: bool
    may_move: bool


@dataclass(frozen=True, slots=True)
class Found:
    """The first routines and robots of a name, and how many more there are."""

    rows: list[Lying]
    more: int


@dataclass(frozen=True, slots=True)
class InputFile:
    """A file given as an input; `value` goes into the routine's inputs."""

    value: str
    name: str
    size: int


@dataclass(frozen=True, slots=True)
class RoutineParts:
    """A routine with what it needs to start and to go live."""

    id: int
    name: str
    area: str
    area_id: int
    release_id: int
    package: str
    release_version: str
    input_schema: FreeObject
    release_tags: list[str]
    inputs: FreeObject
    tags: list[str]
    priority: int
    run_limit: int
    lease_minutes: int
    limit_minutes: int
    again_after_lost: bool
    most_attempts: int
    memory_mb: int
    asked: Asked
    attended: Attended
    attended_for: int | None
    attended_by: str | None
    locks: list[str]
    checkpoints: bool
    on_trial: bool
    live_at: datetime | None
    retired_at: datetime | None
    idea_id: int | None
    idea: str | None
    basis: str | None
    count_name: str | None
    version: int
    pre_check: list[Need]
    live_needs: list[Need]
    ideas: list[IdeaName]
    versions: list[Version]
    may: RoutineMay


@dataclass(frozen=True, slots=True)
class CouldTake:
    """A routine that could take a release: what differs for it, what its start would need then, and what is
    against it; `waiting` runs keep the release that they were made with; `rollout` changes it now."""

    id: int
    name: str
    area: str
    area_id: int
    on_trial: bool
    release_id: int
    release_version: str
    changes: list[ChangeLine]
    inputs: FreeObject
    needs: list[Need]
    against: list[str]
    waiting: int
    rollout: int | None


@dataclass(frozen=True, slots=True)
class CouldRollOut:
    """Where a release could take another's place, and which robots could try it first.

    `unseen`: so many more routines of the package lie where the reader may change nothing.
    """

    name: str
    input_schema: FreeObject
    rows: list[CouldTake]
    robots: list[RobotName]
    unseen: int


@dataclass(frozen=True, slots=True)
class RobotName:
    """A robot and its host."""

    id: int
    name: str
    host: str


@dataclass(frozen=True, slots=True)
class RollingPart:
    """One routine of a roll-out, what became of it, and how runs did of the release it goes first with."""

    routine_id: int
    routine: str
    area: str
    goes_first: bool
    state: PartState
    words: str
    old_release: int
    old_version: str
    changed_at: datetime | None
    good: int
    bad: int


@dataclass(frozen=True, slots=True)
class RollingOut:
    """A roll-out as its page shows it. `first`: what goes first, in words; `said`: how the first do, counted.

    `still`: how many routines have the release through it; going back is for them. `against`: why the
    reader may neither go on nor back.
    """

    id: int
    release_id: int
    package: str
    version: str
    how: RolloutHow
    state: RolloutState
    why: str
    person: str
    made_at: datetime
    first: str
    good_wanted: int
    bad_allowed: int
    good: int
    bad: int
    said: str
    ended_at: datetime | None
    ended_by: str | None
    ended_words: str
    parts: list[RollingPart]
    unseen: int
    still: int
    may: bool
    against: str


@dataclass(frozen=True, slots=True)
class DayOfRuns:
    """How the runs of a routine ended on one day."""

    day: date
    done: int
    failed: int
    other: int


@dataclass(frozen=True, slots=True)
class RoutineOverTime:
    """How a routine's runs ended day by day, and since when it has had which release."""

    since: date
    days: list[DayOfRuns]
    releases: list[RoutineRelease]
    rollout: int | None
