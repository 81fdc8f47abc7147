"""Sizing, runs, tally, promise, matching, interview, access, exact numbers."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core import access, exact
from tallyman.core.cases import promise, sizing
from tallyman.core.faults import InputFaults
from tallyman.core.house.workdays import Calendar
from tallyman.core.ideas import matching, questions, way
from tallyman.core.ideas.factors import STANDARD
from tallyman.core.runs import facts, starting
from tallyman.core.tally import entries
from tallyman.core.volume import yearly_volume

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)
FACTS: dict[str, Any] = {
    "volume": "100",
    "rhythm": "week",
    "handling_minutes": "11",
    "judged_share": "0.2",
    "unsuitable_share": "0.1",
    "arrives": [{"kind": "screen", "part": "3"}, {"kind": "mail", "part": "1"}],
    "systems": [{"name": "Fettlebook", "access": "web"}, {"name": "Sumhall", "access": "desktop"}],
    "steps": "20",
    "decisions": "4",
    "variants": "2",
    "languages": "1",
    "reused_parts": "1",
}


def test_sizing_gives_share_and_effort_by_the_rules() -> None:
    found = sizing.size(FACTS, 252)
    assert found.volume_per_year == 5200
    assert found.share == Fraction("0.8") * Fraction("0.9") * Fraction("0.8125")
    # 2 + 2 + 3 + 1.5 + 0 + 2 + 3 = 13.5; a quarter is mail: × 1.3; one part reused: × 0.9 → 15.795
    assert found.effort_days == 16
    assert found.band == "medium"
    assert found.missing == ()


@pytest.mark.parametrize(
    ("days", "band"),
    [("10", "small"), ("10.5", "medium"), ("25", "medium"), ("60", "large"), ("60.5", "very large")],
)
def test_bands(days: str, band: str) -> None:
    assert STANDARD.band_of(Fraction(days)) == band


@pytest.mark.parametrize(
    ("rhythm", "times"),
    [("day", 365), ("working day", 252), ("week", 52), ("month", 12), ("quarter", 4), ("year", 1)],
)
def test_rhythms(rhythm: str, times: int) -> None:
    assert yearly_volume(Fraction(2), rhythm, 252) == 2 * times


def test_sizing_names_what_is_missing_and_computes_the_rest() -> None:
    found = sizing.size({**FACTS, "systems": None, "unsuitable_share": None}, 252)
    assert found.effort_days is None
    assert found.share is None
    assert found.volume_per_year == 5200
    assert set(found.missing) == {"systems", "unsuitable_share"}


def test_expert_may_override_the_share_and_both_stay() -> None:
    found = sizing.size({**FACTS, "share_override": "0.5"}, 252)
    assert found.share == Fraction(1, 2)
    assert found.computed_share != found.share


def test_sizing_refuses_unknown_access_with_a_hint() -> None:
    with pytest.raises(InputFaults, match="did you mean 'desktop'"):
        sizing.size({**FACTS, "systems": [{"name": "X", "access": "destkop"}]}, 252)


@given(st.integers(1, 5), st.integers(0, 10_000))
def test_lower_priority_orders_half_an_hour_later(priority: int, minutes: int) -> None:
    due = NOW + timedelta(minutes=minutes)
    assert starting.order_key(due, priority) == due + timedelta(minutes=30 * (priority - 1))


@pytest.mark.parametrize("state", starting.STATES)
def test_only_the_named_changes_of_state_are_allowed(state: str) -> None:
    allowed = {
        "waiting": {"running", "cancelled", "lapsed"},
        "running": {"done", "failed", "held", "cancelled", "lost"},
        "held": {"waiting", "cancelled"},
        "lost": {"done", "failed"},
    }
    assert {to for to in starting.STATES if starting.may_become(state, to)} == allowed.get(state, set())


ROBOT = facts.RobotFacts(1, "Dipper 1", 1, "Weir", NOW, frozenset({5}), frozenset({"letters"}), None, 1, 0)
WANTED = facts.Wanted("Metering", frozenset({5, 1}), frozenset({"letters"}), 1, 0, NOW)


@pytest.mark.parametrize(
    ("robot", "wanted", "unmet"),
    [
        (ROBOT, WANTED, None),
        (replace(ROBOT, area_ids=frozenset({9})), WANTED, "area"),
        (replace(ROBOT, area_ids=frozenset({1})), WANTED, None),
        (replace(ROBOT, tags=frozenset()), WANTED, "tags"),
        (replace(ROBOT, heard_at=NOW - timedelta(seconds=31)), WANTED, "host"),
        (replace(ROBOT, heard_at=None), WANTED, "host"),
        (replace(ROBOT, leaving=True), WANTED, "host"),
        (replace(ROBOT, account_fault="it cannot work as the runner itself"), WANTED, "account"),
        (replace(ROBOT, as_runner=True), WANTED, None),
        (replace(ROBOT, busy_with=7), WANTED, "robot"),
        (replace(ROBOT, seats_used=1), WANTED, "seat"),
        (ROBOT, replace(WANTED, active=1), "limit"),
        (ROBOT, replace(WANTED, due=NOW + timedelta(minutes=1)), "due"),
    ],
)
def test_a_run_starts_exactly_when_all_needs_are_met(
    robot: facts.RobotFacts, wanted: facts.Wanted, unmet: str | None
) -> None:
    found = starting.needs(wanted, [robot], NOW)
    first = next((need for need in found if not need.met), None)
    assert (first.key if first else None) == unmet
    assert bool(starting.eligible(wanted, [robot], NOW)) == (unmet is None)
    if first is not None:
        assert first.mend
        assert first.words in starting.first_unmet(found)


def test_a_robot_whose_packages_work_as_the_runner_is_shown_as_such() -> None:
    found = starting.needs(WANTED, [replace(ROBOT, as_runner=True)], NOW)
    fact = next(need.fact for need in found if need.key == "account")
    assert "Dipper 1 work as the runner itself and can read its token" in fact
    assert not [need for need in starting.needs(WANTED, [ROBOT], NOW) if need.key == "account"]


def test_pauses_before_further_attempts_grow_up_to_an_hour() -> None:
    minutes = [starting.pause_before(attempt) / timedelta(minutes=1) for attempt in (2, 3, 4, 5, 6, 20)]
    assert minutes == [1, 4, 16, 60, 60, 60]


RUN = entries.RunFacts(
    1, "done", "worked", {"letters": Fraction(10)}, Fraction(6), False, True, "count", "letters", Fraction(9)
)
MINUTES = entries.Rate(1, "Minutes by hand", Fraction(12), "min", "2026-01-01")
HOUR = entries.Rate(2, "An hour costs", Fraction(38), "money an hour", "2026-01-01")
PRICE = entries.Rate(3, "Robot hour", Fraction(6), "money an hour", "2026-01-01")


def amounts(run: entries.RunFacts) -> dict[str, tuple[Fraction, Fraction]]:
    found = entries.post(run, MINUTES, HOUR, PRICE)
    return {entry.line: (entry.hours, entry.money) for entry in found.entries}


def test_a_run_posts_time_saved_and_robot_time() -> None:
    assert amounts(RUN) == {"time saved": (2, 76), "robot time": (0, Fraction(-3, 5))}


def test_units_handed_back_take_their_minutes_off() -> None:
    found = amounts(replace(RUN, counts={"letters": Fraction(10), "handed_back": Fraction(2)}))
    assert found["handed back"] == (Fraction(-3, 10), Fraction("-11.4"))


def test_a_failed_run_posts_the_count_it_had_reported() -> None:
    failed = replace(RUN, state="failed", outcome=None)
    assert amounts(failed)["time saved"] == (2, 76)
    assert "failed after it had counted 10" in entries.post(failed, MINUTES, HOUR, PRICE).caution
    assert entries.post(replace(failed, counts={}), MINUTES, HOUR, PRICE).caution == ""


def test_no_more_is_handed_back_than_was_counted() -> None:
    many = replace(RUN, counts={"letters": Fraction(7), "handed_back": Fraction(9)})
    assert amounts(many)["handed back"][0] == -7 * RUN.exception_minutes / 60
    assert "9 were handed back of 7 counted" in entries.post(many, MINUTES, HOUR, PRICE).caution


def test_a_missing_count_posts_nothing_and_raises_a_caution() -> None:
    found = entries.post(replace(RUN, counts={}), MINUTES, HOUR, PRICE)
    assert found.entries[0].money == 0
    assert "letters" in found.caution


def test_trial_runs_post_nothing() -> None:
    assert entries.post(replace(RUN, trial=True), MINUTES, HOUR, PRICE).entries == ()


def test_by_run_only_one_that_worked_counts() -> None:
    by_run = replace(RUN, basis="run", count_name="")
    assert amounts(by_run)["time saved"][0] == Fraction(12, 60)
    assert amounts(replace(by_run, outcome="nothing"))["time saved"][0] == 0
    assert amounts(replace(by_run, state="failed"))["time saved"][0] == 0


def test_without_approved_minutes_there_is_a_caution_and_only_cost() -> None:
    found = entries.post(RUN, None, HOUR, PRICE)
    assert [entry.line for entry in found.entries] == ["robot time"]
    assert "minutes by hand" in found.caution


def test_month_is_that_of_the_company_zone() -> None:
    late = datetime(2026, 3, 31, 23, 30, tzinfo=UTC)
    assert entries.month_of(late, "Europe/Lisbon") == "2026-04"
    assert entries.month_of(late, "UTC") == "2026-03"


def promised(made: date, go_live: date, yearly: int) -> promise.Promised:
    return promise.Promised(made, go_live, {promise.SAVING: Fraction(yearly)})


DAYS = st.dates(date(2026, 1, 1), date(2026, 12, 31))


@given(st.lists(st.tuples(DAYS, DAYS, st.integers(0, 10**6)), min_size=1, max_size=4))
def test_promised_months_add_up_to_the_promise_whatever_was_promised_anew(
    given_: list[tuple[date, date, int]],
) -> None:
    promises = [promised(made, live, yearly) for made, live, yearly in sorted(given_)]
    months = [f"{year}-{month:02}" for year in (2025, 2026, 2027) for month in range(1, 13)]
    by_month = [promise.promised_between(promises, *promise.month_of(month)) for month in months]
    assert sum(by_month) == promise.promised_between(promises, date(2025, 1, 1), date(2027, 12, 31))


def test_each_day_counts_by_the_promise_in_force_on_it() -> None:
    first = promised(date(2026, 1, 5), date(2026, 2, 1), 3650)
    anew = promised(date(2026, 3, 11), date(2026, 3, 21), 7300)
    assert promise.promised_between([first], *promise.month_of("2026-03")) == 310
    # Ten days by the first; none until the new go-live; eleven by the new one.
    assert promise.promised_between([first, anew], *promise.month_of("2026-03")) == 10 * 10 + 11 * 20
    assert promise.promised_between([first, anew], *promise.month_of("2026-02")) == 280
    assert promise.promised_between([first, anew], *promise.month_of("2026-01")) == 0
    assert [
        days for _, days in promise.promised_days([first, anew], date(2026, 1, 1), date(2026, 3, 31))
    ] == [38, 11]


def test_what_was_live_before_it_was_promised_is_promised_from_its_go_live() -> None:
    late = promised(date(2026, 3, 20), date(2026, 3, 1), 3650)
    assert promise.promised_between([late], *promise.month_of("2026-03")) == 310


def test_closest_ideas_share_words_and_leave_out_themselves() -> None:
    one = matching.Text(1, "Check implausible meter readings", "Find readings that cannot be right")
    others = [
        one,
        matching.Text(2, "Meter readings that look wrong", "Look for readings that cannot be right"),
        matching.Text(3, "Wayleave renewals", "Write to land owners"),
    ]
    found = matching.closest(one, others)
    assert [match.number for match in found] == [2]
    assert "reading" in found[0].words


@pytest.mark.parametrize(
    ("key", "value"),
    [
        ("title", "  "),
        ("title", "x" * 121),
        ("volume", {"amount": "-1", "rhythm": "week"}),
        ("volume", {"amount": "5", "rhythm": "fortnight"}),
        ("minutes", "ten"),
        ("judge", "11"),
        ("arrives", []),
        ("arrives", [{"kind": "screen", "part": "0"}]),
        ("changed", "some"),
        ("owner", "Corin"),
        ("colour", "blue"),
    ],
)
def test_interview_refuses_what_is_no_answer(key: str, value: Any) -> None:
    with pytest.raises(InputFaults) as refused:
        questions.check_answer(key, value)
    assert refused.value.faults[0].message


def test_next_move_is_due_in_working_days() -> None:
    step = way.next_of("noted", date(2026, 3, 6), Calendar())
    assert step.due == date(2026, 3, 13)
    assert step.permission == "idea.decide"


def test_every_role_has_known_permissions_and_somebody_holds_each() -> None:
    for role, held in access.ROLES.items():
        assert held <= set(access.PERMISSIONS), role
    for permission in access.PERMISSIONS:
        assert access.roles_with(permission), permission


@given(st.decimals(-(10**9), 10**9, places=6), st.integers(0, 4))
def test_rounding_is_half_away_from_zero(value: Decimal, digits: int) -> None:
    found = exact.rounded(Fraction(value), digits)
    assert found == value.quantize(Decimal(1).scaleb(-digits), rounding="ROUND_HALF_UP")


@pytest.mark.parametrize("value", ["NaN", "1e999", True, None, "1,5", "x" * 80, float("inf")])
def test_exact_refuses_what_is_no_number(value: Any) -> None:
    with pytest.raises(ValueError, match="number"):
        exact.exact(value)


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ("Leter befor inspecton", ("before", "inspection", "letter")),
        ("inspection, letters before it", ("before", "inspection", "letter")),
        ("LETTERS BEFORE AN INSPECTION", ("before", "inspection", "letter")),
        ("inspections", ("inspection",)),
    ],
)
def test_a_match_is_found_whatever_the_spelling_and_the_order(typed: str, words: tuple[str, ...]) -> None:
    others = [
        matching.Text(1, "Letters before an inspection", "Write to each address of the plan."),
        matching.Text(2, "Tanker log to ledger", "Copy loads and mileage."),
    ]
    found = matching.closest(matching.Text(-1, typed, ""), others)
    assert [(one.number, one.words) for one in found] == [(1, words)]


def test_words_that_only_look_alike_are_not_shared() -> None:
    others = [matching.Text(1, "Better settlers", "Nothing of the kind.")]
    assert matching.closest(matching.Text(-1, "Letters", ""), others) == []


@pytest.mark.parametrize(
    ("value", "digits", "text"),
    [
        ("0.485", 2, "0.49"),
        ("48.45", 1, "48.5"),
        ("-2.5", 0, "-3"),
        ("2.5", 0, "3"),
        ("1000000.005", 2, "1000000.01"),
    ],
)
def test_halves_are_rounded_away_from_zero_whatever_kind_of_number_they_are(
    value: str, digits: int, text: str
) -> None:
    assert exact.text_of(Decimal(value), digits) == exact.text_of(Fraction(value), digits) == text
