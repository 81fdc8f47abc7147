from __future__ import annotations

from fractions import Fraction

import pytest

from tallyman.core.cases.business_case import Case, compute, read_case
from tallyman.core.cases.yearly import benefits, costs_by_year, years_of
from tallyman.core.exact import exact
from tests.core.cases.test_workings import PLAIN


def figures(**changes: object) -> Case:
    return compute(read_case({**PLAIN, **changes}))


@pytest.mark.parametrize("changes", [{}, {"go_live": "2029-06-01"}, {"rework_share": 0}])
def test_a_years_net_is_what_robots_leave_of_the_cost(changes: dict[str, object]) -> None:
    years = years_of(figures(**changes))
    assert years is not None
    for year in years:
        assert year.before - year.after == year.net
        assert year.net == year.saved - year.to_run - (year.to_build or 0)
    assert [year.to_build is None for year in years] == [False, True, True]


def test_before_go_live_nothing_is_saved() -> None:
    years = years_of(figures(go_live="2029-06-01"))
    assert years is not None
    assert [year.live for year in years] == [0, 0, 0]
    assert {year.people for year in years} == {years[0].before}


@pytest.mark.parametrize("year", [1, 2, 3])
def test_the_parts_of_a_years_costs_add_up(year: int) -> None:
    found = costs_by_year(figures())
    for name in (f"people_{year}", f"after_{year}"):
        outcome = exact(found[name].outcome or "")
        assert abs(sum(exact(part.value) for part in found[name].parts) - outcome) <= Fraction(1, 100)


def test_without_a_rate_there_are_no_years() -> None:
    lacking = figures(cost_per_hour=None)
    assert years_of(lacking) is None
    assert costs_by_year(lacking) == {}


def test_benefit_lines_are_summed_apart() -> None:
    lines = [
        {"name": "Late fees", "kind": "penalties avoided", "a_year": "1200.50", "how": "12 × 100.04"},
        {"name": "Old licence", "kind": "licence given back", "a_year": "300", "how": None},
    ]
    found = benefits(lines)
    assert found.outcome == "1500.50"
    assert [part.note for part in found.parts] == ["12 × 100.04", "licence given back"]
    assert benefits([*lines, {"name": "?", "kind": "other", "a_year": None}]).outcome is None
    assert benefits([]).outcome == "0.00"
