"""What pages are told of what the lead sets: interviews, factors, stages, thanks."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.services.answers import Choice
from tallyman.services.house import VersionRow


@dataclass(frozen=True, slots=True)
class BrowsingOut:
    """How far colleagues without a role in the team browse ideas."""

    version: int
    reach: str
    choices: list[Choice]
    versions: list[VersionRow]


@dataclass(frozen=True, slots=True)
class QuestionSet:
    """A question of an interview; `standard`: something is reckoned from it."""

    key: str
    text: str
    help: str
    needed: bool
    kind: str
    standard: bool
    choices: list[str]


@dataclass(frozen=True, slots=True)
class StepSet:
    """A step of an interview."""

    title: str
    questions: list[QuestionSet]


@dataclass(frozen=True, slots=True)
class QuestionLeftOut:
    """A standard question that an interview does not ask."""

    key: str
    text: str
    help: str


@dataclass(frozen=True, slots=True)
class InterviewOut:
    """An interview as it is in force."""

    kind: str
    version: int
    title: str
    about: str
    offered: bool
    steps: list[StepSet]
    left_out: list[QuestionLeftOut]
    versions: list[VersionRow]


@dataclass(frozen=True, slots=True)
class FactorRow:
    """A factor, with what Tallyman comes with."""

    name: str
    value: str
    standard: str


@dataclass(frozen=True, slots=True)
class FactorGroup:
    """Factors that belong together."""

    key: str
    title: str
    unit: str
    rows: list[FactorRow]


@dataclass(frozen=True, slots=True)
class FactorsOut:
    """The factors in force, and how many open ideas stand by former ones."""

    version: int
    name: str
    groups: list[FactorGroup]
    versions: list[VersionRow]
    by_others: int


@dataclass(frozen=True, slots=True)
class MovedIdea:
    """An idea whose place would change."""

    id: int
    title: str
    stage: str
    place_now: int | None
    place_then: int | None
    low_now: str | None
    low_then: str | None


@dataclass(frozen=True, slots=True)
class PreviewOut:
    """What other factors would do to today's order."""

    ideas: int
    moved: int
    differ: int
    rows: list[MovedIdea]


@dataclass(frozen=True, slots=True)
class StageSet:
    """What the lead sets for a stage."""

    stage: str
    days: int | None
    needs: list[str]


@dataclass(frozen=True, slots=True)
class NeedChoice:
    """Something that a stage can need."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class StagesOut:
    """Age limits and needs by stage."""

    version: int
    stages: list[StageSet]
    can_need: list[NeedChoice]
    versions: list[VersionRow]


@dataclass(frozen=True, slots=True)
class ThankFor:
    """Something thanks can be given for."""

    value: str
    words: str
    given: bool


@dataclass(frozen=True, slots=True)
class ThanksSetOut:
    """What thanks are given for."""

    version: int
    kinds: list[ThankFor]
    versions: list[VersionRow]
