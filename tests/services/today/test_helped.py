"""Who helped most: by what came of it, under the weights of the house, and never who does not want to be shown."""

from __future__ import annotations

from datetime import timedelta
from fractions import Fraction

import pytest

from tallyman.core.ideas import helping
from tallyman.core.ideas.helping import Came
from tallyman.core.proving import faults
from tallyman.errors import Conflict, Forbidden, InputFaults
from tallyman.services import access
from tallyman.services.ideas import drafts, review, thanks
from tallyman.services.today import helped
from tests.world import World, picture


def rows(world: World, by: str = "person", who: str = "Ines Varga") -> dict[str, str]:
    return {row.name: row.points for row in helped.ranking(world.ctx(who), by=by).rows}


def test_what_came_of_it_counts_by_the_weights_of_the_house(world: World) -> None:
    idea = world.noted()
    drafts.attach(world.ctx("Ada Pell"), idea, "how.png", "how-to", picture())
    assert rows(world) == {}
    review.screen(world.ctx("Tom Okafor"), idea, world.number("Mei Tanaka"))
    # One idea screened, and something on its file.
    assert rows(world) == {"Ada Pell": "2.00"}
    lead = world.ctx("Ines Varga")
    helped.keep_rule(lead, {"screened": "3", "evidence": "0.5"}, "ideas count most", 0)
    assert rows(world) == {"Ada Pell": "3.50"}
    with pytest.raises(Conflict):
        helped.keep_rule(lead, {"screened": "1"}, "once more", 0)
    with pytest.raises(InputFaults) as caught:
        helped.keep_rule(lead, {"screned": "1", "value": "-1"}, "wrong", 1)
    assert {fault.field for fault in caught.value.faults} == {"weights", "weights.value"}
    with pytest.raises(Forbidden):
        helped.keep_rule(world.ctx("Ada Pell"), {"screened": "9"}, "mine", 1)


def test_value_is_shared_alike_and_each_working_gives_its_points(world: World) -> None:
    machine, _, routine = world.live()
    world.start(routine)
    world.finish(machine, world.take(machine), counts={"rows": "100"})
    world.settle(timedelta(minutes=5))
    found = helped.ranking(world.ctx("Ines Varga"))
    with_value = [row for row in found.rows if "shared alike among them" in str(row.working.as_dict())]
    assert len(with_value) > 1
    assert [fault for row in found.rows for fault in faults(row.working)] == []
    saved = Fraction(world.row("SELECT SUM(money) AS m FROM tally_sum WHERE line = 'time saved'")["m"])
    shares = [
        Fraction(used.value or 0)
        for row in with_value
        for step in row.working.steps
        if step.name == helping.KINDS["value"]
        for used in step.inputs[:1]
    ]
    assert abs(sum(shares) - saved / 1000) < Fraction(1, 100)
    assert [row.place for row in found.rows] == sorted(row.place for row in found.rows)


def test_who_does_not_want_to_be_shown_is_in_no_row_and_no_sum(world: World) -> None:
    world.screened()
    assert "Ada Pell" in rows(world)
    division = rows(world, "division")
    assert division
    ada = world.ctx("Ada Pell")
    thanks.hide(ada, True)
    assert "Ada Pell" not in rows(world)
    assert rows(world, "division") != division
    mine = helped.ranking(ada)
    assert mine.hidden
    assert mine.mine is not None
    assert mine.mine.points != "0.00"
    assert helped.ranking(world.ctx("Ines Varga")).left_out == 1


def test_a_group_has_the_points_of_its_people(world: World) -> None:
    world.screened()
    lead = world.ctx("Ines Varga")
    group = access.add_group(lead, "Desk of the depot", "", "", [world.number("Ada Pell")])
    assert group
    assert rows(world, "group")["Desk of the depot"] == rows(world)["Ada Pell"]


def test_ideas_are_named_only_to_who_may_see_them(world: World) -> None:
    world.screened("Burst-main notices")
    seen = str([row.working.as_dict() for row in helped.ranking(world.ctx("Ines Varga")).rows])
    assert "Burst-main notices" in seen
    stranger = helped.ranking(world.stranger("Bela Kiss"))
    said = str([row.working.as_dict() for row in stranger.rows])
    assert "Burst-main notices" not in said
    assert "an idea that you may not see" in said


@pytest.mark.parametrize(
    ("first", "last", "by", "field"),
    [
        ("2026-13", None, "person", "from"),
        ("2026-05", "2026-04", "person", "from"),
        ("2001-01", "2026-04", "person", "from"),
        (None, None, "team", "by"),
    ],
)
def test_a_span_that_cannot_be_is_said(world: World, first: str, last: str, by: str, field: str) -> None:
    with pytest.raises(InputFaults) as caught:
        helped.ranking(world.ctx("Ines Varga"), first, last, by)
    assert caught.value.faults[0].field == field


def test_points_are_the_sum_of_each_kind_times_its_weight() -> None:
    came = [
        Came("screened", Fraction(1), "I-1 One", "/ideas/1", "2026-03-01"),
        Came("value", Fraction(1, 3), "I-2 Two", "/ideas/2", "2026-03"),
        Came("value", Fraction(2), "I-3 Three", "/ideas/3", "2026-04"),
    ]
    assert helping.points(helping.STANDARD, came) == 1 + Fraction(7, 3)
    made = helping.working("Ada", helping.STANDARD, came)
    assert made.outcome == "3.33"
    assert faults(made) == []
    assert [used.name for used in made.steps[1].steps[0].inputs] == ["I-3 Three", "I-2 Two"]
