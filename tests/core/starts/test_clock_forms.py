"""Pasted codes, intervals, single starts, windows and closed days; other readers where they are right."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import islice
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from croniter import croniter
from cronsim import CronSim
from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.starts import Coded, clock, own_form, parse, read_schedule, starts
from tests.core.starts.test_clock import expressions

BEGAN = datetime(2026, 1, 1, tzinfo=UTC)


def asked(**more: Any) -> dict[str, Any]:
    return clock({"tz": "UTC", "from": "2026-01-01T00:00:00Z", "count": 3, **more})


@pytest.mark.parametrize(
    ("pasted", "expr", "years"),
    [
        ("0 15 6 ? * 2-6", "15 6 * * 1-5", ""),
        ("0 0 9 13W JAN,JUN ? 2025/4", "0 9 13W JAN,JUN *", "2025/4"),
        ("00 0/5 14,18 * * ?", "0/5 14,18 * * *", ""),
        ("0 15 10 ? * 6L 2026-2028", "15 10 * * 5L", "2026-2028"),
        ("0 15 10 ? * 6#3", "15 10 * * 5#3", ""),
        ("0 0 12 ? * L", "0 12 * * 6", ""),
        ("0 0 12 ? * MON-FRI *", "0 12 * * MON-FRI", ""),
        ("0 0 12 LW * ?", "0 12 LW * *", ""),
        ("0 0 12 ? * 1,7", "0 12 * * 0,6", ""),
        ("0 0 12 ? * 2-6/2", "0 12 * * 1-5/2", ""),
    ],
)
def test_pasted_code_is_kept_in_our_own_form(pasted: str, expr: str, years: str) -> None:
    assert own_form(pasted) == (expr, years)
    kept = asked(expr=pasted)["kept"]
    assert (kept["expr"], kept.get("years", "")) == (expr, years)
    assert asked(**kept)["times"] == asked(expr=pasted, dialect="seconds-first")["times"]


@pytest.mark.parametrize(
    ("pasted", "field", "value"),
    [
        ("30 0 12 * * ?", "second", "30"),
        ("* 0 12 * * ?", "second", "*"),
        ("0/10 0 12 * * ?", "second", "0/10"),
        ("0 0 12 1 * 2", "day of week", "2"),
        ("0 0 12 ? * 8", "day of week", "8"),
        ("0 0 12 ? * 0", "day of week", "0"),
        ("0 ? 12 * * ?", "minute", "?"),
        ("0 0 12 1,? * *", "day of month", "1,?"),
        ("0 0 12 L-3 * ?", "day of month", "L-3"),
        ("0 0 12 * * ? 1900", "year", "1900"),
        ("0 0 12 * * ? 2030-2026", "year", "2030-2026"),
        ("0 0 12 30 2 ?", "expr", "0 0 12 30 2 ?"),
        ("0 0 12 * * ? 2020-2021", "expr", "0 0 12 * * ? 2020-2021"),
        ("0 0 12 * *", "expr", "0 0 12 * *"),
    ],
)
def test_what_our_form_cannot_keep_is_refused_as_it_was_written(pasted: str, field: str, value: str) -> None:
    with pytest.raises(InputFaults) as refused:
        asked(expr=pasted, dialect="seconds-first")
    assert (refused.value.faults[0].field, refused.value.faults[0].value) == (field, value)


def test_six_fields_are_not_read_as_five() -> None:
    with pytest.raises(InputFaults, match="6 fields"):
        asked(expr="0 15 6 ? * 2-6", dialect="five-field")
    with pytest.raises(InputFaults, match="dialect"):
        asked(expr="0 6 * * *", dialect="six")


@settings(max_examples=80, deadline=None)
@given(expressions, st.integers(0, 364 * 24))
def test_agrees_with_a_second_reader_where_no_clock_changes(text: str, hours: int) -> None:
    after = BEGAN + timedelta(hours=hours)
    day, weekday = text.split()[2], text.split()[4]
    if (day.startswith("*/") or weekday.startswith("*/")) and "*" not in (day, weekday):
        return  # There the other reader takes a stepped star for a restriction.
    if any(one.partition("-")[0] == one.partition("-")[2] for one in text.split()):
        return  # It takes a range of one value for all of them.
    other = croniter(text, after.replace(tzinfo=None))
    found = [
        one.at.replace(tzinfo=None) for one in islice(starts(Coded(parse(text)), ZoneInfo("UTC"), after), 3)
    ]
    assert found == [other.get_next(datetime) for _ in range(3)]


@pytest.mark.parametrize("zone", ["Europe/Lisbon", "America/Chicago", "Pacific/Auckland"])
@pytest.mark.parametrize("text", ["30 1 * * *", "*/20 * * * *", "15 */2 * * *", "0 2 * * 0", "59 23 * * *"])
def test_agrees_with_another_reader_across_changes_of_the_clock(text: str, zone: str) -> None:
    after = datetime(2026, 3, 1, 12, tzinfo=ZoneInfo(zone))
    other = [
        one.astimezone(UTC) for one in islice(CronSim(text, after), 3000) if one < after + timedelta(days=300)
    ]
    found = [one.at for one in islice(starts(Coded(parse(text)), ZoneInfo(zone), after), len(other))]
    assert found == other


def test_interval_counts_elapsed_time_across_a_change_of_the_clock() -> None:
    found = asked(**{"every_minutes": 480, "anchor": "2026-03-28T06:00:00Z", "tz": "Europe/Lisbon"}, count=2)
    assert found["times"] == ["2026-03-28T06:00:00Z", "2026-03-28T14:00:00Z"]
    later = asked(every_minutes=480, anchor="2026-03-28T06:00:00Z", **{"from": "2026-03-29T00:00:00Z"})
    assert later["times"] == ["2026-03-29T06:00:00Z", "2026-03-29T14:00:00Z", "2026-03-29T22:00:00Z"]


def test_once_comes_once_and_then_never() -> None:
    assert asked(once="2026-03-29T01:30", tz="Europe/Lisbon")["times"] == ["2026-03-29T01:00:00Z"]
    with pytest.raises(InputFaults, match="never fires") as refused:
        asked(once="2025-03-29T01:30")
    assert refused.value.faults[0].field == "once"


def test_every_second_week_counts_from_the_week_of_its_date() -> None:
    found = asked(expr="0 9 * * MON,WED", weeks=2, weeks_from="2026-01-14", count=4)
    assert [at[:10] for at in found["times"]] == ["2026-01-12", "2026-01-14", "2026-01-26", "2026-01-28"]


@pytest.mark.parametrize(
    ("given_", "field"),
    [
        ({"every_minutes": 0, "anchor": "2026-01-01T00:00:00Z"}, "every_minutes"),
        ({"every_minutes": 5, "anchor": "2026-01-01"}, "anchor"),
        ({"once": "2026-01-01"}, "once"),
        ({"once": "noon"}, "once"),
        ({"expr": "0 9 * * *", "weeks": 60, "weeks_from": "2026-01-01"}, "weeks"),
        ({"expr": "0 9 * * *", "weeks": 2}, "weeks_from"),
        ({"expr": 7}, "expr"),
        ({"expr": "0 9 * * *", "window": {"from": "09:00", "to": "09:00"}}, "window"),
        ({"expr": "0 9 * * *", "window": {"from": "nine", "to": "10:00"}}, "window.from"),
        ({"expr": "0 9 * * *", "on_closed": "wait"}, "on_closed"),
        ({"expr": "0 9 * * *", "window": {"from": "10:00", "to": "11:00"}}, "expr"),
    ],
)
def test_refusal_of_a_form_names_its_field(given_: dict[str, Any], field: str) -> None:
    with pytest.raises(InputFaults) as refused:
        asked(**given_)
    assert refused.value.faults[0].field == field


def test_a_year_of_closed_days_is_refused() -> None:
    closed = [(BEGAN + timedelta(days=n)).date().isoformat() for n in range(367)]
    with pytest.raises(InputFaults, match="366 days"):
        asked(expr="0 9 * * *", calendar={"weekend": [], "closed": closed})
    assert asked(expr="0 9 * * *", calendar={"weekend": [], "closed": closed[:300]})["times"]


def test_what_is_dropped_says_why() -> None:
    schedule = read_schedule(
        {
            "expr": "0 8,12 * * *",
            "tz": "Europe/Lisbon",
            "calendar": {"weekend": [6, 7], "closed": ["2026-01-05"]},
            "window": {"from": "10:00", "to": "18:00"},
        }
    )
    found = [
        (f"{one.nominal:%d %H}", one.why)
        for one in schedule.dropped(
            datetime(2026, 1, 3, 10, tzinfo=UTC), datetime(2026, 1, 6, 23, tzinfo=UTC)
        )
    ]
    assert found == [
        ("03 12", "2026-01-03 is a closed day"),
        ("04 08", "2026-01-04 is a closed day"),
        ("04 12", "2026-01-04 is a closed day"),
        ("05 08", "2026-01-05 is a closed day"),
        ("05 12", "2026-01-05 is a closed day"),
        ("06 08", "outside the window 10:00 to 18:00"),
    ]


def test_a_repeated_hour_moved_onto_a_plain_day_happens_once_for_both() -> None:
    found = clock(
        {
            "expr": "*/30 1 * * *",
            "tz": "Europe/Lisbon",
            "from": "2026-10-24T12:00:00Z",
            "count": 2,
            "calendar": {"weekend": [7]},
            "on_closed": "next",
        }
    )
    assert found["times"] == ["2026-10-26T01:00:00Z", "2026-10-26T01:30:00Z"]
    assert "2026-10-25T00:00:00Z, 2026-10-25T01:00:00Z, 2026-10-26T01:00:00Z" in found["notes"][0]
