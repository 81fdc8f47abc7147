from __future__ import annotations

from dataclasses import fields, replace
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, NotSignedIn, Refused
from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.rates import rates
from tallyman.services.robots import host_tokens
from tallyman.services.runs import reports
from tallyman.services.starts import kinds, routine_page, triggers
from tallyman.services.workshop import inputs, packages, routines
from tests.conftest import NOW
from tests.world import MANIFEST, World, as_is, package


def unmet(world: World, routine: int, later: timedelta = timedelta()) -> dict[str, str]:
    found = routine_page.one(world.ctx("Sol Marin", later), routine).pre_check
    return {need.key: need.mend for need in found if not need.met}


def test_a_version_is_released_once(world: World) -> None:
    world.release("1.0.0")
    with pytest.raises(InputFaults) as refused:
        world.release("1.0.0")
    assert refused.value.faults[0].field == "version"
    assert "raise the version" in refused.value.faults[0].message
    world.release("1.0.1")


def test_only_builders_release(world: World) -> None:
    with pytest.raises(Forbidden):
        packages.release(world.ctx("Sol Marin"), package(), packages.Given("First"))


def test_a_code_connects_one_host_once(world: World) -> None:
    world.machine()
    with pytest.raises(NotSignedIn, match="used already"):
        host_tokens.connect(world.program(), world.code, 1, "robot", {})


def test_a_code_runs_out(world: World) -> None:
    made = robots.add_host(world.ctx("Sol Marin"), "Sluice", 1)
    later = world.program(robots.CODE_LASTS + timedelta(seconds=1))
    with pytest.raises(NotSignedIn):
        host_tokens.connect(later, made.code, 1, "robot", {})


def test_another_protocol_is_refused(world: World) -> None:
    made = robots.add_host(world.ctx("Sol Marin"), "Sluice", 1)
    with pytest.raises(InputFaults, match="protocol 1"):
        host_tokens.connect(world.program(), made.code, 2, "robot", {})


def test_names_are_taken_once(world: World) -> None:
    world.machine()
    sol = world.ctx("Sol Marin")
    for make in (lambda: robots.add_host(sol, "Weir", 1), lambda: areas.add_area(sol, "Metering", None)):
        with pytest.raises(InputFaults, match="exists already"):
            make()


def test_a_silent_host_shows_after_thirty_seconds(world: World) -> None:
    world.machine()
    sol = world.ctx("Sol Marin", timedelta(seconds=29))
    assert not robots.view(sol).hosts[0].silent
    sol = world.ctx("Sol Marin", timedelta(seconds=31))
    assert robots.view(sol).hosts[0].silent
    assert robots.tell_silent(world.program(timedelta(seconds=31))) == 1
    assert robots.tell_silent(world.program(timedelta(seconds=40))) == 0


def test_a_seat_in_use_is_not_taken_away(world: World) -> None:
    host = world.machine()
    world.start(world.routine())
    world.take(host)
    with pytest.raises(Refused, match="in use"):
        robots.set_seats(world.ctx("Sol Marin"), host.id, 0)
    robots.set_seats(world.ctx("Sol Marin"), host.id, 3)
    assert world.row("SELECT seats FROM host")["seats"] == 3


def test_changing_a_robot_that_changed_meanwhile_is_told(world: World) -> None:
    world.machine()
    robot = robots.view(world.ctx("Sol Marin")).robots[0]
    robots.change_robot(world.ctx("Sol Marin"), robot.id, as_is(robot, tags=["letters"]), robot.version)
    with pytest.raises(Conflict) as refused:
        robots.change_robot(world.ctx("Sol Marin"), robot.id, as_is(robot, tags=["print"]), robot.version)
    assert refused.value.more["theirs"] == {"name": "Dipper 1", "tags": ["letters"]}


def test_a_robot_allowed_above_may_work_below(world: World) -> None:
    host = world.machine()
    below = areas.add_area(world.ctx("Sol Marin"), "Metering north", world.area)
    routine = world.routine(area_id=below)
    assert unmet(world, routine) == {}
    world.start(routine)
    assert world.take(host).run


def test_pre_check_names_each_need_with_its_mend(world: World) -> None:
    world.machine(robots_=0)
    routine = world.routine(release=world.release(tags='"letters"'))
    assert "area" in unmet(world, routine)
    host = world.row("SELECT id FROM host")["id"]
    robots.add_robot(world.ctx("Sol Marin"), robots.Given("Otter", host, [], [world.area]))
    assert "tags" in unmet(world, routine)
    robot = robots.view(world.ctx("Sol Marin")).robots[0]
    robots.change_robot(world.ctx("Sol Marin"), robot.id, as_is(robot, tags=["letters"]), robot.version)
    assert unmet(world, routine) == {}
    assert unmet(world, routine, timedelta(minutes=1))["host"] == "Start the runner on the host"


def test_every_fault_of_a_set_up_is_named_at_once(world: World) -> None:
    world.machine()
    release = world.release()
    given = routines.Given("", 999, release, {"rows": "three"}, [], priority=9, run_limit=0)
    with pytest.raises(InputFaults) as refused:
        routines.add(world.ctx("Sol Marin"), given)
    fields = {one.field for one in refused.value.faults}
    assert fields == {"name", "priority", "run_limit", "area", "inputs.rows"}


def test_nothing_is_counted_at_two_points(world: World) -> None:
    idea = world.building()
    world.machine()
    world.routine("First", idea_id=idea)
    with pytest.raises(InputFaults, match="two points"):
        world.routine("Second", release=world.release("1.0.1"), idea_id=idea)


def test_an_idea_is_counted_from_building_on(world: World) -> None:
    idea = world.backed()
    world.machine()
    with pytest.raises(InputFaults, match="from building on"):
        world.routine(idea_id=idea)


def test_minutes_by_hand_are_proposed_from_the_promise(world: World) -> None:
    idea = world.building()
    world.machine()
    world.routine(idea_id=idea)
    # 11 minutes of handling and 5 % rework of 20 minutes
    row = world.row("SELECT value, state FROM rate WHERE kind = 'minutes_by_hand'")
    assert (float(row["value"]), row["state"]) == (12.0, "proposed")


def test_going_live_needs_a_trial_and_an_approved_rate(world: World) -> None:
    idea = world.building()
    host = world.machine()
    routine = world.routine(idea_id=idea)
    sol = world.ctx("Sol Marin")
    with pytest.raises(Refused) as refused:
        routines.go_live(sol, routine)
    assert "trial run" in refused.value.mend
    assert "Minutes by hand" in refused.value.mend
    world.start(routine)
    world.finish(host, world.take(host))
    rate = world.row("SELECT id FROM rate WHERE kind = 'minutes_by_hand'")["id"]
    rates.settle(world.ctx("Ines Varga"), rate, True)
    routines.go_live(sol, routine)
    assert world.row("SELECT stage FROM idea WHERE id = %(i)s", i=idea)["stage"] == "in service"
    with pytest.raises(Refused, match="already"):
        routines.go_live(sol, routine)


def test_who_proposes_a_rate_does_not_approve_it(world: World) -> None:
    ines = world.ctx("Ines Varga")
    rate = rates.propose(ines, "hour_cost", "40", NOW.date(), "finance")
    with pytest.raises(Refused, match="yourself"):
        rates.settle(ines, rate, True)


def test_a_file_given_as_input_is_kept_by_its_digest(world: World) -> None:
    found = inputs.keep(world.ctx("Sol Marin"), "week.csv", b"a,b\n1,2\n")
    digest = found.value.removeprefix("file:").split("/")[0]
    kept = world.rows("SELECT data FROM file_chunk WHERE digest = %(d)s", d=digest)
    assert [row["data"] for row in kept] == [b"a,b\n1,2\n"]


def test_a_host_may_fetch_only_files_of_the_runs_it_works_on(world: World) -> None:
    host = world.machine()
    manifest = MANIFEST + '[inputs.week]\ntype = "string"\nformat = "file"\n'
    release = packages.release(
        world.ctx("Jonas Lindqvist"), package(manifest=manifest), packages.Given("First")
    )
    week = inputs.keep(world.ctx("Sol Marin"), "week.csv", b"a,b\n1,2\n").value
    other = inputs.keep(world.ctx("Sol Marin"), "other.csv", b"secret").value
    world.start(world.routine(release=release, inputs={"week": week}))
    ours, theirs = (value.removeprefix("file:").split("/")[0] for value in (week, other))
    with pytest.raises(NotFound):
        reports.body(world.program(), host, ours)
    work = world.take(host)
    assert reports.body(world.program(), host, ours) == b"a,b\n1,2\n"
    assert reports.body(world.program(), host, work.digest).startswith(b"PK")
    with pytest.raises(NotFound, match="No run of this host"):
        reports.body(world.program(), host, theirs)


def clock_routine(world: World, expression: str = "0 10 * * *", **more: Any) -> int:
    world.machine()
    routine = world.routine()
    triggers.add(
        world.ctx("Sol Marin"),
        routine,
        triggers.Given({"expr": expression}, "UTC", more.get("on_closed", "run")),
    )
    return routine


def test_the_clock_starts_each_nominal_time_once(world: World) -> None:
    clock_routine(world)
    later = timedelta(hours=1)
    assert kinds.start_due(world.program(timedelta(minutes=59))) == 0
    assert kinds.start_due(world.program(later)) == 1
    assert kinds.start_due(world.program(later)) == 0
    row = world.row("SELECT nominal_at, started_words FROM run")
    assert row["nominal_at"] == datetime(2026, 3, 10, 10, tzinfo=UTC)
    assert row["started_words"] == "the clock: Every day at 10:00 (UTC)"


def test_a_start_made_already_is_not_made_again(world: World) -> None:
    clock_routine(world)
    world.db.transact(lambda tx: tx.execute("UPDATE start_trigger SET next_nominal = next_at"))
    kinds.start_due(world.program(timedelta(hours=1)))
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE start_trigger SET next_at = '2026-03-10 10:00', next_nominal = '2026-03-10 10:00'"
        )
    )
    assert kinds.start_due(world.program(timedelta(hours=1))) == 0


def test_missed_starts_are_made_once_on_return_and_counted(world: World) -> None:
    clock_routine(world, "0 * * * *")
    assert kinds.start_due(world.program(timedelta(hours=5, minutes=10))) == 1
    assert "4 earlier starts" in world.row("SELECT reason FROM run")["reason"]


def test_an_ended_trigger_starts_nothing(world: World) -> None:
    routine = clock_routine(world)
    trigger = world.row("SELECT id FROM start_trigger")["id"]
    triggers.retire(world.ctx("Sol Marin"), routine, trigger)
    assert kinds.start_due(world.program(timedelta(hours=2))) == 0


def test_a_preview_reads_the_expression_and_its_next_five_times(world: World) -> None:
    found = triggers.preview(
        world.ctx("Sol Marin"), triggers.Given({"expr": "30 7 * * 1-5"}, "Europe/Lisbon", "run")
    )
    assert found.sentence == "Monday to Friday at 07:30 (Europe/Lisbon)"
    assert len(found.times) == 5
    first = found.times[0]
    assert first.at == datetime(2026, 3, 11, 7, 30, tzinfo=UTC)
    assert (first.wall, first.offset, first.note) == ("Wed 11 Mar 2026, 07:30", "UTC", "")


@pytest.mark.parametrize(
    ("once", "wall", "offset", "said"),
    [
        ("2026-03-29T01:30", "Sun 29 Mar 2026, 02:00", "UTC+01:00", "01:00 to 02:00 does not exist"),
        ("2026-10-25T01:30", "Sun 25 Oct 2026, 01:30", "UTC+01:00", "the first 01:30 of that night"),
    ],
)
def test_a_preview_says_what_the_clocks_do(
    world: World, once: str, wall: str, offset: str, said: str
) -> None:
    given = triggers.Given({"once": once}, "Europe/Lisbon", "run")
    [one] = triggers.preview(world.ctx("Sol Marin"), given).times
    assert (one.wall, one.offset) == (wall, offset)
    assert said in one.note


def test_a_preview_of_a_routine_says_whose_closed_days_count(world: World) -> None:
    world.machine()
    routine = world.routine()
    given = triggers.Given({"expr": "0 9 * * *"}, "Europe/Lisbon", "skip")
    found = triggers.preview(world.ctx("Sol Marin"), given, routine)
    assert found.closed_days_of == world.row("SELECT name FROM area WHERE id = %(a)s", a=world.area)["name"]


@pytest.mark.parametrize(
    ("expression", "zone", "fields"),
    [("61 * * * *", "UTC", ["minute"]), ("0 9 * * *", "Mars/Base", ["zone"]), ("9", "x", ["expr", "zone"])],
)
def test_a_wrong_expression_or_zone_is_named(
    world: World, expression: str, zone: str, fields: list[str]
) -> None:
    with pytest.raises(InputFaults) as refused:
        triggers.preview(world.ctx("Sol Marin"), triggers.Given({"expr": expression}, zone, "run"))
    assert [one.field for one in refused.value.faults] == fields


def test_a_routine_in_service_takes_another_release_by_a_trial_or_for_a_reason(world: World) -> None:
    host, idea, routine = world.live()
    sol = world.ctx("Sol Marin")
    newer = world.release("2.0.0")
    before = routine_page.one(sol, routine)
    given = as_given(before, release_id=newer)
    with pytest.raises(InputFaults, match="try the release first"):
        routines.change(sol, routine, given, before.version)
    routines.change(sol, routine, replace(given, trial_again=True), before.version)
    after = routine_page.one(sol, routine)
    assert after.on_trial
    with pytest.raises(Refused) as caught:
        routines.go_live(sol, routine)
    assert "A trial run of this release that worked" in caught.value.mend
    world.start(routine, "again")
    world.finish(host, world.take(host), counts={"rows": "5"})
    world.settle(timedelta(minutes=9))
    tallied = "SELECT COUNT(*) AS n FROM tally_entry WHERE idea_id = %(i)s"
    assert world.row(tallied, i=idea)["n"] == 0
    routines.go_live(sol, routine)
    assert not routine_page.one(sol, routine).on_trial
    third = world.release("3.0.0")
    now = routine_page.one(sol, routine)
    routines.change(sol, routine, as_given(now, release_id=third, release_why="a wrong total"), now.version)
    assert not routine_page.one(sol, routine).on_trial
    said = world.row("SELECT words FROM audit WHERE action = 'routine changed' ORDER BY id DESC LIMIT 1")[
        "words"
    ]
    assert said.endswith("another release at once: a wrong total")


def as_given(found: Any, **more: Any) -> routines.Given:
    """A routine as it stands, to be changed."""
    names = [one.name for one in fields(routines.Given) if hasattr(found, one.name)]
    standing = {name: getattr(found, name) for name in names}
    return routines.Given(**{**standing, "locks": tuple(found.locks), **more})


def test_a_package_whose_code_does_not_compile_is_refused_on_arrival(world: World) -> None:
    broken = package("9.0.0", "def work(:\n    pass\n")
    with pytest.raises(InputFaults) as caught:
        packages.release(world.ctx("Jonas Lindqvist"), broken, packages.Given("First"))
    assert caught.value.faults[0].value == "main.py, line 1"
