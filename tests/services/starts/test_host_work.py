"""What a host did of late, and what comes that its robots may take."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, NotFound
from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.starts import host_work, triggers
from tests.world import World, as_is

MINUTE, DAY = timedelta(minutes=1), timedelta(days=1)


def test_a_host_shows_what_it_did_and_what_comes_for_its_robots(world: World) -> None:
    host, _, routine = world.live()
    sol = world.ctx("Sol Marin")
    triggers.add(sol, routine, triggers.Given({"expr": "0 12 * * *"}, "UTC"))
    found = host_work.view(sol, host.id)
    assert [(one.robot, one.state) for one in found.past] == [("Dipper 1", "done")]
    assert [(one.routine, one.at.hour, one.robots) for one in found.coming] == [
        ("Count rows", 12, ["Dipper 1"])
    ]
    later = host_work.view(world.ctx("Sol Marin", 8 * DAY), host.id)
    assert later.past == [], "a week is shown"
    robot = robots.view(sol).robots[0]
    other = areas.add_area(sol, "Laboratory", None)
    robots.change_robot(sol, robot.id, as_is(robot, area_ids=[other]), robot.version)
    assert host_work.view(sol, host.id).coming == [], "it may not take it any more"
    with pytest.raises(NotFound):
        host_work.view(sol, 404_404)
    with pytest.raises(Forbidden):
        host_work.view(world.stranger("Nia Reyes"), host.id)
