"""Seats of every kind: bought by the day, given, taken by runs, used at once, ending, and running short."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from functools import partial
from typing import Any

import pytest

from tallyman.core.proving import faults
from tallyman.core.runs import SeatKind
from tallyman.core.working import Working
from tallyman.errors import Clash, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access, robots
from tallyman.services.robots import seat_lots, seat_peaks, seats_page
from tallyman.services.robots.answers_of_seats import SeatsOfKind
from tallyman.services.robots.seat_lots import Given
from tallyman.services.robots.seats import give_seats
from tallyman.services.runs import dispatch
from tallyman.services.starts import seats_coming, trials, triggers
from tallyman.store.db import Tx
from tests.world import World

TODAY = date(2026, 3, 10)
MINUTE, DAY = timedelta(minutes=1), timedelta(days=1)
LOT = Given("unattended", 3, date(2025, 1, 1), None, None, "")


def of_kind(world: World, kind: SeatKind = "unattended", later: timedelta = timedelta()) -> SeatsOfKind:
    page = seats_page.view(world.ctx("Sol Marin", later))
    return next(one for one in page.kinds if one.kind == kind)


def buy(world: World, **more: Any) -> int:
    return seat_lots.buy(world.ctx("Sol Marin"), replace(LOT, **more))


def noted(tx: Tx, **note: Any) -> int:
    return tx.write("seats.note_peak", at=None, **note)


def says(refused: Callable[[], object], *words: str) -> None:
    with pytest.raises((InputFaults, Refused)) as told:
        refused()
    text = str(told.value) + str(getattr(told.value, "faults", ""))
    assert [word for word in words if word not in text] == []


def test_what_is_bought_stands_by_the_day_with_its_price_and_its_working(world: World) -> None:
    before = of_kind(world)
    assert (before.counted, before.bought) == (False, 0)
    buy(world, number=2, price=Decimal("4800"))
    lot = buy(world, number=1, last_on=TODAY + 9 * DAY, note="a month more")
    buy(world, number=9, first_on=TODAY + DAY)
    now = of_kind(world)
    assert (now.counted, now.bought, now.a_year) == (True, 3, "14800.00"), "5,200 by the cost tables"
    assert [(one.state, one.days_left) for one in now.lots] == [
        ("coming", None),
        ("ends soon", 9),
        ("there", None),
    ]
    assert [one.from_rates for one in now.lots] == [True, True, False]
    for working in (now.bought_working, now.given_working, now.a_year_working):
        assert working is not None and faults(Working.of(working)) == []
    version = next(one.version for one in now.lots if one.id == lot)
    sol = world.ctx("Sol Marin")
    seat_lots.change_lot(sol, lot, replace(LOT, number=1), version)
    with pytest.raises(Clash):
        seat_lots.take_back(sol, lot, version)
    seat_lots.take_back(sol, lot, version + 1)
    with pytest.raises(NotFound):
        seat_lots.change_lot(sol, lot, LOT, version + 2)
    assert of_kind(world).bought == 2
    trail = world.rows("SELECT action FROM audit WHERE action LIKE 'seats %%' ORDER BY id")
    assert [row["action"][6:] for row in trail] == ["bought"] * 3 + ["changed", "taken back"]


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"number": 0}, "number"),
        ({"last_on": date(2024, 12, 31)}, "last_on"),
        ({"first_on": date(1999, 1, 1)}, "first_on"),
        ({"price": Decimal(-1)}, "price"),
        ({"note": "x" * 201}, "note"),
    ],
)
def test_what_does_not_fit_is_named(world: World, wrong: dict[str, Any], field: str) -> None:
    with pytest.raises(InputFaults) as told:
        buy(world, **wrong)
    assert [one.field for one in told.value.faults] == [field]
    lot = buy(world)
    says(lambda: seat_lots.change_lot(world.ctx("Sol Marin"), lot, replace(LOT, kind="trial"), 1), "kind")


def test_no_more_are_given_than_are_bought_once_that_is_entered(world: World) -> None:
    sol = world.ctx("Sol Marin")
    host = robots.add_host(sol, "Weir", 2).id
    robots.set_seats(sol, host, 4)
    buy(world, number=of_kind(world).given)
    says(lambda: robots.set_seats(sol, host, 5), "seats", "are bought", "enter seats that were bought")
    look = robots.look_at_seats(sol, host, 5)
    assert "are bought" in look.against
    assert (look.left, look.all_then) == (-1, None), "what is bought costs the same, given or not"
    says(lambda: robots.add_host(sol, "Sluice", 1), "are bought")
    robots.set_seats(sol, host, 3)
    robots.add_host(sol, "Sluice", 1)
    # Trial seats are a kind of their own: where none is left, a new host begins without one.
    buy(world, kind="trial", number=of_kind(world, "trial").given)
    made = robots.add_host(sol, "Ford", 0).id
    view = next(one for one in robots.view(sol).hosts if one.id == made)
    assert (view.seats, view.trial_seats) == (0, 0)
    says(lambda: robots.set_seats(sol, made, 1, "trial"), "trial seats would be given")
    says(lambda: robots.set_seats(sol, made, 1, "builder"), "people and groups")


def test_people_and_groups_have_attended_and_builder_seats(world: World) -> None:
    sol, ines = world.ctx("Sol Marin"), world.ctx("Ines Varga")
    group = access.add_group(ines, "Desk of readings", "", "", [])
    nia = world.stranger("Nia Reyes").actor.person_id
    assert nia is not None
    buy(world, kind="attended", number=3)
    seat_lots.give(sol, "attended", "person", nia, 1)
    seat_lots.give(sol, "attended", "group", group, 1)
    seat_lots.give(sol, "attended", "group", group, 2)
    found = of_kind(world, "attended")
    assert [(one.what, one.name, one.number) for one in found.holders] == [
        ("group", "Desk of readings", 2),
        ("person", "Nia Reyes", 1),
    ]
    assert (found.given, found.used, faults(Working.of(found.given_working))) == (3, 0, [])
    says(lambda: seat_lots.give(sol, "attended", "person", nia, 2), "number", "4 attended seats")
    says(lambda: seat_lots.give(sol, "trial", "person", nia, 1), "kind")
    says(lambda: seat_lots.give(sol, "builder", "group", 404_404, 1), "group_id")
    world.db.transact(lambda tx: tx.execute("UPDATE person SET active = FALSE WHERE id = %s", (nia,)))
    assert [one.gone for one in of_kind(world, "attended").holders] == [False, True]
    seat_lots.give(sol, "attended", "person", nia, 0)
    says(lambda: seat_lots.give(sol, "attended", "person", nia, 1), "person_id")
    assert of_kind(world, "attended").given == 2
    for name in ("Mei Tanaka", "Tom Okafor"):
        with pytest.raises(Forbidden):
            seat_lots.give(world.again(name), "attended", "person", nia, 1)
        with pytest.raises(Forbidden):
            seat_lots.buy(world.again(name), LOT)


def test_a_trial_run_takes_a_trial_seat_and_no_room_from_work(world: World) -> None:
    host, _, routine = world.live()
    robot = robots.view(world.ctx("Sol Marin")).robots[0]
    sol = world.ctx("Sol Marin")
    robots.set_seats(sol, robot.host_id, 1)
    trial = trials.start(sol, robot.id, "first key of it")
    given = dispatch.take(world.program(), host)
    assert given is not None and given.run == trial
    now = robots.view(sol).hosts[0]
    assert (now.seats_used, now.trial_used) == (0, 1)
    used = of_kind(world, "trial").used_working
    assert used is not None and (used["outcome"], faults(Working.of(used))) == ("1", [])
    says(lambda: robots.set_seats(sol, robot.host_id, 0, "trial"), "in use")
    world.finish(host, given)
    assert robots.view(sol).hosts[0].trial_used == 0
    robots.set_seats(sol, robot.host_id, 0, "trial")
    again = trials.start(sol, robot.id, "second key of it")
    assert dispatch.take(world.program(), host) is None
    needs = {need.key: need for need in robots.robot_page(sol, robot.id).points}
    assert (needs["seat"].met, needs["seat"].mend) == (False, "Give the host a trial seat")
    assert world.row("SELECT state FROM run WHERE id = %(id)s", id=again)["state"] == "waiting"
    work = world.start(routine, "work")
    taken = dispatch.take(world.program(), host)
    assert taken is not None and taken.run == work, "work goes on beside it"


def test_peaks_are_noted_when_a_day_is_over_and_today_s_is_reckoned(world: World) -> None:
    host, _, routine = world.live()
    for begin in (10, 30):
        world.start(routine, f"at {begin}", begin * MINUTE)
        given = world.take(host, begin * MINUTE)
        world.finish(host, given, later=(begin + 10) * MINUTE)
    now = of_kind(world, later=60 * MINUTE)
    peak = now.peak_working
    assert peak is not None and faults(Working.of(peak)) == []
    assert (peak["outcome"], [day.most for day in now.days[-2:]]) == ("1", [None, 1])
    assert [one.peak for one in now.holders] == [1]
    later = 3 * DAY
    assert seat_peaks.note(world.program(later)) == 3
    assert seat_peaks.note(world.program(later)) == 0
    after = of_kind(world, later=later)
    assert [day.most for day in after.days[-5:]] == [None, 1, 0, 0, None]
    assert seat_peaks.note(world.program(40 * DAY)) == 7, "no step takes long"


def test_who_can_renew_seats_is_told_thrice(world: World) -> None:
    lot = buy(world, number=2, last_on=TODAY + 31 * DAY)
    told = [seat_lots.tell_ending(world.program(n * DAY)) for n in range(33)]
    assert [n for n, one in enumerate(told) if one] == [1, 24, 30]
    world.settle(40 * DAY)
    words = world.rows("SELECT text FROM notification WHERE text LIKE '2 unattended%%'")
    assert "2 unattended seats end on 10 Apr 2026, then there are 0" in words[0]["text"]
    version = next(one.version for one in of_kind(world).lots if one.id == lot)
    seat_lots.change_lot(
        world.ctx("Sol Marin"), lot, replace(LOT, number=2, last_on=TODAY + 60 * DAY), version
    )
    assert seat_lots.tell_ending(world.program(32 * DAY)) == 1, "another end is told anew"


def test_what_points_to_seats_running_short_is_said(world: World) -> None:
    sol = world.ctx("Sol Marin")
    robots.add_host(sol, "Weir", 4)
    given = of_kind(world).given
    buy(world, number=given - 1)
    buy(world, number=1, last_on=TODAY + 20 * DAY)
    assert of_kind(world).short == [
        f"From 31 Mar 2026 on there are {given - 1}, and {given} given: renew 1, or take as many away before"
    ]
    assert "1 too many" in " ".join(of_kind(world, later=21 * DAY).short)
    monday = TODAY - timedelta(days=TODAY.weekday())
    for week in range(1, 6):
        for day in range(7):
            most = given - week + 1 if day == 2 else 0
            note = {"day": monday - timedelta(weeks=week) + day * DAY, "kind": "unattended", "host": 0}
            world.db.transact(partial(noted, most=most, **note))
    found = of_kind(world)
    assert found.trend_working is not None and faults(Working.of(found.trend_working)) == []
    assert (
        f"By the trend of 5 weeks more than {given} are used at once from about 17 Mar 2026 on" in found.short
    )


def test_starts_of_the_next_day_say_who_would_wait_for_a_seat(world: World) -> None:
    _, _, routine = world.live()
    sol = world.ctx("Sol Marin")
    host = robots.view(sol).robots[0].host_id
    robots.set_seats(sol, host, 1)
    for minute in (0, 20):
        triggers.add(sol, routine, triggers.Given({"expr": f"{minute} 12 * * *"}, "UTC"))
    found = seats_coming.view(sol)
    assert (found.starts, found.seats, found.wanted, found.waiting, found.waiting_one_more) == (2, 1, 2, 1, 0)
    assert [(one.minutes, one.at.hour, one.at.minute) for one in found.waits] == [("40.0", 12, 20)]
    assert [(one.value, "its time limit" in one.note) for one in found.lengths] == [("60", True)]
    assert faults(Working.of(found.spared_working)) == []
    assert found.wanted_working is not None and faults(Working.of(found.wanted_working)) == []
    world.rows("UPDATE start_trigger SET form_json = %(f)s ORDER BY id LIMIT 1", f='{"expr": "no such"}')
    broken = seats_coming.view(sol)
    assert (broken.starts, broken.unread) == (1, 1), "one that cannot be read stops no other"
    robots.set_seats(sol, host, 2)
    assert seats_coming.view(sol).waits == []
    with pytest.raises(Forbidden):
        seats_coming.view(world.stranger("Nia Reyes"))


def test_of_two_who_give_the_last_seat_at_once_one_is_refused(world: World) -> None:
    sol = world.ctx("Sol Marin")
    weir, _, ford = (robots.add_host(sol, name, n % 2).id for n, name in enumerate(("Weir", "Mill", "Ford")))
    buy(world, number=of_kind(world).given + 1)
    tries = []

    def give(tx: Tx) -> None:
        tries.append(seat_lots.given_now(tx, "unattended"))
        if len(tries) == 1:
            # Somebody else gives it after this one has looked, and before it gives.
            robots.set_seats(sol, ford, 1)
        seat_lots.check_there(tx, sol, "unattended", 0, 1, "seats")
        give_seats(tx, weir, 1)

    says(lambda: world.db.transact(give), "are bought")
    assert tries == [1, 2]
    assert {one.name: one.number for one in of_kind(world).holders} == {"Weir": 0, "Mill": 1, "Ford": 1}
