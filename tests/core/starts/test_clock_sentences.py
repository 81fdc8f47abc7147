from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import islice, takewhile
from zoneinfo import ZoneInfo

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.starts import Coded, clock, parse, reading, starts
from tests.core.starts.sentences import told

ZONES = ("Europe/Lisbon", "America/Chicago", "Australia/Lord_Howe", "UTC", "Asia/Tokyo")
# Spans with changes of the clock in each of the zones, and one with a leap day.
BEGAN = (
    datetime(2026, 3, 5, tzinfo=UTC),
    datetime(2026, 4, 1, tzinfo=UTC),
    datetime(2026, 10, 22, tzinfo=UTC),
    datetime(2028, 2, 20, tzinfo=UTC),
)


def lists(part: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    return st.lists(part, min_size=1, max_size=3).map(",".join)


def part(low: int, high: int) -> st.SearchStrategy[str]:
    one = st.integers(low, high)
    pair = st.tuples(one, one).map(sorted)
    return st.one_of(
        one.map(str),
        one.map(str),
        pair.map(lambda ends: f"{ends[0]}-{ends[1]}"),
        st.tuples(pair, st.integers(1, 9)).map(lambda got: f"{got[0][0]}-{got[0][1]}/{got[1]}"),
        st.tuples(one, st.integers(1, 30)).map(lambda got: f"{got[0]}/{got[1]}"),
    )


def field(low: int, high: int, *more: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    starred = st.one_of(st.just("*"), st.integers(1, 30).map(lambda n: f"*/{n}"))
    return st.one_of(starred, st.just("*"), lists(st.one_of(part(low, high), *more)))


days = st.one_of(st.sampled_from(["L", "LW"]), st.integers(1, 31).map(lambda n: f"{n}W"))
weekdays = st.one_of(
    st.integers(0, 7).map(lambda n: f"{n}L"),
    st.tuples(st.integers(0, 6), st.integers(1, 5)).map(lambda got: f"{got[0]}#{got[1]}"),
)
expressions = st.tuples(
    field(0, 59),
    field(0, 23),
    field(1, 31, days),
    st.one_of(st.just("*"), field(1, 12)),
    field(0, 6, weekdays),
).map(" ".join)
years = st.sampled_from(["", "", "", "2026", "2026-2028", "2026/2", "2026,2028,2030-2040"])


ENOUGH = 1_500


@settings(max_examples=120, deadline=None)
@given(expressions, st.sampled_from(ZONES), st.sampled_from(BEGAN), years)
@example("0/15 0-3 * * *", "Europe/Lisbon", BEGAN[2], "")
@example("*/15 0-3 * * *", "Europe/Lisbon", BEGAN[0], "")
@example("0,30 * * * *", "Australia/Lord_Howe", BEGAN[1], "")
@example("0 0-23 * * *", "America/Chicago", BEGAN[0], "")
@example("0 6 */2 * 1,3#2,5L", "UTC", BEGAN[0], "")
def test_the_sentence_names_the_very_times_of_the_expression(
    text: str, zone: str, after: datetime, in_years: str
) -> None:
    try:
        form = Coded(parse(text, in_years), in_years)
    except InputFaults:
        return
    until = after + timedelta(days=26)
    sentence = reading(form, zone)
    times = takewhile(lambda one: one.at <= until, starts(form, ZoneInfo(zone), after))
    found = [one.at for one in islice(times, ENOUGH)]
    # What starts every minute need not be followed through all the days.
    assert told(sentence, after, until)[:ENOUGH] == found, sentence


@pytest.mark.parametrize(
    ("more", "sentence"),
    [
        (
            {"expr": "0 0 9 13W JAN,JUN ? 2027/4"},
            "in January and June, every 4 years from 2027 to 2099 (UTC)",
        ),
        (
            {"expr": "0 9 * * MON", "weeks": 2, "weeks_from": "2026-01-07"},
            "every 2nd week from that of 2026-01-05",
        ),
        (
            {"every_minutes": 90, "anchor": "2026-01-01T06:00:00Z"},
            "Every 90 minutes by elapsed time, counted from",
        ),
        ({"every_minutes": 120, "anchor": "2026-01-01T06:00:00Z"}, "Every 2 hours by elapsed time"),
        ({"once": "2026-12-24T08:30"}, "Once, on 2026-12-24 at 08:30 (UTC)"),
        ({"expr": "*/5 9 * * *"}, "Every 5 minutes from 09:00 to 09:55"),
        ({"expr": "0 8-17 * * 1-5"}, "Monday to Friday, every hour on the hour from 08:00 to 17:00"),
        ({"expr": "0 9 * * *", "window": {"from": "08:00", "to": "10:00"}}, "between 08:00 and 10:00"),
    ],
)
def test_reading_of_each_form(more: dict[str, object], sentence: str) -> None:
    found = clock({"tz": "UTC", "from": "2026-01-01T00:00:00Z", "count": 1, **more})
    assert sentence in found["reading"]
