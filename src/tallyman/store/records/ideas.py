"""Records of the room `ideas`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.cases.words import SizingState
from tallyman.core.ideas.words import (
    AnswerState,
    Building,
    FileKind,
    LineChoice,
    LineState,
    Route,
    Source,
    Stage,
    Verdict,
    ViewState,
)
from tallyman.core.upkeep.words import ErrandState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedScreened(Record):
    """Ideas that went through the review in a span of time, with who proposed them."""

    id: int
    title: str
    proposer_id: int
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HadPart(Record):
    """Who put evidence on the file of some ideas."""

    idea_id: int
    person_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedInService(Record):
    """Ideas that were built or carried out and put in service in a span of time."""

    id: int
    title: str
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedTallied(Record):
    """What ideas saved in some months, those that saved anything."""

    idea_id: int
    title: str
    money: Decimal
    month: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedReused(Record):
    """Routines set up in a span of time with a package that another routine used before, and who …"""

    id: int
    name: str
    package: str
    made_at: datetime
    person_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedPeople(Record):
    """Who is shown among those who helped, with division and groups."""

    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    id: int
    name: str
    division: str | None
    hidden: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class HelpedGroups(Record):
    """Which groups people are in."""

    name: str
    person_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Idea(Record):
    """One idea with names."""

    JSON: ClassVar[tuple[int, ...]] = (46,)
    id: int
    title: str
    what: str
    division_id: int | None
    owner_id: int | None
    proposer_id: int
    stage: Stage
    building: Building | None
    stage_since: datetime
    due_on: date | None
    owner_confirmed_at: datetime | None
    fit_low: Decimal | None
    fit_high: Decimal | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    effort_days: Decimal | None
    sizing_state: SizingState
    sized_by: int | None
    sized_at: datetime | None
    agreed_by: int | None
    agreed_at: datetime | None
    sizing_note: str | None
    builder_id: int | None
    live_on: date | None
    expert_id: int | None
    version: int
    made_at: datetime
    changed_at: datetime
    area_id: int | None
    asked_on: date | None
    parked_until: date | None
    merged_into: int | None
    route: Route
    measure: str
    measure_owner_id: int | None
    stuck_why: str
    source: Source
    interview: str
    factors_version: int
    knows_id: int | None
    amends_id: int | None
    runs_on: str
    retired_on: date | None
    worth_key: int | None
    worth_on: date | None
    worth_by: Any
    handed_in_on: date | None
    knows: str | None
    amends_title: str | None
    area: str | None
    division: str | None
    proposer: str
    owner: str | None
    sizer: str | None
    agreer: str | None
    builder: str | None
    expert: str | None
    measure_owner: str | None
    merged_title: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class MergedIn(Record):
    """The ideas that were merged into one."""

    id: int
    title: str
    proposer: str
    stage_since: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasMeasuresOf(Record):
    """Measures that somebody answers for."""

    id: int
    title: str
    stage: Stage
    building: Building | None
    due_on: date | None
    asked_on: date | None
    measure: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Helper(Record):
    """Who helps with an idea, and with what."""

    id: int
    name: str
    task: str
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasLock(Record):
    """The idea's row, locked, before it is moved on."""

    id: int
    stage: Stage
    proposer_id: int
    owner_id: int | None
    sizing_state: SizingState
    sized_by: int | None
    asked_on: date | None
    due_on: date | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AmendmentRow(Record):
    """Wanted changes to an idea in service."""

    id: int
    title: str
    stage: Stage
    proposer: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class WayStep(Record):
    """The way of an idea so far."""

    from_stage: Stage | None
    stage: Stage
    at: datetime
    reason: str
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasAnswers(Record):
    """All answers of an idea."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    question: str
    value: Any
    remark: str | None
    state: AnswerState
    state_note: str | None
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class FileRow(Record):
    """The files of an idea."""

    BOOLS: ClassVar[tuple[int, ...]] = (9,)
    id: int
    name: str
    kind: FileKind
    size: int
    at: datetime
    title: str
    remark: str
    person: str
    view: str
    pictured: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeaFile(Record):
    """One file of an idea."""

    id: int
    idea_id: int
    digest: str
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasAlike(Record):
    """The ideas that use most of some words, as far as they can be looked at one by one."""

    id: int
    title: str
    what: str
    stage: Stage


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasToReview(Record):
    """The first ideas that wait for a review and not for their proposer, the first due first."""

    id: int
    title: str
    due_on: date | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasMatches(Record):
    """Close matches that were settled."""

    other_id: int
    verdict: Verdict
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasStanding(Record):
    """How many live ideas have a higher low end, and how many there are."""

    ahead: Decimal
    ideas: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class StageCount(Record):
    """How many ideas stand in each stage."""

    stage: Stage
    ideas: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasWaitingIn(Record):
    """Ideas that wait in a stage and not for their proposer, the longest due first; the first 50, …"""

    id: int
    title: str
    stage: Stage
    building: Building | None
    stage_since: datetime
    due_on: date | None
    sizing_state: SizingState
    sized_by: int | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    builder_id: int | None
    area_id: int | None
    asked_on: date | None
    proposer: str
    builder: str | None
    of_all: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasTakenUpBy(Record):
    """Ideas that some people took up to build, the longest due first."""

    id: int
    title: str
    stage: Stage
    building: Building | None
    stage_since: datetime
    due_on: date | None
    sizing_state: SizingState
    sized_by: int | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    builder_id: int | None
    area_id: int | None
    asked_on: date | None
    proposer: str
    builder: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasMine(Record):
    """A proposer's own ideas, the last changed first."""

    id: int
    title: str
    stage: Stage
    building: Building | None
    due_on: date | None
    asked_on: date | None
    stage_since: datetime
    sent_back: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasToConfirm(Record):
    """Ideas whose answers the work owner has not confirmed."""

    id: int
    title: str
    stage: Stage
    proposer: str
    owner: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasFacts(Record):
    """The facts given on an idea's sizing and case."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    field: str
    person_id: int
    value: Any
    source: str
    at: datetime
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasFact(Record):
    """One fact."""

    JSON: ClassVar[tuple[int, ...]] = (0,)
    value: Any
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasFormerPromises(Record):
    """The promises before the one that counts, the newest first."""

    JSON: ClassVar[tuple[int, ...]] = (4, 5, 6, 7, 8)
    idea_id: int
    number: int
    at: datetime
    person_id: int
    input: Any
    result: Any
    plan: Any
    sizing: Any
    rows: Any
    rules_version: str
    start_on: date
    go_live_on: date
    reason: str
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Promise(Record):
    """The frozen promise."""

    JSON: ClassVar[tuple[int, ...]] = (3, 4, 5, 6, 12)
    idea_id: int
    at: datetime
    person_id: int
    input: Any
    result: Any
    plan: Any
    sizing: Any
    rules_version: str
    start_on: date
    go_live_on: date
    number: int
    reason: str
    rows: Any
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasRanked(Record):
    """Ideas that can be chosen or were, with their worth and effort."""

    JSON: ClassVar[tuple[int, ...]] = (6,)
    id: int
    title: str
    stage: Stage
    worth: Decimal | None
    worth_on: date | None
    worth_key: int | None
    worth_by: Any
    factors_version: int
    effort_days: Decimal | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    sizing_state: SizingState
    division: str | None
    due_on: date | None
    live_on: date | None
    building: Building | None
    area_id: int | None
    promised_worth: str | None
    promised_go_live: date | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasOfPerson(Record):
    """Everything somebody proposed, the last changed first, with what its next step names."""

    id: int
    title: str
    stage: Stage
    building: Building | None
    stage_since: datetime
    due_on: date | None
    asked_on: date | None
    parked_until: date | None
    merged_into: int | None
    route: Route
    measure: str
    stuck_why: str
    sizing_state: SizingState
    sizer: str | None
    proposer: str
    measure_owner: str | None
    merged_title: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasStandingByStage(Record):
    """Where every idea that may be seen stands, since when, and whether that is too long."""

    BOOLS: ClassVar[tuple[int, ...]] = (3, 4)
    id: int
    stage: Stage
    stage_since: datetime
    late: bool | None
    asked: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasMovedSince(Record):
    """Moves from stage to stage since some time, with the days that the idea stood in the one it left."""

    from_stage: Stage | None
    stage: Stage
    stayed_days: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasRankedOpen(Record):
    """Ideas that are ranked today, by the low end of their hours in reach."""

    id: int
    title: str
    stage: Stage
    owner_confirmed_at: datetime | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    factors_version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasAnswersOfMany(Record):
    """The answers of some ideas that the first look uses."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    idea_id: int
    question: str
    value: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasFileKindsOfMany(Record):
    """What kinds of evidence some ideas have on file."""

    idea_id: int
    kind: FileKind


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeasVolumesOfMany(Record):
    """The volumes of those who joined some ideas."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    idea_id: int
    volume: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PointsOfIdea(Record):
    """The points of a sizing that were sent back, the open ones first."""

    id: int
    field: str
    words: str
    person: str
    made_at: datetime
    met_by: str | None
    met_at: datetime | None
    answer: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchHeads(Record):
    """The words that stand on an idea itself."""

    title: str
    what: str
    measure: str
    division: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchAnswers(Record):
    """What was answered and remarked."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    question: str
    value: Any
    remark: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchFiles(Record):
    """What is shown on an idea, and what stands in it."""

    name: str
    title: str
    remark: str
    text: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchView(Record):
    """What is known of a file's content."""

    state: ViewState
    picture: str | None
    text: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SystemRow(Record):
    """Every system that some idea names."""

    name: str
    ideas: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchUnseenFiles(Record):
    """Files that nobody looked into yet; 5 at once."""

    id: int
    digest: str
    name: str
    idea_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SearchPictureOf(Record):
    """The picture of a file on an idea."""

    picture: str | None
    text: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class IdeaSheet(Record):
    """A spreadsheet, with how far bringing it in came."""

    JSON: ClassVar[tuple[int, ...]] = (5, 6)
    id: int
    person_id: int
    name: str
    digest: str
    page: str
    head: Any
    match: Any
    errand_id: int | None
    version: int
    made_at: datetime
    errand_state: ErrandState | None
    errand_done: int | None
    errand_total: int | None
    errand_words: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetRow(Record):
    """The spreadsheets that somebody brought, the latest 20."""

    id: int
    name: str
    made_at: datetime
    errand_state: ErrandState | None
    errand_words: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsLines(Record):
    """All lines of a spreadsheet."""

    JSON: ClassVar[tuple[int, ...]] = (1, 2, 3, 7)
    line: int
    cells: Any
    came: Any
    broken: Any
    choice: LineChoice | None
    state: LineState
    idea_id: int | None
    said: Any


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsOpenLines(Record):
    """The next lines that were not looked at."""

    JSON: ClassVar[tuple[int, ...]] = (1, 2)
    line: int
    cells: Any
    broken: Any
    choice: LineChoice | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsCounts(Record):
    """What became of the lines."""

    state: LineState
    line_count: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsOrigins(Record):
    """Which marks came in before, as which idea."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    mark: str
    idea_id: int
    content: Any
    title: str
    what: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsPeople(Record):
    """Who can be named in a line, by mail address or name."""

    id: int
    name: str
    email: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SheetsOneLine(Record):
    """A line of a spreadsheet."""

    JSON: ClassVar[tuple[int, ...]] = (1, 2, 3)
    line: int
    cells: Any
    came: Any
    broken: Any
    choice: LineChoice | None
    state: LineState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TalkComments(Record):
    """What was said about an idea, oldest first."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    id: int
    person_id: int
    person: str
    text: str
    mentions: list[int]
    at: datetime
    edited_at: datetime | None
    taken_back_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Comment(Record):
    """One comment, locked."""

    id: int
    idea_id: int
    person_id: int
    text: str
    taken_back_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TalkVoices(Record):
    """Who joined an idea, and with what volume of their own."""

    JSON: ClassVar[tuple[int, ...]] = (3,)
    BOOLS: ClassVar[tuple[int, ...]] = (2,)
    id: int
    name: str
    does_it: bool
    volume: Any
    note: str
    from_idea_id: int | None
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ThanksBetween(Record):
    """Notches of a span of time, of people who do not hide themselves."""

    id: int
    name: str
    division: str | None
    kind: str
    notches: int
    first: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ThanksMonths(Record):
    """The first and the last notch."""

    oldest: datetime | None
    newest: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ThanksOfPerson(Record):
    """One's own notches, the newest first."""

    BOOLS: ClassVar[tuple[int, ...]] = (3,)
    kind: str
    idea_id: int
    title: str
    first: bool
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ListIdeas(Record):
    """Ideas in a list."""

    id: int
    title: str
    what: str
    stage: Stage
    building: Building | None
    stage_since: datetime
    due_on: date | None
    asked_on: date | None
    fit_low: Decimal | None
    fit_high: Decimal | None
    hours_low: Decimal | None
    hours_high: Decimal | None
    worth: Decimal | None
    worth_on: date | None
    worth_key: int | None
    effort_days: Decimal | None
    sizing_state: SizingState
    sized_by: int | None
    changed_at: datetime
    route: Route
    source: Source
    amends_id: int | None
    owner_id: int | None
    area_id: int | None
    division: str | None
    proposer: str
    proposer_id: int
    owner: str | None


GIVES: dict[str, type[Record]] = {
    "helped.screened": HelpedScreened,
    "helped.evidence": HadPart,
    "helped.in_service": HelpedInService,
    "helped.parts": HadPart,
    "helped.tallied": HelpedTallied,
    "helped.reused": HelpedReused,
    "helped.people": HelpedPeople,
    "helped.groups": HelpedGroups,
    "ideas.by_id": Idea,
    "ideas.merged_in": MergedIn,
    "ideas.measures_of": IdeasMeasuresOf,
    "ideas.helpers": Helper,
    "ideas.lock": IdeasLock,
    "ideas.amendments": AmendmentRow,
    "ideas.stages": WayStep,
    "ideas.answers": IdeasAnswers,
    "ideas.files": FileRow,
    "ideas.file": IdeaFile,
    "ideas.alike": IdeasAlike,
    "ideas.to_review": IdeasToReview,
    "ideas.matches": IdeasMatches,
    "ideas.standing": IdeasStanding,
    "ideas.by_stage": StageCount,
    "ideas.waiting_in": IdeasWaitingIn,
    "ideas.waiting_for_yes": IdeasWaitingIn,
    "ideas.waiting_for_size": IdeasWaitingIn,
    "ideas.taken_up_by": IdeasTakenUpBy,
    "ideas.mine": IdeasMine,
    "ideas.to_confirm": IdeasToConfirm,
    "ideas.facts": IdeasFacts,
    "ideas.fact": IdeasFact,
    "ideas.former_promises": IdeasFormerPromises,
    "ideas.promise": Promise,
    "ideas.ranked": IdeasRanked,
    "ideas.of_person": IdeasOfPerson,
    "ideas.standing_by_stage": IdeasStandingByStage,
    "ideas.moved_since": IdeasMovedSince,
    "ideas.ranked_open": IdeasRankedOpen,
    "ideas.answers_of_many": IdeasAnswersOfMany,
    "ideas.file_kinds_of_many": IdeasFileKindsOfMany,
    "ideas.volumes_of_many": IdeasVolumesOfMany,
    "points.of_idea": PointsOfIdea,
    "search.heads": SearchHeads,
    "search.answers": SearchAnswers,
    "search.files": SearchFiles,
    "search.view": SearchView,
    "search.names_of_systems": SystemRow,
    "search.unseen_files": SearchUnseenFiles,
    "search.picture_of": SearchPictureOf,
    "sheets.one": IdeaSheet,
    "sheets.of_person": SheetRow,
    "sheets.lines": SheetsLines,
    "sheets.open_lines": SheetsOpenLines,
    "sheets.counts": SheetsCounts,
    "sheets.origins": SheetsOrigins,
    "sheets.people": SheetsPeople,
    "sheets.one_line": SheetsOneLine,
    "talk.comments": TalkComments,
    "talk.comment": Comment,
    "talk.voices": TalkVoices,
    "thanks.between": ThanksBetween,
    "thanks.months": ThanksMonths,
    "thanks.of_person": ThanksOfPerson,
    "list.ideas": ListIdeas,
}
