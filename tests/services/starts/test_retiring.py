"""Routines that go out of use: seen first, refused while in use, and still to be read."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services import runs, safe
from tallyman.services.answers import Retiring
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.starts import addresses, kinds, retiring, routine_page, triggers
from tallyman.services.tally import counts, value
from tallyman.services.workshop import rolling, rollouts, routines
from tests.world import World

HOURLY = triggers.Given({"expr": "0 * * * *"}, "UTC")
LATER = timedelta(hours=3)


@pytest.fixture
def sol(world: World) -> Ctx:
    return world.ctx("Sol Marin")


def hanging(look: Retiring) -> list[tuple[str, str]]:
    return [(row.what, row.name) for row in look.hangs]


def given(world: World, number: int, **but: object) -> routines.Given:
    row = world.row("SELECT name, area_id, release_id FROM routine WHERE id = %(id)s", id=number)
    return replace(routines.Given(row["name"], row["area_id"], row["release_id"], {}, []), **but)


def test_its_address_and_the_roll_out_that_changes_it_are_shown(world: World) -> None:
    world.machine()
    routine = world.routine()
    sol = world.ctx("Sol Marin")
    addresses.give(sol, routine, addresses.Given())
    robot = world.row("SELECT id FROM robot")["id"]
    chosen = [rollouts.Chosen(routine)]
    staged = rollouts.Given(chosen, "staged", "It counts more", first_robot=robot)
    rollouts.roll_out(sol, world.release("1.1.0"), staged)
    assert {one.what for one in retiring.look_at(sol, routine).hangs} >= {"address", "roll-out"}
    retiring.retire(sol, routine)
    rolling.carry_on(world.program())
    assert world.row("SELECT state FROM rollout") == {"state": "gone back"}


def test_the_look_names_starts_idea_and_a_release_used_nowhere_else(world: World, sol: Ctx) -> None:
    _, _, number = world.live()
    triggers.add(sol, number, HOURLY)
    idea = world.row("SELECT i.id, i.title FROM idea i JOIN counting_point c ON c.idea_id = i.id")
    look = retiring.look_at(sol, number)
    assert hanging(look)[0] == ("start", "Every hour on the hour (UTC)")
    assert hanging(look)[1] == ("idea", f"I-{idea['id']} {idea['title']}")
    assert hanging(look)[2][0] == "release"
    assert look.against == []


def test_a_routine_with_an_open_run_stays_and_says_which(world: World, sol: Ctx) -> None:
    world.machine(robots_=0)
    number = world.routine()
    run = world.start(number)
    assert retiring.look_at(sol, number).against == [f"R-{run} waits: let it end, or cancel it"]
    with pytest.raises(Refused, match="cannot be retired yet"):
        retiring.retire(sol, number)
    runs.cancel(sol, run)
    retiring.retire(sol, number)
    with pytest.raises(Refused, match="retired already"):
        retiring.retire(sol, number)


def test_of_many_open_runs_it_says_that_there_are_others(world: World, sol: Ctx) -> None:
    world.machine(robots_=0)
    number = world.routine()
    for n in range(21):
        world.start(number, f"run {n}")
    against = retiring.look_at(sol, number).against
    assert (len(against), against[-1]) == (21, "and others")


def test_nothing_starts_or_changes_a_retired_routine_and_its_starts_stay_to_be_read(
    world: World, sol: Ctx
) -> None:
    host = world.machine()
    number = world.routine()
    trigger = triggers.add(sol, number, HOURLY)
    assert kinds.start_due(world.program(timedelta(hours=1))) == 1
    world.finish(host, world.take(host, timedelta(hours=1)), "done", timedelta(hours=1, minutes=5))
    late = world.ctx("Sol Marin", LATER)
    retiring.retire(late, number)
    assert kinds.start_due(world.program(LATER + timedelta(hours=1))) == 0
    for act in (
        lambda: runs.start(late, number, "once more"),
        lambda: triggers.add(late, number, HOURLY),
        lambda: routines.change(late, number, given(world, number), 2),
        lambda: routines.go_live(late, number),
    ):
        with pytest.raises(Refused, match="is retired"):
            act()
    page = routine_page.one(late, number)
    assert page.retired_at is not None
    assert not (page.may.change or page.may.start or page.may.decide or page.may.retire)
    assert [(one.id, one.started) for one in page.ended] == [(trigger, 1)]
    assert [row.what for row in triggers.history(late, number, trigger, None).rows] == ["started"]
    assert [row.name for row in routines.retired(late)] == ["Count rows"]
    assert routines.listed(late) == []
    assert world.routine("Count rows", world.release("2.0.0")) != number


def test_a_start_that_is_ended_by_itself_stays_to_be_read(world: World, sol: Ctx) -> None:
    world.machine()
    number = world.routine()
    trigger = triggers.add(sol, number, HOURLY)
    triggers.retire(sol, number, trigger)
    page = routine_page.one(sol, number)
    assert page.triggers == []
    assert [(one.sentence, one.started) for one in page.ended] == [("Every hour on the hour (UTC)", 0)]
    assert triggers.history(sol, number, trigger, None).rows == []


def test_another_routine_counts_on_for_the_idea_and_days_between_are_counted_by_hand(world: World) -> None:
    _, _, number = world.live()
    idea = world.row("SELECT idea_id FROM counting_point WHERE routine_id = %(id)s", id=number)["idea_id"]
    sol = world.settle(timedelta(days=3))
    sol = world.ctx("Sol Marin", timedelta(days=3))
    assert idea not in {row.id for row in routines.choices(sol).ideas}
    retiring.retire(sol, number)
    assert idea in {row.id for row in routines.choices(sol).ideas}
    tally_now = value.of_idea(sol, idea)
    assert tally_now.routine_id == number
    assert tally_now.counted_until is not None
    day = date(2026, 3, 11)
    wrong = counts.Given(day, day, 4, "list of the post room")
    with pytest.raises(InputFaults, match="nothing is counted at two points"):
        counts.add(world.ctx("Sol Marin", timedelta(days=9)), idea, wrong, "a")
    after = date(2026, 3, 16)
    counts.add(
        world.ctx("Sol Marin", timedelta(days=9)), idea, counts.Given(after, after, 4, "their list"), "b"
    )
    again = world.routine("Counts on", world.release("3.0.0"), idea_id=idea, area_id=world.area)
    points = world.rows("SELECT routine_id, ended_at FROM counting_point WHERE idea_id = %(id)s", id=idea)
    assert {row["routine_id"]: row["ended_at"] is None for row in points} == {number: False, again: True}
    assert (value.of_idea(sol, idea).routine_id, value.of_idea(sol, idea).counted_until) == (again, None)


def test_who_may_not_retire_is_told(world: World) -> None:
    world.machine()
    release = world.release()
    number = world.routine(release=release)
    tom = world.ctx("Mei Tanaka")
    for act in (
        lambda: retiring.look_at(tom, number),
        lambda: retiring.retire(tom, number),
    ):
        with pytest.raises(Forbidden):
            act()


def test_moving_a_secret_names_who_loses_and_who_finds_it(world: World, sol: Ctx) -> None:
    world.machine()
    other = areas.add_area(sol, "Street works", None)
    ines = world.ctx("Ines Varga")
    secret = safe.make(ines, safe.Given("billing-login", "package", "heron-on-weir-4", world.area))
    world.routine("Loses")
    world.routine("Finds", world.release("1.1.0"), area_id=other)
    world.db.transact(
        lambda tx: tx.execute("UPDATE package_release SET secrets_json = '[\"billing-login\"]'")
    )
    look = safe.look_at_move(ines, secret, other)
    assert ([one.name for one in look.lose], [one.name for one in look.gain]) == (["Loses"], ["Finds"])
    assert safe.look_at_move(ines, secret, None).lose == []
    safe.change(ines, secret, safe.Change(None, "moved", None, other), 1)
    assert safe.look_at_move(ines, secret, world.area).lose[0].name == "Finds"
    with pytest.raises(InputFaults, match="no such area"):
        safe.change(ines, secret, safe.Change(None, "", None, 404_404), 2)
