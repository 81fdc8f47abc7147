"""Each figure of a case opens a working that a person can follow."""

from __future__ import annotations

import json
from fractions import Fraction
from pathlib import Path
from typing import Any

import pytest

from tallyman.core.cases.business_case import compute, read_case
from tallyman.core.cases.calc import business_case
from tallyman.core.cases.workings import SAVING_INPUTS, input_text, swings, workings

PLAIN: dict[str, Any] = json.loads((Path(__file__).parents[1] / "examples/business-case.json").read_text())[
    0
]["input"]
SOURCES = {"volume_per_year": ("Job book", "2026-09-30", "volume")}


def tree(**changes: Any) -> dict[str, Any]:
    case = read_case({**PLAIN, **changes})
    found = workings(case, compute(case), SOURCES)
    return {name: one.as_dict() for name, one in found.items()}


@pytest.mark.parametrize("name", sorted(tree()))
def test_every_working_has_a_name_a_formula_and_an_outcome(name: str) -> None:
    one = tree()[name]
    assert one["name"]
    assert one["formula"]
    assert one["outcome"] is not None
    assert one["missing"] == []


@pytest.mark.parametrize("year", [1, 2, 3])
def test_a_years_lines_add_up_to_its_net(year: int) -> None:
    found = tree()
    lines = Fraction(found[f"saved_{year}"]["outcome"]) + Fraction(found[f"to_run_{year}"]["outcome"])
    if year == 1:
        lines -= Fraction(found["one_time_cost"]["outcome"])
    assert abs(lines - Fraction(found[f"net_{year}"]["outcome"])) <= Fraction("0.02")


@pytest.mark.parametrize("year", [1, 2, 3])
def test_full_years_from_go_live_are_those_of_the_result(year: int) -> None:
    assert tree()[f"live_{year}"]["outcome"] == business_case(PLAIN)["after_go_live"][year - 1]


def test_hours_of_people_and_robots_are_worked_out() -> None:
    found = tree()
    assert found["hours_today"]["outcome"] == "1040.0"
    assert found["hours_kept"]["outcome"] == "291.2"
    assert found["hours_returned"]["outcome"] == "33.7"
    assert found["robot_hours"]["outcome"] == "249.6"


def test_an_input_names_its_source_day_and_field() -> None:
    used = tree()["saving_per_year"]["inputs"][0]
    assert (used["name"], used["value"], used["source"], used["date"], used["link"]) == (
        "Volume a year",
        "5200",
        "Job book",
        "2026-09-30",
        "volume",
    )


@pytest.mark.parametrize(
    ("missing", "lacks", "stands"),
    [
        ("cost_per_hour", "saving_per_year", "one_time_cost"),
        ("robot_minutes", "running_cost_per_year", "saving_per_year"),
        ("phases", "one_time_cost", "saving_per_year"),
        ("go_live", "payback_months", "saving_per_year"),
        ("discount_rate", "npv_3y", "payback_months"),
    ],
)
def test_a_missing_input_is_named_where_it_is_lacking(missing: str, lacks: str, stands: str) -> None:
    found = tree(**{missing: None})
    assert found[lacks]["outcome"] is None
    assert missing in found[lacks]["missing"]
    assert found[stands]["outcome"] is not None


def test_never_paying_back_is_said_in_words() -> None:
    never = tree(volume_per_year=900, robot_exception_share="0.9", robot_exception_minutes=14)
    assert "never pays back" in never["payback_months"]["note"]
    late = tree(one_time_other=60_000)
    assert "more than 60 months" in late["payback_months"]["note"]


def test_present_value_says_when_money_counts() -> None:
    assert "year ends" in tree()["npv_3y"]["note"]


def test_a_share_never_swings_above_the_whole() -> None:
    case = read_case({**PLAIN, "automatable_share": "0.98"})
    found = {one.name: one for one in swings(case, SAVING_INPUTS, lambda figures: figures.saving)}
    whole = compute(read_case({**PLAIN, "automatable_share": 1})).saving
    assert whole is not None
    assert Fraction(found["Automatable share"].high) == whole


def test_inputs_are_written_plainly() -> None:
    case = read_case({**PLAIN, "handling_minutes": "11.50", "cost_per_hour": 40})
    assert input_text(case, "handling_minutes") == "11.5"
    assert input_text(case, "cost_per_hour") == "40"
    assert input_text(case, "go_live") == "2026-04-20"


def test_running_lines_and_other_costs_stand_among_the_parts() -> None:
    found = tree()
    assert {"second-line support", "Seats", "Support", "Other software"} == {
        part["name"] for part in found["running_cost_per_year"]["parts"]
    }
    assert "Other, once" in {part["name"] for part in found["one_time_cost"]["parts"]}
