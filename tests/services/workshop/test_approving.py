"""Where an area asks for it, a release starts once a second person said yes to it and to what it newly asks for."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services import robots, runs
from tallyman.services.house import areas
from tallyman.services.runs import dispatch
from tallyman.services.runs import page as run_page
from tallyman.services.starts import routine_page, trials
from tallyman.services.today import desk
from tallyman.services.workshop import approving, packages, taking
from tests.world import World, package

ASKS = """
name = "count-rows"
version = "2.0.0"
entry = "main.py"
secrets = ["post-key"]
"""


@pytest.fixture
def asking(world: World) -> World:
    """The area asks; a routine in one below it has a release of Jonas Lindqvist's."""
    world.host = world.machine()
    above = areas.add_area(world.ctx("Sol Marin"), "Works", None)
    areas.set_approving(world.ctx("Sol Marin"), above, True)
    world.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO area_above (area_id, above_id, depth) VALUES (%(a)s, %(b)s, 1)",
            {"a": world.area, "b": above},
        )
    )
    world.kept = world.release()
    world.number = world.routine(release=world.kept)
    return world


def needs(world: World) -> dict[str, str]:
    rows = routine_page.one(world.ctx("Sol Marin"), world.number).pre_check
    return {need.key: need.fact for need in rows if not need.met}


def test_it_waits_and_says_for_whom_until_somebody_else_says_yes(asking: World) -> None:
    assert needs(asking) == {"approved": "nobody but who released count-rows 1.0.0 said yes to it"}
    run = asking.start(asking.number)
    assert dispatch.take(asking.program(), asking.host) is None
    assert "second person" in run_page.one(asking.ctx("Sol Marin"), run).waits_for
    seen = approving.look(asking.ctx("Sol Marin"), asking.kept)
    assert (seen.may, seen.areas, seen.new_secrets) == (True, ["Metering"], [])
    approving.approve(asking.ctx("Sol Marin"), asking.kept, [], "looked at every line")
    assert needs(asking) == {}
    assert asking.take(asking.host).run == run
    after = approving.look(asking.ctx("Ines Varga"), asking.kept)
    assert (after.approved_by, after.note, after.may) == ("Sol Marin", "looked at every line", False)


def test_nobody_approves_their_own_and_nobody_twice(asking: World) -> None:
    jonas = asking.ctx("Jonas Lindqvist")
    assert approving.look(jonas, asking.kept).against == "You released it; somebody else says yes to it."
    with pytest.raises(Refused):
        approving.approve(jonas, asking.kept, [], "")
    with pytest.raises(Forbidden):
        approving.approve(asking.ctx("Mei Tanaka"), asking.kept, [], "")
    approving.approve(asking.ctx("Ines Varga"), asking.kept, [], "")
    with pytest.raises(Refused, match="already"):
        approving.approve(asking.ctx("Sol Marin"), asking.kept, [], "")


def test_each_secret_that_is_newly_asked_for_is_said_yes_to_by_name(asking: World) -> None:
    second = packages.release(asking.ctx("Jonas Lindqvist"), package(manifest=ASKS), packages.Given("Asks"))
    sol = asking.ctx("Sol Marin")
    assert approving.look(sol, second).new_secrets == ["post-key"]
    with pytest.raises(InputFaults) as told:
        approving.approve(sol, second, [], "")
    assert [(one.field, one.value) for one in told.value.faults] == [("secrets", "post-key")]
    approving.approve(sol, second, ["post-key"], "")
    assert "post-key" in asking.rows("SELECT words FROM audit WHERE action = 'release approved'")[0]["words"]


def test_where_no_area_asks_nothing_waits(asking: World) -> None:
    sol = asking.ctx("Sol Marin")
    elsewhere = areas.add_area(sol, "Fleet", None)
    free = asking.routine("Free", asking.kept, area_id=elsewhere)
    assert not [need for need in routine_page.one(sol, free).pre_check if need.key == "approved"]
    areas.set_approving(sol, elsewhere, True)
    assert [need.met for need in routine_page.one(sol, free).pre_check if need.key == "approved"] == [False]


def test_the_programs_own_trial_of_a_robot_waits_for_nobodys_yes(asking: World) -> None:
    sol = asking.ctx("Sol Marin")
    trial = trials.start(sol, robots.view(sol).robots[0].id, "first")
    assert asking.take(asking.host).run == trial


def test_whoever_may_say_yes_has_it_on_their_desk_and_who_released_it_has_not(asking: World) -> None:
    def waiting(who: str) -> list[tuple[str, str]]:
        return [(one.title, one.link) for one in desk.view(asking.ctx(who)).waits if one.kind == "approve"]

    row = ("count-rows 1.0.0", f"/workshop/releases/{asking.kept}")
    assert waiting("Sol Marin") == waiting("Ines Varga") == [row]
    assert waiting("Jonas Lindqvist") == waiting("Mei Tanaka") == []
    approving.approve(asking.ctx("Sol Marin"), asking.kept, [], "")
    assert waiting("Ines Varga") == []


def test_a_set_up_says_before_it_is_kept_that_its_release_waits_for_a_yes(asking: World) -> None:
    def lacks() -> list[str]:
        chosen = taking.Chosen(asking.area, asking.kept)
        found = taking.of(asking.ctx("Sol Marin"), chosen).pre_check
        return [need.link for need in found if need.key == "approved"]

    assert lacks() == [f"/workshop/releases/{asking.kept}"]
    approving.approve(asking.ctx("Sol Marin"), asking.kept, [], "")
    assert lacks() == []


def test_a_yes_that_comes_while_it_waits_lets_it_start_at_once(asking: World) -> None:
    run = asking.start(asking.number)
    later = timedelta(minutes=2)
    approving.approve(asking.ctx("Ines Varga"), asking.kept, [], "")
    assert asking.take(asking.host, later).run == run
    assert runs.one(asking.ctx("Ines Varga"), run).needs == []
