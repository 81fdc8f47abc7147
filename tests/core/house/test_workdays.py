from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.house.workdays import Calendar, Phase, plan, workdays

days = st.dates(date(2026, 1, 1), date(2028, 12, 31))
phases = st.lists(
    st.builds(Phase, st.just("p"), st.integers(0, 15), st.integers(-4, 4)), min_size=1, max_size=6
)


@given(days, phases, st.sets(days, max_size=20))
def test_phases_begin_and_end_on_working_days_and_last_as_long_as_asked(
    start: date, wanted: list[Phase], closed: set[date]
) -> None:
    calendar = Calendar(frozenset({6, 7}), frozenset(closed))
    first = calendar.on_or_after(start)
    for phase, placed in zip(wanted, plan(start, calendar, wanted), strict=True):
        assert calendar.is_open(placed.start)
        assert calendar.is_open(placed.end)
        assert placed.start >= first
        span = (placed.start + timedelta(days=n) for n in range((placed.end - placed.start).days + 1))
        worked = sum(calendar.is_open(day) for day in span)
        assert worked == max(phase.days, 1)


@given(days, phases)
def test_a_milestone_does_not_move_what_follows(start: date, wanted: list[Phase]) -> None:
    calendar = Calendar()
    real = [phase for phase in wanted if phase.days]
    with_milestones = [one for phase in real for one in (phase, Phase("m", 0))]
    placed = [one for one in plan(start, calendar, with_milestones) if one.name != "m"]
    assert placed == plan(start, calendar, real)


def test_every_fault_is_named() -> None:
    wrong = {"start": "soon", "weekend": [8], "closed": ["x"], "phases": [{"name": "A", "days": -1}]}
    with pytest.raises(InputFaults) as refused:
        workdays(wrong)
    fields = [one.field for one in refused.value.faults]
    assert fields == ["start", "weekend", "closed[0]", "phases[0].days"]


def test_no_phase_at_all_is_refused() -> None:
    with pytest.raises(InputFaults, match="phases"):
        workdays({"start": "2026-01-01", "phases": []})


def test_a_calendar_without_working_days_is_refused() -> None:
    with pytest.raises(InputFaults, match="every day is free"):
        workdays(
            {"start": "2026-01-01", "weekend": [1, 2, 3, 4, 5, 6, 7], "phases": [{"name": "A", "days": 1}]}
        )
