from __future__ import annotations

from fractions import Fraction
from typing import Any

from tallyman.core.cases.delivered import Actual, ratios
from tallyman.core.cases.promise import LINES, promised_a_year

GIVEN: dict[str, Any] = {
    "phases": [{"person_days": "3"}, {"person_days": "9"}],
    "rework_share": "0.05",
    "rework_minutes": "20",
    "handling_minutes": "11",
    "volume_per_year": "1200",
    "automatable_share": "0.8",
    "robot_exception_share": "0.1",
}


def actual(**more: Any) -> Actual:
    return Actual(**{"days": None, "minutes": None, "came": {}, "done": {}} | more)


def test_what_is_not_known_has_no_ratio() -> None:
    assert ratios(actual(), GIVEN, {}) == {}
    assert ratios(actual(came={"2026-01": Fraction(100)}), GIVEN, {}) == {}


def test_days_and_minutes_stand_against_their_estimates() -> None:
    found = ratios(actual(days=Fraction(18), minutes=Fraction(6)), GIVEN, {})
    assert found == {"effort": Fraction(3, 2), "minutes": Fraction(1, 2)}


def test_items_stand_against_the_same_months_of_a_drawn_year() -> None:
    came = {"2026-01": Fraction(110), "2026-12": Fraction(310)}
    assert ratios(actual(came=came), GIVEN, {}) == {"volume": Fraction(420, 200)}
    peaks = ["1"] * 11 + ["3"]
    drawn = ratios(actual(came=came), GIVEN, {"peaks": peaks})["volume"]
    assert drawn == Fraction(420) / (Fraction(1200, 14) * 4)


def test_the_share_counts_months_in_which_both_are_known() -> None:
    came = {"2026-01": Fraction(100), "2026-02": Fraction(100), "2026-03": Fraction(100)}
    done = {"2026-01": Fraction(60), "2026-02": Fraction(48), "2026-04": Fraction(99)}
    assert ratios(actual(came=came, done=done), GIVEN, {})["share"] == Fraction(108, 200) / Fraction(72, 100)


def test_a_promise_is_spread_over_the_lines_that_deliver_it() -> None:
    given = {
        "running_lines": [{"amount": "1200"}, {"amount": "30"}],
        "seat_cost_per_year": "6500",
        "support_share": "0.12",
        "other_software_per_year": "800",
    }
    found = promised_a_year(given, {"one_time_cost": "12630", "saving_per_year": "27173.95", "robots": 2})
    assert found == {
        "saving": Fraction("27173.95"),
        "robots": -13000,
        "support": Fraction("-1515.6"),
        "software": -800,
        "running lines": -1230,
    }
    assert found.keys() == LINES.keys()
