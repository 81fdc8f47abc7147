"""Every working gives its figure: what stands below it, reckoned, comes to what is shown."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.core.cases import business_case, sizing, workings, yearly
from tallyman.core.ideas import first_look
from tallyman.core.ideas.factors import ACCESS, READINESS
from tallyman.core.portfolio import rank
from tallyman.core.proving import faults
from tallyman.core.working import Part, Used, Working


def figure(outcome: str, formula: str, *lines: tuple[str, str]) -> Working:
    return Working("Figure", outcome, "", formula, inputs=tuple(Used(*line) for line in lines))


@pytest.mark.parametrize(
    ("outcome", "formula", "lines"),
    [
        ("-5.07", "units × minutes ÷ 60 × hour", [("Units", "-1"), ("Minutes", "8"), ("Hour", "38.00")]),
        ("12.5", "days × (1 + more), up to the next half day", [("Days", "11"), ("More", "0.1")]),
        ("20 % to 60 %", "fit × (1 ± width)", [("Fit", "40 %"), ("Width", "50 %")]),
        ("0.81", "share to the power of 2", [("Share", "0.90")]),
    ],
)
def test_what_follows_is_right(outcome: str, formula: str, lines: list[tuple[str, str]]) -> None:
    assert faults(figure(outcome, formula, *lines)) == []


@pytest.mark.parametrize(
    ("outcome", "formula", "lines"),
    [
        ("-5.07", "units × minutes ÷ 60 × hour", [("Units", "-1"), ("Minutes", "4.6"), ("Hour", "38.00")]),
        ("3.00", "one + other", [("One", "1.00"), ("Other", "3.00")]),
        ("3", "what nobody names", [("One", "3")]),
        ("20 % to 70 %", "fit × (1 ± width)", [("Fit", "40 %"), ("Width", "50 %")]),
        ("3", "one ÷ nothing", [("One", "3"), ("Nothing", "0")]),
    ],
)
def test_what_does_not_follow_is_named(outcome: str, formula: str, lines: list[tuple[str, str]]) -> None:
    found = faults(figure(outcome, formula, *lines))
    assert found and all("Figure" in fault and outcome in fault for fault in found)


def test_parts_add_up_as_far_as_they_are_rounded() -> None:
    parts = tuple(Part(str(n), "3.33") for n in range(3))
    assert faults(Working("Sum", "10.00", "", "sum", parts=parts)) == []
    assert faults(Working("Sum", "10.02", "", "sum", parts=parts)) != []
    step = Working("Below", "9", "", "sum", parts=(Part("one", "4"),))
    assert faults(Working("Above", None, steps=(step,))) != [], "steps are looked at too"


def test_words_of_before_are_left_alone_but_not_a_wrong_figure() -> None:
    assert faults(figure("3", "what nobody names", ("One", "4")), in_words_of_before=True) == []
    assert faults(figure("3.00", "one", ("One", "4.00")), in_words_of_before=True) != []


amounts = st.decimals(0, 10**6, places=2).map(str)
shares = st.decimals(0, 1, places=3).map(str)


@settings(deadline=None)
@given(
    st.fixed_dictionaries(
        {
            **{name: amounts for name in business_case.AMOUNTS if name != "support_share"},
            **{name: shares for name in (*business_case.SHARES, "support_share")},
            "robot_hours_per_day": st.integers(1, 24).map(str),
            "robot_days_per_year": st.integers(1, 366).map(str),
            "discount_rate": shares,
            "one_time_other": amounts,
            "go_live": st.dates(business_case.date(2026, 1, 1), business_case.date(2028, 1, 1)).map(str),
            "seats": st.sampled_from(business_case.SEATS),
        }
    ),
    st.lists(st.tuples(amounts, shares), min_size=0, max_size=3),
)
def test_every_figure_of_any_case_gives_its_working(
    numbers: dict[str, Any], phases: list[tuple[str, str]]
) -> None:
    plan = [{"name": f"P{n}", "person_days": rate, "day_rate": days} for n, (days, rate) in enumerate(phases)]
    case = business_case.read_case({**numbers, "currency": "EUR", "start": "2026-01-05", "phases": plan})
    figures = business_case.compute(case)
    tree = {**workings.workings(case, figures, {}), **yearly.costs_by_year(figures)}
    assert [fault for one in tree.values() for fault in faults(one)] == []


@settings(deadline=None)
@given(
    st.fixed_dictionaries(
        {
            "volume": amounts,
            "rhythm": st.sampled_from(["day", "working day", "week", "year"]),
            "handling_minutes": amounts,
            "judged_share": shares,
            "unsuitable_share": shares,
            "steps": st.integers(0, 90).map(str),
            "decisions": st.integers(0, 20).map(str),
            "variants": st.integers(1, 9).map(str),
            "languages": st.integers(1, 5).map(str),
            "reused_parts": st.integers(0, 9).map(str),
            "arrives": st.lists(
                st.fixed_dictionaries({"kind": st.sampled_from(list(READINESS)), "part": st.just("1")}),
                min_size=1,
                max_size=4,
                unique_by=lambda row: row["kind"],
            ),
            "systems": st.lists(
                st.fixed_dictionaries(
                    {"name": st.just("Assayroom"), "access": st.sampled_from(list(ACCESS))}
                ),
                min_size=1,
                max_size=3,
            ),
        }
    )
)
def test_every_figure_of_any_sizing_gives_its_working(facts: dict[str, Any]) -> None:
    found = sizing.size(facts, 251)
    tree = (found.volume_working, found.share_working, found.effort_working)
    assert [fault for one in tree for fault in faults(one)] == []
    assert faults(rank(7, Fraction(29_819), found.effort_days).working) == []


@settings(deadline=None)
@given(st.integers(0, 10), st.sets(st.sampled_from(sorted(first_look.EVIDENCE))), st.booleans())
def test_every_first_look_gives_its_working(judge: int, evidence: set[str], whole: bool) -> None:
    given_ = {
        "volume_per_year": "5200",
        "minutes": "11",
        "judge": str(judge),
        "arrives": [{"kind": "mail", "part": "2"}, {"kind": "screen", "part": "1"}],
        "changed": "small",
        "evidence": sorted(evidence),
        **({"off": "1", "announced": "nothing"} if whole else {}),
    }
    assert faults(first_look.working(first_look.look(first_look.read_answers(given_)))) == []
