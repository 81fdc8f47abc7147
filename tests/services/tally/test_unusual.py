"""Counts far from a routine's usual: held for a yes, or posted with a caution, as the house wants."""

from __future__ import annotations

from datetime import timedelta
from fractions import Fraction
from typing import Any

import pytest

from tallyman.core.tally.entries import usual_most
from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services import runs, tally
from tallyman.services.tally import unusual
from tests.world import World

MINUTE = timedelta(minutes=1)


@pytest.fixture
def counting(world: World) -> World:
    world.host, world.idea, world.number = world.live()
    world.n = 0
    for count in ("10", "12", "9", "0", "11", "10"):
        counted(world, count)
    return world


def counted(world: World, count: str) -> int:
    world.n += 1
    run = world.start(world.number, f"count {world.n}")
    world.finish(world.host, world.take(world.host), counts={"rows": count}, later=2 * MINUTE)
    world.settle(3 * MINUTE)
    return run


def posted(world: World, run: int) -> Any:
    row = world.row(
        "SELECT SUM(units) AS units FROM tally_entry WHERE run_id = %(r)s AND line = 'time saved'", r=run
    )
    return row["units"]


def test_the_usual_is_taken_from_the_last_counts_and_else_from_the_promise() -> None:
    tens = [Fraction(10)] * 5
    assert usual_most(tens, None) == 100
    assert usual_most([*tens, *[Fraction(500)] * 20], None) == 5000
    assert usual_most([Fraction(500), *[Fraction(10)] * 19, Fraction(9000)], None) == 5000
    assert usual_most([Fraction(10)] * 4, Fraction(60_000)) == 60_000
    assert usual_most([Fraction(0)] * 30, None) is None


def test_a_count_within_the_usual_is_posted(counting: World) -> None:
    assert posted(counting, counted(counting, "120")) == 120


def test_a_billion_readings_wait_for_a_yes(counting: World) -> None:
    run = counted(counting, "1000000000")
    assert posted(counting, run) is None
    assert counting.row("SELECT COUNT(*) AS n FROM tally_entry WHERE run_id = %(r)s", r=run)["n"] == 1
    shown = runs.one(counting.ctx("Ines Varga", 4 * MINUTE), run)
    assert str(shown.unusual.usual) == "120.000000"
    assert "nothing of it is posted until somebody says that it is right" in shown.caution
    assert shown.may.say_right
    told = [row["text"] for row in counting.rows("SELECT text FROM notification")]
    assert any("far from the usual: is it right?" in text for text in told)
    assert tally.verify(counting.program(4 * MINUTE)) == []


def test_a_yes_posts_it_once(counting: World) -> None:
    run = counted(counting, "5000")
    with pytest.raises(Forbidden):
        unusual.say_right(counting.ctx("Ada Pell", 4 * MINUTE), run)
    lead = counting.ctx("Ines Varga", 4 * MINUTE)
    unusual.say_right(lead, run)
    counting.settle(5 * MINUTE)
    assert posted(counting, run) == 5000
    with pytest.raises(Refused, match="waits for a yes"):
        unusual.say_right(lead, run)
    assert runs.one(lead, run).unusual is None
    assert tally.verify(counting.program(6 * MINUTE)) == []


def test_a_person_may_count_it_as_something_else_instead(counting: World) -> None:
    run = counted(counting, "5000")
    tally.correct_run(counting.ctx("Ines Varga", 4 * MINUTE), run, "50", "0", "the package counted cents")
    counting.settle(5 * MINUTE)
    assert posted(counting, run) == 50
    assert runs.one(counting.ctx("Ines Varga", 6 * MINUTE), run).unusual is None


def test_the_house_may_want_them_posted_with_a_caution(counting: World) -> None:
    lead = counting.ctx("Ines Varga", 3 * MINUTE)
    assert unusual.shown(lead).unusual == "held"
    with pytest.raises(InputFaults):
        unusual.choose(lead, "dropped", 0)
    unusual.choose(lead, "posted", 0)
    run = counted(counting, "5000")
    assert posted(counting, run) == 5000
    assert "far from the usual" in runs.one(lead, run).caution


def test_while_little_is_known_a_years_promise_is_the_bound(world: World) -> None:
    world.host, world.idea, world.number = world.live()
    world.n = 0
    year = world.row("SELECT input_json FROM promise")["input_json"]
    assert "volume_per_year" in year
    run = counted(world, "900000000")
    assert posted(world, run) is None
