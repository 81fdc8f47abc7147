"""Ten robots at once, from a table."""

from __future__ import annotations

import pytest

from tallyman.errors import Forbidden, InputFaults
from tallyman.services import access, robots
from tallyman.services.robots import many
from tests.world import World


def table(*lines: str) -> bytes:
    return "\n".join(["robot;host;areas;tags;account", *lines]).encode()


def test_ten_robots_come_from_one_table_and_a_second_time_none(world: World) -> None:
    world.machine()
    sol = world.ctx("Sol Marin")
    given = table(*(f"Heron {n};Weir;Metering;letters, paper;" for n in range(10)), "Dipper 1;Weir;;;")
    looked = many.look(sol, given)
    assert [one.state for one in looked] == ["to be added"] * 10 + ["here already"]
    assert len(robots.view(sol).robots) == 1, "nothing is kept by looking"
    done = many.bring(sol, given)
    assert (done.entered, done.here, done.left_out) == (10, 1, 0)
    shown = robots.view(sol).robots
    assert len(shown) == 11
    heron = next(one for one in shown if one.name == "Heron 3")
    assert (heron.tags, [one.name for one in heron.areas]) == (["letters", "paper"], ["Metering"])
    assert world.rows("SELECT kind FROM slot WHERE kind = 'robot' AND owner_id = %(id)s", id=heron.id)
    again = many.bring(sol, given)
    assert (again.entered, again.here) == (0, 11)


def test_a_bad_line_is_named_and_stops_no_other(world: World) -> None:
    world.machine()
    sol = world.ctx("Sol Marin")
    given = table(
        "Heron;Weir;Metering;;",
        "Otter;Ford;Nowhere;;",
        "Heron;Weir;;;",
        "Grebe;Weir;Metering, North;;",
        "Rail;Weir;;UPPER?;no account!",
        ";Weir;;;",
    )
    faults = {one.line: " ".join(one.faults) for one in many.look(sol, given) if one.faults}
    assert sorted(faults) == [3, 4, 5, 6, 7]
    assert "host “Ford”: there is no such host" in faults[3] and "areas “Nowhere”" in faults[3]
    assert "stands in line 2 already" in faults[4]
    assert faults[5] == "areas “North”: there is no such area that you may see"
    assert "tags" in faults[6] or "account" in faults[6]
    done = many.bring(sol, given)
    assert (done.entered, done.left_out) == (1, 5)
    with pytest.raises(InputFaults) as told:
        many.look(sol, b"name;place\nHeron;Weir\n")
    assert [one.field for one in told.value.faults] == ["host"]


def test_whoever_works_in_one_area_adds_robots_only_there(world: World) -> None:
    world.machine()
    ines = world.ctx("Ines Varga")
    role = next(row.id for row in access.listed(ines) if row.name == "operator")
    nia = world.stranger("Nia Reyes")
    with pytest.raises(Forbidden):
        many.look(nia, table("Heron;Weir;Metering;;"))
    access.give(ines, role, nia.actor.person_id, None, world.area)
    nia = world.again("Nia Reyes")
    looked = many.look(nia, table("Heron;Weir;Metering;;", "Otter;Weir;;;"))
    assert [(one.state, len(one.faults)) for one in looked] == [("to be added", 0), ("not as it is", 1)]
    assert many.bring(nia, table("Heron;Weir;Metering;;", "Otter;Weir;;;")).entered == 1
