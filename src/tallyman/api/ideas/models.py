"""What the API takes and gives about ideas."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import Field

from tallyman.api.common import AreaName, Choice, In, Model, Number, Text, WorkingOut


class ThreadStage(Model):
    """A stage of an idea's thread."""

    stage: str
    at: datetime | None
    by: str | None
    reason: str
    now: bool


class NextStep(Model):
    """What happens next, and by when."""

    words: str
    permission: str | None
    due: date | None
    days_late: int


class Answer(Model):
    """A question with its answer and what the reviewer said of it."""

    key: str
    step: str
    text: str
    help: str
    kind: str
    needed: bool
    choices: list[Choice]
    value: Any = None
    shown: Any = None
    remark: str | None
    state: str | None
    note: str | None
    by: str | None
    at: datetime | None


class FileRow(Model):
    """A file on an idea; `view`: whether a picture or text of it is ready, making, failed or none."""

    id: int
    name: str
    kind: str
    title: str
    remark: str
    view: str
    pictured: bool
    size: int
    at: datetime
    person: str


class Alike(Model):
    """An idea like the one being typed; title and stage for those who may see it."""

    id: int
    title: str | None
    stage: str | None
    words: list[str]
    may_join: bool


class Match(Model):
    """A close other idea."""

    id: int
    title: str
    what: str = ""
    stage: str
    score: int = 0
    words: list[str]
    verdict: str | None = None
    by: str | None = None


class IdeaMay(Model):
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
    place: bool
    ask_helpers: bool


class Expert(Model):
    """Somebody who may size the idea."""

    id: int
    name: str


class Helper(Model):
    """Somebody who helps with an idea."""

    id: int
    name: str
    task: str
    at: datetime


class HelperIn(In):
    """Who is asked to help, and with what."""

    person: Number
    task: Annotated[str, Field(max_length=1000)] = ""


class PlaceIn(In):
    """The area where an idea belongs; none is the whole company."""

    area: Number | None = None


class Comment(Model):
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


class Volume(Model):
    """An amount in a rhythm."""

    amount: str
    rhythm: str


class Voice(Model):
    """Who joined, whether they do the work themselves, with which volume, from which merged idea."""

    id: int
    name: str
    does_it: bool
    volume: Volume | None
    note: str
    from_idea_id: int | None
    at: datetime


class MergedIn(Model):
    """An idea that went into this one."""

    id: int
    title: str
    proposer: str
    stage_since: datetime


class WayStep(Model):
    """A change of stage: from where to where, when, by whom, why."""

    from_stage: str | None
    stage: str
    at: datetime
    person: str
    reason: str


class Moves(Model):
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


class InterviewName(Model):
    """An interview that an idea can begin with."""

    kind: str
    title: str
    about: str


class AmendmentRow(Model):
    """A wanted change to something in service."""

    id: int
    title: str
    stage: str
    proposer: str


class Idea(Model):
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
    look: WorkingOut
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


class AnswerIn(In):
    """An answer (null: not known) with a remark."""

    value: Any = None
    remark: Text | None = None


class SettleMatch(In):
    """Whether a close match is the same work or other work."""

    verdict: Literal["same", "other"]


class JudgeAnswer(In):
    """Accepts an answer or sends it back with a question."""

    accepted: bool
    note: Text = ""


class Screen(In):
    """Screens an idea; an expert who sizes it may be named."""

    expert_id: Number | None = None


class Decline(In):
    """A reason from the list, and an explanation."""

    reason: Annotated[str, Field(max_length=100)]
    words: Text
