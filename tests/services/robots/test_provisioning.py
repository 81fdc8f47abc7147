"""Bringing a robot to work: what its page says, its password, its host's readings and its trial run."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from decimal import Decimal
from typing import Any

import pytest

from tallyman.core.runs import Asked, Need
from tallyman.errors import Forbidden, InputFaults, NotFound, NotSignedIn, Refused
from tallyman.services import robots, runs, safe
from tallyman.services.context import Actor
from tallyman.services.house import rule_sets
from tallyman.services.robots import host_tokens, passwords
from tallyman.services.robots.readings import KEPT, TIDIED, Reading
from tallyman.services.runs import dispatch, reports
from tallyman.services.runs.answers import HeartbeatAnswer
from tallyman.services.runs.dispatch import Beat
from tallyman.services.starts import trials
from tallyman.services.workshop import packages, routines
from tallyman.store.records.robots import HostByToken
from tests.world import World, as_is, package

SECOND, MINUTE = timedelta(seconds=1), timedelta(minutes=1)
FACTS = {"system_name": "Debian 12", "processors": "4", "memory_mb": "7900", "root": "yes", "runner": "4"}
READING = Reading(FACTS, Decimal("12.5"), 4000, 50_000, ("Sumhall",), ("clerk", "gauge"), "none")
FOUND = {"system": "Debian 12", "account": "number 58001", "free_mb": 50_000, "written_and_read": 15_000}


def beat(
    world: World, later: timedelta = timedelta(), reading: Reading | None = None, **more: Any
) -> HeartbeatAnswer:
    ctx = world.program(later)
    host = host_tokens.host_of(ctx, world.token)
    told = Beat(world.now + later, [], {"": "", "clerk": ""}, reading=reading, **more)
    return dispatch.heartbeat(ctx, host, told)


def host_now(world: World, later: timedelta = timedelta()) -> HostByToken:
    return host_tokens.host_of(world.program(later), world.token)


def points(world: World, later: timedelta = timedelta()) -> dict[str, Need]:
    robot = robots.view(world.ctx("Sol Marin", later)).robots[0].id
    return {need.key: need for need in robots.robot_page(world.ctx("Sol Marin", later), robot).points}


def named(world: World, account: str = "clerk") -> int:
    """The first robot, working under an account of its own."""
    sol = world.ctx("Sol Marin")
    robot = robots.view(sol).robots[0]
    robots.change_robot(sol, robot.id, as_is(robot, account=account), robot.version)
    return robot.id


def test_points_come_true_in_whatever_order(world: World) -> None:
    sol = world.ctx("Sol Marin")
    made = robots.add_host(sol, "Weir", 0)
    robot = robots.add_robot(sol, robots.Given("Dipper", made.id, [], []))
    lacking = {need.key for need in robots.robot_page(world.ctx("Ines Varga"), robot).points if not need.met}
    assert lacking == {"areas", "connected", "account", "seat", "abilities", "trial"}
    world.token = host_tokens.connect(world.program(), made.code, 1, "root", FACTS)["token"]
    beat(world, reading=READING)
    robots.set_seats(sol, made.id, 1)
    assert {key for key, need in points(world).items() if not need.met} == {"areas", "trial"}
    assert robots.view(sol).robots[0].lacks == [
        "Allowed in an area (nowhere yet, so it would get no work)",
        "A trial run there and back (none yet)",
    ]


def test_a_host_is_read_once_a_minute_and_tells_what_it_can_do(world: World) -> None:
    world.machine()
    lead = world.ctx("Ines Varga")
    world.db.transact(
        lambda tx: rule_sets.keep(
            tx,
            lead,
            "applications",
            {"applications": [{"name": "Sumhall", "found_by": ["sumhall"]}]},
            "new",
            0,
        )
    )
    assert beat(world, fresh=True).read == {"Sumhall": ["sumhall"]}
    assert beat(world, SECOND, READING).read is None
    assert beat(world, 20 * SECOND).read is None
    assert beat(world, 62 * SECOND).read == {"Sumhall": ["sumhall"]}
    host = robots.view(world.ctx("Sol Marin", 62 * SECOND)).hosts[0]
    assert host.abilities == ["Debian 12", "4 processors", "8 GB memory", "Sumhall"]
    assert (host.known, host.disk_free_mb) == (["clerk", "gauge"], 50_000)


def test_the_history_of_a_host_has_a_row_every_five_minutes_and_ends_some_day(world: World) -> None:
    world.machine()
    for minute in range(11):
        beat(world, minute * MINUTE, READING)
    page = robots.host_page(world.ctx("Sol Marin", 11 * MINUTE), host_now(world).id)
    assert [row.at - world.now for row in page.readings] == [timedelta(), 5 * MINUTE, 10 * MINUTE]
    assert page.readings[0].cpu_percent == Decimal("12.5")
    ctx = world.program(KEPT + 6 * MINUTE)
    world.db.transact(lambda tx: TIDIED["host readings"](tx, ctx))
    assert len(world.rows("SELECT at FROM host_reading")) == 1


def test_a_runner_of_the_release_before_says_so(world: World) -> None:
    host = world.machine()
    beat(world, reading=replace(READING, facts={"runner": "3"}))
    upgrade = robots.host_page(world.ctx("Sol Marin"), host.id).upgrade
    assert "release 3" in upgrade
    beat(world, MINUTE, READING)
    assert robots.host_page(world.ctx("Sol Marin"), host.id).upgrade == ""


def test_a_full_disk_and_a_wrong_clock_stop_work_and_are_named(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    beat(world, reading=replace(READING, disk_free_mb=120))
    assert dispatch.take(world.program(), host) is None
    assert "Weir has 120 MB" in str(runs.one(world.ctx("Sol Marin"), run).waits_for)
    assert points(world)["disk"].mend == "Make room on the disk of the host"
    beat(world, MINUTE, READING)
    ahead = Beat(world.now + timedelta(hours=1), [])
    dispatch.heartbeat(world.program(MINUTE), host_now(world, MINUTE), ahead)
    assert dispatch.take(world.program(MINUTE), host_now(world, MINUTE)) is None
    waits = str(runs.one(world.ctx("Sol Marin", MINUTE), run).waits_for)
    assert "the clock of Weir is 59 min ahead" in waits
    beat(world, 2 * MINUTE)
    assert world.take(host_now(world, 2 * MINUTE), 2 * MINUTE).run == run


def test_a_routine_asks_for_abilities_of_the_host(world: World) -> None:
    host = world.machine()
    routine = world.routine(asked=Asked("Debian", memory_gb=16, applications=("Culvertline",)))
    run = world.start(routine)
    beat(world, reading=READING)
    assert dispatch.take(world.program(), host) is None
    need = next(one for one in runs.one(world.ctx("Sol Marin"), run).needs or [] if one.key == "abilities")
    assert need.fact == "Weir memory: 8 GB of 16 GB, has no Culvertline"
    more = replace(READING, facts={**FACTS, "memory_mb": "16000"}, applications=("Culvertline",))
    beat(world, MINUTE, more)
    assert world.take(host_now(world, MINUTE), MINUTE).run == run


def test_a_password_is_tried_by_its_host_and_read_by_nobody_else(world: World) -> None:
    host, sol = world.machine(), world.ctx("Ines Varga")
    robot = named(world)
    beat(world, reading=READING)
    assert "none is needed" in points(world)["password"].fact
    with pytest.raises(NotFound):
        passwords.to_try(world.program(), host, "clerk")
    passwords.put(sol, host.id, "clerk", "weir-and-meadow")
    assert not points(world)["password"].met
    assert beat(world, SECOND).prove == ["clerk"]
    assert passwords.to_try(world.program(SECOND), host, "clerk") == "weir-and-meadow"
    passwords.tried(world.program(2 * SECOND), host, "clerk", False, "the sign-in refused it")
    refused = points(world)["password"]
    assert (refused.met, refused.fact, refused.act) == (False, "the sign-in refused it", "password")
    assert beat(world, 3 * SECOND).prove == []
    with pytest.raises(NotFound):
        passwords.to_try(world.program(3 * SECOND), host, "clerk")
    passwords.put(sol, host.id, "clerk", "meadow-and-weir")
    assert passwords.to_try(world.program(4 * SECOND), host, "clerk") == "meadow-and-weir"
    passwords.tried(world.program(5 * SECOND), host, "clerk", True, "the sign-in took it")
    assert points(world)["password"].met
    secret = safe.listed(world.ctx("Ines Varga")).secrets[0]
    assert (secret.name, secret.kind, secret.area) == ("weir-clerk", "run-as", "Metering")
    used = safe.one(world.ctx("Ines Varga"), secret.id).uses
    assert [one.who for one in used] == ["runner of Weir"]
    trail = world.rows("SELECT words FROM audit WHERE object = %(o)s", o=f"host:{host.id}")
    assert not any("weir-and-meadow" in row["words"] for row in trail)
    assert robot == robots.view(sol).robots[0].id


def test_a_password_changed_in_the_safe_is_tried_again(world: World) -> None:
    host, lead = world.machine(), world.ctx("Ines Varga")
    named(world)
    passwords.put(lead, host.id, "clerk", "weir-and-meadow")
    passwords.to_try(world.program(), host, "clerk")
    passwords.tried(world.program(), host, "clerk", True, "took it")
    secret = safe.listed(lead).secrets[0]
    safe.change(lead, secret.id, safe.Change("another-one", "", None, secret.area_id), secret.version)
    assert not points(world)["password"].met
    assert beat(world, SECOND).prove == ["clerk"]
    assert passwords.to_try(world.program(SECOND), host, "clerk") == "another-one"
    passwords.tried(world.program(SECOND), host, "clerk", True, "took it")
    passwords.try_again(lead, host.id, "clerk")
    assert beat(world, 2 * SECOND).prove == ["clerk"]


def test_the_page_offers_what_the_server_would_take(world: World) -> None:
    """Putting a password in and replacing one are two permissions."""
    host = world.machine()
    number = named(world)
    makes, changes = (
        ("secret.make", "robot.see", "robot.change"),
        ("secret.change", "robot.see", "robot.change"),
    )

    def looks(permissions: tuple[str, ...]) -> tuple[bool, bool]:
        actor = Actor(None, "Keeper", permissions=frozenset(permissions))
        page = robots.robot_page(replace(world.program(), actor=actor), number)
        return page.password_kept, page.may_password

    assert (looks(makes), looks(changes)) == ((False, True), (False, False))
    passwords.put(world.ctx("Ines Varga"), host.id, "clerk", "weir-and-meadow")
    assert (looks(makes), looks(changes)) == ((True, False), (True, True))


def test_passwords_only_for_accounts_in_use_and_by_who_may(world: World) -> None:
    host = world.machine()
    with pytest.raises(Refused, match="No robot of Weir works under clerk"):
        passwords.put(world.ctx("Ines Varga"), host.id, "clerk", "x")
    named(world)
    with pytest.raises(InputFaults):
        passwords.put(world.ctx("Ines Varga"), host.id, "clerk", "")
    with pytest.raises(Forbidden):
        passwords.put(world.ctx("Jonas Lindqvist"), host.id, "clerk", "x")
    with pytest.raises(NotFound):
        passwords.try_again(world.ctx("Ines Varga"), host.id, "clerk")


def finish_trial(world: World, host: HostByToken, later: timedelta, state: str = "done") -> int:
    work = dispatch.take(world.program(later), host)
    assert work is not None
    assert work.package == "tallyman-there-and-back"
    told = reports.Outcome(state, True, "" if state == "done" else "no room", FOUND, {})
    reports.outcome(world.program(later + SECOND), host, work.run, work.fence, told)
    return work.run


def test_a_trial_run_goes_there_and_back_and_tells_who_started_it(world: World) -> None:
    host = world.machine(seats=2, robots_=2)
    sol = world.ctx("Sol Marin")
    second = next(one for one in robots.view(sol).robots if one.name == "Dipper 2")
    run = trials.start(sol, second.id, "k")
    assert trials.start(sol, second.id, "k") == run
    with pytest.raises(Refused, match=f"R-{run}"):
        trials.start(sol, second.id, "other")
    # Nobody but that robot takes it, though the other is free as well.
    assert finish_trial(world, host, SECOND) == run
    page = runs.one(world.ctx("Sol Marin", 3 * SECOND), run)
    assert (page.robot, page.routine, page.trial) == ("Dipper 2", "Trial run of Dipper 2", True)
    trial = next(one for one in robots.robot_page(sol, second.id).points if one.key == "trial")
    assert (trial.met, trial.link) == (True, f"/runs/{run}")
    world.settle(3 * SECOND)
    told = world.rows(
        "SELECT text, link FROM notification WHERE person_id = %(p)s", p=world.number("Sol Marin")
    )
    assert (told[-1]["text"], told[-1]["link"]) == (
        f"R-{run}, Trial run of Dipper 2, passed: it went there and came back",
        f"/robots/{second.id}",
    )
    assert world.rows("SELECT id FROM tally_entry") == []


def test_a_trial_run_that_failed_says_why_and_another_host_asks_for_a_new_one(world: World) -> None:
    host, sol = world.machine(), world.ctx("Sol Marin")
    robot = robots.view(sol).robots[0]
    trials.start(sol, robot.id, "one")
    finish_trial(world, host, SECOND, "failed")
    assert points(world, MINUTE)["trial"].fact.endswith("failed: no room")
    trials.start(world.ctx("Sol Marin", MINUTE), robot.id, "two")
    beat(world, 2 * MINUTE)
    finish_trial(world, host, 2 * MINUTE)
    assert points(world, 3 * MINUTE)["trial"].met
    later = world.ctx("Sol Marin", 4 * MINUTE)
    robots.change_robot(later, robot.id, as_is(robot, tags=["letters"]), robot.version)
    assert points(world, 4 * MINUTE)["trial"].met
    robots.change_robot(later, robot.id, as_is(robot, account="clerk"), robot.version + 1)
    assert "before its host or account changed" in points(world, 5 * MINUTE)["trial"].fact


def test_the_routine_of_trial_runs_is_the_robots_own(world: World) -> None:
    world.machine()
    sol = world.ctx("Sol Marin")
    robot = robots.view(sol).robots[0]
    run = trials.start(sol, robot.id, "k")
    routine = world.row("SELECT routine_id AS id FROM run WHERE id = %(r)s", r=run)["id"]
    assert routines.listed(sol) == []
    with pytest.raises(Refused, match="the robot's own"):
        world.start(routine, "by hand")
    with pytest.raises(Refused, match="the robot's own"):
        routines.go_live(sol, routine)
    look = robots.look_at_robot(world.ctx("Ines Varga"), robot.id)
    assert look.against == [f"the trial run R-{run} of Dipper 1 has not ended: cancel it"]
    runs.cancel(sol, run)
    robots.retire_robot(world.ctx("Ines Varga"), robot.id)
    assert world.row("SELECT retired_at FROM routine WHERE id = %(i)s", i=routine)["retired_at"] is not None


def test_a_trial_run_needs_an_area_and_follows_the_robots_name(world: World) -> None:
    world.machine()
    sol = world.ctx("Ines Varga")
    robot = robots.view(sol).robots[0]
    robots.change_robot(sol, robot.id, as_is(robot, area_ids=[]), robot.version)
    with pytest.raises(Refused, match="allowed in no area"):
        trials.start(sol, robot.id, "k")
    now = robots.view(sol).robots[0]
    robots.change_robot(sol, robot.id, as_is(now, area_ids=[world.area], name="Heron"), now.version)
    world.routine("Trial run of Heron")
    run = trials.start(sol, robot.id, "k")
    assert runs.one(sol, run).routine == f"Trial run of Heron (robot {robot.id})"
    with pytest.raises(Forbidden):
        trials.start(world.ctx("Jonas Lindqvist"), robot.id, "other")


def test_names_of_shipped_packages_are_the_programs_own(world: World) -> None:
    data = package(manifest='name = "tallyman-counter"\nversion = "1.0.0"\nentry = "main.py"\n')
    with pytest.raises(InputFaults, match="the program's own"):
        packages.release(world.ctx("Jonas Lindqvist"), data, packages.Given("First"))


def test_a_revoked_token_is_known_no_more_and_a_code_brings_the_host_back(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    lead = world.ctx("Ines Varga")
    robots.revoke(lead, host.id)
    with pytest.raises(NotSignedIn):
        host_now(world)
    assert points(world)["connected"].fact == "its token was revoked"
    with pytest.raises(Refused, match="not connected"):
        robots.revoke(lead, host.id)
    code = robots.new_code(lead, host.id).code
    world.token = host_tokens.connect(world.program(SECOND), code, 1, "robot", {})["token"]
    # The same runner, connected anew, still holds the run and hands in its outcome: nothing is lost.
    again = host_now(world, SECOND)
    told = Beat(world.now + SECOND, [(work.run, work.fence)], fresh=True)
    assert [one.run for one in dispatch.heartbeat(world.program(SECOND), again, told).kept] == [run]
    assert world.finish(again, work, "done", MINUTE) == "done"
    assert points(world, SECOND)["connected"].met


def test_what_happens_to_a_host_stands_in_its_history(world: World) -> None:
    host = world.machine()
    beat(world, fresh=True)
    robots.tell_silent(world.program(MINUTE))
    beat(world, 2 * MINUTE)
    beat(world, 3 * MINUTE, leaving=True)
    rows = world.rows("SELECT words FROM audit WHERE object = %(o)s ORDER BY id", o=f"host:{host.id}")
    assert [row["words"] for row in rows][2:] == [
        "The runner of Weir started",
        "Weir not heard from since 09:00:00 UTC",
        "Weir is heard from again",
        "The runner of Weir is being stopped",
    ]


def test_a_stranger_sees_neither_page(world: World) -> None:
    host = world.machine()
    robot = robots.view(world.ctx("Sol Marin")).robots[0].id
    nobody = world.stranger("Nell Ashby")
    for ask in (lambda: robots.robot_page(nobody, robot), lambda: robots.host_page(nobody, host.id)):
        with pytest.raises(Forbidden):
            ask()
    for ask in (
        lambda: robots.robot_page(world.ctx("Sol Marin"), 999),
        lambda: robots.host_page(world.ctx("Sol Marin"), 999),
    ):
        with pytest.raises(NotFound):
            ask()
