"""What an idea is worth is its case's figure, wherever it stands and whatever moved it."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import date, timedelta
from fractions import Fraction

import pytest

from tallyman.core.cases import promised_a_year
from tallyman.core.exact import exact, text_of
from tallyman.core.ideas import factors as factors_
from tallyman.services.cases import business_case as cases
from tallyman.services.cases import fact_keeping, house_rule, other_factors, ranges, worths
from tallyman.services.house import calendars
from tallyman.services.ideas import factors, page, talk
from tallyman.services.ideas.answers import IdeaRow
from tallyman.services.portfolio import ranking
from tallyman.services.rates import rates
from tallyman.services.robots import hosts
from tests.world import RATES, World

SECOND = timedelta(seconds=2)


def kept(world: World, idea: int) -> tuple[str | None, bool]:
    """The worth in the portfolio, and whether it waits to be reckoned anew."""
    row = next(row for row in ranking.view(world.ctx("Ruth Abernathy")).rows if row.id == idea)
    return row.worth, row.waits


def listed(world: World, idea: int) -> IdeaRow:
    """The idea in the list of ideas."""
    rows = page.page_of_ideas(world.ctx("Ines Varga", SECOND), page.Wanted(ids=(idea,))).rows
    return rows[0]


def of_case(world: World, idea: int, later: timedelta = SECOND) -> str | None:
    return cases.view(world.ctx("Mei Tanaka", later), idea).figures.npv_3y


def approve(world: World, kind: str, value: str, since: date) -> None:
    number = rates.propose(world.ctx("Mei Tanaka"), kind, value, since, "a new contract")
    rates.settle(world.ctx("Ines Varga"), number, True)


def rate(world: World, idea: int) -> None:
    today = world.ctx("Ines Varga").today("Europe/Copenhagen")
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"costs_on": today.isoformat()}, {}, "by hand")
    world.reckon()
    approve(world, "seat_year", "9400", today)


def hours(world: World, idea: int) -> None:
    # Where the house has no row of its own, a robot's hours are those of the hosts.
    world.rows("UPDATE rate SET state = 'refused' WHERE kind IN ('robot_hours_day', 'robot_days_year')")
    host = world.machine()
    world.reckon()
    hosts.set_hours(world.ctx("Sol Marin"), host.id, "07:00", "07:30", "Europe/Copenhagen")


def seats(world: World, idea: int) -> None:
    house_rule.keep(world.ctx("Ines Varga"), {"seats": "share"}, "small ideas are judged fairly", 0)


def calendar(world: World, idea: int) -> None:
    lead = world.ctx("Ines Varga")
    day = lead.today("Europe/Copenhagen") + timedelta(days=14)
    calendars.close_many(lead, None, [(day + timedelta(days=n), "Works outing") for n in range(20)])


def joined(world: World, idea: int) -> None:
    volume = {"amount": "35", "rhythm": "week"}
    talk.join(world.ctx("Corin Dahl"), idea, volume, "")


def looked_anew(world: World, idea: int) -> None:
    lead = world.ctx("Ines Varga")
    content = factors_.as_content(factors_.STANDARD)
    content["access"]["web"] = "9"
    factors.keep(lead, content, "pages are dearer here", 0)
    factors.begin_anew(lead)
    world.work_off()


MOVERS = [rate, hours, seats, calendar, looked_anew]


@pytest.mark.parametrize("moves", MOVERS)
def test_whatever_moves_a_case_moves_its_worth_in_lists(
    world: World, moves: Callable[[World, int], None]
) -> None:
    idea = world.offered()
    world.reckon()
    before = kept(world, idea)
    assert before == (of_case(world, idea), False) and before[0] is not None
    moves(world, idea)
    assert kept(world, idea)[1], "it says that it waits"
    assert listed(world, idea).worth_waits
    world.reckon()
    after = kept(world, idea)
    assert after == (of_case(world, idea), False)
    assert after != before
    row = listed(world, idea)
    assert (text_of(row.worth, 2), row.worth_waits) == after
    assert worths.verify(world.ctx("Ines Varga")) == []


def test_who_joins_with_a_volume_moves_an_open_sizing(world: World) -> None:
    idea = world.screened()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"steps": "12", "decisions": "2"}, {}, "by hand")
    joined(world, idea)
    assert world.row("SELECT worth_key FROM idea WHERE id = %(id)s", id=idea)["worth_key"] == 0
    world.reckon()
    assert worths.verify(world.ctx("Ines Varga")) == []


def test_the_day_itself_moves_a_worth(world: World) -> None:
    idea = world.offered()
    world.reckon()
    later = timedelta(days=3)
    assert worths.carry_on(world.program(later)) >= 1
    assert worths.carry_on(world.program(later)) == 0
    row = world.row("SELECT worth, worth_on FROM idea WHERE id = %(id)s", id=idea)
    assert text_of(row["worth"], 2) == of_case(world, idea, later)
    assert row["worth_on"] == world.ctx("Ines Varga", later).today("Europe/Copenhagen")


def test_a_promise_keeps_what_it_froze_while_what_is_expected_moves(world: World) -> None:
    idea = world.backed()
    today = world.ctx("Ines Varga").today("Europe/Copenhagen")
    approve(world, "seat_year", "9400", today)
    world.reckon()
    row = next(row for row in ranking.view(world.ctx("Ruth Abernathy")).rows if row.id == idea)
    assert row.worth == of_case(world, idea) != row.promised_worth
    assert (row.go_live, row.promised_go_live) == (row.promised_go_live, row.go_live)


def test_one_that_cannot_be_reckoned_stops_no_other(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    bad, good = world.offered("Valve list"), world.offered("Pump report")
    world.reckon()
    seats(world, bad)
    reckon = worths.keep_worth

    def failing(tx: object, ctx: object, number: int) -> bool:
        if number == bad:
            raise ValueError("no such seat")
        return reckon(tx, ctx, number)  # type: ignore[arg-type]

    monkeypatch.setattr(worths, "keep_worth", failing)
    world.reckon()
    assert (kept(world, bad)[1], kept(world, good)[1]) == (True, False)
    assert world.row("SELECT work, row_key FROM hitch")["work"] == "worths"


def test_a_worth_that_is_not_its_cases_is_named(world: World) -> None:
    idea = world.offered()
    world.reckon()
    ctx = world.ctx("Ines Varga")
    ctx.db.transact(
        lambda tx: tx.execute("UPDATE idea SET worth = worth + 1 WHERE id = %(id)s", {"id": idea})
    )
    assert [line.split(" is ")[0] for line in worths.verify(ctx)] == [f"worth of I-{idea}"]


def test_other_factors_say_what_they_would_do_to_sizings(world: World) -> None:
    idea = world.offered()
    content = factors_.as_content(factors_.STANDARD)
    content["access"]["web"] = "9"
    lead = world.ctx("Ines Varga")
    errand = other_factors.begin(lead, content)
    assert other_factors.found(lead, errand).sizings == 0
    world.work_off()
    seen = other_factors.found(lead, errand)
    assert (seen.sizings, seen.moved) == (1, 1)
    row = seen.rows[0]
    assert row.id == idea and row.share_now == row.share_then
    assert Fraction(row.effort_then or 0) > Fraction(row.effort_now or 0)
    looked_anew(world, idea)
    world.reckon()
    assert (kept(world, idea)[0], row.worth_then) == (row.worth_then, of_case(world, idea))


def test_a_readiness_is_one_for_first_look_and_sizing(world: World) -> None:
    idea = world.offered()
    content = factors_.as_content(factors_.STANDARD)
    content["readiness"]["screen"] = "0.7"
    lead = world.ctx("Ines Varga")
    factors.keep(lead, content, "screens are read worse now", 0)
    assert "90 %" in str(_share(world, idea)), "it stands by the factors of its day"
    factors.begin_anew(lead)
    world.work_off()
    assert "70 %" in str(_share(world, idea)) and "factors 2" in str(_share(world, idea))


def _share(world: World, idea: int) -> str:
    working = ranges.view(world.ctx("Mei Tanaka"), idea).results.working["share"]
    ready = working.steps[0]
    return " ".join([*(part.note for part in ready.parts), ready.note])


def test_a_small_idea_carries_its_share_of_a_seat_where_the_house_says_so(world: World) -> None:
    idea = world.offered()
    whole = cases.view(world.ctx("Mei Tanaka"), idea)
    seats(world, idea)
    shared = cases.view(world.ctx("Mei Tanaka"), idea)
    assert (whole.figures.robots, shared.figures.robots) == (1, 1)
    share = exact(shared.figures.robot_share)
    seat = exact(RATES["seat_year"])
    less = exact(whole.figures.running_cost_per_year) - exact(shared.figures.running_cost_per_year)
    assert abs(less - (1 - share) * seat) < 1
    assert shared.working["running_cost_per_year"].note.endswith("the house counts its share.")
    assert whole.working["running_cost_per_year"].note.endswith("the house counts whole seats.")


def test_a_promise_keeps_the_way_its_seats_were_counted(world: World) -> None:
    seats(world, 0)
    idea = world.backed()
    house_rule.keep(world.ctx("Ines Varga"), {"seats": "whole"}, "as before", 1)
    row = world.row("SELECT input_json, result_json FROM promise WHERE idea_id = %(id)s", id=idea)
    given, result = json.loads(row["input_json"]), json.loads(row["result_json"])
    lines = promised_a_year(given, result)
    costs = sum(amount for line, amount in lines.items() if line != "saving")
    assert text_of(-costs, 2) == result["running_cost_per_year"]
