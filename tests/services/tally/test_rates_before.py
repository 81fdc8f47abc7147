"""A rate from a day that has begun: taken and corrected, or refused, by the house's choice."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, Refused
from tallyman.services import tally
from tallyman.services.rates import rates
from tallyman.services.rates.answers import RateRow
from tallyman.services.tally import from_before
from tests.services.tally.test_ledger import MINUTE, entries, live_run
from tests.world import World

DAY = timedelta(days=1)


def proposed(world: World, back: int, kind: str = "hour_cost") -> RateRow:
    """A rate from some days ago, as the lead sees it."""
    day = world.now.date() - back * DAY
    number = rates.propose(world.ctx("Mei Tanaka"), kind, "76", day, "a new agreement")
    return next(row for row in rates.listed(world.ctx("Ines Varga")) if row.id == number)


def refuse(world: World) -> None:
    from_before.keep(world.ctx("Ines Varga"), "refused", "one truth for each day", 0)


def test_where_the_house_refuses_it_nothing_that_is_posted_moves(world: World) -> None:
    _, run = live_run(world)
    refuse(world)
    ines = world.ctx("Ines Varga")
    row = proposed(world, 2)
    assert "takes no rates from before" in row.against
    with pytest.raises(Refused, match="cannot be approved"):
        rates.settle(ines, row.id, True)
    world.settle(3 * MINUTE)
    assert [one[1] for one in entries(world, run)] == ["run"]
    rates.settle(ines, row.id, False)
    assert tally.verify(world.program(timedelta(days=40))) == []


def test_a_rate_of_a_day_to_come_and_one_that_nothing_is_posted_by_are_taken(world: World) -> None:
    live_run(world)
    refuse(world)
    for row in (proposed(world, -3), proposed(world, 2, "seat_year")):
        assert row.against == ""
        rates.settle(world.ctx("Ines Varga"), row.id, True)


def test_the_first_rate_of_an_idea_is_always_taken(world: World) -> None:
    refuse(world)
    live_run(world)
    minutes = world.row("SELECT state FROM rate WHERE kind = 'minutes_by_hand'")
    assert minutes["state"] == "approved"


def test_the_choice_is_a_rule_of_the_house_in_versions(world: World) -> None:
    ines = world.ctx("Ines Varga")
    assert from_before.view(ines).from_before == "anew"
    refuse(world)
    now = from_before.view(ines)
    assert (now.from_before, now.version, now.versions[0].note) == ("refused", 1, "one truth for each day")
    with pytest.raises(Conflict):
        from_before.keep(ines, "anew", "back", 0)
    with pytest.raises(InputFaults, match="allowed"):
        from_before.keep(ines, "sometimes", "back", 1)
    for act in (
        from_before.view,
        lambda ctx: from_before.keep(ctx, "anew", "back", 1),
    ):
        with pytest.raises(Forbidden):
            act(world.ctx("Sol Marin"))
