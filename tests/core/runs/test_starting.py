"""What a run needs, and whether a robot could take it, are one rule: whatever is lacking is named."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.runs import facts
from tallyman.core.runs.starting import eligible, first_unmet, needs

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)
REST = facts.Maintenance(NOW - timedelta(hours=1), None, "twice the memory")
WANTED = facts.Wanted("Metering", frozenset({5, 1}), frozenset({"letters"}), 1, 0, NOW)
ROBOTS = st.builds(
    facts.RobotFacts,
    robot_id=st.integers(1, 4),
    name=st.sampled_from(["Heron", "Otter", "Grebe", "Dipper"]),
    host_id=st.integers(1, 3),
    host=st.sampled_from(["Weir", "Culvert", "Sluice"]),
    heard_at=st.sampled_from([None, NOW, NOW - timedelta(hours=1)]),
    area_ids=st.sampled_from([frozenset({5}), frozenset({1}), frozenset({9})]),
    tags=st.sampled_from([frozenset({"letters"}), frozenset({"letters", "print"}), frozenset()]),
    busy_with=st.sampled_from([None, None, 7]),
    seats=st.integers(0, 2),
    seats_used=st.integers(0, 1),
    account_fault=st.sampled_from(["", "", "there is no such account"]),
    leaving=st.booleans(),
    maintenance=st.sampled_from([None, None, REST]),
    disk_free_mb=st.sampled_from([None, 10, 90_000]),
    clock_ahead_ms=st.sampled_from([0, 0, 3_600_000]),
    trial_seats=st.integers(0, 1),
    in_use_since=st.sampled_from([None, None, NOW]),
)
BUILDERS = st.none() | st.builds(
    facts.BuilderSeats, name=st.just("Priya Raman"), number=st.integers(0, 2), used=st.integers(0, 2)
)


@given(
    st.lists(ROBOTS, max_size=4, unique_by=lambda one: one.robot_id),
    st.sampled_from([None, 1, 2, 9]),
    st.booleans(),
    BUILDERS,
)
def test_all_needs_are_met_exactly_when_some_robot_could_take_it(
    robots: list[facts.RobotFacts], only: int | None, trial: bool, builder: facts.BuilderSeats | None
) -> None:
    wanted = replace(WANTED, only_robot=only, trial_seat=trial and only is not None, builder=builder)
    found = needs(wanted, robots, NOW)
    lacking = first_unmet(found)
    assert (lacking == "") == bool(eligible(wanted, robots, NOW)), lacking
    assert all(need.mend for need in found if not need.met)
    assert len({need.key for need in found}) == len(found)


def test_where_each_need_is_met_by_another_robot_it_says_what_each_lacks() -> None:
    heron = facts.RobotFacts(
        1, "Heron", 1, "Weir", NOW, frozenset({5}), frozenset({"letters"}), None, 1, 0, maintenance=REST
    )
    otter = replace(heron, robot_id=2, name="Otter", host_id=2, host="Sluice", maintenance=None, busy_with=8)
    lacking = next(need for need in needs(WANTED, [heron, otter], NOW) if not need.met)
    assert lacking.fact == "Otter works on R-8"
    grebe = replace(otter, robot_id=3, name="Grebe", busy_with=None, account_fault="nobody knows its account")
    found = [need for need in needs(WANTED, [heron, grebe], NOW) if not need.met]
    assert [need.key for need in found] == ["together"]
    assert found[0].fact == (
        "Heron: Weir is in maintenance until it is ended: twice the memory; Grebe: nobody knows its account"
    )
