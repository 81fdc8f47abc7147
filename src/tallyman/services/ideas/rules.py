"""What ideas are asked, ranked and moved by, as it is in force: interviews, factors, stage rules."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from tallyman.core.cases import SIZING
from tallyman.core.ideas import factors as factors_
from tallyman.core.ideas import interviews, way
from tallyman.core.ideas.factors import Factors
from tallyman.core.ideas.interviews import Interview
from tallyman.core.ideas.questions import BY_KEY, QUESTIONS, Question
from tallyman.services.house import rule_sets
from tallyman.store.db import Tx
from tallyman.store.records.ideas import FileRow, Idea, IdeasAnswers, IdeasFacts

INTERVIEW = "interview:"
FACTORS = "factors"
STAGES = "stages"
# What an idea can need before it reaches a stage: an answer, or a fact of its sizing.
CAN_NEED = {**{question.key: question.text for question in QUESTIONS}, **SIZING}


def factors(tx: Tx, version: int | None = None) -> Factors:
    """The factors in force, or those of one version."""
    content, number = rule_sets.newest(tx, FACTORS) if version is None else (None, version)
    if version is not None:
        content = rule_sets.at(tx, FACTORS, version)
    return factors_.STANDARD if content is None else factors_.read_content(content, number)


def factors_of(tx: Tx, idea: Idea) -> Factors:
    """The factors that an idea stands by: those of its day, once it is handed in, until somebody reckons it
    anew on purpose."""
    return factors(tx, None if idea.stage == "draft" else idea.factors_version)


def bands(tx: Tx) -> Callable[[int, Fraction], str]:
    """The band of a build effort by the factors of a version, each version read once."""
    found: dict[int, Factors] = {}

    def band(version: int, effort_days: Fraction) -> str:
        if version not in found:
            found[version] = factors(tx, version)
        return found[version].band_of(effort_days)

    return band


def interview(tx: Tx, kind: str) -> Interview | None:
    """An interview in force, None if there is none of that kind."""
    content, version = rule_sets.newest(tx, INTERVIEW + kind)
    if content is None:
        return interviews.STANDARD.get(kind)
    return interviews.read_content(kind, content, version)


def all_interviews(tx: Tx) -> list[Interview]:
    """Every interview in force, the standard ones first."""
    own = [kind.removeprefix(INTERVIEW) for kind in rule_sets.kinds(tx, INTERVIEW)]
    kinds = dict.fromkeys([*interviews.STANDARD, *own])
    return [found for kind in kinds if (found := interview(tx, kind)) is not None]


def of_idea(tx: Tx, idea: Idea) -> Interview:
    """The interview that an idea is asked by."""
    return interview(tx, idea.interview) or interviews.STANDARD["full"]


def known_question(tx: Tx, idea: Idea, key: str) -> Question | None:
    """A question that an idea may have an answer to: a standard one, or one of its interview."""
    return of_idea(tx, idea).question(key) or BY_KEY.get(key)


def former_questions(tx: Tx, idea: Idea, keys: set[str]) -> list[Question]:
    """Questions that were answered once and are asked no more, as they were asked last."""
    found: dict[str, Question] = {}
    for row in rule_sets.versions(tx, INTERVIEW + idea.interview) if keys else []:
        former = interviews.read_content(idea.interview, row.content, row.version)
        for question in former.questions:
            if question.key in keys:
                found.setdefault(question.key, question)
    return list(found.values())


def stage_rules(tx: Tx) -> dict[str, way.StageRule]:
    """Age limits and needed fields by stage."""
    content, _ = rule_sets.newest(tx, STAGES)
    return way.STAGE_RULES if content is None else way.read_stage_rules(content, CAN_NEED)


def lacking(tx: Tx, idea: Idea, stage: str) -> list[dict[str, str]]:
    """What an idea still needs before it may reach a stage: key and words of each."""
    rule = stage_rules(tx).get(stage)
    if rule is None or not rule.needs:
        return []
    answers = {row.question: row.value for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea.id)}
    facts = {row.field for row in tx.all(IdeasFacts, "ideas.facts", idea=idea.id)}
    there = {key for key, value in answers.items() if value is not None} | facts
    if tx.all(FileRow, "ideas.files", idea=idea.id):
        there.add("files")
    return [{"key": key, "words": CAN_NEED[key]} for key in rule.needs if key not in there]
