"""Attended runs: meant for one person, on their own computer, when they say so, counted less the time they gave."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from decimal import Decimal

import pytest

from tallyman.errors import InputFaults, NotFound, Refused
from tallyman.services import robots, runs
from tallyman.services.robots import HostByToken, host_tokens, own, seat_lots
from tallyman.services.runs import attended, dispatch, my_computer
from tallyman.services.runs import page as run_page
from tallyman.services.starts import routine_page, triggers
from tallyman.services.tally import value
from tallyman.services.workshop import routines, taking
from tests.world import World

MINUTE = timedelta(minutes=1)


def beat(world: World, host: HostByToken, later: timedelta = timedelta(), in_use: bool = False) -> None:
    row = host_tokens.host_of(world.program(later), world.tokens[host.id])
    dispatch.heartbeat(world.program(later), row, dispatch.Beat(world.now + later, [], in_use=in_use))


def computer(world: World, name: str) -> HostByToken:
    """The own computer of somebody who is given an attended seat for it, connected."""
    seat_lots.give(world.ctx("Sol Marin"), "attended", "person", world.number(name), 1)
    made = own.connect(world.ctx(name), f"Desk of {name}")
    token = host_tokens.connect(world.program(), made.code, 1, "me", {"as_runner": "yes"})["token"]
    world.tokens = {**getattr(world, "tokens", {}), made.id: token}
    host = host_tokens.host_of(world.program(), token)
    beat(world, host)
    return host


@pytest.fixture
def mei(world: World) -> World:
    world.host = world.machine()
    world.tokens = {world.host.id: world.token}
    world.desk = computer(world, "Mei Tanaka")
    return world


def for_mei(world: World, kind: str = "answer", **more: object) -> int:
    return world.routine(attended=kind, attended_for=world.number("Mei Tanaka"), **more)


def view(world: World, name: str = "Mei Tanaka", later: timedelta = timedelta()) -> my_computer.MyComputer:
    return my_computer.view(world.ctx(name, later))


def take(world: World, host: HostByToken, later: timedelta = timedelta()) -> int | None:
    beat(world, host, later)
    found = dispatch.take(world.program(later), host)
    return None if found is None else found.run


def test_it_goes_to_the_computer_of_whom_it_is_for_alone_and_only_after_a_yes(mei: World) -> None:
    other = computer(mei, "Tom Okafor")
    run = mei.start(for_mei(mei))
    assert [take(mei, one) for one in (mei.host, other, mei.desk)] == [None, None, None]
    assert attended.ask_due(mei.program()) == 1
    assert attended.ask_due(mei.program()) == 0
    mei.settle()
    told = mei.rows("SELECT person_id, text FROM notification WHERE link = '/my-computer'")
    assert [row["person_id"] for row in told] == [mei.number("Mei Tanaka")]
    shown = view(mei)
    assert [(one.id, one.asks, one.waits_for) for one in shown.open] == [(run, True, "")]
    assert run_page.one(mei.ctx("Sol Marin"), run).meant_for == "Mei Tanaka"
    attended.answer(mei.ctx("Mei Tanaka"), run, "now")
    assert [take(mei, one) for one in (mei.host, other, mei.desk)] == [None, None, run]
    held = mei.rows("SELECT kind, owner_id FROM slot WHERE run_id = %(run)s ORDER BY kind", run=run)
    assert [row["kind"] for row in held] == ["attended", "limit", "robot"]
    # What holds its robot is itself, and nothing to wait for.
    assert [(one.id, one.waits_for) for one in view(mei).open] == [(run, "")]
    assert run_page.one(mei.ctx("Sol Marin"), run).needs == []


def test_in_ten_minutes_and_not_today_put_it_off(mei: World) -> None:
    run = mei.start(for_mei(mei))
    at = attended.answer(mei.ctx("Mei Tanaka"), run, "soon")
    assert at == mei.now + 10 * MINUTE
    assert take(mei, mei.desk, 9 * MINUTE) is None
    # NOW is a Tuesday, 09:00 in winter time; it asks again the next morning at eight.
    again = attended.answer(mei.ctx("Mei Tanaka", 9 * MINUTE), run, "later")
    assert again == datetime(2026, 3, 11, 8, 0, tzinfo=UTC)
    assert take(mei, mei.desk, 11 * MINUTE) is None
    (shown,) = view(mei, later=timedelta(hours=1)).open
    assert (shown.asks, shown.due_at, shown.agreed_at) == (False, again, None)
    assert attended.ask_due(mei.program(timedelta(hours=1))) == 0
    # Whoever finds time after all says so, and it begins; else it asks again.
    assert attended.ask_due(mei.program(timedelta(hours=24))) == 1
    attended.answer(mei.ctx("Mei Tanaka", 2 * timedelta(hours=1)), run, "now")
    assert take(mei, mei.desk, 2 * timedelta(hours=1)) == run


def test_before_its_deadline_it_cannot_be_put_off_by_ten_minutes_that_are_not_left(mei: World) -> None:
    run = mei.start(for_mei(mei))
    mei.db.transact(lambda tx: tx.execute("UPDATE run SET lapses_at = %s", (mei.now + 5 * MINUTE,)))
    with pytest.raises(Refused, match="lapses at 10 Mar, 09:05 already"):
        attended.answer(mei.ctx("Mei Tanaka"), run, "soon")
    attended.answer(mei.ctx("Mei Tanaka"), run, "later")
    assert runs.lapse(mei.program(6 * MINUTE)) == 1
    assert "not started by its latest start" in mei.row("SELECT reason FROM run")["reason"]


def test_who_starts_it_for_themselves_has_agreed(mei: World) -> None:
    routine = mei.routine(attended="answer")
    seat_lots.give(mei.ctx("Sol Marin"), "attended", "person", mei.number("Sol Marin"), 1)
    desk = computer(mei, "Sol Marin")
    run = runs.start(mei.ctx("Sol Marin"), routine, "own")
    assert attended.ask_due(mei.program()) == 0
    assert take(mei, desk) == run


def test_only_its_person_answers_and_stops_it(mei: World) -> None:
    run = mei.start(for_mei(mei))
    for act in (
        lambda ctx: attended.answer(ctx, run, "now"),
        lambda ctx: attended.stop(ctx, run),
    ):
        with pytest.raises(NotFound, match="meant for you"):
            act(mei.ctx("Ines Varga"))
    attended.answer(mei.ctx("Mei Tanaka"), run, "now")
    assert take(mei, mei.desk) == run
    with pytest.raises(Refused, match="is running"):
        attended.answer(mei.ctx("Mei Tanaka"), run, "later")
    # Mei may change no runs elsewhere; what works on her computer she stops.
    assert attended.stop(mei.ctx("Mei Tanaka"), run) == "running"
    assert mei.row("SELECT cancel_by FROM run")["cancel_by"] == mei.number("Mei Tanaka")


def test_a_yes_taken_back_between_looking_and_taking_is_kept_to(
    mei: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = mei.start(for_mei(mei))
    attended.answer(mei.ctx("Mei Tanaka"), run, "now")
    chosen = dispatch._choose

    def then_not_today(*given: object, **named: object) -> object:
        found = chosen(*given, **named)
        if found is not None:
            attended.answer(mei.ctx("Mei Tanaka"), run, "later")
        return found

    monkeypatch.setattr(dispatch, "_choose", then_not_today)
    assert take(mei, mei.desk) is None
    assert mei.row("SELECT state FROM run")["state"] == "waiting"


def test_members_of_a_group_share_its_seats(mei: World) -> None:
    seat_lots.give(mei.ctx("Sol Marin"), "attended", "person", mei.number("Mei Tanaka"), 0)
    with pytest.raises(Refused, match="no attended seat"):
        own.connect(mei.ctx("Corin Dahl"), "Desk of Corin Dahl")
    group = mei.db.transact(
        lambda tx: (
            tx.execute(
                "INSERT INTO person_group (name, made_at) VALUES ('Laboratory', %s)", (mei.now,)
            ).lastrowid
        )
    )
    for name in ("Mei Tanaka", "Corin Dahl"):
        values = (group, mei.number(name), mei.now)
        mei.db.transact(
            lambda tx, values=values: tx.execute(
                "INSERT INTO group_member (group_id, person_id, at) VALUES (%s, %s, %s)", values
            )
        )
    seat_lots.give(mei.ctx("Sol Marin"), "attended", "group", group, 1)
    made = own.connect(mei.ctx("Corin Dahl"), "Desk of Corin Dahl")
    token = host_tokens.connect(mei.program(), made.code, 1, "me", {"as_runner": "yes"})["token"]
    mei.tokens[made.id] = token
    desk = host_tokens.host_of(mei.program(), token)
    release = mei.release()
    one = mei.start(for_mei(mei, release=release))
    two = mei.start(mei.routine("Other", release, attended="answer", attended_for=mei.number("Corin Dahl")))
    attended.answer(mei.ctx("Mei Tanaka"), one, "now")
    attended.answer(mei.ctx("Corin Dahl"), two, "now")
    assert take(mei, mei.desk) == one
    assert take(mei, desk) is None
    (waits,) = view(mei, "Corin Dahl").open
    assert waits.waits_for == "with a free attended seat of its owner's: Corin Dahl: 1 of 1 in use"
    with pytest.raises(Refused, match="in use"):
        seat_lots.give(mei.ctx("Sol Marin"), "attended", "group", group, 0)


def test_a_computer_in_use_by_its_owner_takes_no_other_work(mei: World) -> None:
    robots.set_seats(mei.ctx("Sol Marin"), mei.desk.id, 1)
    robots.set_seats(mei.ctx("Sol Marin"), mei.host.id, 0)
    robot = mei.row("SELECT id FROM robot WHERE host_id = %(h)s", h=mei.desk.id)["id"]
    mei.db.transact(
        lambda tx: tx.execute("INSERT INTO robot_area (robot_id, area_id) VALUES (%s, %s)", (robot, mei.area))
    )
    routine = mei.routine()
    run = mei.start(routine)
    beat(mei, mei.desk, in_use=True)
    row = host_tokens.host_of(mei.program(), mei.tokens[mei.desk.id])
    assert dispatch.take(mei.program(), row) is None
    needs = {need.key: need.fact for need in routine_page.one(mei.ctx("Sol Marin"), routine).pre_check}
    assert needs["in use"] == "Desk of Mei Tanaka is in use by its owner, Mei Tanaka"
    assert take(mei, mei.desk, MINUTE) == run


def test_one_computer_each_and_a_new_code_for_the_one_there_is(mei: World) -> None:
    again = own.connect(mei.ctx("Mei Tanaka"), "")
    assert again.id == mei.desk.id
    found = view(mei)
    assert (found.seats.number, found.computer.name, found.computer.connected) == (
        1,
        "Desk of Mei Tanaka",
        True,
    )


def test_a_routine_for_whoever_starts_it_is_not_started_by_the_clock(mei: World) -> None:
    routine = mei.routine(attended="answer")
    given = triggers.Given({"expr": "0 * * * *"}, "UTC")
    with pytest.raises(Refused, match="the clock is nobody"):
        triggers.add(mei.ctx("Sol Marin"), routine, given)
    named = for_mei(mei, name="Named", release=mei.release("1.1.0"))
    triggers.add(mei.ctx("Sol Marin"), named, given)
    row = mei.row("SELECT release_id, version FROM routine WHERE id = %(id)s", id=named)
    nobody = routines.Given("Named", mei.area, row["release_id"], {}, [], attended="answer")
    with pytest.raises(InputFaults, match="the clock starts it"):
        routines.change(mei.ctx("Sol Marin"), named, nobody, row["version"])


def test_a_routine_does_not_leave_its_waiting_runs_behind(mei: World) -> None:
    routine = for_mei(mei)
    run = mei.start(routine)
    row = mei.row("SELECT release_id, version FROM routine WHERE id = %(id)s", id=routine)
    plain = routines.Given("Count rows", mei.area, row["release_id"], {}, [])
    with pytest.raises(InputFaults, match=f"R-{run} waits and would be left behind"):
        routines.change(mei.ctx("Sol Marin"), routine, plain, row["version"])


def test_what_it_saved_is_counted_apart_less_the_time_that_its_person_gave(world: World) -> None:
    _, idea, routine = world.live()
    desk = computer(world, "Mei Tanaka")
    row = world.row("SELECT release_id, version FROM routine WHERE id = %(id)s", id=routine)
    given = routines.Given("Count rows", world.area, row["release_id"], {}, [], idea_id=idea, basis="count")
    mine = replace(given, count_name="rows", attended="whole", attended_for=world.number("Mei Tanaka"))
    routines.change(world.ctx("Sol Marin"), routine, mine, row["version"])
    run = world.start(routine, "attended")
    attended.answer(world.ctx("Mei Tanaka"), run, "now")
    beat(world, desk)
    work = dispatch.take(world.program(), desk)
    assert work is not None and work.run == run
    world.finish(desk, work, later=30 * MINUTE, counts={"rows": "10"})
    world.settle(31 * MINUTE)
    lines = {
        row["line"]: (row["hours"], row["money"])
        for row in world.rows("SELECT line, hours, money FROM tally_entry WHERE run_id = %(run)s", run=run)
    }
    # Half an hour of hers at € 38.
    assert lines["person there"] == (Decimal("-0.5"), Decimal("-19"))
    apart = value.overview(world.ctx("Ines Varga")).attended
    assert apart is not None and apart.runs == 1
    saved = lines["time saved"][0] - Decimal("0.5")
    assert Decimal(apart.hours) == saved.quantize(Decimal("0.1"))
    (mine_sum,) = value.overview(world.ctx("Ines Varga")).rows
    assert Decimal(mine_sum.hours) == saved.quantize(Decimal("0.1"))


def test_one_that_goes_on_after_a_halt_asks_anew(mei: World) -> None:
    run = mei.start(for_mei(mei))
    attended.answer(mei.ctx("Mei Tanaka"), run, "now")
    assert take(mei, mei.desk) == run
    mei.db.transact(
        lambda tx: tx.execute("UPDATE run SET state = 'held', held_at = %s WHERE id = %s", (mei.now, run))
    )
    mei.db.transact(lambda tx: tx.execute("UPDATE slot SET run_id = NULL WHERE run_id = %s", (run,)))
    runs.go_on(mei.ctx("Sol Marin", MINUTE), run)
    (shown,) = view(mei, later=MINUTE).open
    assert (shown.asks, shown.agreed_at) == (True, None)
    assert attended.ask_due(mei.program(MINUTE)) == 1


def test_its_seats_are_counted_as_used_where_they_stand_and_not_as_robots_seats(mei: World) -> None:
    run = mei.start(for_mei(mei))
    attended.answer(mei.ctx("Mei Tanaka"), run, "now")
    assert take(mei, mei.desk) == run
    kinds = {one.kind: one for one in robots.seats_page.view(mei.ctx("Sol Marin", MINUTE)).kinds}
    assert {kind: one.used for kind, one in kinds.items()} == {
        "unattended": 0,
        "attended": 1,
        "trial": 0,
        "builder": 0,
    }
    assert [(one.name, one.used) for one in kinds["attended"].holders] == [("Mei Tanaka", 1)]
    assert kinds["attended"].peak_working["outcome"] == "1"
    assert kinds["unattended"].peak_working is None or kinds["unattended"].peak_working["outcome"] == "0"


def test_who_could_take_it_is_told_of_peoples_computers(mei: World) -> None:
    chosen = taking.Chosen(mei.area, mei.release(), attended="answer")
    told = taking.of(mei.ctx("Sol Marin"), chosen)
    assert (told.able, told.robots) == (1, 1)
