"""What the lead sets for ideas: interviews, factors, stages and thanks, each in versions."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import In, Made, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.ideas import browsing, factors, rules_set
from tallyman.services.ideas.answers_of_rules import (
    BrowsingOut,
    FactorsOut,
    InterviewOut,
    PreviewOut,
    StagesOut,
    ThanksSetOut,
)

router = Routes(tags=["rules"])
Kind = Annotated[str, Field(max_length=20)]


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


Shares = Annotated[dict[str, Annotated[dict[str, str | float], Field(max_length=40)]], Field(max_length=20)]


class FactorsIn(In):
    """Other factors, to see what they would do."""

    content: Shares


class FactorsSet(FactorsIn):
    """A new version of the factors."""

    note: Text


class StageIn(In):
    """Working days within which a stage is left, and what is needed to get there."""

    days: Annotated[int, Field(ge=0, le=10_000)] | None = None
    needs: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=40)] = []


class StagesSet(In):
    """A new version of the stage rules."""

    stages: Annotated[dict[str, StageIn], Field(max_length=20)]
    note: Text


class ThanksSet(In):
    """A new version of what thanks are given for."""

    kinds: Annotated[list[Kind], Field(max_length=20)]
    note: Text


@router.get("/rules/interviews")
def interviews(ctx: SignedIn) -> list[InterviewOut]:
    """Every interview in force."""
    return rules_set.listed(ctx)


@router.put("/rules/interviews/{kind}")
def keep_interview(kind: Kind, given: InterviewSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of an interview, or a new interview."""
    content = given.model_dump(exclude={"note"})
    return Made(id=rules_set.keep_interview(ctx, kind, content, given.note, version))


@router.get("/rules/factors")
def factors_in_force(ctx: SignedIn) -> FactorsOut:
    """The factors of first look and sizing."""
    return factors.view(ctx)


@router.post("/rules/factors/preview")
def preview(given: FactorsIn, ctx: SignedIn) -> PreviewOut:
    """What other factors would do to today's order."""
    return factors.preview(ctx, given.content)


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
    return rules_set.stages(ctx)


@router.put("/rules/stages")
def keep_stages(given: StagesSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of the stage rules."""
    content = {stage: one.model_dump() for stage, one in given.stages.items()}
    return Made(id=rules_set.keep_stages(ctx, content, given.note, version))


@router.get("/rules/thanks")
def thanks(ctx: SignedIn) -> ThanksSetOut:
    """What thanks are given for."""
    return rules_set.thanks_given(ctx)


@router.put("/rules/thanks")
def keep_thanks(given: ThanksSet, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of what thanks are given for."""
    return Made(id=rules_set.keep_thanks(ctx, given.kinds, given.note, version))


class BrowsingIn(In):
    """How far colleagues browse ideas, and why that changes."""

    reach: Annotated[str, Field(max_length=20)]
    note: Text


@router.get("/rules/browsing")
def browsing_rule(ctx: SignedIn) -> BrowsingOut:
    """How far colleagues without a role in the team browse ideas."""
    return browsing.view(ctx)


@router.put("/rules/browsing")
def keep_browsing(given: BrowsingIn, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of how far they browse."""
    return Made(id=browsing.keep(ctx, given.reach, given.note, version))


@router.get("/rules/{kind}/versions/{number}")
def version_of(
    kind: Annotated[str, Field(max_length=40)],
    number: Annotated[int, Field(ge=1, le=100_000)],
    ctx: SignedIn,
) -> dict[str, object]:
    """The content of one version."""
    return rules_set.version_of(ctx, kind, number)
