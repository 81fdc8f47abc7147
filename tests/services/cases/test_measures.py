"""Work that is no robot's: measured before and after, promised, counted by hand, and tallied like all else."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any

import pytest

from tallyman.core.proving import faults as faults_of
from tallyman.core.tally import entries as rules
from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import tally
from tallyman.services.cases import measures
from tallyman.services.context import Ctx
from tallyman.services.ideas import drafts, moves, page, team_entry
from tallyman.services.portfolio import proof
from tallyman.services.rates import rates
from tallyman.services.tally import counts
from tallyman.services.workshop import routines
from tests.conftest import NOW
from tests.world import World

SINCE = (NOW - timedelta(days=40)).date()
ANSWERS = {"title": "Meter letters", "what": "They are sorted.", "minutes": "12"}


def registered(world: World) -> int:
    """An automation that ran elsewhere before it was entered."""
    entry = team_entry.Entry(
        {**ANSWERS, "division": world.divisions["Networks"]},
        "in service",
        "it runs since spring",
        SINCE,
        "a tool of the depot",
        "runs already",
    )
    return team_entry.enter(world.ctx("Tom Okafor"), entry, "registered")


def trained(world: World) -> int:
    """A training that Corin saw to, carried out some weeks ago."""
    idea = world.screened()
    due = (NOW + timedelta(days=40)).date()
    moves.take_route(world.ctx("Tom Okafor"), idea, "training", "Teach it", world.number("Corin Dahl"), due)
    moves.measure_done(world.ctx("Corin Dahl"), idea, "All depots were taught", SINCE)
    return idea


def measured(world: World, idea: int, before: str = "12", after: str = "7", who: str = "Mei Tanaka") -> None:
    measures.note(
        world.ctx(who), idea, "before", before, 40, SINCE - timedelta(days=9), "a week at two desks"
    )
    measures.note(world.ctx(who), idea, "after", after, 30, SINCE + timedelta(days=9), "the same two desks")


def approve(world: World, idea: int) -> None:
    """The lead approves the newest minutes of an idea."""
    row = world.row(
        "SELECT id FROM rate WHERE idea_id = %(i)s AND state = 'proposed' ORDER BY id DESC", i=idea
    )
    rates.settle(world.ctx("Ines Varga"), row["id"], True)


def given(first: date = SINCE, last: date | None = None, units: Any = "60") -> counts.Given:
    return counts.Given(first, last or first, units, "the depot's book")


def delivered(world: World, idea: int) -> Fraction:
    world.settle()
    return Fraction(tally.of_idea(world.ctx("Ines Varga"), idea).total.saved)


def promise(ctx: Ctx, idea: int, seen: int = 0, **more: Any) -> None:
    said = {"volume_per_year": "7300", "minutes_before": "12", "minutes_after": "7", "once": "500"}
    reason = more.pop("reason", "")
    measures.promise(ctx, idea, {**said, "running": "0", **more}, SINCE, reason, seen)


@pytest.mark.parametrize("make", [registered, trained])
def test_what_is_no_robot_shows_promised_and_delivered(world: World, make: Any) -> None:
    idea = make(world)
    lead = world.ctx("Ines Varga")
    promise(lead, idea)
    measured(world, idea)
    seen = measures.shown(lead, idea)
    assert (seen.saved, seen.rate, seen.rate_state, seen.rate_since) == ("5", "5", "proposed", SINCE)
    counts.add(world.ctx("Corin Dahl" if make is trained else "Tom Okafor"), idea, given(), "k")
    assert delivered(world, idea) == 0
    waits = world.db.transact(lambda tx: tally.closing.open_in(tx, SINCE.strftime("%Y-%m")))
    assert "1 count by hand is not posted yet" in waits
    # Once the minutes are approved, from before, what waited is posted: 60 × 5 min × 38 an hour.
    approve(world, idea)
    hour = Fraction(world.row("SELECT value FROM rate WHERE kind = 'hour_cost'")["value"])
    assert delivered(world, idea) == 60 * 5 * hour / 60
    found = tally.of_idea(lead, idea)
    assert Fraction(found.total.promised) > 0
    days = (NOW.date() - SINCE).days + 1
    assert abs(Fraction(found.total.promised) - 7300 * 5 * hour / 60 * days / 365) < 1
    world.reckon()
    assert proof.verify(lead) == []
    assert tally.verify(world.program()) == []


def test_the_working_of_a_count_gives_its_figure(world: World) -> None:
    idea = registered(world)
    measured(world, idea)
    approve(world, idea)
    number = counts.add(world.ctx("Tom Okafor"), idea, given(units="7"), "k")
    world.settle()
    counts.change(world.ctx("Tom Okafor"), number, "9", "counted once more", "two were left out")
    world.settle()
    rows = tally.entries(world.ctx("Ines Varga"), idea, SINCE.strftime("%Y-%m"), 0).rows
    assert [(row.kind, row.units) for row in rows] == [
        ("by hand", "7"),
        ("reversal", "-7"),
        ("correction", "9"),
    ]
    assert [fault for row in rows for fault in faults_of(row.working)] == []
    assert "given by Tom Okafor" in str(rows[0].working.as_dict())


def test_what_is_taken_back_is_reversed_and_nothing_is_counted_twice(world: World) -> None:
    idea = registered(world)
    measured(world, idea)
    approve(world, idea)
    tom = world.ctx("Tom Okafor")
    number = counts.add(tom, idea, given(), "k")
    assert counts.add(tom, idea, given(), "k") == number
    with pytest.raises(InputFaults, match="is counted already, with 60"):
        counts.add(tom, idea, given(), "other")
    assert delivered(world, idea) > 0
    with pytest.raises(InputFaults, match="say why"):
        counts.take_back(tom, number, "")
    counts.take_back(tom, number, "it was of another depot")
    assert delivered(world, idea) == 0
    with pytest.raises(Refused, match="taken back already"):
        counts.change(tom, number, "3", "the book", "again")
    counts.add(tom, idea, given(units="10"), "later")
    assert delivered(world, idea) > 0
    assert tally.verify(world.program()) == []


def test_a_count_names_everything_that_is_wrong_with_it(world: World) -> None:
    idea = registered(world)
    tom, ahead = world.ctx("Tom Okafor"), NOW.date() + timedelta(days=3)
    with pytest.raises(InputFaults) as caught:
        counts.add(tom, idea, counts.Given(SINCE - timedelta(days=60), ahead, "-1", ""), "k")
    said = {fault.field: fault.message for fault in caught.value.faults}
    assert set(said) == {"units", "evidence", "last", "first"}
    assert "before it was in service" in said["first"]
    with pytest.raises(InputFaults, match="each month by itself"):
        counts.add(tom, idea, counts.Given(SINCE, SINCE + timedelta(days=35), "3", "the book"), "k")
    with pytest.raises(NotFound):
        counts.add(world.ctx("Ada Pell"), idea, given(), "k")
    with pytest.raises(Forbidden):
        counts.add(world.ctx("Ada Pell"), trained(world), given(), "k")


def test_days_on_which_its_routine_counts_are_not_given_by_hand(world: World) -> None:
    _, idea, _ = world.live()
    world.db.transact(
        lambda tx: tx.execute("UPDATE idea SET live_on = %(d)s WHERE id = %(i)s", {"d": SINCE, "i": idea})
    )
    with pytest.raises(InputFaults, match="nothing is counted at two points"):
        counts.add(world.ctx("Sol Marin"), idea, given(NOW.date()), "k")
    counts.add(world.ctx("Sol Marin"), idea, given(SINCE), "k")


def test_a_list_of_counts_is_looked_at_kept_and_adds_nothing_again(world: World) -> None:
    idea = registered(world)
    tom = world.ctx("Tom Okafor")
    month, before = NOW.strftime("%Y-%m"), (SINCE - timedelta(days=90)).strftime("%Y-%m")
    day = SINCE.isoformat()
    text = f"month,from,to,units,evidence\n{month},,,30,book\n{before},,,5,book\n,{day},{day},4,book\n,x,y,4,\n{month},,,1,\n"
    seen = counts.bring(tom, idea, text.encode(), keep=False)
    assert [one.state for one in seen] == ["comes in", "stays out", "comes in", "stays out", "stays out"]
    assert "before it was in service" in seen[1].faults[0]
    assert "no month such as" in seen[3].faults[0]
    assert seen[4].faults == ["stands twice in the list"]
    assert counts.shown(tom, idea).rows == []
    counts.bring(tom, idea, text.encode(), keep=True)
    assert [one.units for one in counts.shown(tom, idea).rows] == ["30", "4"]
    again = counts.bring(tom, idea, text.encode(), keep=True)
    assert [one.state for one in again].count("is here already") == 2
    assert len(counts.shown(tom, idea).rows) == 2


def test_measured_anew_the_minutes_count_from_their_own_day(world: World) -> None:
    idea = trained(world)
    measured(world, idea)
    approve(world, idea)
    corin, later = world.ctx("Corin Dahl"), NOW.date() - timedelta(days=3)
    measures.note(corin, idea, "after", "4", None, later, "three desks")
    seen = measures.shown(corin, idea)
    assert (seen.saved, seen.rate_since, seen.rate_state) == ("8", later, "proposed")
    assert [one.minutes for one in seen.former] == ["7"]
    approve(world, idea)
    counts.add(corin, idea, given(SINCE), "one")
    counts.add(corin, idea, given(NOW.date()), "two")
    world.settle()
    rows = world.rows("SELECT units, hours FROM tally_entry WHERE idea_id = %(i)s ORDER BY at", i=idea)
    assert [row["hours"] for row in rows] == [Decimal(5), Decimal(8)]


def test_what_saves_nothing_is_said_and_counts_nothing(world: World) -> None:
    idea = trained(world)
    measured(world, idea, "5", "9")
    assert measures.shown(world.ctx("Corin Dahl"), idea).saved == "0"
    with pytest.raises(InputFaults, match="less than before"):
        promise(world.ctx("Ines Varga"), idea, minutes_after="13")


def test_measuring_is_checked_and_for_whoever_answers_for_it(world: World) -> None:
    idea = trained(world)
    with pytest.raises(Forbidden):
        measures.note(world.ctx("Ada Pell"), idea, "before", "3", None, SINCE, "a look")
    with pytest.raises(InputFaults) as caught:
        early = SINCE - timedelta(days=3)
        measures.note(world.ctx("Corin Dahl"), idea, "after", "abc", 0, early, "")
    assert {fault.field for fault in caught.value.faults} == {"minutes", "items", "day", "evidence"}


def test_a_robots_work_is_measured_by_its_sizing(world: World) -> None:
    robots = world.building()
    with pytest.raises(Refused, match="the way of a robot"):
        measures.note(world.ctx("Mei Tanaka"), robots, "before", "3", None, SINCE, "a look")


def test_a_promise_of_a_measure_is_made_anew_with_a_reason(world: World) -> None:
    idea = registered(world)
    lead = world.ctx("Ines Varga")
    with pytest.raises(Forbidden):
        promise(world.ctx("Tom Okafor"), idea)
    promise(lead, idea)
    with pytest.raises(Refused, match="promised meanwhile"):
        promise(lead, idea)
    with pytest.raises(InputFaults, match="why another promise"):
        promise(lead, idea, seen=1, volume_per_year="100")
    promise(lead, idea, seen=1, volume_per_year="100", reason="half as many letters")
    seen = measures.shown(lead, idea)
    assert (seen.promise_number, seen.suggested.volume_per_year) == (2, "100")
    assert world.row("SELECT COUNT(*) AS n FROM former_promise")["n"] == 1


def test_what_ran_long_before_costs_something_from_the_day_it_is_promised(world: World) -> None:
    idea = registered(world)
    later = NOW.date().replace(day=1) - timedelta(days=1)
    said = {
        "volume_per_year": "100",
        "minutes_before": "9",
        "minutes_after": "1",
        "once": "0",
        "running": "365",
    }
    measures.promise(world.ctx("Ines Varga"), idea, said, later, "", 0)
    while tally.month_ends(world.program()):
        pass
    rows = world.rows("SELECT month, money FROM tally_entry WHERE idea_id = %(i)s", i=idea)
    assert rows == [{"month": f"{later:%Y-%m}", "money": Decimal(-1)}]


def test_its_thread_says_since_when_it_runs(world: World) -> None:
    whole = page.one(world.ctx("Ines Varga"), registered(world))
    last = whole.thread[-1]
    assert (last.stage, last.on) == ("in service", SINCE)
    assert last.at is not None


def test_units_by_hand_are_the_minutes_saved_of_each() -> None:
    minutes = rules.Rate(1, "Minutes by hand", Fraction(5), "min a unit", "2026-01-01")
    hour = rules.Rate(2, "An hour costs", Fraction(38), "money an hour", "2026-01-01")
    count = rules.HandCount(4, Fraction(60), SINCE, SINCE, "given by Mei")
    entry = rules.counted_by_hand(count, minutes, hour)
    assert (entry.units, entry.hours, entry.money) == (60, 5, 190)
    assert faults_of(entry.working) == []
    assert faults_of(rules.taken_back("time saved", Fraction(-190))) == []


def test_what_was_registered_is_answered_later_and_counted_by_a_routine_once_there_is_one(
    world: World,
) -> None:
    idea = registered(world)
    drafts.answer(world.ctx("Tom Okafor"), idea, "volume", {"amount": "9", "rhythm": "week"}, None)
    whole = page.one(world.ctx("Tom Okafor"), idea)
    assert whole.may.answer
    assert measures.shown(world.ctx("Ines Varga"), idea).suggested.volume_per_year == "468"
    _, _, routine = world.live()
    offered = routines.choices(world.ctx("Sol Marin")).ideas
    assert idea in [one.id for one in offered]
    assert routine


def test_the_look_shows_what_the_promise_freezes(world: World) -> None:
    idea, lead = registered(world), world.ctx("Ines Varga")
    said = {
        "volume_per_year": "7300",
        "minutes_before": "12",
        "minutes_after": "7",
        "once": "500",
        "running": "100",
    }
    look = measures.look(lead, idea, said, SINCE)
    assert look.hours == "608.3"
    assert faults_of(look.working) == []
    measures.promise(lead, idea, said, SINCE, "", 0)
    frozen = world.row("SELECT result_json FROM promise WHERE idea_id = %(i)s", i=idea)["result_json"]
    for name, shown in (
        ("saving_per_year", look.saving),
        ("one_time_cost", look.once),
        ("running_cost_per_year", look.running),
        ("payback_months", look.payback_months),
    ):
        assert f'"{name}": "{shown}"' in str(frozen), name
    with pytest.raises(InputFaults):
        measures.look(lead, idea, {**said, "minutes_after": "30"}, SINCE)
    with pytest.raises(Forbidden):
        measures.look(world.ctx("Mei Tanaka"), idea, said, SINCE)


def test_measured_anew_while_a_rate_waits_leaves_one_proposal(world: World) -> None:
    idea = registered(world)
    measured(world, idea)
    measured(world, idea, "12", "8")
    rows = world.rows("SELECT value, state FROM rate WHERE idea_id = %(i)s ORDER BY id", i=idea)
    assert [(int(row["value"]), row["state"]) for row in rows] == [(5, "withdrawn"), (4, "proposed")]
    approve(world, idea)
    seen = measures.shown(world.ctx("Ines Varga"), idea)
    assert (seen.rate, seen.rate_state, seen.rate_since) == ("4", "approved", SINCE)


def test_a_count_whose_entry_is_not_what_it_comes_to_is_named(world: World) -> None:
    idea = registered(world)
    measured(world, idea)
    approve(world, idea)
    number = counts.add(world.ctx("Tom Okafor"), idea, given(), "k")
    world.settle()
    assert tally.verify(world.program()) == []
    world.db.transact(
        lambda tx: tx.execute("UPDATE idea_count SET units = 61 WHERE id = %(n)s", {"n": number})
    )
    [said] = tally.verify(world.program())
    assert said.startswith(f"count {number} stands with 60 units")
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE idea_count SET units = 60, taken_back_at = at WHERE id = %(n)s", {"n": number}
        )
    )
    assert len(tally.verify(world.program())) == 1
