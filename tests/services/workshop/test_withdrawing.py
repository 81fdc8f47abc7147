"""A withdrawn release starts nothing anew, says so wherever somebody would start it, and can be brought back."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services.runs import dispatch
from tallyman.services.runs import page as run_page
from tallyman.services.starts import kinds, routine_page, triggers
from tallyman.services.workshop import packages, routines, withdrawing
from tests.world import World

WHY = "it counted rows twice"


@pytest.fixture
def release(world: World) -> int:
    world.host = world.machine()
    return world.release()


def withdraw(world: World, release: int, why: str = WHY) -> None:
    withdrawing.withdraw(world.ctx("Jonas Lindqvist"), release, why)


def unmet(world: World, routine: int) -> dict[str, str]:
    found = routine_page.one(world.ctx("Sol Marin"), routine).pre_check
    return {need.key: need.fact for need in found if not need.met}


def test_it_is_said_before_what_hangs_on_it(world: World, release: int) -> None:
    routine = world.routine(release=release)
    world.start(routine)
    look = withdrawing.look_at(world.ctx("Jonas Lindqvist"), release)
    assert [(one.what, one.name) for one in look.hangs] == [
        ("routine", "Count rows"),
        ("runs", "1 run that waits"),
    ]


def test_nothing_starts_with_it_by_hand_and_the_pre_check_says_why(world: World, release: int) -> None:
    routine = world.routine(release=release)
    withdraw(world, release)
    assert unmet(world, routine) == {"release": f"count-rows 1.0.0 is withdrawn: {WHY}"}
    with pytest.raises(Refused, match="is withdrawn: it counted rows twice"):
        world.start(routine)
    row = world.row("SELECT version FROM routine WHERE id = %(id)s", id=routine)
    other = routines.Given("Count rows", world.area, world.release("1.0.1"), {}, [])
    routines.change(world.ctx("Sol Marin"), routine, other, row["version"])
    assert unmet(world, routine) == {}
    world.start(routine)


def test_a_trigger_notes_why_its_time_was_left_out(world: World, release: int) -> None:
    routine = world.routine(release=release)
    given = triggers.Given({"expr": "0 * * * *"}, "UTC")
    trigger = triggers.add(world.ctx("Sol Marin"), routine, given)
    withdraw(world, release)
    assert kinds.start_due(world.program(timedelta(hours=1))) == 0
    told = triggers.history(world.ctx("Sol Marin", timedelta(hours=1)), routine, trigger, None).rows
    assert {(row.what, row.why) for row in told} == {("skipped", f"count-rows 1.0.0 is withdrawn: {WHY}")}
    withdrawing.bring_back(world.ctx("Jonas Lindqvist"), release)
    assert kinds.start_due(world.program(timedelta(hours=2))) == 1


def test_a_run_that_waits_is_handed_to_nobody_until_it_is_brought_back(world: World, release: int) -> None:
    run = world.start(world.routine(release=release))
    withdraw(world, release)
    assert dispatch.take(world.program(), world.host) is None
    waits = run_page.one(world.ctx("Sol Marin"), run).waits_for
    assert waits.startswith(f"Its release is not withdrawn: count-rows 1.0.0 is withdrawn: {WHY}")
    withdrawing.bring_back(world.ctx("Jonas Lindqvist"), release)
    assert world.take(world.host).run == run


def test_one_withdrawn_between_looking_and_taking_is_not_claimed(
    world: World, release: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    world.start(world.routine(release=release))
    chosen = dispatch._choose

    def then_withdrawn(*given: object, **named: object) -> object:
        found = chosen(*given, **named)
        if found is not None:
            world.db.transact(
                lambda tx: tx.execute("UPDATE package_release SET retired_at = NOW(), withdrawn_why = 'late'")
            )
        return found

    monkeypatch.setattr(dispatch, "_choose", then_withdrawn)
    assert dispatch.take(world.program(), world.host) is None
    assert world.row("SELECT state, fence FROM run") == {"state": "waiting", "fence": 0}


def test_no_routine_is_set_up_with_it(world: World, release: int) -> None:
    withdraw(world, release)
    with pytest.raises(InputFaults) as refused:
        world.routine(release=release)
    assert refused.value.faults[0].message.startswith("count-rows 1.0.0 is withdrawn: it counted rows twice")


def test_a_reason_is_needed_and_it_happens_once(world: World, release: int) -> None:
    with pytest.raises(InputFaults, match="say why"):
        withdraw(world, release, " ")
    with pytest.raises(Refused, match="in use"):
        withdrawing.bring_back(world.ctx("Jonas Lindqvist"), release)
    withdraw(world, release)
    with pytest.raises(Refused, match="withdrawn already"):
        withdraw(world, release)
    shown = packages.one(world.ctx("Jonas Lindqvist"), release)
    assert (shown.withdrawn_why, shown.may_withdraw) == (WHY, True)
    assert shown.versions == []


def test_who_may_not_is_told(world: World, release: int) -> None:
    for act in (withdrawing.look_at, withdrawing.bring_back):
        with pytest.raises(Forbidden):
            act(world.ctx("Sol Marin"), release)
    with pytest.raises(Forbidden):
        withdrawing.withdraw(world.ctx("Sol Marin"), release, WHY)
