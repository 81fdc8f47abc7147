"""Ranges by sampling: PERT draws in order, quantiles, payback, and what moves the outcome most."""

from __future__ import annotations

import json
from decimal import Decimal
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.cases import sampling, sanity
from tallyman.core.cases.business_case import compute, read_case
from tallyman.core.cases.sampling import DRAWS, Money, Three, draw, range_of
from tallyman.core.cases.sizing_calc import sizing_of
from tallyman.core.faults import InputFaults
from tallyman.core.volume import by_month

POINTS = {
    "volume": Three(900, 1000, 1300),
    "handling_minutes": Three(8, 10, 15),
    "automatable_share": Three(0.6, 0.7, 0.8),
    "build_effort": Three(10, 12, 20),
}
CASE = Money(38, 0.04, 15, 0.05, 8, 2, 4500, 5200, 0.12, 400, 8000, 7000, 3)


def test_draws_are_those_of_the_named_generator_one_input_before_the_next() -> None:
    drawn = draw(POINTS, 104)
    source = np.random.Generator(np.random.PCG64(104))
    volume = 900 + 400 * source.beta(1 + 4 * 100 / 400, 1 + 4 * 300 / 400, DRAWS)
    minutes = 8 + 7 * source.beta(1 + 4 * 2 / 7, 1 + 4 * 5 / 7, DRAWS)
    assert np.array_equal(drawn["volume"], volume)
    assert np.array_equal(drawn["handling_minutes"], minutes)


def test_what_is_fixed_draws_nothing() -> None:
    fixed = {**POINTS, "volume": Three(1000, 1000, 1000)}
    source = np.random.Generator(np.random.PCG64(1))
    drawn = draw(fixed, 1)
    assert set(drawn["volume"]) == {1000.0}
    assert np.array_equal(drawn["handling_minutes"], 8 + 7 * source.beta(1 + 8 / 7, 1 + 20 / 7, DRAWS))


@given(
    st.integers(0, 10**6),
    st.lists(st.floats(0.1, 1000, allow_nan=False), min_size=3, max_size=3).map(sorted),
)
def test_draws_stay_between_their_ends_and_are_the_same_again(seed: int, ends: list[float]) -> None:
    points = {"volume": Three(*ends)}
    drawn = draw(points, seed)["volume"]
    assert drawn.min() >= ends[0] - 1e-9 and drawn.max() <= ends[2] + 1e-9
    assert np.array_equal(drawn, draw(points, seed)["volume"])


def test_the_mean_of_the_draws_is_that_of_the_shape() -> None:
    drawn = draw(POINTS, 7)["volume"]
    assert abs(drawn.mean() - (900 + 4 * 1000 + 1300) / 6) < 2


def test_quantiles_are_interpolated_and_stand_aside_where_there_is_no_value() -> None:
    values = np.arange(DRAWS, dtype=np.float64)
    found = range_of(values)
    assert found.p10 is not None and found.p90 is not None
    assert found.p10 == pytest.approx(np.quantile(values, 0.1))
    assert found.p90 == pytest.approx(np.quantile(values, 0.9))
    values[DRAWS // 2 :] = np.inf
    assert range_of(values).p90 is None
    assert range_of(values).p10 is not None


def test_at_the_likely_values_the_sampled_figures_are_those_of_the_case() -> None:
    given_case: dict[str, Any] = {
        "currency": "EUR", "volume_per_year": "1000", "handling_minutes": "90", "cost_per_hour": "38",
        "rework_share": "0.04", "rework_minutes": "15", "automatable_share": "0.7", "robot_minutes": "2",
        "robot_exception_share": "0.05", "robot_exception_minutes": "8", "robot_hours_per_day": "18",
        "robot_days_per_year": "250", "seat_cost_per_year": "5200", "support_share": "0.12",
        "other_software_per_year": "400", "one_time_other": "1000", "start": "2026-01-01", "go_live": "2026-04-02",
        "phases": [{"name": "Build", "person_days": "12", "day_rate": "560"}], "discount_rate": "0.06",
    }  # fmt: skip
    case = compute(read_case(given_case))
    assert case.one_time is not None and case.saving is not None and case.running is not None
    assert case.gap_days is not None and case.payback_months is not None
    money = Money(
        38,
        0.04,
        15,
        2,
        0.05,
        8,
        4500,
        5200,
        0.12,
        400,
        float(case.one_time),
        6720,
        case.gap_days / (365 / 12),
    )
    likely = {"volume": 1000.0, "handling_minutes": 90.0, "automatable_share": 0.7, "build_effort": 12.0}
    assert sampling.yearly_net(likely, money, 12) == pytest.approx(float(case.saving - case.running))
    assert sampling.payback_months(likely, money, 12) == pytest.approx(float(case.payback_months))


def test_what_never_pays_back_has_no_months_and_no_chance() -> None:
    drawn = draw(POINTS, 3)
    poor = sampling.payback_months(drawn, CASE, 12)
    assert not np.isfinite(poor).any()
    assert sampling.chance(poor, 36) == 0
    assert sampling.shape_of(poor) == []


def test_what_moves_it_most_stands_first_and_what_is_fixed_is_left_out() -> None:
    rows = sampling.what_moves({**POINTS, "automatable_share": Three(0.7, 0.7, 0.7)}, sampling.yearly_hours)
    assert [row.name for row in rows] == ["handling_minutes", "volume", "build_effort"]
    assert rows[0].at_low == pytest.approx(1000 * 0.7 * 8 / 60)
    assert rows[-1].width == 0


def test_points_that_do_not_rise_are_refused() -> None:
    with pytest.raises(InputFaults, match="does not lie between"):
        sampling.three("volume", 12, 10, None)


@given(st.lists(st.integers(0, 50), min_size=12, max_size=12).filter(any), st.integers(1, 10**6))
def test_the_months_of_a_year_add_up_to_its_volume(factors: list[int], volume: int) -> None:
    from fractions import Fraction

    months = by_month(Fraction(volume), [Fraction(one) for one in factors])
    assert sum(months) == volume


FACTS = {"volume": "100", "handling_minutes": "12", "people": "2", "hours_a_week": "4"}


@pytest.mark.parametrize(
    ("change", "hours", "field", "words"),
    [
        (
            {"hours_a_week": "16"},
            416,
            "hours_a_week",
            "is said to spend 16 h a week on it; volume × minutes needs 4 h",
        ),
        ({}, 24960, "handling_minutes", "Were the minutes seconds?"),
        ({"hours_a_week": "120", "people": "4"}, 416, "handling_minutes", "Were the minutes hours?"),
        ({"minutes_low": "15"}, 416, "minutes_low", "the least, 15, lies above the usual 12"),
        ({"volume_high": "90"}, 416, "volume_high", "the most, 90, lies below the usual 100"),
        ({"judged_share": "0.7", "unsuitable_share": "0.4"}, 416, "unsuitable_share", "counted twice"),
        ({"share_override": "0.5"}, 416, "share_reason", "what is the reason?"),
    ],
)
def test_what_does_not_fit_together_is_asked_back(
    change: dict[str, str], hours: int, field: str, words: str
) -> None:
    from fractions import Fraction

    found = sanity.asks({**FACTS, **change}, Fraction(hours))
    assert [one.field for one in found] == [field]
    assert words in found[0].words


def test_facts_that_fit_are_not_asked_about() -> None:
    from fractions import Fraction

    assert sanity.asks(FACTS, Fraction(416)) == []
    assert sanity.asks({}, None) == []
    asked = sanity.asks({**FACTS, "cost_per_hour": "38"}, Fraction(416), Fraction(20_000))
    assert [one.field for one in asked] == ["people"]


EXAMPLES = json.loads((Path(__file__).parents[1] / "examples" / "sizing.json").read_text())


@pytest.mark.parametrize("example", EXAMPLES, ids=lambda one: one["name"])
def test_examples(example: dict[str, Any]) -> None:
    found = sizing_of(example["input"])
    for key, value in example["output"].items():
        assert found[key] == value, key


def test_faults_are_named_all_at_once() -> None:
    with pytest.raises(InputFaults) as caught:
        sizing_of({"seed": -1, "working_days": "250.5"})
    assert {fault.field for fault in caught.value.faults} == {"seed", "working_days"}
    with pytest.raises(InputFaults) as caught:
        sizing_of({"seed": 1, "working_days": 250, "judged_share": 2, "rhythm": "moon"})
    assert {fault.field for fault in caught.value.faults} == {"judged_share", "rhythm"}


def test_a_missing_input_leaves_the_range_open_and_is_named() -> None:
    found = sizing_of({"seed": 1, "working_days": 250, "volume": 10, "rhythm": "week"})
    assert found["hours_per_year"] == {"likely": None, "p10": None, "p50": None, "p90": None}
    assert "handling_minutes" in found["missing"] or "judged_share" in found["missing"]
    assert Decimal(found["volume_per_year"]) == 520


def test_a_judged_effort_stands_beside_the_computed_one_and_asks_for_its_reason() -> None:
    given = {**EXAMPLES[0]["input"], "effort_override": "20"}
    found = sizing_of(given)
    assert (found["build_effort_days"], found["computed_effort_days"], found["band"]) == (
        "20.0",
        "14.5",
        "medium",
    )
    assert [one["field"] for one in found["asks"]] == ["effort_reason"]
    assert sizing_of({**given, "effort_reason": "seen in the depot"})["asks"] == []
