"""Starts by hand: with inputs, on a chosen robot, at a time, several times, or one for each row of a table."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import robots, runs
from tallyman.services.runs import dispatch
from tallyman.services.runs import page as run_page
from tallyman.services.starts import by_hand, groups
from tallyman.services.starts.by_hand import Given
from tallyman.services.workshop import packages
from tests.world import MANIFEST, World, package

SOL = "Sol Marin"
HOUR = timedelta(hours=1)
MORE = MANIFEST + (
    '\n[inputs.street]\ntype = "string"\ntitle = "Street name"\n'
    '\n[inputs.urgent]\ntype = "boolean"\n'
    '\n[inputs.team]\ntype = "string"\nenum = ["Networks", "Metering"]\n'
)


@pytest.fixture
def ready(world: World) -> World:
    """A host with two robots and seats; a routine that takes rows, a street and a team."""
    world.host = world.machine(seats=2, robots_=2)
    given = packages.Given("First")
    kept = packages.release(world.ctx("Jonas Lindqvist"), package(manifest=MORE), given)
    world.second = world.routine(release=kept, inputs={"rows": 2}, run_limit=2)
    return world


def start(world: World, key: str = "a key of it", **given: object) -> by_hand.Started:
    return by_hand.start(world.ctx(SOL), world.second, Given(**given), key)


def rows(world: World, text: str, key: str = "a key of it", **given: object) -> by_hand.Started:
    return by_hand.start_rows(world.ctx(SOL), world.second, text, Given(**given), key)


def inputs_of(world: World, run: int) -> object:
    return run_page.one(world.ctx(SOL), run).inputs


def fields(refused: pytest.ExceptionInfo[InputFaults]) -> list[str]:
    return [fault.field for fault in refused.value.faults]


def test_it_starts_with_other_inputs_and_the_set_up_stays(ready: World) -> None:
    made = start(ready, inputs={"rows": 7, "street": "Weir Lane"})
    assert made.run is not None and inputs_of(ready, made.run) == {"rows": 7, "street": "Weir Lane"}
    plain = start(ready, "another key")
    assert plain.run is not None and inputs_of(ready, plain.run) == {"rows": 2}


def test_all_that_does_not_fit_is_named_at_once(ready: World) -> None:
    late = ready.now + timedelta(days=400)
    with pytest.raises(InputFaults) as refused:
        start(ready, inputs={"rows": -1, "team": "Night"}, robot_id=99999, at=late, times=101)
    assert fields(refused) == ["robot_id", "at", "times", "inputs.rows", "inputs.team"]
    with pytest.raises(InputFaults) as refused:
        start(ready, at=ready.now - HOUR)
    assert fields(refused) == ["at"]
    assert ready.rows("SELECT id FROM run") == []


def test_it_waits_for_its_moment_and_for_the_robot_that_was_chosen(ready: World) -> None:
    there = by_hand.look(ready.ctx(SOL), ready.second, Given()).robots
    second = next(one.id for one in there if one.name == "Dipper 2")
    made = start(ready, at=ready.now + HOUR, robot_id=second)
    assert dispatch.take(ready.program(), ready.host) is None
    assert made.run is not None
    assert run_page.one(ready.ctx(SOL), made.run).waits_for.startswith("Its time has come: due 10 Mar, 10:00")
    assert ready.take(ready.host, HOUR).robot == "Dipper 2"


def test_the_look_says_what_such_a_start_lacks(ready: World) -> None:
    def unmet(given: Given) -> list[str]:
        look = by_hand.look(ready.ctx(SOL), ready.second, given)
        return [need.key for need in look.pre_check if not need.met]

    assert unmet(Given()) == []
    assert unmet(Given(inputs={"rows": -1})) == ["inputs"]
    row = robots.view(ready.ctx(SOL)).robots[0]
    busy = start(ready, robot_id=row.id)
    assert ready.take(ready.host).run == busy.run
    assert unmet(Given(robot_id=row.id)) == ["robot", "seat"]
    assert unmet(Given()) == []


def test_several_times_is_one_group_and_the_same_key_the_same_group(ready: World) -> None:
    made = start(ready, times=3)
    assert (made.run, made.count) == (None, 3)
    assert start(ready, times=3) == made
    with pytest.raises(InputFaults, match="something else"):
        start(ready, times=2)
    assert made.group is not None
    view = groups.view(ready.ctx(SOL), made.group)
    assert ([one.line for one in view.runs], view.counts, view.waiting) == ([1, 2, 3], {"waiting": 3}, 3)
    ready.finish(ready.host, ready.take(ready.host))
    view = groups.view(ready.ctx(SOL), made.group)
    assert (view.counts, view.waiting) == ({"done": 1, "waiting": 2}, 2)
    assert [one.robot is not None for one in view.runs] == [True, False, False]


def test_a_run_for_each_row_that_fits_and_the_others_are_named(ready: World) -> None:
    text = (
        "rows;Street name;urgent;team\n"
        "3;Weir Lane;yes;networks\n"
        "many;Dock Road;no;Metering\n"
        ";Mill Row;;\n"
        "-1;Quay;maybe;Night\n"
    )
    looked = by_hand.look_at_rows(ready.ctx(SOL), ready.second, text)
    assert [(one.line, one.state) for one in looked] == [
        (2, "to be started"),
        (3, "not as it is"),
        (4, "to be started"),
        (5, "not as it is"),
    ]
    assert looked[1].faults == ["Rows “many”: is to be a whole number"]
    assert len(looked[3].faults) == 3
    assert ready.rows("SELECT id FROM run") == []
    made = rows(ready, text)
    assert (made.count, rows(ready, text)) == (2, made)
    assert made.group is not None
    view = groups.view(ready.ctx(SOL), made.group)
    assert [(one.line, one.inputs) for one in view.runs] == [
        (2, {"rows": 3, "street": "Weir Lane", "urgent": True, "team": "Networks"}),
        # What a row leaves out is what the set-up says.
        (4, {"rows": 2, "street": "Mill Row"}),
    ]
    assert [(one.line, len(one.faults)) for one in view.refused] == [(3, 1), (5, 3)]
    assert view.words == "a run for each row of a table"


def test_five_hundred_rows_start_as_many_runs_and_show_the_three_refused(ready: World) -> None:
    lines = [f"{n},Weir Lane {n}" for n in range(1, 501)]
    for place in (10, 200, 499):
        lines.insert(place, "none,Nowhere")
    made = rows(ready, "rows,street\n" + "\n".join(lines))
    assert made.count == 500 and made.group is not None
    view = groups.view(ready.ctx(SOL), made.group)
    assert (len(view.runs), [one.line for one in view.refused]) == (500, [12, 202, 501])
    # Each goes the way of any other run: in its order, on a robot with a seat.
    first = ready.take(ready.host)
    assert first.run == view.runs[0].id


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"),
        ("rows;strete\n1;x", "is none of the columns; there are: rows, street, urgent, team"),
        ("rows;ROWS\n1;2", "is the same column as rows"),
        ("street;Street name\na;b", "is the same column as street"),
        ("rows\nmany", "no row of it fits: Rows “many”"),
        ("rows\n", "no row of it fits: it holds no row below its heads"),
        ("rows\n" + "1\n" * 1001, "too many lines; at most 1,000"),
    ],
)
def test_a_table_that_is_none_is_refused_with_what_mends_it(ready: World, text: str, words: str) -> None:
    with pytest.raises(InputFaults, match=words):
        rows(ready, text)
    assert ready.rows("SELECT id FROM run") == []


def test_a_cell_that_is_too_long_is_refused_and_not_cut(ready: World) -> None:
    (line,) = by_hand.look_at_rows(ready.ctx(SOL), ready.second, "street\n" + "x" * 700)
    assert line.faults == ["street: longer than 600 characters"]
    assert len(line.name) == 90


def test_what_waits_of_a_group_is_cancelled_and_the_rest_goes_on(ready: World) -> None:
    made = start(ready, times=3)
    assert made.group is not None
    work = ready.take(ready.host)
    assert groups.view(ready.ctx(SOL), made.group).may_cancel
    assert groups.cancel(ready.ctx(SOL), made.group) == 2
    view = groups.view(ready.ctx(SOL), made.group)
    assert (view.counts, view.may_cancel) == ({"running": 1, "cancelled": 2}, False)
    with pytest.raises(Refused, match="waits any more"):
        groups.cancel(ready.ctx(SOL), made.group)
    assert ready.finish(ready.host, work) == "done"


def test_only_who_may_starts_sees_and_cancels(ready: World) -> None:
    made = start(ready, times=2)
    assert made.group is not None
    for name in ("Mei Tanaka", "Ada Pell"):
        with pytest.raises(Forbidden):
            by_hand.start(ready.ctx(name), ready.second, Given(), "another key")
        with pytest.raises(Forbidden):
            by_hand.look_at_rows(ready.ctx(name), ready.second, "rows\n1")
        with pytest.raises(Forbidden):
            groups.view(ready.ctx(name), made.group)
    with pytest.raises(NotFound):
        groups.view(ready.ctx(SOL), 99999)


def test_a_release_that_takes_nothing_has_no_table(ready: World) -> None:
    bare = MANIFEST.split("[inputs.rows]")[0]
    kept = packages.release(
        ready.ctx("Jonas Lindqvist"), package("2.0.0", manifest=bare), packages.Given("Bare")
    )
    routine = ready.routine("Bare", kept)
    with pytest.raises(InputFaults, match="takes no inputs"):
        by_hand.look_at_rows(ready.ctx(SOL), routine, "rows\n1")
    assert runs.start(ready.ctx(SOL), routine, "a key")


def test_a_lost_run_is_tried_again_on_its_robot_and_within_its_group(ready: World) -> None:
    row = robots.view(ready.ctx(SOL)).robots[0]
    routine = ready.routine("Again", ready.release("3.0.0"), again_after_lost=True, run_limit=2)
    made = by_hand.start(ready.ctx(SOL), routine, Given(robot_id=row.id, times=2), "together again")
    assert made.group is not None
    lost = ready.take(ready.host)
    assert runs.lose_silent(ready.program(HOUR)) == 1
    again = ready.row(
        "SELECT only_robot, group_id, group_line FROM run WHERE again_of = %(run)s", run=lost.run
    )
    assert tuple(again.values()) == (row.id, made.group, 1)
    assert groups.view(ready.ctx(SOL), made.group).counts == {"lost": 1, "waiting": 2}


def test_rows_that_were_read_by_another_set_up_start_nothing(
    ready: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    read = by_hand._rows

    def meanwhile(*given: Any) -> Any:
        ready.rows("UPDATE routine SET version = version + 1 WHERE id = %(id)s", id=ready.second)
        return read(*given)

    monkeypatch.setattr(by_hand, "_rows", meanwhile)
    with pytest.raises(Refused, match="changed Count rows meanwhile"):
        rows(ready, "rows\n1")
    assert ready.rows("SELECT id FROM run") == []
