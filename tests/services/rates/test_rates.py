"""Rates: for whom they are, from which day they count, and that somebody else agrees."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import alerts
from tallyman.services.access import grants
from tallyman.services.context import Ctx
from tallyman.services.rates import rates
from tests.conftest import NOW
from tests.world import World

TODAY = NOW.date()


def proposed(world: World, kind: str, value: str, since: date = TODAY, **wanted: Any) -> int:
    to = rates.Wanted(**wanted)
    return rates.propose(world.ctx("Mei Tanaka"), kind, value, since, "finance", to)


def approved(world: World, kind: str, value: str, since: date = TODAY, **wanted: Any) -> int:
    number = proposed(world, kind, value, since, **wanted)
    rates.settle(world.ctx("Ines Varga"), number, True)
    return number


def in_force(world: World, kind: str, on: date, idea: int = 0) -> tuple[str, str] | None:
    found = world.db.transact(lambda tx: rates.in_force(tx, kind, on, idea))
    return None if found is None else (str(found.value), found.since)


def of(ctx: Ctx, number: int) -> rates.RateRow:
    return next(row for row in rates.listed(ctx) if row.id == number)


def test_of_several_the_latest_that_began_by_the_day_is_in_force(world: World) -> None:
    early, late = TODAY - timedelta(days=30), TODAY + timedelta(days=30)
    approved(world, "day_rate", "600", early)
    approved(world, "day_rate", "650", late)
    days = [early - timedelta(days=1), early, late - timedelta(days=1), late, late + timedelta(days=900)]
    assert [in_force(world, "day_rate", day) for day in days] == [
        ("560", (TODAY - timedelta(days=400)).isoformat()),
        ("600", early.isoformat()),
        ("600", early.isoformat()),
        ("650", late.isoformat()),
        ("650", late.isoformat()),
    ]


def test_of_two_from_one_day_the_one_agreed_to_counts(world: World) -> None:
    proposed(world, "day_rate", "999", TODAY)
    approved(world, "day_rate", "610", TODAY)
    assert in_force(world, "day_rate", TODAY) == ("610", TODAY.isoformat())


def test_whoever_proposed_a_rate_does_not_agree_to_it(world: World) -> None:
    ines = world.ctx("Ines Varga")
    own = rates.propose(ines, "day_rate", "600", TODAY, "finance")
    assert not of(ines, own).may_approve
    with pytest.raises(Refused, match="proposed this rate yourself"):
        rates.settle(ines, own, True)
    other = proposed(world, "day_rate", "640")
    assert of(ines, other).may_approve
    assert not of(world.ctx("Mei Tanaka"), other).may_approve


def test_a_rate_is_settled_once_and_says_by_whom(world: World) -> None:
    ines = world.ctx("Ines Varga")
    number = approved(world, "day_rate", "640")
    row = of(ines, number)
    assert (row.state, row.proposer, row.approver) == ("approved", "Mei Tanaka", "Ines Varga")
    with pytest.raises(Refused, match="approved already"):
        rates.settle(ines, number, False)
    assert of(ines, number).state == "approved"


def test_an_exchange_rate_carries_its_currency_in_its_unit(world: World) -> None:
    number = proposed(world, "exchange", "0.918273", what="USD")
    row = of(world.ctx("Ines Varga"), number)
    assert (row.unit, row.what, str(row.value)) == ("money for 1 USD", "USD", "0.918273")


@pytest.mark.parametrize(
    ("kind", "wanted", "words"),
    [
        ("exchange", {}, "say which currency"),
        ("exchange", {"what": "usd"}, "three-letter code"),
        ("robot_hour", {"what": "night"}, "is for all; leave this empty"),
        ("hour_cost", {"what": "x" * 61}, "at most 60 characters"),
        ("robot_hour", {"division_id": 1}, "the same in all divisions"),
        ("hour_cost", {"division_id": 404_404}, "there is no such division"),
    ],
)
def test_whom_a_rate_cannot_be_for_is_named(
    world: World, kind: str, wanted: dict[str, Any], words: str
) -> None:
    with pytest.raises(InputFaults, match=words):
        proposed(world, kind, "5", **wanted)


def test_spaces_do_not_make_two_of_one_role(world: World) -> None:
    number = proposed(world, "hour_cost", "44", what="  senior   clerk ")
    assert of(world.ctx("Ines Varga"), number).what == "senior clerk"


def test_those_who_can_agree_hear_of_it_and_the_proposer_of_the_answer(world: World) -> None:
    number = proposed(world, "day_rate", "640")
    world.settle()
    assert any("640" in one.text for one in alerts.notifications(world.ctx("Ines Varga")))
    rates.settle(world.ctx("Ines Varga"), number, False)
    world.settle()
    assert any("refused" in one.text for one in alerts.notifications(world.ctx("Mei Tanaka")))


def test_every_kind_but_minutes_by_hand_is_offered_with_its_unit(world: World) -> None:
    kinds = {one.kind: one for one in rates.kinds(world.ctx("Ines Varga"))}
    assert set(kinds) == set(rates.KINDS) - {rates.MINUTES_BY_HAND}
    assert all(one.unit and one.name for one in kinds.values())
    assert {kind for kind, one in kinds.items() if one.needed} == set(rates.OF_CASES)


ACTS: list[Callable[[Ctx], object]] = [
    rates.listed,
    rates.kinds,
    lambda ctx: rates.propose(ctx, "day_rate", "600", TODAY, "finance"),
    lambda ctx: rates.settle(ctx, 1, True),
]


@pytest.mark.parametrize("act", ACTS)
def test_a_stranger_sees_and_sets_no_rate(world: World, act: Callable[[Ctx], object]) -> None:
    with pytest.raises(Forbidden):
        act(world.stranger("Nia Reyes"))


def test_a_rate_that_is_not_there_is_said(world: World) -> None:
    with pytest.raises(NotFound):
        rates.settle(world.ctx("Ines Varga"), 404_404, True)


def test_a_proposed_rate_says_who_may_approve_it_or_that_nobody_may(world: World) -> None:
    ines = world.ctx("Ines Varga")
    theirs = proposed(world, "seat_year", "9400")
    own = rates.propose(ines, "day_rate", "600", TODAY, "a new contract")
    assert of(ines, theirs).approvers == ["Ines Varga"]
    assert of(ines, own).approvers == [], "nobody else may: the page says who is missing"
    world.stranger("Noor Haddad")
    role = world.row("SELECT id FROM role WHERE name = 'lead'")["id"]
    grants.give(ines, role, world.number("Noor Haddad"), None, None)
    assert of(ines, own).approvers == ["Noor Haddad"]
    rates.settle(world.again("Noor Haddad"), own, True)
    assert of(ines, own).approvers == []
