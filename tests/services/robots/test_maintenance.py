"""A host in maintenance: what runs goes on, nothing new is taken, and whatever waits for it says so."""

from __future__ import annotations

from datetime import timedelta
from zoneinfo import ZoneInfo

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services import robots, runs
from tallyman.services.robots import maintenance
from tallyman.services.runs import dispatch
from tests.world import World

MINUTE = timedelta(minutes=1)
HOUR = timedelta(hours=1)


def test_what_runs_goes_on_and_nothing_new_is_taken_until_it_ends(world: World) -> None:
    host, sol = world.machine(seats=2, robots_=2), world.ctx("Sol Marin")
    routine = world.routine(run_limit=2)
    world.start(routine, "one")
    work = world.take(host)
    maintenance.begin(sol, host.id, None, "new memory")
    waits = world.start(routine, "two")
    assert dispatch.take(world.program(MINUTE), host) is None
    seen = runs.one(sol, waits)
    assert (
        seen.waits_for
        == "on a host that is not in maintenance: Weir is in maintenance until it is ended: new memory"
    )
    world.finish(host, work, "done", 2 * MINUTE)
    assert runs.one(sol, work.run).state == "done"
    maintenance.end(world.ctx("Sol Marin", 3 * MINUTE), host.id)
    assert world.take(host, 4 * MINUTE).run == waits


def test_it_ends_by_itself_at_its_time(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    maintenance.begin(sol, host.id, world.now + HOUR, "new memory")
    run = world.start(world.routine())
    assert dispatch.take(world.program(59 * MINUTE), host) is None
    row = robots.view(world.ctx("Sol Marin", MINUTE)).hosts[0]
    assert (row.maintenance_until, row.maintenance_why) == (world.now + HOUR, "new memory")
    assert world.take(host, HOUR).run == run
    assert robots.view(world.ctx("Sol Marin", HOUR)).hosts[0].maintenance_at is None


def test_another_host_takes_over_meanwhile(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    made = robots.add_host(sol, "Sluice", 1)
    token = robots.host_tokens.connect(world.program(), made.code, 1, "robot", {})["token"]
    other = robots.host_tokens.host_of(world.program(), token)
    robots.add_robot(sol, robots.Given("Heron", made.id, [], [world.area]))
    maintenance.begin(sol, host.id, None, "new memory")
    run = world.start(world.routine())
    assert dispatch.take(world.program(), host) is None
    assert world.take(other).run == run


def test_the_look_names_what_goes_on_and_what_would_wait(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    world.start(world.routine("Meters"))
    work = world.take(host)
    look = maintenance.look(sol, host.id)
    assert [(row.what, row.name) for row in look.hangs] == [("run", f"R-{work.run}"), ("routine", "Meters")]
    assert "would wait until the maintenance is over" in look.hangs[1].then


def test_said_again_it_is_changed_and_who_waits_reads_the_new_reason(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    maintenance.begin(sol, host.id, None, "new memory")
    maintenance.begin(sol, host.id, world.now + HOUR, "a new disk as well")
    told = world.rows("SELECT words FROM audit WHERE action = 'maintenance begun' ORDER BY id")
    assert [row["words"].rsplit(": ", 1)[1] for row in told] == ["new memory", "a new disk as well"]
    maintenance.end(sol, host.id)
    with pytest.raises(Refused, match="in no maintenance"):
        maintenance.end(sol, host.id)


def test_a_time_without_a_zone_is_on_the_wall_of_whoever_says_it(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    wall = (world.now + HOUR).astimezone(ZoneInfo(sol.actor.zone)).replace(tzinfo=None)
    maintenance.begin(sol, host.id, wall, "new memory")
    assert robots.view(sol).hosts[0].maintenance_until == world.now + HOUR


def test_what_is_missing_or_past_is_named(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    with pytest.raises(InputFaults) as told:
        maintenance.begin(sol, host.id, world.now - HOUR, " ")
    assert {one.field for one in told.value.faults} == {"why", "until"}
    with pytest.raises(InputFaults):
        maintenance.begin(sol, host.id, world.now + timedelta(days=400), "new memory")
    with pytest.raises(Forbidden):
        maintenance.begin(world.ctx("Mei Tanaka"), host.id, None, "new memory")
