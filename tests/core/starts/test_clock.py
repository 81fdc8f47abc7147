from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import islice
from zoneinfo import ZoneInfo

import pytest
from cronsim import CronSim
from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.starts import Coded, clock, parse, reading, starts

ZONES = ("Europe/Lisbon", "America/Chicago", "Pacific/Auckland", "UTC", "Australia/Lord_Howe")
BEGAN = datetime(2026, 1, 1, tzinfo=UTC)


def number(low: int, high: int) -> st.SearchStrategy[str]:
    return st.integers(low, high).map(str)


def field(low: int, high: int) -> st.SearchStrategy[str]:
    pair = st.tuples(st.integers(low, high), st.integers(low, high)).map(sorted)
    return st.one_of(
        st.just("*"),
        number(low, high),
        st.integers(2, 7).map(lambda n: f"*/{n}"),
        pair.map(lambda ends: f"{ends[0]}-{ends[1]}"),
        pair.map(lambda ends: f"{ends[0]},{ends[1]}"),
    )


expressions = st.tuples(field(0, 59), field(0, 23), field(1, 28), field(1, 12), field(0, 6)).map(" ".join)


@settings(max_examples=150, deadline=None)
@given(expressions, st.sampled_from(ZONES), st.integers(0, 364 * 24))
def test_times_come_later_in_order_and_each_once(text: str, zone: str, hours: int) -> None:
    after = BEGAN + timedelta(hours=hours)
    found = [one.at for one in islice(starts(Coded(parse(text)), ZoneInfo(zone), after), 5)]
    assert all(at > after for at in found)
    assert found == sorted(set(found))


@settings(max_examples=100, deadline=None)
@given(expressions, st.integers(0, 364 * 24))
def test_agrees_with_another_reader_where_no_clock_changes(text: str, hours: int) -> None:
    after = BEGAN + timedelta(hours=hours)
    other = [at.replace(tzinfo=UTC) for at in islice(CronSim(text, after.replace(tzinfo=None)), 4)]
    found = [one.at for one in islice(starts(Coded(parse(text)), ZoneInfo("UTC"), after), 4)]
    assert found == other


@given(expressions)
def test_every_accepted_expression_reads_as_a_sentence(text: str) -> None:
    sentence = reading(Coded(parse(text)), "UTC")
    assert sentence.endswith("(UTC)")
    assert sentence[0].isupper()


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("30 7 * * 1-5", "Monday to Friday at 07:30 (UTC)"),
        ("* * * * *", "Every minute (UTC)"),
        ("*/15 * * * *", "Every 15 minutes (UTC)"),
        ("0 9 1 * TUE", "On the 1st of the month and every Tuesday, at 09:00 (UTC)"),
        ("0 0 1 1 *", "On the 1st of the month, at 00:00, in January (UTC)"),
        ("0 8 */2 * 1", None),
        ("5 4 * * SAT,SUN", "Every Saturday and Sunday at 04:05 (UTC)"),
        ("@daily", "Every day at 00:00 (UTC)"),
        ("0 7 15W * *", "On the weekday nearest to the 15th, at 07:00 (UTC)"),
    ],
)
def test_sentence(text: str, sentence: str | None) -> None:
    found = reading(Coded(parse(text)), "UTC")
    if sentence is not None:
        assert found == sentence
    else:
        assert "if that is a Monday" in found


@pytest.mark.parametrize(
    ("text", "field_", "value"),
    [
        ("60 * * * *", "minute", "60"),
        ("* 24 * * *", "hour", "24"),
        ("* * 0 * *", "day of month", "0"),
        ("* * * 13 *", "month", "13"),
        ("* * * * 8", "day of week", "8"),
        ("*/0 * * * *", "minute", "*/0"),
        ("1,,2 * * * *", "minute", "1,,2"),
        ("5- * * * *", "minute", "5-"),
        ("5-1 * * * *", "minute", "5-1"),
        ("* * * FOO *", "month", "FOO"),
        ("* * * * 1#6", "day of week", "1#6"),
        ("* * * *", "expr", "* * * *"),
        ("* * * * * * * *", "expr", "* * * * * * * *"),
        ("@often", "expr", "@often"),
        ("0 0 31 2 *", "expr", "0 0 31 2 *"),
        ("", "expr", ""),
    ],
)
def test_refusal_names_field_and_value(text: str, field_: str, value: str) -> None:
    with pytest.raises(InputFaults) as refused:
        parse(text)
    assert (refused.value.faults[0].field, refused.value.faults[0].value) == (field_, value)
    assert refused.value.faults[0].message


def test_all_closed_days_are_refused() -> None:
    given_ = {"expr": "0 9 * * SAT", "tz": "UTC", "from": "2026-01-01T00:00:00Z", "count": 1}
    with pytest.raises(InputFaults, match="never fires"):
        clock({**given_, "calendar": {"weekend": [6, 7], "closed": []}})


def test_merged_starts_carry_every_nominal_time() -> None:
    found = clock(
        {
            "expr": "0 9 * * FRI,SAT,MON",
            "tz": "UTC",
            "from": "2026-01-02T10:00:00Z",
            "count": 1,
            "calendar": {"weekend": [6, 7]},
            "on_closed": "next",
        }
    )
    assert found["times"] == ["2026-01-05T09:00:00Z"]
    assert "stands for 2026-01-03T09:00:00Z, 2026-01-05T09:00:00Z" in found["notes"][0]


def test_wrong_zone_start_and_count_are_all_named_at_once() -> None:
    with pytest.raises(InputFaults) as refused:
        clock({"expr": "x", "tz": "Mars/Base", "from": "now", "count": 0})
    assert [one.field for one in refused.value.faults] == ["from", "count", "expr", "tz"]
