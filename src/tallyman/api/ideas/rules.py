"""What the lead sets for ideas: interviews, factors, stages and thanks, each in versions."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import In, Made, Model, SignedIn, Text, VersionSeen
from tallyman.services.ideas import factors, rules_set

router = APIRouter(tags=["rules"])
Kind = Annotated[str, Field(max_length=20)]


class VersionRow(Model):
    """A version of what was set: when, by whom, why."""

    version: int
    note: str
    made_at: datetime
    person: str


class QuestionSet(Model):
    """A question of an interview; `standard`: something is reckoned from it."""

    key: str
    text: str
    help: str
    needed: bool
    kind: str
    standard: bool
    choices: list[str]


class StepSet(Model):
    """A step of an interview."""

    title: str
    questions: list[QuestionSet]


class QuestionLeftOut(Model):
    """A standard question that an interview does not ask."""

    key: str
    text: str
    help: str


class InterviewOut(Model):
    """An interview as it is in force."""

    kind: str
    version: int
    title: str
    about: str
    offered: bool
    steps: list[StepSet]
    left_out: list[QuestionLeftOut]
    versions: list[VersionRow]


class QuestionIn(In):
    """A question: a standard one by its key, or one of the house's own."""

    key: Annotated[str, Field(max_length=60)]
    text: Annotated[str, Field(max_length=400)]
    help: Annotated[str, Field(max_length=400)] = ""
    needed: bool = False
    kind: Annotated[str, Field(max_length=20)] = ""
    choices: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=40)] = []


class InterviewStep(In):
    """A step of an interview."""

    title: Annotated[str, Field(max_length=400)]
    questions: Annotated[list[QuestionIn], Field(max_length=60)]


class InterviewSet(In):
    """A new version of an interview."""

    title: Annotated[str, Field(max_length=400)]
    about: Annotated[str, Field(max_length=400)] = ""
    offered: bool = True
    steps: Annotated[list[InterviewStep], Field(max_length=30)]
    note: Text


class FactorRow(Model):
    """A factor, with what Tallyman comes with."""

    name: str
    value: str
    standard: str


class FactorGroup(Model):
    """Factors that belong together."""

    key: str
    title: str
    rows: list[FactorRow]


class FactorsOut(Model):
    """The factors in force, and how many open ideas stand by former ones."""

    version: int
    name: str
    groups: list[FactorGroup]
    versions: list[VersionRow]
    by_others: int


Shares = Annotated[dict[str, Annotated[dict[str, str | float], Field(max_length=40)]], Field(max_length=10)]


class FactorsIn(In):
    """Other factors, to see what they would do."""

    content: Shares


class FactorsSet(FactorsIn):
    """A new version of the factors."""

    note: Text


class MovedIdea(Model):
    """An idea whose place would change."""

    id: int
    title: str
    stage: str
    place_now: int | None
    place_then: int | None
    low_now: str | None
    low_then: str | None


class PreviewOut(Model):
    """What other factors would do to today's order."""

    ideas: int
    moved: int
    differ: int
    rows: list[MovedIdea]


class StageSet(Model):
    """What the lead sets for a stage."""

    stage: str
    days: int | None
    needs: list[str]


class NeedChoice(Model):
    """Something that a stage can need."""

    value: str
    words: str


class StagesOut(Model):
    """Age limits and needs by stage."""

    version: int
    stages: list[StageSet]
    can_need: list[NeedChoice]
    versions: list[VersionRow]


class StageIn(In):
    """Working days within which a stage is left, and what is needed to get there."""

    days: Annotated[int, Field(ge=0, le=10_000)] | None = None
    needs: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=40)] = []


class StagesSet(In):
    """A new version of the stage rules."""

    stages: Annotated[dict[str, StageIn], Field(max_length=20)]
    note: Text


class ThankFor(Model):
    """Something thanks can be given for."""

    value: str
    words: str
    given: bool


class ThanksSetOut(Model):
    """What thanks are given for."""

    version: int
    kinds: list[ThankFor]
    versions: list[VersionRow]


class ThanksSet(In):
    """A new version of what thanks are given for."""

    kinds: Annotated[list[Kind], Field(max_length=20)]
    note: Text


@router.get("/rules/interviews")
def interviews(ctx: SignedIn) -> list[InterviewOut]:
    """Every interview in force."""
    return [InterviewOut.model_validate(row) for row in rules_set.listed(ctx)]


@router.put("/rules/interviews/{kind}")
def keep_interview(kind: Kind, given: InterviewSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of an interview, or a new interview."""
    content = given.model_dump(exclude={"note"})
    return Made(id=rules_set.keep_interview(ctx, kind, content, given.note, version))


@router.get("/rules/factors")
def factors_in_force(ctx: SignedIn) -> FactorsOut:
    """The factors of the first look."""
    return FactorsOut.model_validate(factors.view(ctx))


@router.post("/rules/factors/preview")
def preview(given: FactorsIn, ctx: SignedIn) -> PreviewOut:
    """What other factors would do to today's order."""
    return PreviewOut.model_validate(factors.preview(ctx, given.content))


@router.put("/rules/factors")
def keep_factors(given: FactorsSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of the factors."""
    return Made(id=factors.keep(ctx, given.content, given.note, version))


@router.post("/rules/factors/anew")
def reckon_anew(ctx: SignedIn) -> Made:
    """Begins to reckon every open idea by the factors in force."""
    return Made(id=factors.begin_anew(ctx))


@router.get("/rules/stages")
def stages(ctx: SignedIn) -> StagesOut:
    """Age limits and needs by stage."""
    return StagesOut.model_validate(rules_set.stages(ctx))


@router.put("/rules/stages")
def keep_stages(given: StagesSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of the stage rules."""
    content = {stage: one.model_dump() for stage, one in given.stages.items()}
    return Made(id=rules_set.keep_stages(ctx, content, given.note, version))


@router.get("/rules/thanks")
def thanks(ctx: SignedIn) -> ThanksSetOut:
    """What thanks are given for."""
    return ThanksSetOut.model_validate(rules_set.thanks_given(ctx))


@router.put("/rules/thanks")
def keep_thanks(given: ThanksSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of what thanks are given for."""
    return Made(id=rules_set.keep_thanks(ctx, given.kinds, given.note, version))


@router.get("/rules/{kind}/versions/{number}")
def version_of(
    kind: Annotated[str, Field(max_length=40)],
    number: Annotated[int, Field(ge=1, le=100_000)],
    ctx: SignedIn,
) -> dict[str, Any]:
    """The content of one version."""
    return rules_set.version_of(ctx, kind, number)
