"""The list of applications that runners look for."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults
from tallyman.services import robots
from tallyman.services.robots.applications import Given, keep, view
from tallyman.services.robots.readings import Reading
from tallyman.services.runs import dispatch
from tests.world import World

ROWS = [Given("Sumhall", ["sumhall", "/opt/sumhall"]), Given("Browser", ["x-www-browser"])]


def test_hosts_are_read_anew_once_the_list_changes(world: World) -> None:
    host, lead = world.machine(), world.ctx("Ines Varga")
    told = dispatch.Beat(world.now, [], reading=Reading({}))
    dispatch.heartbeat(world.program(), host, told)
    assert keep(lead, ROWS, "what routines need", 0) == 1
    later = world.program(timedelta(seconds=10))
    fresh = robots.host_tokens.host_of(later, world.token)
    asked = dispatch.heartbeat(later, fresh, dispatch.Beat(later.now, []))
    assert asked.read == {"Sumhall": ["sumhall", "/opt/sumhall"], "Browser": ["x-www-browser"]}
    dispatch.heartbeat(
        later, fresh, dispatch.Beat(later.now, [], reading=Reading({}, applications=("Browser",)))
    )
    assert {one.name: one.hosts for one in view(lead).applications} == {"Sumhall": 0, "Browser": 1}
    with pytest.raises(Conflict):
        keep(lead, ROWS[:1], "fewer", 0)


@pytest.mark.parametrize(
    ("rows", "field"),
    [
        ([Given("", ["a"])], "applications.0.name"),
        ([Given("a,b", ["a"])], "applications.0.name"),
        ([Given("Map", ["a"]), Given("map", ["b"])], "applications.1.name"),
        ([Given("Map", [])], "applications.0.found_by"),
        ([Given("Map", ["rm -rf x"])], "applications.0.found_by"),
        ([Given("Map", ["../map"])], "applications.0.found_by"),
    ],
)
def test_what_cannot_be_looked_for_is_named(world: World, rows: list[Given], field: str) -> None:
    with pytest.raises(InputFaults) as caught:
        keep(world.ctx("Ines Varga"), rows, "new", 0)
    assert [fault.field for fault in caught.value.faults] == [field]


def test_the_list_is_the_houses(world: World) -> None:
    for ask in (view, lambda ctx: keep(ctx, ROWS, "new", 0)):
        with pytest.raises(Forbidden):
            ask(world.ctx("Sol Marin"))
