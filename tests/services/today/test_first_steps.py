"""What a new installation leads its lead through, each step on the page where it is done next."""

from __future__ import annotations

from datetime import timedelta

from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.starts import trials
from tallyman.services.today import house_rules
from tests.world import World


def steps_of(world: World) -> dict[str, tuple[bool, str, str]]:
    ctx = world.ctx("Ines Varga")
    steps = world.db.transact(lambda tx: house_rules.first_steps(tx, ctx))
    return {step.title: (step.done, step.fact, step.link) for step in steps}


def test_first_steps_lead_from_no_host_to_a_passed_trial_run(world: World) -> None:
    host, robot = "Connect a first host", "Bring a first robot to work"
    assert steps_of(world)[host] == (False, "none yet", "/robots?add=host")
    assert steps_of(world)[robot] == (False, "none yet", "/robots?add=robot")
    made = robots.add_host(world.ctx("Sol Marin"), "Weir", 1)
    assert steps_of(world)[host] == (False, "added, not heard from yet", f"/robots/hosts/{made.id}")
    assert steps_of(world)[robot][2] == f"/robots?add=robot&on={made.id}"
    token = robots.host_tokens.connect(world.program(), made.code, 1, "robot", {})["token"]
    assert steps_of(world)[host][:2] == (True, "connected")
    area = areas.add_area(world.ctx("Sol Marin"), "Metering", None)
    first = robots.add_robot(world.ctx("Sol Marin"), robots.Given("Dipper 1", made.id, [], [area]))
    assert steps_of(world)[robot] == (False, "added, no trial run yet", f"/robots/{first}")
    run = trials.start(world.ctx("Sol Marin"), first, "first")
    connected = robots.host_tokens.host_of(world.program(), token)
    world.finish(connected, world.take(connected), later=timedelta())
    # A trial run is no routine's run.
    assert steps_of(world)[robot][:2] == (True, "its trial run worked")
    assert steps_of(world)["See a first routine run"][0] is False
    assert run


def test_a_robot_that_does_its_work_needs_no_trial(world: World) -> None:
    host = world.machine()
    world.start(world.routine())
    world.finish(host, world.take(host))
    run = steps_of(world)["See a first routine run"]
    assert run[0] is True
    assert steps_of(world)["Bring a first robot to work"][:2] == (True, run[1])
