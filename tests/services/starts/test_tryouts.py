"""A builder tries a release that nobody else sees, on a builder's seat of theirs."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.core.proving import faults
from tallyman.core.working import Working
from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access, robots, runs
from tallyman.services.house import areas
from tallyman.services.robots import seat_lots, seat_peaks, seats_page
from tallyman.services.runs import dispatch
from tallyman.services.runs import page as run_page
from tallyman.services.starts import tryouts
from tallyman.services.workshop import packages, placing, routines
from tests.world import World, package

JONAS, SOL, INES = "Jonas Lindqvist", "Sol Marin", "Ines Varga"
HOUR, DAY = timedelta(hours=1), timedelta(days=1)


@pytest.fixture
def tried(world: World) -> World:
    """A host with two robots and one seat, a try-out of Jonas Lindqvist's, and one builder's seat of his."""
    world.host = world.machine(seats=1, robots_=2)
    world.run = packages.release(
        world.ctx(JONAS), package(), packages.Given("It counts anew", seen_by="maker")
    )
    seats(world, 1)
    return world


def seats(world: World, number: int) -> None:
    seat_lots.give(world.ctx(SOL), "builder", "person", world.number(JONAS), number)


def start(world: World, key: str = "a key of it", robot: int | None = None, **inputs: object) -> int:
    return tryouts.start(world.ctx(JONAS), world.run, world.area, robot, dict(inputs), key)


def view(world: World, **chosen: object) -> tryouts.TryoutView:
    area, robot = chosen.pop("area", None), chosen.pop("robot", None)
    return tryouts.view(world.ctx(JONAS), world.run, area, robot, chosen)


def unmet(world: World, **chosen: object) -> dict[str, str]:
    return {need.key: need.fact for need in view(world, **chosen).pre_check if not need.met}


def of_builders(world: World) -> seats_page.SeatsOfKind:
    kinds = seats_page.view(world.ctx(SOL)).kinds
    return next(one for one in kinds if one.kind == "builder")


def test_it_takes_a_builder_s_seat_and_leaves_the_host_s_to_work(tried: World) -> None:
    assert unmet(tried) == {}
    run = start(tried)
    work = tried.take(tried.host)
    assert work.run == run
    now = robots.view(tried.ctx(SOL)).hosts[0]
    assert (now.seats_used, now.trial_used) == (0, 0)
    kind = of_builders(tried)
    assert (kind.given, kind.used) == (1, 1)
    assert [(one.name, one.used) for one in kind.holders] == [(JONAS, 1)]
    assert kind.used_working is not None and faults(Working.of(kind.used_working)) == []
    routine = tried.routine(release=tried.release("3.0.0"))
    beside = tried.start(routine)
    assert tried.take(tried.host).run == beside, "work has the seat of the host"
    tried.finish(tried.host, work)
    assert of_builders(tried).used == 0


def test_it_posts_nothing_and_is_no_routine_of_the_house(tried: World) -> None:
    run = start(tried)
    tried.finish(tried.host, tried.take(tried.host))
    tried.reckon()
    assert tried.rows("SELECT id FROM tally_entry") == []
    page = run_page.one(tried.ctx(SOL), run)
    assert (page.of, page.of_link) == ("release", f"/workshop/releases/{tried.run}")
    assert (page.trial, page.may.start_again) == (True, False)
    assert routines.listed(tried.ctx(SOL)) == []
    assert [one.state for one in view(tried).last] == ["done"]
    with pytest.raises(Refused, match="is tried out here"):
        runs.start(tried.ctx(SOL), tried.row("SELECT id FROM routine")["id"], "another key")


def test_without_a_seat_it_waits_and_says_so(tried: World) -> None:
    seats(tried, 0)
    assert unmet(tried) == {"seat": f"{JONAS}: 0 of 0 in use"}
    run = start(tried)
    assert dispatch.take(tried.program(), tried.host) is None
    waits = run_page.one(tried.ctx(SOL), run).waits_for
    assert waits == f"with a free builder seat of who tries it: {JONAS}: 0 of 0 in use"
    seats(tried, 1)
    assert tried.take(tried.host).run == run
    with pytest.raises(Refused, match="in use"):
        seats(tried, 0)


def test_a_group_s_seats_are_shared_by_its_members(tried: World) -> None:
    seats(tried, 0)
    group = access.add_group(tried.ctx(INES), "Builders", "", "", [tried.number(JONAS)])
    seat_lots.give(tried.ctx(SOL), "builder", "group", group, 1)
    assert unmet(tried) == {}
    start(tried)
    tried.take(tried.host)
    assert [(one.name, one.used) for one in of_builders(tried).holders] == [("Builders", 1)]


def test_one_robot_that_was_chosen_takes_it_alone(tried: World) -> None:
    rows = {one.name: one.id for one in view(tried).robots}
    assert set(rows) == {"Dipper 1", "Dipper 2"}
    start(tried, robot=rows["Dipper 2"])
    assert tried.take(tried.host).robot == "Dipper 2"
    with pytest.raises(InputFaults, match="no such robot"):
        start(tried, "another key", robot=99999)


def test_a_run_whose_robot_is_not_allowed_there_any_more_says_so(tried: World) -> None:
    number = view(tried).robots[0].id
    run = start(tried, robot=number)
    row = next(one for one in robots.view(tried.ctx(SOL)).robots if one.id == number)
    street = areas.add_area(tried.ctx(SOL), "Street works", None)
    given = robots.Given(row.name, row.host_id, row.tags, [street], row.account)
    robots.change_robot(tried.ctx(SOL), number, given, row.version)
    assert dispatch.take(tried.program(), tried.host) is None
    needs = {need.key: need for need in run_page.one(tried.ctx(SOL), run).needs}
    assert (needs["chosen"].met, needs["chosen"].fact) == (
        False,
        "it is retired, or not allowed in Metering any more",
    )


def test_the_same_start_twice_is_one_and_two_at_once_are_refused(tried: World) -> None:
    run = start(tried)
    assert start(tried) == run
    with pytest.raises(Refused, match="has not ended"):
        start(tried, "another key")
    assert unmet(tried) == {"limit": f"R-{run} has not ended"}


def test_inputs_that_do_not_fit_are_all_named(tried: World) -> None:
    assert unmet(tried, rows=-1)["inputs"].startswith("Rows")
    with pytest.raises(InputFaults) as refused:
        start(tried, rows=-1, robot=99999)
    assert [fault.field for fault in refused.value.faults] == ["robot_id", "inputs.rows"]
    run = start(tried, rows=7)
    assert run_page.one(tried.ctx(SOL), run).inputs == {"rows": 7}


def test_nobody_else_tries_it_nor_what_others_see(tried: World) -> None:
    number = tried.run
    for name, refused in ((INES, Forbidden), (SOL, Forbidden)):
        with pytest.raises(refused):
            tryouts.view(tried.ctx(name), number, None, None, {})
    placing.move(tried.ctx(JONAS), number, placing.To("company", note="Rows"))
    with pytest.raises(Refused, match="seen by others already"):
        start(tried)
    with pytest.raises(NotFound):
        tryouts.view(tried.ctx(JONAS), 99999, None, None, {})


def test_where_a_second_yes_is_asked_for_nothing_is_tried_without_it(tried: World) -> None:
    areas.set_approving(tried.ctx(SOL), tried.area, True)
    assert "approved" in unmet(tried)
    with pytest.raises(Refused, match="second person's yes"):
        start(tried)
    other = areas.add_area(tried.ctx(SOL), "Street works", None)
    with pytest.raises(InputFaults, match="may not start runs there"):
        view(tried, area=99999)
    assert "approved" not in unmet(tried, area=other)


def test_the_peak_of_builder_seats_is_noted_by_day(tried: World) -> None:
    start(tried)
    tried.finish(tried.host, tried.take(tried.host))
    assert seat_peaks.note(tried.program(DAY)) == 1
    kinds = seats_page.view(tried.ctx(SOL, DAY)).kinds
    kind = next(one for one in kinds if one.kind == "builder")
    assert kind.peak_working is not None and kind.peak_working["outcome"] == "1"
    assert [day.most for day in kind.days if day.most] == [1]
