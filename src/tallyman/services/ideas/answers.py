"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from tallyman.core.free import Free
from tallyman.core.working import Working
from tallyman.services.answers import AreaName, Choice
from tallyman.store.records.ideas import AmendmentRow as AmendmentRow
from tallyman.store.records.ideas import FileRow as FileRow
from tallyman.store.records.ideas import Helper as Helper
from tallyman.store.records.ideas import MergedIn as MergedIn
from tallyman.store.records.ideas import SheetRow as SheetRow
from tallyman.store.records.ideas import StageCount as StageCount
from tallyman.store.records.ideas import SystemRow as SystemRow
from tallyman.store.records.ideas import WayStep as WayStep


@dataclass(frozen=True, slots=True)
class CandidateOut:
    """Typical work: how many a month and minutes each, low and high, and the hours a year they make."""

    key: str
    kind: str
    title: str
    what: str
    touches: list[str]
    a_month: list[int]
    minutes: list[int]
    hours_low: int
    hours_high: int


@dataclass(frozen=True, slots=True)
class CandidatesOut:
    """Typical work to begin with."""

    kinds: list[Choice]
    touches: list[Choice]
    rows: list[CandidateOut]


@dataclass(frozen=True, slots=True)
class EntryQuestion:
    """A question that an entry can answer."""

    key: str
    step: str
    text: str
    help: str
    kind: str
    needed: bool
    choices: list[Choice]


@dataclass(frozen=True, slots=True)
class FileText:
    """The beginning of what stands in a file."""

    text: str
    more: bool


@dataclass(frozen=True, slots=True)
class IdeaRow:
    """An idea in a list."""

    id: int
    title: str
    stage: str
    building: str | None
    stage_since: datetime
    due_on: date | None
    days_late: int
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    # It is being reckoned anew, as something moved it.
    worth_waits: bool
    effort_days: Decimal | None
    division: str | None
    proposer: str
    owner: str | None
    source: str
    route: str
    amends_id: int | None
    changed_at: datetime


@dataclass(frozen=True, slots=True)
class IdeaPage:
    """A page of ideas, the mark of the next, and how many stand in each stage; `figures_only`: those whose
    worth the reader may not see are left out, as it is asked for by that."""

    rows: list[IdeaRow]
    next: str | None
    stages: list[StageCount]
    figures_only: bool


@dataclass(frozen=True, slots=True)
class MyIdea:
    """An idea of one's own: what it needs, where it stands, what happens next and by when."""

    id: int
    title: str
    stage: str
    building: str | None
    group: str
    words: str
    due_on: date | None
    stage_since: datetime


@dataclass(frozen=True, slots=True)
class StageOnMap:
    """A stage of the way: how many ideas, how old, how many past the limit, what came and left."""

    stage: str
    ideas: int
    late: int
    asked: int
    median_age: int | None
    oldest_age: int | None
    oldest_id: int | None
    limit: int | None
    came: int
    left: int
    median_stay: int | None


@dataclass(frozen=True, slots=True)
class StageMap:
    """The way of ideas by stage, over so many days, and where it is stuck in a sentence."""

    stages: list[StageOnMap]
    days: int
    words: str


@dataclass(frozen=True, slots=True)
class NotDone:
    """An idea with which an act could not be done, and why."""

    id: int
    ref: str
    why: str


@dataclass(frozen=True, slots=True)
class Acted:
    """With which ideas an act was done, and with which not."""

    done: list[int]
    refused: list[NotDone]


@dataclass(frozen=True, slots=True)
class NotchOut:
    """How often somebody was thanked for something."""

    kind: str
    number: int
    first: bool


@dataclass(frozen=True, slots=True)
class ThankedOut:
    """Somebody who was thanked."""

    name: str
    division: str
    notches: list[NotchOut]


@dataclass(frozen=True, slots=True)
class OwnNotch:
    """A notch of one's own."""

    kind: str
    idea_id: int
    title: str
    first: bool
    at: datetime


@dataclass(frozen=True, slots=True)
class ThankedFor:
    """Something thanks are given for."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class ThanksOut:
    """The thanks of a month, and one's own."""

    month: str
    oldest: str
    newest: str
    people: list[ThankedOut]
    kinds: list[ThankedFor]
    mine: list[OwnNotch]
    hidden: bool


@dataclass(frozen=True, slots=True)
class ThreadStage:
    """A stage of an idea's thread."""

    stage: str
    at: datetime | None
    by: str | None
    reason: str
    now: bool
    # From which day it is so, where that is not when it was said.
    on: date | None = None


@dataclass(frozen=True, slots=True)
class NextStep:
    """What happens next, and by when."""

    words: str
    permission: str | None
    due: date | None
    days_late: int


@dataclass(frozen=True, slots=True)
class Answer:
    """A question with its answer and what the reviewer said of it."""

    key: str
    step: str
    text: str
    help: str
    kind: str
    needed: bool
    choices: list[Choice]
    value: Free
    shown: Free
    remark: str | None
    state: str | None
    note: str | None
    by: str | None
    at: datetime | None


@dataclass(frozen=True, slots=True)
class Alike:
    """An idea like the one being typed; title and stage for those who may see it."""

    id: int
    title: str | None
    stage: str | None
    words: list[str]
    may_join: bool


@dataclass(frozen=True, slots=True)
class Match:
    """A close other idea."""

    id: int
    title: str
    what: str
    stage: str
    score: int
    # The rarest first; a plausible one asks for a verdict.
    words: list[str]
    plausible: bool
    verdict: str | None
    by: str | None


@dataclass(frozen=True, slots=True)
class IdeaMay:
    """What the signed-in person may do with the idea now."""

    answer: bool
    review: bool
    confirm: bool
    size: bool
    record: bool
    promise: bool
    see_case: bool
    agree: bool
    back: bool
    build: bool
    see_tally: bool
    # Says what one took before and after, or gives units that no routine counts.
    measure: bool
    count: bool
    place: bool
    ask_helpers: bool


@dataclass(frozen=True, slots=True)
class Expert:
    """Somebody who may size the idea."""

    id: int
    name: str


@dataclass(frozen=True, slots=True)
class Comment:
    """Something said about an idea; a comment taken back has no text."""

    id: int
    person_id: int
    person: str
    text: str
    mentions: list[int]
    at: datetime
    edited_at: datetime | None
    taken_back_at: datetime | None
    mine: bool


@dataclass(frozen=True, slots=True)
class Volume:
    """An amount in a rhythm."""

    amount: str
    rhythm: str


@dataclass(frozen=True, slots=True)
class Voice:
    """Who joined, whether they do the work themselves, with which volume, from which merged idea."""

    id: int
    name: str
    does_it: bool
    volume: Volume | None
    note: str
    from_idea_id: int | None
    at: datetime


@dataclass(frozen=True, slots=True)
class Moves:
    """What may be done about where an idea stands."""

    park: bool
    merge: bool
    decline: bool
    route: bool
    reopen: bool
    amend: bool
    withdraw: bool
    stuck: bool
    measure: bool
    retire: bool


@dataclass(frozen=True, slots=True)
class InterviewName:
    """An interview that an idea can begin with."""

    kind: str
    title: str
    about: str


@dataclass(frozen=True, slots=True)
class IdeaWhole:
    """An idea with its thread, answers, first look and what is next."""

    id: int
    title: str
    what: str
    stage: str
    building: str | None
    stage_since: datetime
    division: str | None
    proposer: str
    proposer_id: int
    owner: str | None
    owner_confirmed_at: datetime | None
    builder: str | None
    fit_low: Decimal | None
    fit_high: Decimal | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    effort_days: Decimal | None
    sizing_state: str
    live_on: date | None
    # When it was handed in, where it comes from a list that says so.
    handed_in_on: date | None
    version: int
    made_at: datetime
    thread: list[ThreadStage]
    next: NextStep
    answers: list[Answer]
    files: list[FileRow]
    area: str | None
    area_id: int | None
    areas: list[AreaName]
    helpers: list[Helper]
    look: Working
    matches: list[Match]
    experts: list[Expert]
    asked_on: date | None
    parked_until: date | None
    merged_into: int | None
    merged_title: str | None
    route: str
    measure: str
    measure_owner: str | None
    stuck_why: str
    source: str
    interview: str
    interviews: list[InterviewName]
    knows: str | None
    amends_id: int | None
    amends_title: str | None
    amendments: list[AmendmentRow]
    runs_on: str
    factors_version: int
    comments: list[Comment]
    voices: list[Voice]
    follows: bool
    merged_in: list[MergedIn]
    way: list[WayStep]
    moves: Moves
    may: IdeaMay
