"""The lead sets what ideas are asked and moved by: interviews, stages, and what thanks are given for."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.faults import Fault, InputFaults
from tallyman.core.ideas import interviews, way
from tallyman.core.ideas.interviews import Interview
from tallyman.core.ideas.questions import BY_KEY, OWN_KINDS, Question
from tallyman.errors import NotFound
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.ideas import rules, thanks
from tallyman.services.ideas.answers import InterviewName
from tallyman.services.ideas.answers_of_rules import (
    InterviewOut,
    NeedChoice,
    QuestionLeftOut,
    QuestionSet,
    StageSet,
    StagesOut,
    StepSet,
    ThankFor,
    ThanksSetOut,
)
from tallyman.store.db import Tx

OWN_KIND_WORDS = {
    "line": "a line of text",
    "text": "several lines",
    "figure": "a number",
    "choice": "one of some choices",
}
assert set(OWN_KIND_WORDS) == set(OWN_KINDS)


def listed(ctx: Ctx) -> list[InterviewOut]:
    """Every interview in force: its steps, who is asked it, and its versions."""
    ctx.require_at("house.change", None)
    return ctx.db.transact(lambda tx: [_shown(tx, one) for one in rules.all_interviews(tx)])


def offered(ctx: Ctx) -> list[InterviewName]:
    """The interviews that an idea can begin with."""
    ctx.require("idea.make")
    return ctx.db.transact(
        lambda tx: [
            InterviewName(kind=one.kind, title=one.title, about=one.about)
            for one in rules.all_interviews(tx)
            if one.offered
        ]
    )


def _shown(tx: Tx, found: Interview) -> InterviewOut:
    return InterviewOut(
        kind=found.kind,
        version=found.version,
        title=found.title,
        about=found.about,
        offered=found.offered,
        steps=[StepSet(step.title, [_question(one) for one in step.questions]) for step in found.steps],
        left_out=[
            QuestionLeftOut(key=one.key, text=one.text, help=one.help) for one in interviews.left_out(found)
        ],
        versions=rule_sets.shown(tx, rules.INTERVIEW + found.kind),
    )


def _question(one: Question) -> QuestionSet:
    return QuestionSet(
        key=one.key,
        text=one.text,
        help=one.help,
        needed=one.needed,
        kind=one.kind,
        standard=one.key in BY_KEY,
        choices=[words for _, words in one.choices],
    )


def keep_interview(ctx: Ctx, kind: str, content: dict[str, object], note: str, seen: int) -> int:
    """A new version of an interview, or a new one; drafts are asked by it from now on. Gives its number."""
    if not interviews.KIND.fullmatch(kind):
        raise InputFaults(
            [Fault("kind", kind, "give 2 to 19 small letters, digits and dashes, such as desk")]
        )
    found = interviews.read_content(kind, content, seen + 1)

    def work(tx: Tx) -> int:
        others = [one for one in rules.all_interviews(tx) if one.kind != kind and one.offered]
        if not found.offered and not others:
            raise InputFaults([Fault("offered", False, "ideas need one interview to begin with; keep it")])
        return rule_sets.keep(tx, ctx, rules.INTERVIEW + kind, interviews.as_content(found), note, seen)

    return ctx.db.transact(work)


@in_transaction
def stages(tx: Tx, ctx: Ctx) -> StagesOut:
    """Age limits and needed fields by stage, what can be needed, and the versions."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, rules.STAGES)
    return StagesOut(
        version=version,
        stages=[
            StageSet(stage=stage, days=rule.days, needs=list(rule.needs))
            for stage, rule in rules.stage_rules(tx).items()
        ],
        can_need=[NeedChoice(value=key, words=words) for key, words in rules.CAN_NEED.items()],
        versions=rule_sets.shown(tx, rules.STAGES),
    )


def keep_stages(ctx: Ctx, given: Mapping[str, object], note: str, seen: int) -> int:
    """A new version of the stage rules; due days already set stay. Raises InputFaults."""
    read = way.read_stage_rules(given, rules.CAN_NEED)
    kept = way.rules_as_content(read)
    return ctx.db.transact(lambda tx: rule_sets.keep(tx, ctx, rules.STAGES, kept, note, seen))


@in_transaction
def thanks_given(tx: Tx, ctx: Ctx) -> ThanksSetOut:
    """What thanks are given for, and what they could be given for."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, thanks.SET)
    given = thanks.kinds_given(tx)
    return ThanksSetOut(
        version=version,
        kinds=[
            ThankFor(value=kind, words=words, given=kind in given) for kind, words in thanks.KINDS.items()
        ],
        versions=rule_sets.shown(tx, thanks.SET),
    )


def keep_thanks(ctx: Ctx, kinds: list[str], note: str, seen: int) -> int:
    """A new version of what thanks are given for."""
    kept = thanks.check_kinds(kinds)
    return ctx.db.transact(lambda tx: rule_sets.keep(tx, ctx, thanks.SET, kept, note, seen))


VERSIONED = ("factors", "stages", "thanks")


def version_of(ctx: Ctx, kind: str, version: int) -> dict[str, object]:
    """The content of one version of a rule set."""
    ctx.require_at("house.change", None)
    known = kind in VERSIONED or kind.startswith(rules.INTERVIEW)
    content = ctx.db.transact(lambda tx: rule_sets.at(tx, kind, version)) if known else None
    if content is None:
        raise NotFound("There is no such version.", "Load the page again.")
    return content
