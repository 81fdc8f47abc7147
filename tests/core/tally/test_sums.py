from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction

import pytest

from tallyman.core.exact import exact
from tallyman.core.tally import Kept, Rate, sums, working_of

DAY = date(2026, 3, 10)
MINUTES = Rate(1, "Minutes by hand", Fraction(12), "min", "2026-01-01")
HOUR = Rate(2, "An hour costs", Fraction(38), "money", "2026-01-01")
PRICE = Rate(3, "A robot hour", Fraction(9, 2), "money", "2026-01-01")


@dataclass(frozen=True)
class Line:
    line: str
    money: Decimal
    units: Decimal = Decimal(0)
    hours: Decimal = Decimal(0)
    entries: int = 1


def lines(*rows: Line) -> dict[str, Line]:
    return {row.line: row for row in rows}


IDEA = lines(
    Line("time saved", Decimal("76.006"), Decimal(10), Decimal(2), 2),
    Line("handed back", Decimal("-11.4"), Decimal(-2), Decimal("-0.3")),
    Line("robot time", Decimal("-2.25")),
    Line("support", Decimal("-30")),
)


def test_sums_keep_benefit_and_costs_apart() -> None:
    found = sums.sums_of(IDEA, Fraction(50))
    assert found.shown() == {
        "promised": "50.00",
        "saved": "64.61",
        "difference": "14.61",
        "robot_time": "-2.25",
        "costs": "-32.25",
        "net": "32.36",
        "hours": "1.7",
        "units": "10",
    }
    assert sums.sums_of({}, Fraction(0)).shown()["hours"] == "0.0"


def test_the_working_of_a_difference_adds_up_and_names_its_entries() -> None:
    working = sums.difference_working("I-7", sums.sums_of(IDEA, Fraction(50)), IDEA, "by days")
    assert exact(working.outcome or "") == sum(exact(part.value) for part in working.parts)
    delivered, apart = working.steps
    assert [(part.name, part.note) for part in delivered.parts] == [
        ("time saved", "2 entries"),
        ("handed back", "1 entry"),
    ]
    assert [part.name for part in apart.parts] == ["robot time", "support"]


def test_a_total_says_what_rounding_leaves() -> None:
    third = sums.Sums(saved=Fraction(10, 3))
    total = third + third + third
    working = sums.total_workings([("I-1", third), ("I-2", third), ("I-3", third)], total)["saved"]
    assert working.outcome == "10.00"
    assert [(part.name, part.value) for part in working.parts][2:] == [
        ("I-3", "3.33"),
        ("Left by rounding", "0.01"),
    ]
    # What brings nothing to a total is no line of it.
    assert sums.total_workings([("I-1", third)], third)["promised"].parts == ()


def test_a_line_is_set_off_as_it_is_shown() -> None:
    """Delivered 2.505 of 1.004 promised: 2.51 less 1.00 are 1.51 on the page, not 1.50."""
    shown = sums.Sums(saved=Fraction("2.505"), promised=Fraction("1.004"), costs=Fraction("-0.004")).shown()
    assert (shown["saved"], shown["promised"], shown["difference"]) == ("2.51", "1.00", "1.51")
    assert (shown["costs"], shown["net"]) == ("0.00", "2.51")
    rows = [sums.Sums(saved=Fraction(10, 3)).shown() for _ in range(3)]
    total = sum((sums.Sums(saved=Fraction(10, 3)) for _ in range(3)), sums.Sums()).shown()
    left = sums.roundings(rows, total)
    assert left is not None and (left["saved"], left["difference"], left["promised"]) == (
        "0.01",
        "0.01",
        "0.00",
    )
    assert sums.roundings(rows[:1], rows[0]) is None


def test_what_no_idea_bears_is_in_what_is_left_of_all() -> None:
    one = sums.Sums(saved=Fraction(100), costs=Fraction(-30))
    working = sums.total_workings([("I-1", one)], one, Fraction("-24.5"))["net"]
    assert working.outcome == "45.50"
    assert [(part.name, part.value) for part in working.parts] == [
        ("I-1", "70.00"),
        ("Borne by no idea", "-24.50"),
    ]


def test_a_line_sets_its_months_against_the_promise() -> None:
    found = [("2026-02", Line("support", Decimal(-30))), ("2026-03", Line("support", Decimal(-31)))]
    delivered, working = sums.line_working("support", Fraction(-60), found, "share × one-time cost")
    assert (delivered, working.outcome) == (-61, "-1.00")
    assert [part.name for part in working.steps[0].parts] == ["2026-02: support", "2026-03: support"]


def value(inputs: dict[str, str | None], name: str) -> Fraction:
    return exact(inputs[name] or "")


@pytest.mark.parametrize(
    ("line", "units", "each"),
    [("time saved", 10, "Minutes by hand"), ("handed back", -2, "Minutes for one handed back")],
)
def test_the_working_of_kept_time_gives_its_money(line: str, units: int, each: str) -> None:
    minutes = Fraction(12 if line == "time saved" else 9)
    hours = units * minutes / 60
    kept = Kept(line, Fraction(units), hours, hours * 38, 4, DAY)
    working = working_of(kept, [MINUTES, HOUR], "Entry", "")
    inputs = {one.name: one.value for one in working.inputs}
    assert list(inputs) == ["Units", each, "An hour costs", "Hours"]
    reckoned = value(inputs, "Units") * value(inputs, each) / 60 * value(inputs, "An hour costs")
    assert reckoned == exact(working.outcome or "")


def test_the_working_of_robot_time_gives_its_money() -> None:
    working = working_of(
        Kept("robot time", Fraction(0), Fraction(0), Fraction(-9, 4), 4, DAY), [PRICE], "Entry", ""
    )
    inputs = {one.name: one.value for one in working.inputs}
    assert -value(inputs, "Robot hours") * value(inputs, "A robot hour") == exact(working.outcome or "")
