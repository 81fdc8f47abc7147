from __future__ import annotations

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.cases.business_case import AMOUNTS, compute, payback, read_case
from tallyman.core.cases.calc import business_case
from tallyman.core.faults import InputFaults

PLAIN: dict[str, Any] = json.loads((Path(__file__).parents[1] / "examples/business-case.json").read_text())[
    0
]["input"]
share = st.decimals(0, 1, places=3)
amount = st.decimals(0, 5000, places=2)
inputs = st.fixed_dictionaries(
    {
        **dict.fromkeys(AMOUNTS, amount),
        "support_share": share,
        "rework_share": share,
        "automatable_share": share,
        "robot_exception_share": share,
    }
)


@given(inputs)
def test_saving_is_before_less_after_and_nets_add_up(values: dict[str, Any]) -> None:
    figures = compute(read_case({**PLAIN, **values}))
    assert figures.saving == figures.cost_before - figures.cost_after_people  # type: ignore[operator]
    assert figures.net is not None
    assert figures.live_parts is not None
    assert figures.running is not None
    assert figures.one_time is not None
    whole = sum(figures.live_parts) * (figures.saving - figures.running) - figures.one_time
    assert sum(figures.net) == whole


@given(inputs)
def test_robots_are_just_enough(values: dict[str, Any]) -> None:
    figures = compute(read_case({**PLAIN, **values}))
    assert figures.robots is not None
    assert figures.robot_hours is not None
    a_year = Fraction(18 * 250)
    assert (
        figures.robots * a_year >= figures.robot_hours > (figures.robots - 1) * a_year or figures.robots == 0
    )


@pytest.mark.parametrize("name", [*AMOUNTS, "automatable_share", "go_live", "discount_rate", "phases"])
def test_a_missing_input_is_named_and_what_hangs_on_it_is_empty(name: str) -> None:
    result = business_case({**PLAIN, name: None})
    assert result["missing"] == [name]
    assert result["npv_3y"] is None


def test_go_live_before_the_start_counts_as_no_gap() -> None:
    early = business_case({**PLAIN, "go_live": "2025-01-01"})
    same = business_case({**PLAIN, "go_live": PLAIN["start"]})
    assert early["net"] == same["net"]


def test_payback_is_nothing_without_one_time_cost_and_none_when_too_late() -> None:
    assert payback(30, Fraction(0), Fraction(100)) == 0
    assert payback(365 * 6, Fraction(0), Fraction(100)) is None
    assert payback(0, Fraction(501), Fraction(100)) is None
    assert payback(0, Fraction(500), Fraction(100)) == 60
    assert payback(0, Fraction(500), Fraction(0)) is None


def test_every_fault_is_named() -> None:
    wrong = {**PLAIN, "rework_share": 1.2, "cost_per_hour": "a lot", "robot_hours_per_day": 0, "start": "x"}
    with pytest.raises(InputFaults) as refused:
        business_case(wrong)
    assert {one.field for one in refused.value.faults} == {
        "rework_share",
        "cost_per_hour",
        "robot_hours_per_day",
        "start",
    }


def test_working_adds_up_to_its_figure() -> None:
    result = business_case(PLAIN)
    for name in (
        "cost_before",
        "cost_after_people",
        "saving_per_year",
        "running_cost_per_year",
        "one_time_cost",
    ):
        tree = result["working"][name]
        parts = sum(Fraction(part["value"]) for part in tree["parts"])
        assert abs(parts - Fraction(tree["outcome"])) <= Fraction("0.02"), name


def test_working_names_what_would_change_the_saving_most() -> None:
    swings = business_case(PLAIN)["working"]["saving_per_year"]["swings"]
    spans = [abs(Fraction(one["high"]) - Fraction(one["low"])) for one in swings]
    assert spans == sorted(spans, reverse=True)
    assert swings[0]["name"] in ("Volume a year", "An hour costs")


def test_money_never_passes_through_a_float() -> None:
    result = business_case({**PLAIN, "cost_per_hour": "38.10", "volume_per_year": "3"})
    assert result["cost_before"] == "22.86"
