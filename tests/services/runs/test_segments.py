"""Pauses, segments, locks, accounts, hours, and what two engines do to one another."""

from __future__ import annotations

import hashlib
import threading
from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Conflict, InputFaults, NotFound, Refused, Unavailable
from tallyman.services import robots, runs, tally
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.house import areas
from tallyman.services.robots import host_tokens, slots
from tallyman.services.runs import dispatch, reports, uploads
from tallyman.services.runs.answers import WorkGiven
from tallyman.services.workshop import packages
from tallyman.services.workshop.answers import WheelName
from tallyman.store.db import Tx
from tests.world import MANIFEST, NUMBERS, World, as_is, package

MINUTE = timedelta(minutes=1)
STATE = b'{"next": 3}'
DIGEST = hashlib.sha256(STATE).hexdigest()


def pausing(world: World, **more: Any) -> tuple[Any, int]:
    """A running run whose package has checkpoints."""
    host = world.machine(seats=2, robots_=2)
    manifest = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\ncheckpoints = true')
    release = packages.release(
        world.ctx("Jonas Lindqvist"), package(manifest=manifest), packages.Given("First")
    )
    run = world.start(world.routine(release=release, **more))
    return host, run


def hold(world: World, host: Any, work: WorkGiven, saved: str | None = DIGEST) -> str:
    ctx = world.program(MINUTE)
    return reports.outcome(ctx, host, work.run, work.fence, reports.Outcome("held", True, "", {}, {}, saved))


def upload(world: World, host: Any, data: bytes = STATE) -> str:
    digest = hashlib.sha256(data).hexdigest()
    uploads.begin(world.program(), host, digest, len(data))
    uploads.put(world.program(), host, digest, 0, data)
    return digest


def state(world: World, run: int) -> str:
    return str(world.row("SELECT state FROM run WHERE id = %(r)s", r=run)["state"])


def test_a_pause_is_passed_on_held_and_continued_by_any_robot(world: World) -> None:
    host, run = pausing(world)
    work = world.take(host)
    runs.pause(world.ctx("Sol Marin"), run)
    answer = dispatch.heartbeat(world.program(), host, dispatch.Beat(world.now, [(run, 1)]))
    assert (answer.pause, answer.cancel, answer.stop) == ([run], [], [])
    upload(world, host)
    assert hold(world, host, work) == "held"
    assert world.rows("SELECT 1 FROM slot WHERE run_id IS NOT NULL") == []
    with pytest.raises(Refused, match="held"):
        runs.pause(world.ctx("Sol Marin"), run)
    runs.go_on(world.ctx("Sol Marin", 2 * MINUTE), run)
    second = world.take(host, 2 * MINUTE)
    assert (second.run, second.fence, second.segment, second.saved) == (run, 2, 2, DIGEST)
    assert reports.body(world.program(2 * MINUTE), host, DIGEST) == STATE
    world.finish(host, second, later=4 * MINUTE)
    found = runs.one(world.ctx("Sol Marin"), run)
    assert [(one.n, one.ended_as) for one in found.segments] == [(1, "held"), (2, "done")]
    assert tally.verify(world.program(5 * MINUTE)) == []


def test_a_run_without_checkpoints_says_why_it_cannot_be_paused(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    world.take(host)
    found = runs.one(world.ctx("Sol Marin"), run).may
    assert (found.pause, found.why_no_pause) == (False, "count-rows 1.0.0 has no checkpoints")
    with pytest.raises(Refused, match="no checkpoints"):
        runs.pause(world.ctx("Sol Marin"), run)


def test_a_run_that_ends_before_the_pause_is_done_and_says_so(world: World) -> None:
    host, run = pausing(world)
    work = world.take(host)
    runs.pause(world.ctx("Sol Marin"), run)
    assert world.finish(host, work) == "done"
    assert "before the pause took effect" in runs.one(world.ctx("Sol Marin"), run).reason


def test_holding_without_a_saved_state_fails_the_run(world: World) -> None:
    host, run = pausing(world)
    assert hold(world, host, world.take(host), "0" * 64) == "failed"
    assert "without a saved state" in runs.one(world.ctx("Sol Marin"), run).reason


def test_a_held_run_can_be_cancelled_and_costs_what_it_worked(world: World) -> None:
    host, _, routine = world.live()
    world.db.transact(lambda tx: tx.execute("UPDATE package_release SET checkpoints = TRUE"))
    run = world.start(routine, "live")
    work = world.take(host)
    upload(world, host)
    hold(world, host, work)
    assert runs.cancel(world.ctx("Sol Marin", 30 * MINUTE), run) == "cancelled"
    world.settle(31 * MINUTE)
    entry = world.row("SELECT money FROM tally_entry WHERE run_id = %(r)s AND line = 'robot time'", r=run)
    # One minute of work at 6 an hour; the time it was held costs nothing.
    assert str(entry["money"]) == "-0.100000"
    assert tally.verify(world.program(31 * MINUTE)) == []


def test_reports_of_an_earlier_segment_are_kept_and_change_nothing(world: World) -> None:
    host, run = pausing(world)
    work = world.take(host)
    upload(world, host)
    hold(world, host, work)
    runs.go_on(world.ctx("Sol Marin"), run)
    world.take(host)
    line = [{"at": "2026-03-10T09:00:00+00:00", "level": "info", "text": "late"}]
    assert reports.report(world.program(), host, run, 1, 9, line, []) is False
    assert (
        reports.outcome(world.program(), host, run, 1, reports.Outcome("failed", True, "late", {}, {}))
        == "running"
    )
    assert state(world, run) == "running"
    assert "late" in [one.text for one in runs.log(world.ctx("Sol Marin"), run, 0).lines]


def test_of_a_file_that_another_sent_nothing_is_told_and_nothing_can_be_had(world: World) -> None:
    """A digest alone opens nothing: neither its size, nor the file as a state to go on from."""
    host, run = pausing(world)
    work = world.take(host)
    upload(world, host)
    made = robots.add_host(world.ctx("Sol Marin"), "Penstock", 1)
    token = host_tokens.connect(world.program(), made.code, 1, "robot", {})["token"]
    other = host_tokens.host_of(world.program(), token)
    assert uploads.begin(world.program(), other, DIGEST, len(STATE)) == 0
    foreign = world.row("SELECT digest FROM package_release LIMIT 1")["digest"]
    assert uploads.begin(world.program(), host, foreign, 10) == 0
    said = reports.Outcome("held", saved=foreign)
    assert reports.outcome(world.program(MINUTE), host, run, work.fence, said) == "failed"


def test_an_earlier_host_of_a_run_is_still_known_by_its_fencing_number(world: World) -> None:
    host, run = pausing(world)
    work = world.take(host)
    upload(world, host)
    hold(world, host, work)
    sol = world.ctx("Sol Marin")
    made = robots.add_host(sol, "Sluice", 1)
    robots.add_robot(sol, robots.Given("Heron", made.id, [], [world.area]))
    token = host_tokens.connect(world.program(), made.code, 1, "robot", {})["token"]
    other = host_tokens.host_of(world.program(), token)
    runs.go_on(sol, run)
    assert world.take(other).fence == 2
    assert (
        reports.outcome(world.program(), host, run, 1, reports.Outcome("failed", True, "late", {}, {}))
        == "running"
    )
    with pytest.raises(NotFound):
        reports.outcome(world.program(), host, run, 2, reports.Outcome("failed", True, "not mine", {}, {}))


def test_of_routines_with_the_same_lock_one_runs_at_a_time(world: World) -> None:
    host = world.machine(seats=3, robots_=3)
    release = world.release()
    first = world.start(world.routine("First", release, locks=("Sumhall login",)), "1")
    second = world.start(world.routine("Second", release, locks=("Sumhall login", "printer")), "2")
    work = world.take(host)
    assert work.run == first
    assert dispatch.take(world.program(), host) is None
    found = runs.one(world.ctx("Sol Marin"), second)
    assert found.waits_for == f"The lock Sumhall login: held by R-{first}"
    world.finish(host, work)
    assert world.take(host, 3 * MINUTE).run == second
    assert tally.verify(world.program(3 * MINUTE)) == []


def test_a_lock_taken_between_looking_and_taking_undoes_the_whole_claim(world: World) -> None:
    host = world.machine(seats=2, robots_=2)
    run = world.start(world.routine(locks=("Sumhall login",)))
    lock = world.row("SELECT id FROM named_lock")["id"]

    def work(tx: Tx) -> Any:
        return dispatch._choose(tx, world.program(), host, set(), {})

    choice = world.db.transact(work)
    world.db.transact(lambda tx: slots.take(tx, "lock", lock, 999_999))
    with pytest.raises(slots.Taken):
        world.db.transact(lambda tx: dispatch._give(tx, world.program(), host, choice[0], choice[1]))
    assert state(world, run) == "waiting"
    assert [row["kind"] for row in world.rows("SELECT kind FROM slot WHERE run_id IS NOT NULL")] == ["lock"]


def test_many_hosts_at_once_never_exceed_limit_lock_or_seat(world: World) -> None:
    sol = world.ctx("Sol Marin")
    world.area = areas.add_area(sol, "Metering", None)
    release = world.release()
    limited = world.routine("Limited", release, run_limit=3)
    locked = world.routine("Locked", release, run_limit=9, locks=("one",))
    for n in range(12):
        world.start(limited, f"limited {n}")
        world.start(locked, f"locked {n}")
    hosts = []
    for n in range(6):
        made = robots.add_host(sol, f"Host {n}", 2)
        for m in range(3):
            robots.add_robot(sol, robots.Given(f"Robot {n}/{m}", made.id, [], [world.area]))
        token = host_tokens.connect(world.program(), made.code, 1, "robot", {})["token"]
        hosts.append(host_tokens.host_of(world.program(), token))
    together = threading.Barrier(len(hosts))
    taken: list[WorkGiven] = []

    def work(host: Any) -> None:
        together.wait()
        for _ in range(3):
            try:
                found = dispatch.take(Ctx(world.db, world.now, PROGRAM), host)
            except Unavailable:
                continue
            if found is not None:
                taken.append(found)

    threads = [threading.Thread(target=work, args=(host,)) for host in hosts]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    by_routine = world.rows(
        "SELECT routine_id, COUNT(*) AS n FROM run WHERE state = 'running' GROUP BY routine_id"
    )
    assert {row["routine_id"]: row["n"] for row in by_routine} == {limited: 3, locked: 1}
    assert len({one.run for one in taken}) == len(taken) == 4
    assert tally.verify(world.program()) == []


def test_ten_thousand_waiting_runs_of_a_full_routine_do_not_hold_up_another(world: World) -> None:
    host = world.machine(seats=2, robots_=2)
    full, free = world.routine("Full"), world.routine("Free", world.release("1.0.1"))
    world.start(full, "first")
    world.take(host)
    world.start(full, "waiting")
    world.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO run (routine_id, release_id, started_words, trial, due_at, order_at, state, inputs_json, made_at, changed_at) "
            "SELECT routine_id, release_id, started_words, trial, due_at, order_at, state, inputs_json, made_at, changed_at "
            "FROM run JOIN " + NUMBERS + " s WHERE state = 'waiting'"
        )
    )
    wanted = world.start(free, "free", 5 * MINUTE)
    assert world.take(host, 5 * MINUTE).run == wanted


def test_a_host_outside_its_hours_takes_no_work(world: World) -> None:
    host = world.machine()
    sol = world.ctx("Sol Marin")
    robots.set_hours(sol, host.id, "18:00", "06:00", "Europe/Lisbon")
    run = world.start(world.routine())
    assert dispatch.take(world.program(), host) is None
    found = runs.one(sol, run)
    assert found.waits_for == "within the hours of its host: Weir works 18:00 to 06:00 (Europe/Lisbon)"
    robots.set_hours(sol, host.id, None, None, "Europe/Lisbon")
    assert world.take(host).run == run


@pytest.mark.parametrize(
    ("start", "end", "zone", "field"),
    [
        ("08:00", None, "UTC", "hours"),
        ("08:00", "08:00", "UTC", "hours"),
        ("8", "18:00", "UTC", "from"),
        ("08:00", "25:00", "UTC", "to"),
        ("08:00", "18:00", "Mars/Base", "zone"),
    ],
)
def test_wrong_hours_are_named(world: World, start: str, end: str | None, zone: str, field: str) -> None:
    host = world.machine()
    with pytest.raises(InputFaults) as refused:
        robots.set_hours(world.ctx("Sol Marin"), host.id, start, end, zone)
    assert refused.value.faults[0].field == field


def test_a_robot_whose_account_the_host_lacks_gets_no_work_and_says_why(world: World) -> None:
    host = world.machine()
    sol = world.ctx("Sol Marin")
    robot = robots.view(sol).robots[0]
    robots.change_robot(sol, robot.id, as_is(robot, account="meterbot"), robot.version)
    run = world.start(world.routine())
    assert dispatch.take(world.program(), host) is None
    assert "has not looked at the account meterbot yet" in runs.one(sol, run).waits_for
    answer = dispatch.heartbeat(
        world.program(), host, dispatch.Beat(world.now, [], {"meterbot": "there is no account meterbot"})
    )
    assert answer.accounts == ["meterbot"]
    assert "there is no account meterbot" in runs.one(sol, run).waits_for
    dispatch.heartbeat(world.program(), host, dispatch.Beat(world.now, [], {"meterbot": ""}))
    assert world.take(host).account == "meterbot"
    with pytest.raises(InputFaults):
        robots.change_robot(sol, robot.id, as_is(robot, account="not an account!"), 2)


def test_an_upload_goes_on_where_it_was_cut(world: World) -> None:
    host = world.machine()
    data = bytes(range(256)) * 10
    digest = hashlib.sha256(data).hexdigest()
    ctx = world.program()
    assert uploads.begin(ctx, host, digest, len(data)) == 0
    assert uploads.put(ctx, host, digest, 0, data[:1000]) == 1000
    assert uploads.put(ctx, host, digest, 0, data[:1000]) == 1000
    assert uploads.begin(ctx, host, digest, len(data)) == 1000
    with pytest.raises(Conflict) as refused:
        uploads.put(ctx, host, digest, 1500, data[1500:])
    assert refused.value.more["have"] == 1000
    assert uploads.put(ctx, host, digest, 1000, data[1000:]) == len(data)
    assert uploads.begin(ctx, host, digest, len(data)) == len(data)


def test_an_upload_that_is_not_what_it_says_begins_anew(world: World) -> None:
    host = world.machine()
    ctx = world.program()
    uploads.begin(ctx, host, "a" * 64, 4)
    assert uploads.put(ctx, host, "a" * 64, 0, b"else") == 0
    with pytest.raises(Conflict):
        uploads.put(ctx, host, "a" * 64, 0, b"else")
    with pytest.raises(InputFaults):
        uploads.begin(ctx, host, "b" * 64, 10**9)


def test_uploads_that_nobody_goes_on_with_are_tidied_up(world: World) -> None:
    host = world.machine()
    uploads.begin(world.program(), host, "a" * 64, 40)
    uploads.put(world.program(), host, "a" * 64, 0, b"half")
    later = world.program(timedelta(days=2))
    world.db.transact(lambda tx: uploads.tidy(tx, later))
    assert world.rows("SELECT digest FROM upload") == []
    assert world.rows("SELECT digest FROM upload_chunk") == []


def test_a_release_keeps_the_wheels_it_requires(world: World) -> None:
    jonas = world.ctx("Jonas Lindqvist")
    wheel = b"PK\x03\x04 a wheel"
    digest = packages.add_wheel(jonas, "valvemath-1.2.0-py3-none-any.whl", wheel)
    files = {
        "package.toml": MANIFEST.format(version="1.0.0", tags="").encode(),
        "main.py": b"",
        "requirements.txt": f"valvemath==1.2.0 \\\n  --hash=sha256:{digest}\n".encode(),
    }
    from tallyman.formats.package_zip import pack

    release = packages.one(jonas, packages.release(jonas, pack(files), packages.Given("First")))
    assert release.wheels == [WheelName("valvemath-1.2.0-py3-none-any.whl", digest)]
    files["package.toml"] = MANIFEST.format(version="1.0.1", tags="").encode()
    files["requirements.txt"] = b"valvemath==1.2.1 --hash=sha256:" + b"0" * 64
    with pytest.raises(InputFaults, match="no wheel of it is kept"):
        packages.release(jonas, pack(files), packages.Given("First"))
    with pytest.raises(InputFaults, match="is no wheel"):
        packages.add_wheel(jonas, "valvemath.zip", wheel)
    assert [one.name for one in packages.wheels(jonas)] == ["valvemath-1.2.0-py3-none-any.whl"]


def test_an_ask_whose_answer_was_lost_gets_the_same_run_again(world: World) -> None:
    host = world.machine(seats=2, robots_=2)
    routine = world.routine(run_limit=2)
    first, second = world.start(routine, "1"), world.start(routine, "2")
    key = "a" * 32
    given = dispatch.take(world.program(), host, key)
    assert given is not None
    assert dispatch.asked(world.program(), host, key) == given
    other = dispatch.take(world.program(), host, "b" * 32)
    assert other is not None
    assert (given.run, other.run) == (first, second)
    world.finish(host, given)
    # What it was given has ended: there is nothing to give again.
    assert dispatch.asked(world.program(), host, key) is None


def test_as_many_hosts_are_woken_as_there_is_work_for(world: World) -> None:
    sol = world.ctx("Sol Marin")
    world.area = areas.add_area(sol, "Metering", None)
    hosts = set()
    for n in range(8):
        made = robots.add_host(sol, f"Host {n}", 1)
        robots.add_robot(sol, robots.Given(f"Robot {n}", made.id, [], [world.area]))
        host_tokens.connect(world.program(), made.code, 1, "robot", {})
        hosts.add(made.id)
    routine = world.routine(run_limit=2)
    assert dispatch.who_may_take(world.program(), hosts) == set()
    world.start(routine, "1")
    assert len(dispatch.who_may_take(world.program(), hosts)) == 2
    assert dispatch.who_may_take(world.program(), set()) == set()
    for n in range(9):
        world.start(routine, f"more {n}")
    # Never more than the limit lets start.
    assert len(dispatch.who_may_take(world.program(), hosts)) == 4


def test_two_processes_asked_with_one_key_give_one_run(world: World) -> None:
    host = world.machine(seats=2, robots_=2)
    routine = world.routine(run_limit=2)
    world.start(routine, "1")
    world.start(routine, "2")
    together, taken = threading.Barrier(2), []

    def work() -> None:
        together.wait()
        taken.append(dispatch.take(Ctx(world.db, world.now, PROGRAM), host, "c" * 32))

    threads = [threading.Thread(target=work) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len({one.run for one in taken if one}) == 1
    assert len(world.rows("SELECT id FROM run WHERE state = 'running'")) == 1
    assert tally.verify(world.program()) == []
