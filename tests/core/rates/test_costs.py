"""Cost tables: which row counts for whom; lines; what a robot works a day; variants; delivered work."""

from __future__ import annotations

from datetime import date
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.cases import delivered, running, variants
from tallyman.core.cases.business_case import compute, read_case
from tallyman.core.cases.calc import business_case
from tallyman.core.cases.delivered import Record
from tallyman.core.faults import InputFaults
from tallyman.core.rates import costs
from tallyman.core.rates.costs import CostRow, HostDay

DAY = date(2026, 5, 4)


def row(
    number: int, what: str = "", division: int = 0, value: str = "38", since: str = "2026-01-01"
) -> CostRow:
    return CostRow(number, "hour_cost", what, division, Fraction(value), date.fromisoformat(since))


ROWS = [
    row(1),
    row(2, since="2026-03-01", value="39"),
    row(3, since="2026-06-01", value="44"),
    row(4, what="clerk", value="33"),
    row(5, what="clerk", division=7, value="35"),
    row(6, what="clerk", division=3, value="34"),
    row(7, division=7, value="41"),
]


@pytest.mark.parametrize(
    ("what", "divisions", "wanted"),
    [
        ("", (), 2),
        ("engineer", (), 2),
        ("clerk", (), 4),
        ("clerk", (9, 3), 6),
        ("clerk", (7, 3), 5),
        ("", (7,), 7),
        ("engineer", (9, 7), 7),
    ],
)
def test_the_nearest_row_counts(what: str, divisions: tuple[int, ...], wanted: int) -> None:
    found = costs.pick(ROWS, "hour_cost", DAY, what, divisions)
    assert found is not None and found.id == wanted


def test_a_row_of_later_or_of_another_kind_does_not_count() -> None:
    assert costs.pick(ROWS, "hour_cost", date(2025, 12, 31)) is None
    assert costs.pick(ROWS, "day_rate", DAY) is None


@given(st.lists(st.sampled_from(ROWS), unique=True), st.sampled_from(["", "clerk", "engineer"]))
def test_the_row_that_counts_is_in_force_and_fits(rows: list[CostRow], what: str) -> None:
    found = costs.pick(rows, "hour_cost", DAY, what, (7, 3))
    fit = [one for one in rows if one.since <= DAY and one.what in ("", what)]
    assert (found is None) == (not fit)
    if found is not None:
        assert found in fit
        assert found.what == what or not any(one.what == what for one in fit)


@pytest.mark.parametrize(
    ("line", "wanted", "how"),
    [
        ({"name": "a", "amount": "2600"}, "2600", ""),
        ({"name": "a", "per_robot": "340"}, "1020", "340 a robot"),
        (
            {"name": "a", "share": "0.05", "days": "220", "day_cost": "390"},
            "4290",
            "0.05 of a person × 220 days × 390",
        ),
        ({"name": "a", "amount": "1150", "currency": "GBP"}, "1334", "1150 GBP at 1.16"),
        ({"name": "a", "amount": "1150", "currency": "USD"}, None, "1150 USD at no rate"),
        ({"name": "a", "share": "0.05", "days": "220"}, None, "0.05 of a person × 220 days × –"),
        ({"name": "a"}, None, ""),
    ],
)
def test_a_line_comes_to_money_a_year(line: dict[str, Any], wanted: str | None, how: str) -> None:
    found = costs.reckoned([line], 3, {"GBP": Fraction("1.16")})[0]
    assert (found["a_year"], found["how_reckoned"]) == (wanted, how)


def test_what_is_so_much_a_robot_waits_for_the_robots() -> None:
    assert costs.reckoned([{"name": "a", "per_robot": "340"}], None, {})[0]["a_year"] is None


@pytest.mark.parametrize(
    ("hosts", "wanted"),
    [
        ([("Weir", None, None, 2)], "24"),
        ([("Weir", "08:00", "18:00", 1)], "10"),
        ([("Weir", "22:00", "06:00", 1)], "8"),
        ([("Weir", "08:00", "18:30", 2), ("Sluice", None, None, 1)], "15"),
        ([("Weir", None, None, 0)], None),
        ([], None),
    ],
)
def test_hours_of_a_robot_follow_from_the_hosts(hosts: list[tuple[Any, ...]], wanted: str | None) -> None:
    found = costs.robot_hours_a_day([HostDay(*one) for one in hosts])
    assert (found[0] if found else None) == (None if wanted is None else Fraction(wanted))


GIVEN: dict[str, Any] = {
    "currency": "EUR",
    "volume_per_year": "12000",
    "handling_minutes": "12",
    "cost_per_hour": "38",
    "rework_share": "0.05",
    "rework_minutes": "20",
    "automatable_share": "0.6",
    "robot_minutes": "3",
    "robot_exception_share": "0.06",
    "robot_exception_minutes": "9",
    "robot_hours_per_day": "18",
    "robot_days_per_year": "250",
    "seat_cost_per_year": "5200",
    "support_share": "0.1",
    "other_software_per_year": "0",
    "one_time_other": "0",
    "running_lines": [],
    "phases": [
        {"name": "Build", "person_days": "10", "day_rate": "560"},
        {"name": "Try out", "person_days": "5", "day_rate": "560"},
    ],
    "start": "2026-01-05",
    "go_live": "2026-03-02",
    "discount_rate": "0.06",
}


def test_lines_of_robots_are_added_before_the_case_is_reckoned() -> None:
    whole, lines, robots = running.with_lines(GIVEN, [{"name": "Hosting", "per_robot": "340"}], {})
    assert robots == 1
    assert whole["running_lines"] == [{"name": "Hosting", "amount": "340"}]
    assert lines[0]["a_year"] == "340"


def as_is(one: dict[str, Any]) -> dict[str, Any]:
    return one


def test_cautious_and_bold_take_the_ends_that_bring_less_and_more() -> None:
    ends = {
        "volume_per_year": (Fraction(9000), Fraction(15000)),
        "handling_minutes": (None, Fraction(14)),
        variants.EFFORT: (Fraction(12), Fraction(30)),
    }
    cautious, bold = variants.from_ends(ends, bold=False), variants.from_ends(ends, bold=True)
    assert cautious == {"volume_per_year": "9000", "build_effort": "30"}
    assert bold == {"volume_per_year": "15000", "handling_minutes": "14", "build_effort": "12"}
    found = [
        variants.variant(name, GIVEN, one, as_is) for name, one in (("c", cautious), ("s", {}), ("b", bold))
    ]
    npvs = [one.figures.npv for one in found]
    assert npvs[0] is not None and npvs[1] is not None and npvs[2] is not None
    assert npvs[0] < npvs[1] < npvs[2]


def test_a_variant_reckons_as_the_rules_do_on_its_input() -> None:
    changes = variants.check({"handling_minutes": "9", "build_effort": "30", "discount_rate": ""})
    one = variants.variant("own", GIVEN, changes, as_is)
    direct = {
        **GIVEN,
        "handling_minutes": "9",
        "phases": [{**GIVEN["phases"][0], "person_days": "20"}, {**GIVEN["phases"][1], "person_days": "10"}],
    }
    assert one.figures == compute(read_case(direct))
    assert [row["field"] for row in variants.differing([variants.variant("s", GIVEN, {}, as_is), one])] == [
        "handling_minutes",
        "build_effort",
    ]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"minutes": "9"}, "input"),
        ({"handling_minutes": "nine"}, "handling_minutes"),
        ({"go_live": "soon"}, "go_live"),
    ],
)
def test_a_variant_that_makes_no_sense_is_refused(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(InputFaults) as refused:
        variants.check(changes)
    assert refused.value.faults[0].field == field


def test_an_input_out_of_range_is_refused_in_a_variant() -> None:
    with pytest.raises(InputFaults):
        variants.variant("own", GIVEN, {"automatable_share": "1.2"}, as_is)


def test_a_year_is_split_by_who_does_it() -> None:
    case = read_case(GIVEN)
    year = delivered.year_of_work(case, [Fraction(n) for n in (2, *([1] * 10), 0)])
    assert year is not None
    assert [one.before for one in year][:2] == [2000, 1000] and year[11].before == 0
    assert sum(one.before for one in year) == 12000
    january = year[0]
    assert (january.robots, january.handed_back, january.people) == (1128, 72, 800)
    missing = read_case({**GIVEN, "automatable_share": None})
    assert delivered.year_of_work(missing, None) is None


def record(idea: int, function: str, estimator: str, **ratios: str) -> Record:
    return Record(idea, function, estimator, {what: Fraction(one) for what, one in ratios.items()})


RECORDS = [
    record(1, "Networks", "Mei", effort="1.2", share="0.8"),
    record(2, "Networks", "Mei", effort="1.4"),
    record(3, "Networks", "Ana", effort="0.9"),
    record(4, "Customers", "Mei", effort="1.0"),
]


def test_a_correction_comes_from_the_narrowest_group_with_enough_ideas() -> None:
    effort, share = delivered.corrections(RECORDS, "Networks", "Mei")
    # Two of Mei's in Networks are too few; three of Networks do.
    assert (effort.what, effort.sample, effort.of, effort.factor) == (
        "effort",
        3,
        "all of Networks",
        Fraction("1.2"),
    )
    assert (effort.least, effort.most, effort.ideas) == (Fraction("0.9"), Fraction("1.4"), (1, 2, 3))
    assert (share.sample, share.of) == (1, "all ideas in service")
    by_mei = delivered.corrections(RECORDS, "Laboratory", "Mei")[0]
    assert (by_mei.of, by_mei.sample) == ("all that Mei estimated", 3)
    assert delivered.corrections([], "Networks", "Mei") == []


def test_nothing_is_said_where_nothing_was_estimated() -> None:
    assert delivered.ratio(None, Fraction(3)) is None
    assert delivered.ratio(Fraction(3), Fraction(0)) is None
    assert delivered.ratio(Fraction(3), Fraction(4)) == Fraction(3, 4)


def test_the_rules_still_take_a_case_with_its_lines() -> None:
    whole, _, _ = running.with_lines(GIVEN, [{"name": "Desk", "amount": "100"}], {})
    more = business_case(whole)
    assert (
        Fraction(more["running_cost_per_year"]) - Fraction(business_case(GIVEN)["running_cost_per_year"])
        == 100
    )
