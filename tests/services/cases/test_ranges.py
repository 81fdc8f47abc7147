"""The sizing sheet as ranges: sampled beside the likely figure, with what does not fit asked back."""

from __future__ import annotations

from dataclasses import asdict
from datetime import timedelta
from decimal import Decimal
from typing import Any

import pytest

from tallyman.errors import InputFaults
from tallyman.services.cases import business_case, fact_keeping, ranges
from tallyman.services.cases.answers import Sizing
from tallyman.services.ideas import review, talk
from tallyman.services.rates import rates
from tests.world import World

FACTS = World.FACTS
ENDS = {"minutes_low": "8", "minutes_high": "20", "volume_low": "60", "volume_high": "140"}


def sheet(world: World, idea: int) -> Sizing:
    return ranges.view(world.ctx("Mei Tanaka"), idea)


def give(world: World, idea: int, **facts: Any) -> None:
    fields = {row.field: row.version for row in sheet(world, idea).fields}
    fact_keeping.keep(
        world.ctx("Mei Tanaka"), idea, facts, {name: fields.get(name, 0) for name in facts}, "talk"
    )


def test_before_the_facts_are_there_nothing_is_sampled(world: World) -> None:
    found = sheet(world, world.screened("Valve list")).ranges
    assert (found.hours, found.net, found.payback) == (None, None, None)


def test_fixed_facts_give_one_value_and_ends_make_a_range(world: World) -> None:
    idea = world.screened("Valve list")
    give(world, idea, **FACTS)
    one = sheet(world, idea).ranges.hours
    assert one.p10 == one.p50 == one.p90 == one.likely
    assert (one.shape, one.moves) == ([], [])
    give(world, idea, **ENDS)
    found = sheet(world, idea).ranges
    hours = found.hours
    assert Decimal(hours.p10) < Decimal(hours.likely) < Decimal(hours.p90)
    assert {row.name for row in hours.moves} == {"Minutes each", "Volume"}
    assert sum(Decimal(bar.share) for bar in hours.shape) == pytest.approx(1, abs=Decimal("0.01"))
    # The same idea draws the same again, another one otherwise.
    assert sheet(world, idea).ranges.hours == hours


def test_the_net_at_the_likely_values_is_that_of_the_case(world: World) -> None:
    idea = world.screened("Valve list")
    give(world, idea, **FACTS, **ENDS)
    found = sheet(world, idea).ranges
    case = business_case.view(world.ctx("Mei Tanaka"), idea).figures
    net = Decimal(case.saving_per_year) - Decimal(case.running_cost_per_year)
    assert Decimal(found.net.likely) == pytest.approx(net, abs=1)
    likely = found.payback.likely
    expected = case.payback_months
    assert (likely is None) == (expected is None)
    assert [row.months for row in found.chances] == [12, 24, 36]
    shares = [Decimal(row.share) for row in found.chances]
    assert shares == sorted(shares)


def test_what_does_not_fit_is_asked_back_and_nothing_breaks(world: World) -> None:
    idea = world.screened("Valve list")
    give(world, idea, **FACTS)
    give(world, idea, minutes_low="99", people="2", hours_a_week="160")
    found = sheet(world, idea).ranges
    assert {one.field for one in found.asks} == {"minutes_low", "hours_a_week"}
    assert found.hours is None


def test_the_months_of_the_year_keep_its_volume(world: World) -> None:
    idea = world.screened("Valve list")
    give(world, idea, **FACTS, peaks=["1"] * 11 + ["3"])
    found = sheet(world, idea)
    months = [Decimal(one) for one in found.ranges.months]
    assert months[11] == pytest.approx(3 * months[0], abs=Decimal("0.5"))
    assert sum(months) == pytest.approx(Decimal(found.results.volume_per_year), abs=1)
    with pytest.raises(InputFaults, match="twelve numbers"):
        give(world, idea, peaks=["1"])
    with pytest.raises(InputFaults, match="all months are 0"):
        give(world, idea, peaks=["0"] * 12)


def test_equivalents_need_what_a_person_works(world: World) -> None:
    idea = world.screened("Valve list")
    give(world, idea, **FACTS)
    assert sheet(world, idea).ranges.people_hours is None
    mei, lead = world.ctx("Mei Tanaka"), world.ctx("Ines Varga")
    day = (world.now - timedelta(days=1)).date()
    number = rates.propose(mei, rates.HOURS_A_YEAR, "1600", day, "the yearly table")
    rates.settle(lead, number, True)
    found = sheet(world, idea).ranges
    assert found.people_hours.value == "1600"
    hours = {name: Decimal(value) for name, value in asdict(business_case.view(mei, idea).hours).items()}
    freed = hours["handling"] + hours["rework"] - hours["kept"] - hours["returned"]
    assert freed > 0
    assert Decimal(found.equivalents) == pytest.approx(freed / 1600, abs=Decimal("0.01"))


def test_whoever_joined_with_a_volume_counts_in_the_sizing(world: World) -> None:
    idea = world.noted("Valve list", volume={"amount": "100", "rhythm": "week"})
    talk.join(world.ctx("Corin Dahl"), idea, {"amount": "52", "rhythm": "month"}, "at our end")
    review.screen(world.ctx("Tom Okafor"), idea, None)
    fields = {row.field: row for row in sheet(world, idea).fields}
    assert (fields["volume"].value, fields["rhythm"].value) == ("112", "week")
    assert "of 1 who joined" in fields["volume"].source
    give(world, idea, volume="90")
    assert {row.field: row for row in sheet(world, idea).fields}["volume"].value == "90"
