"""Interviews and factors as data: every version is whole, or its faults are named all at once."""

from __future__ import annotations

from copy import deepcopy
from dataclasses import replace
from datetime import date
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.house.workdays import Calendar
from tallyman.core.ideas import factors, interviews, way
from tallyman.core.ideas.first_look import look, read_answers, working
from tallyman.core.ideas.interviews import STANDARD, as_content, left_out, read_content
from tallyman.core.ideas.questions import BY_KEY, check_answer


@pytest.mark.parametrize("kind", STANDARD)
def test_the_standard_ones_are_whole_and_come_back_as_they_are(kind: str) -> None:
    assert read_content(kind, as_content(STANDARD[kind]), 0) == STANDARD[kind]


def test_the_whole_one_leaves_nothing_out() -> None:
    assert left_out(STANDARD["full"]) == ()
    assert {question.key for question in left_out(STANDARD["short"])} >= {"judge", "owner"}


def _spoiled(change: Any) -> set[str]:
    content = deepcopy(as_content(STANDARD["short"]))
    change(content)
    with pytest.raises(InputFaults) as caught:
        read_content("short", content, 1)
    return {fault.field for fault in caught.value.faults}


def test_faults_of_an_interview_are_named() -> None:
    assert _spoiled(lambda c: c.update(title="")) == {"title"}
    assert _spoiled(lambda c: c["steps"][0]["questions"].pop(0)) == {"steps"}
    assert _spoiled(lambda c: c["steps"].append({"title": "Empty", "questions": []})) == {"steps[3]"}
    assert _spoiled(lambda c: c["steps"][1]["questions"].append(c["steps"][0]["questions"][0])) == {"steps"}
    own = {"key": "forms", "text": "Which form?", "kind": "drawing"}
    assert _spoiled(lambda c: c["steps"][0]["questions"].append(own)) == {
        "steps[0].questions[2].key",
        "steps[0].questions[2].kind",
    }
    few = {"key": "own-1", "text": "Which form?", "kind": "choice", "choices": ["one"]}
    assert _spoiled(lambda c: c["steps"][0]["questions"].append(few)) == {"steps[0].questions[2].choices"}


def test_name_and_description_are_always_needed_whatever_is_ticked() -> None:
    content = as_content(STANDARD["short"])
    for step in content["steps"]:
        for question in step["questions"]:
            question["needed"] = False
    read = read_content("short", content, 1)
    assert [one.key for one in read.questions if one.needed] == ["title", "what"]


def test_a_standard_question_keeps_how_it_is_answered() -> None:
    content = as_content(STANDARD["short"])
    content["steps"][1]["questions"][0] |= {"text": "How many a year?", "kind": "text"}
    assert read_content("short", content, 1).questions[2].kind == BY_KEY["volume"].kind


def test_own_questions_are_answered_in_their_own_way() -> None:
    content = as_content(STANDARD["short"])
    content["steps"][0]["questions"] += [
        {"key": "own-form", "text": "Which form?", "kind": "choice", "choices": ["old", "new"]},
        {"key": "own-days", "text": "How many days?", "kind": "figure"},
    ]
    read = read_content("short", content, 1)
    form, days = read.question("own-form"), read.question("own-days")
    assert form is not None and days is not None
    assert check_answer("own-form", "new", form) == "new"
    assert check_answer("own-days", "12.5", days) == "12.5"
    with pytest.raises(InputFaults):
        check_answer("own-form", "other", form)
    with pytest.raises(InputFaults):
        check_answer("own-days", "some", days)


def test_factors_come_back_as_they_are_kept() -> None:
    assert factors.read_content(factors.as_content(factors.STANDARD), 0) == factors.STANDARD


def test_faults_of_factors_are_named_all_at_once() -> None:
    content: dict[str, Any] = factors.as_content(factors.STANDARD)
    content["readiness"]["screen"] = "1.2"
    content["changed"]["small"] = "much"
    del content["weights"]["width"]
    content["evidence"]["crystal ball"] = "0.5"
    with pytest.raises(InputFaults) as caught:
        factors.read_content(content, 1)
    assert {fault.field for fault in caught.value.faults} == {
        "readiness.screen",
        "changed.small",
        "weights.width",
        "evidence",
    }


GIVEN: dict[str, Any] = {
    "volume_per_year": 1200,
    "minutes": 10,
    "judge": 2,
    "off": 3,
    "arrives": [{"kind": "screen", "part": 1}],
    "changed": "nothing",
    "announced": "nothing",
    "evidence": ["how-to"],
}


@given(st.fractions(0, 1, max_denominator=100))
def test_a_readiness_moves_the_fit_as_it_says(share: Fraction) -> None:
    table = {**factors.READINESS, "screen": share}
    other = replace(factors.STANDARD, version=3, readiness=table)
    seen, before = look(read_answers(GIVEN, other)), look(read_answers(GIVEN))
    assert seen.fit_middle is not None and before.fit_middle is not None
    assert seen.fit_middle * factors.READINESS["screen"] == before.fit_middle * share
    assert "factors 4" in working(seen).note


def test_the_order_places_the_largest_first_and_leaves_out_what_has_no_hours() -> None:
    rows = [
        factors.Ranked(3, Fraction(5)),
        factors.Ranked(1, Fraction(9)),
        factors.Ranked(2, Fraction(5)),
        factors.Ranked(4, None),
    ]
    assert factors.order(rows) == {1: 1, 2: 2, 3: 3}


def test_stage_rules_set_limits_and_needs() -> None:
    rules = way.read_stage_rules({"noted": {"days": 2, "needs": ["volume"]}, "sized": {"days": None}}, BY_KEY)
    calendar = Calendar(frozenset({6, 7}), frozenset())
    assert way.next_of("noted", date(2026, 11, 20), calendar, rules).due == date(2026, 11, 24)
    assert way.next_of("sized", date(2026, 11, 20), calendar, rules).due is None
    assert rules["noted"].needs == ("volume",)
    assert rules["screened"].days == way.AGE_LIMITS["screened"]
    with pytest.raises(InputFaults) as caught:
        way.read_stage_rules({"noted": {"days": 0}, "backed": {"needs": ["volum"]}, "nted": {}}, BY_KEY)
    assert {fault.field for fault in caught.value.faults} == {"noted.days", "backed.needs", "stages"}


def test_an_interview_names_its_questions() -> None:
    assert interviews.STANDARD["expert"].question("own-steps") is not None
    assert interviews.STANDARD["full"].question("own-steps") is None
