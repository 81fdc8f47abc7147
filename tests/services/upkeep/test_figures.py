"""What stands in two places agrees, and what is shown follows from what stands below it: proved by a command."""

from __future__ import annotations

from datetime import timedelta

from tallyman.services import portfolio, tally
from tests.world import World

APRIL = timedelta(days=30)


def test_every_figure_of_an_idea_in_service_follows(world: World) -> None:
    host, _, routine = world.live()
    world.start(routine, "live")
    world.finish(host, world.take(host), counts={"rows": "10", "handed_back": "2"})
    world.settle(timedelta(minutes=3))
    tally.month_ends(world.program(APRIL))
    world.noted("Valve list")
    world.offered("Pump report")
    world.reckon(APRIL)
    assert portfolio.verify(world.ctx("Ines Varga", APRIL)) == []


def test_a_figure_that_is_another_elsewhere_is_named(world: World) -> None:
    idea = world.offered()
    world.reckon()
    world.db.transact(lambda tx: tx.execute("UPDATE idea SET worth = worth + 1"))
    wrong = portfolio.verify(world.ctx("Ines Varga"))
    assert len(wrong) == 2 and all(f"I-{idea}" in line for line in wrong)
    assert "in the portfolio" in wrong[1]
