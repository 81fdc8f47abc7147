"""What is told of a set-up while it is chosen: how many robots can take it, and what its start would need."""

from __future__ import annotations

import pytest

from tallyman.core.runs import Asked
from tallyman.errors import InputFaults
from tallyman.services import robots
from tallyman.services.house import areas
from tallyman.services.starts import routine_page
from tallyman.services.workshop import taking
from tests.world import World


def unmet(found: object) -> dict[str, str]:
    return {need.key: need.fact for need in found.pre_check if not need.met}


@pytest.fixture
def chosen(world: World) -> taking.Chosen:
    world.host = world.machine(tags=("letters",))
    return taking.Chosen(world.area, world.release())


def test_a_set_up_is_judged_as_the_routine_would_be(world: World, chosen: taking.Chosen) -> None:
    told = taking.of(world.ctx("Sol Marin"), chosen)
    assert (told.able, told.robots, unmet(told)) == (1, 1, {})
    routine = world.routine(release=chosen.release_id)
    kept = routine_page.one(world.ctx("Sol Marin"), routine).pre_check
    assert [(need.key, need.met, need.fact) for need in told.pre_check] == [
        (need.key, need.met, need.fact) for need in kept
    ]


def test_each_lack_of_it_is_named_before_it_is_kept(world: World, chosen: taking.Chosen) -> None:
    sol = world.ctx("Sol Marin")
    other = areas.add_area(sol, "Street works", None)

    def said(**but: object) -> dict[str, str]:
        return unmet(taking.of(sol, taking.Chosen(**{**chosen.__dict__, **but})))

    assert said(area_id=other) == {"area": "no robot may work there"}
    assert "none of Dipper 1 has them all" in said(tags=["print"])["tags"]
    assert "abilities" in said(asked=Asked(memory_gb=512))
    assert "rows" in said(inputs={"rows": -1})["inputs"].lower()
    assert said(inputs={"rows": 4}) == {}


def test_who_holds_a_lock_that_is_chosen_is_said(world: World, chosen: taking.Chosen) -> None:
    robots.add_robot(world.ctx("Sol Marin"), robots.Given("Dipper 2", world.host.id, [], [world.area]))
    robots.set_seats(world.ctx("Sol Marin"), world.host.id, 2)
    holder = world.routine(release=chosen.release_id, locks=("Sumhall",))
    run = world.start(holder)
    world.take(world.host)
    locked = taking.Chosen(**{**chosen.__dict__, "locks": ("Sumhall", "Quillpost")})
    told = taking.of(world.ctx("Sol Marin"), locked)
    facts = {need.words: need.fact for need in told.pre_check if need.key == "lock"}
    assert facts == {"The lock Sumhall": f"held by R-{run}", "The lock Quillpost": "free"}
    own = taking.Chosen(**{**chosen.__dict__, "routine_id": holder})
    assert unmet(taking.of(world.ctx("Sol Marin"), own)) == {"limit": "1 running now"}


def test_nothing_is_told_of_an_area_that_the_reader_may_not_see(world: World, chosen: taking.Chosen) -> None:
    assert taking.of(world.ctx("Jonas Lindqvist"), chosen).pre_check
    with pytest.raises(InputFaults) as refused:
        taking.of(world.ctx("Sol Marin"), taking.Chosen(99, 99))
    assert [fault.field for fault in refused.value.faults] == ["area_id", "release_id"]
