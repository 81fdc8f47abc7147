from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.ideas.factors import ANNOUNCED, CHANGED, READINESS
from tallyman.core.ideas.first_look import EVIDENCE, first_look, look, read_answers

WHOLE: dict[str, Any] = {
    "volume_per_year": 1200,
    "minutes": 10,
    "judge": 2,
    "off": 3,
    "arrives": [{"kind": "screen", "part": 1}],
    "changed": "small",
    "announced": "nothing",
    "evidence": [],
}
answers = st.fixed_dictionaries(
    {
        "volume_per_year": st.integers(0, 10**6),
        "minutes": st.integers(0, 1000),
        "judge": st.integers(0, 10),
        "off": st.integers(0, 10),
        "arrives": st.lists(
            st.fixed_dictionaries({"kind": st.sampled_from(sorted(READINESS)), "part": st.integers(1, 9)}),
            min_size=1,
            max_size=4,
        ),
        "changed": st.sampled_from(sorted(CHANGED)),
        "announced": st.sampled_from(sorted(ANNOUNCED)),
        "evidence": st.lists(st.sampled_from(sorted(EVIDENCE)), max_size=7),
    }
)


@given(answers)
def test_range_encloses_its_middle_and_stays_a_share(given_answers: dict[str, Any]) -> None:
    seen = look(read_answers(given_answers))
    assert seen.fit_middle is not None
    assert 0 <= seen.fit_low <= seen.fit_middle <= seen.fit_high <= 1


@given(answers, st.sampled_from(sorted(EVIDENCE)))
def test_more_evidence_never_widens_the_range(given_answers: dict[str, Any], piece: str) -> None:
    before = look(read_answers(given_answers))
    more = {**given_answers, "evidence": [*given_answers["evidence"], piece]}
    after = look(read_answers(more))
    assert after.fit_low >= before.fit_low
    assert after.fit_high <= before.fit_high


@given(answers, st.sampled_from(["judge", "off", "arrives", "changed", "announced"]))
def test_unanswered_question_widens_by_all_that_it_could_be(given_answers: dict[str, Any], name: str) -> None:
    known = look(read_answers(given_answers))
    unknown = look(read_answers({**given_answers, name: None}))
    assert unknown.fit_low <= known.fit_low
    assert unknown.fit_high >= known.fit_high
    assert unknown.fit_middle is None
    assert name in unknown.answers.missing


def test_drawing_and_walkthrough_count_once() -> None:
    one = look(read_answers({**WHOLE, "evidence": ["drawing"]}))
    both = look(read_answers({**WHOLE, "evidence": ["drawing", "walkthrough"]}))
    assert one.width == both.width == Fraction("0.28")


def test_missing_volume_gives_no_hours_but_a_fit() -> None:
    result = first_look({**WHOLE, "volume_per_year": None})
    assert result["hours_per_year"] is None
    assert result["hours_in_reach"] == {"low": None, "high": None}
    assert result["missing"] == ["volume_per_year"]
    assert result["fit"]["middle"] is not None


def test_every_fault_is_named_with_field_value_and_mend() -> None:
    wrong = {**WHOLE, "judge": 11, "changed": "smal", "arrives": [{"kind": "scren", "part": 1}]}
    with pytest.raises(InputFaults) as refused:
        first_look(wrong)
    faults = {one.field: one for one in refused.value.faults}
    assert set(faults) == {"judge", "changed", "arrives[0].kind"}
    assert "0 to 10" in faults["judge"].message
    assert "did you mean 'small'" in faults["changed"].message
    assert "did you mean 'screen'" in faults["arrives[0].kind"].message


def test_parts_that_add_up_to_nothing_are_refused() -> None:
    with pytest.raises(InputFaults, match="add up to 0"):
        first_look({**WHOLE, "arrives": [{"kind": "screen", "part": 0}]})


def test_working_names_what_would_lift_the_low_end_best_first() -> None:
    tree = first_look(WHOLE)["working"]
    gains = [float(one["high"]) - float(one["low"]) for one in tree["swings"]]
    assert gains == sorted(gains, reverse=True)
    assert tree["swings"][0]["name"] == "Put on file: event-log study"


def test_working_counts_an_open_answer_among_what_would_lift() -> None:
    tree = first_look({**WHOLE, "announced": None})["working"]
    assert any(one["name"].startswith("Answer: announced") for one in tree["swings"])
    assert tree["missing"] == ["announced"]
