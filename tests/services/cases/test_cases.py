"""Sizing with experts and points; cases with their rows, variants, promises anew, and what was delivered."""

from __future__ import annotations

from datetime import timedelta
from fractions import Fraction

import pytest

from tallyman.config import key_ring
from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.formats.envelope import link_token
from tallyman.services import robots
from tallyman.services.answers import Brought
from tallyman.services.cases import (
    asked,
    business_case,
    delivered,
    fact_keeping,
    previews,
    promises,
    ranges,
    sizing,
    variants,
)
from tallyman.services.cases.answers import FactRow
from tallyman.services.cases.answers_of_variants import DifferingInput
from tallyman.services.context import Ctx
from tallyman.services.house import systems
from tallyman.services.ideas import page, talk
from tallyman.services.rates import costs, rates
from tests.conftest import NOW
from tests.world import World


def seat(world: World, kind: str, value: str, what: str = "", division: int = 0, days: int = 10) -> int:
    """An approved row of the cost tables, in force for some days."""
    since = (world.now - timedelta(days=days)).date()
    wanted = rates.Wanted(what=what, division_id=division)
    number = rates.propose(world.ctx("Mei Tanaka"), kind, value, since, "finance", wanted)
    rates.settle(world.ctx("Ines Varga"), number, True)
    return number


def fields(world: World, idea: int) -> dict[str, FactRow]:
    return {row.field: row for row in business_case.view(world.ctx("Mei Tanaka"), idea).fields}


def ask_corin(world: World, idea: int, wanted: list[str]) -> tuple[int, str]:
    """Corin is asked; the request and the token of the link in the mail."""
    corin = world.actors["Corin Dahl"].person_id
    number = asked.send(world.ctx("Mei Tanaka"), idea, corin or 0, "How long?", wanted)
    row = world.row("SELECT link_id FROM sizing_request WHERE id = %(i)s", i=number)
    return number, link_token(key_ring(), "sizing", row["link_id"], corin or 0)


def nobody(world: World) -> Ctx:
    from tallyman.services.context import Actor

    return Ctx(world.db, world.now, Actor(None, "nobody"))


def test_an_expert_answers_by_a_link_without_signing_in(world: World) -> None:
    idea = world.screened()
    number, token = ask_corin(world, idea, ["steps", "rework_share"])
    seen = asked.look(nobody(world), token)
    assert [row.field for row in seen.fields] == ["rework_share", "steps"]
    assert seen.words == "How long?"
    asked.answer(nobody(world), token, {"steps": "31"}, {})
    with pytest.raises(InputFaults) as refused:
        asked.answer(nobody(world), token, {"handling_minutes": "3"}, {})
    assert refused.value.faults[0].message == "you were not asked for this"
    asked.done(nobody(world), token, "The rest I do not know.")
    view = ranges.view(world.ctx("Mei Tanaka"), idea)
    request = view.asked[0]
    assert (request.id, request.state, request.person) == (number, "answered", "Corin Dahl")
    assert [fact.label for fact in request.answered] == ["Steps"]
    steps = next(row for row in view.fields if row.field == "steps")
    assert (steps.value, steps.source) == ("31", "asked by link, Corin Dahl")
    with pytest.raises(NotFound):
        asked.look(nobody(world), token)


def test_who_sent_a_used_link_opens_it_again(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    number, token = ask_corin(world, idea, ["steps", "decisions"])
    asked.answer(nobody(world), token, {"steps": "31"}, {})
    asked.done(nobody(world), token, "")
    asked.open_again(mei, idea, number)
    row = world.row(
        "SELECT state, ended_at, link_id, person_id FROM sizing_request WHERE id = %(i)s", i=number
    )
    assert (row["state"], row["ended_at"]) == ("open", None)
    another = link_token(key_ring(), "sizing", row["link_id"], row["person_id"])
    assert another != token
    seen = asked.look(nobody(world), another)
    assert [(field.field, field.value) for field in seen.fields if field.field == "steps"] == [
        ("steps", "31")
    ]
    with pytest.raises(NotFound):
        asked.look(nobody(world), token)
    with pytest.raises(Refused, match="works already"):
        asked.open_again(mei, idea, number)
    asked.answer(nobody(world), another, {"decisions": "4"}, {})
    answered = ranges.view(mei, idea).asked[0].answered
    assert {fact.label for fact in answered} == {"Steps", "Decisions"}


def test_the_mail_carries_the_link_to_the_sheet(world: World) -> None:
    idea = world.screened()
    ask_corin(world, idea, [])
    mail = world.row("SELECT subject, body FROM mail ORDER BY id DESC LIMIT 1")
    assert mail["subject"] == f"Mei Tanaka asks you about I-{idea} Leak allowance claims"
    assert "{link}" in mail["body"]


def test_a_link_is_taken_back_and_ends_by_itself(world: World) -> None:
    idea = world.screened()
    number, token = ask_corin(world, idea, [])
    with pytest.raises(InputFaults, match="asked already"):
        ask_corin(world, idea, [])
    asked.take_back(world.ctx("Mei Tanaka"), idea, number)
    with pytest.raises(NotFound):
        asked.answer(nobody(world), token, {"steps": "3"}, {})
    _, again = ask_corin(world, idea, [])
    late = Ctx(world.db, world.now + timedelta(days=15), nobody(world).actor)
    with pytest.raises(NotFound):
        asked.look(late, again)
    with pytest.raises(NotFound):
        asked.look(nobody(world), again[:-1] + "x")


def test_two_who_answer_one_fact_see_each_other(world: World) -> None:
    idea = world.screened()
    _, token = ask_corin(world, idea, [])
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"steps": "20"}, {}, "")
    with pytest.raises(Conflict) as clash:
        asked.answer(nobody(world), token, {"steps": "31"}, {"steps": 0})
    assert (clash.value.more["theirs"], clash.value.more["yours"]) == ("20", "31")


def test_a_sizing_goes_back_point_by_point(world: World) -> None:
    idea = world.offered()
    ines, mei = world.ctx("Ines Varga"), world.ctx("Mei Tanaka")
    with pytest.raises(InputFaults) as refused:
        sizing.settle(ines, idea, False, "", [("steps", " "), ("money", "less")])
    assert [fault.field for fault in refused.value.faults] == ["points[0].words", "points[1].field"]
    sizing.settle(ines, idea, False, "", [("steps", "Twelve seem few"), ("volume", "A quiet summer?")])
    points = ranges.view(mei, idea).points
    assert [(one.label, one.words, one.met_at) for one in points] == [
        ("Steps", "Twelve seem few", None),
        ("Items", "A quiet summer?", None),
    ]
    fact_keeping.keep(mei, idea, {"steps": "24"}, {"steps": 1}, "")
    sizing.answer_point(mei, idea, points[1].id, "counted over the whole year")
    met = {one.label: (one.answer, one.met_by) for one in ranges.view(mei, idea).points}
    assert met == {
        "Steps": ("changed", "Mei Tanaka"),
        "Items": ("counted over the whole year", "Mei Tanaka"),
    }
    with pytest.raises(Refused):
        sizing.answer_point(mei, idea, points[1].id, "again")


def test_ends_that_do_not_rise_are_refused_at_the_field(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(mei, idea, {"minutes_high": "9"}, {}, "")
    with pytest.raises(InputFaults) as refused:
        fact_keeping.keep(mei, idea, {"minutes_low": "12"}, {}, "")
    fault = refused.value.faults[0]
    assert fault.field == "minutes_low"
    assert fault.message == "Minutes, at best is to be no more than Minutes, at worst, which is 9"


def test_ten_points_say_what_it_should_mend(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(mei, idea, {"mends": {"cost": 4, "errors": "6"}}, {}, "")
    for wrong in ({"cost": 11}, {"fame": 1}, {"cost": "1.5"}):
        with pytest.raises(InputFaults):
            fact_keeping.keep(mei, idea, {"mends": wrong}, {"mends": 1}, "")


def test_judged_effort_stands_beside_the_computed_one(world: World) -> None:
    idea = world.offered()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"effort_override": "18"}, {}, "")
    view = ranges.view(world.ctx("Mei Tanaka"), idea)
    assert (view.results.effort_days, view.results.computed_effort) == ("18.0", "9.0")
    assert any(one.field == "effort_reason" for one in view.ranges.asks)


def test_figures_follow_while_typing_and_nothing_is_kept(world: World) -> None:
    idea = world.offered()
    mei = world.ctx("Mei Tanaka")
    before = business_case.view(mei, idea)
    found = previews.preview(mei, idea, {"volume": "4800", "unsuitable_share": "1.4", "steps": "60"})
    assert Fraction(found.figures.cost_before) != Fraction(before.figures.cost_before)
    assert found.results.volume_per_year != ""
    assert [fault.field for fault in found.faults] == ["unsuitable_share"]
    assert business_case.view(mei, idea) == before
    with pytest.raises(Forbidden):
        previews.preview(world.ctx("Tom Okafor"), idea, {})


def test_an_hour_costs_what_the_role_costs_in_its_division(world: World) -> None:
    idea = world.offered()
    networks = world.divisions["Networks"]
    seat(world, "hour_cost", "52", "engineer")
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"role": "engineer"}, {}, "")
    assert fields(world, idea)["cost_per_hour"].value == "52"
    seat(world, "hour_cost", "55", "engineer", networks)
    found = fields(world, idea)["cost_per_hour"]
    assert (found.value, found.source) == ("55", "cost table, engineer, Mei Tanaka")
    # What a run posts is reckoned with the same row.
    rate = world.db.transact(lambda tx: costs.hour_cost(tx, NOW.date(), idea))
    assert rate is not None and rate.value == 55


def test_a_case_keeps_the_rows_of_its_day_and_shows_what_todays_would_change(world: World) -> None:
    idea = world.offered()
    sizing.settle(world.ctx("Ines Varga"), idea, True, "")
    later = world.now + timedelta(days=3)
    mei, ines = (Ctx(world.db, later, world.actors[name]) for name in ("Mei Tanaka", "Ines Varga"))
    number = rates.propose(mei, "hour_cost", "44", (world.now + timedelta(days=2)).date(), "finance")
    rates.settle(ines, number, True)
    view = business_case.view(mei, idea)
    hour = next(row for row in view.tables.rows if row.kind == "hour_cost")
    assert (hour.value, hour.today) == ("38", "44")
    assert view.tables.why == "the day of agreement"
    todays = view.tables.today.saving_per_year
    assert Fraction(todays) > Fraction(view.figures.saving_per_year)
    fact_keeping.keep(mei, idea, {"costs_on": later.date().isoformat()}, {}, "")
    view = business_case.view(mei, idea)
    assert (view.figures.saving_per_year, view.tables.today) == (todays, None)
    assert page.one(mei, idea).stage == "sized"


def test_robot_time_follows_from_hosts_and_calendar_unless_given(world: World) -> None:
    world.db.transact(
        lambda tx: tx.execute("DELETE FROM rate WHERE kind LIKE 'robot_%%' AND kind <> 'robot_hour'")
    )
    idea = world.offered()
    view = business_case.view(world.ctx("Mei Tanaka"), idea)
    assert [lack.field for lack in view.missing] == ["robot_hours_per_day"]
    world.machine()
    host = world.row("SELECT id FROM host")["id"]
    robots.set_hours(world.ctx("Sol Marin"), host, "07:00", "19:00", "Europe/Lisbon")
    found = fields(world, idea)
    assert (found["robot_hours_per_day"].value, found["robot_hours_per_day"].source) == (
        "12",
        "hours of the hosts by seats: Weir 12 h × 1",
    )
    assert found["robot_days_per_year"].source == f"working days of {NOW.year} by the calendar"
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"robot_hours_per_day": "20"}, {}, "shift plan")
    assert fields(world, idea)["robot_hours_per_day"].value == "20"


@pytest.mark.parametrize(
    ("kind", "what", "division", "field"),
    [
        ("robot_hour", "clerk", 0, "what"),
        ("exchange", "", 0, "what"),
        ("exchange", "dollars", 0, "what"),
        ("seat_year", "", 1, "division_id"),
        ("hour_cost", "x" * 61, 0, "what"),
    ],
)
def test_a_row_that_fits_nobody_is_refused(
    world: World, kind: str, what: str, division: int, field: str
) -> None:
    wanted = rates.Wanted(what=what, division_id=division)
    with pytest.raises(InputFaults) as refused:
        rates.propose(world.ctx("Mei Tanaka"), kind, "3", NOW.date(), "finance", wanted)
    assert refused.value.faults[0].field == field


def test_benefit_lines_stand_apart_and_foreign_money_is_turned(world: World) -> None:
    idea = world.offered()
    seat(world, "exchange", "1.16", "GBP")
    mei = world.ctx("Mei Tanaka")
    before = business_case.view(mei, idea).figures
    rows = [
        {"name": "Fines", "kind": "penalties avoided", "amount": "1200"},
        {"name": "Reader", "kind": "licence given back", "amount": "1000", "currency": "GBP"},
    ]
    fact_keeping.keep(mei, idea, {"benefit_lines": rows}, {}, "")
    view = business_case.view(mei, idea)
    assert view.benefits_total == "2360.00"
    assert view.figures == before
    with pytest.raises(InputFaults) as refused:
        fact_keeping.keep(
            mei, idea, {"benefit_lines": [{"name": "x", "kind": "fame"}]}, {"benefit_lines": 1}, ""
        )
    assert refused.value.faults[0].field == "benefit_lines[0].kind"


def test_hosting_is_a_running_line_of_each_robot(world: World) -> None:
    idea = world.offered()
    before = business_case.view(world.ctx("Mei Tanaka"), idea)
    seat(world, "hosting", "340")
    after = business_case.view(world.ctx("Mei Tanaka"), idea)
    assert [line.name for line in after.lines] == ["Hosting"]
    more = Fraction(after.figures.running_cost_per_year) - Fraction(before.figures.running_cost_per_year)
    assert more == 340 * after.figures.robots


def test_variants_are_kept_changed_and_taken_away(world: World) -> None:
    idea = world.offered()
    mei = world.ctx("Mei Tanaka")
    number = variants.put(mei, idea, None, "Slow portal", {"robot_minutes": "9"}, 0)
    with pytest.raises(InputFaults, match="of this name"):
        variants.put(mei, idea, None, "Slow portal", {"robot_minutes": "8"}, 0)
    with pytest.raises(InputFaults):
        variants.put(mei, idea, None, "Wild", {"automatable_share": "3"}, 0)
    variants.put(mei, idea, number, "Slow portal", {"robot_minutes": "12"}, 1)
    with pytest.raises(Conflict):
        variants.put(mei, idea, number, "Slow portal", {"robot_minutes": "13"}, 1)
    view = variants.view(mei, idea)
    assert [one.name for one in view.variants] == ["as sized", "cautious", "bold", "Slow portal"]
    assert view.differing == [DifferingInput("robot_minutes", "Robot minutes an item", ["3", "3", "3", "12"])]
    variants.drop(mei, idea, number)
    assert len(variants.view(mei, idea).variants) == 3


def test_a_promise_is_made_anew_with_a_reason_and_the_old_one_kept(world: World) -> None:
    idea = world.backed()
    mei, ines = world.ctx("Mei Tanaka"), world.ctx("Ines Varga")
    first = business_case.view(ines, idea).promise
    fact_keeping.keep(mei, idea, {"robot_exception_share": "0.2"}, {"robot_exception_share": 1}, "")
    with pytest.raises(InputFaults):
        promises.promise_anew(ines, idea, " ", 1)
    with pytest.raises(Forbidden):
        promises.promise_anew(mei, idea, "more comes back", 1)
    promises.promise_anew(ines, idea, "more comes back", 1)
    with pytest.raises(Refused, match="anew meanwhile"):
        promises.promise_anew(ines, idea, "once more", 1)
    view = business_case.view(ines, idea)
    assert (view.promise.number, view.promise.reason) == (2, "more comes back")
    assert view.former[0].figures == first.figures
    assert view.promise.figures == view.figures != first.figures
    beside = {row.name: (row.promised, row.expected) for row in view.beside}
    assert beside["npv_3y"][0] == beside["npv_3y"][1]


def test_a_changed_fact_moves_what_is_expected_beside_the_promise(world: World) -> None:
    idea = world.building()
    fact_keeping.keep(world.ctx("Mei Tanaka"), idea, {"steps": "80"}, {"steps": 1}, "")
    rows = {row.name: row for row in business_case.view(world.ctx("Mei Tanaka"), idea).beside}
    assert Fraction(rows["one_time_cost"].expected) > Fraction(rows["one_time_cost"].promised)
    assert page.one(world.ctx("Mei Tanaka"), idea).stage == "building"


def test_what_was_delivered_corrects_later_estimates(world: World) -> None:
    _, idea, _ = world.live()
    mei, jonas = world.ctx("Mei Tanaka"), world.ctx("Jonas Lindqvist")
    promise = business_case.view(mei, idea).promise
    ended = (world.now - timedelta(days=1)).date()
    for phase in promise.plan.phases:
        delivered.spend(jonas, idea, phase.name, "5", ended, 0)
    with pytest.raises(Conflict):
        delivered.spend(jonas, idea, promise.plan.phases[0].name, "6", ended, 0)
    with pytest.raises(InputFaults, match="has not come"):
        delivered.count_month(mei, idea, "2099-01", "3", "", 0)
    delivered.count_month(mei, idea, "2026-01", "500", "desk", 0)
    delivered.count_month(mei, idea, "2026-02", "520", "desk", 0)
    other = world.screened("Hydrant letters by hand")
    fact_keeping.keep(mei, other, World.FACTS, {}, "talk")
    found = {one.what: one for one in ranges.view(mei, other).corrections}
    assert found["effort"].factor == "1.67" and found["effort"].sample == 1
    assert found["effort"].of == "all ideas in service"
    assert (found["effort"].now, found["effort"].corrected) == ("9.0", "15.0")
    assert "volume" in found
    spent = {row.name: row for row in business_case.view(mei, idea).beside}["one_time_cost"]
    assert (spent.delivered, spent.note) == ("8400.00", "15 person-days")


def test_what_happened_is_recorded_once_an_idea_is_backed(world: World) -> None:
    idea = world.offered()
    with pytest.raises(Refused, match="nothing was delivered"):
        delivered.count_month(world.ctx("Mei Tanaka"), idea, "2026-01", "3", "", 0)
    backed = world.backed("Bore-hole level returns")
    with pytest.raises(InputFaults, match="the promised plan has"):
        delivered.spend(world.ctx("Mei Tanaka"), backed, "Cooking", "3", None, 0)


def test_a_system_that_a_sizing_names_is_entered_as_new(world: World) -> None:
    idea = world.offered()
    mei, ines = world.ctx("Mei Tanaka"), world.ctx("Ines Varga")
    row = systems.listed(ines)[0]
    assert (row.name, row.access, row.state, row.ideas) == ("Fettlebook", "web", "new", 1)
    corin = world.actors["Corin Dahl"].person_id
    systems.change(ines, row.id, systems.Given("Fettle book", "desktop", corin, "yes"), row.version)
    with pytest.raises(Conflict):
        systems.change(ines, row.id, systems.Given("Other", "web"), row.version)
    kept = next(one for one in ranges.view(mei, idea).fields if one.field == "systems")
    assert kept.value == [{"name": "Fettle book", "access": "web"}]
    one = systems.one(ines, row.id)
    assert (one.state, one.ideas[0].id, one.owner) == ("known", idea, "Corin Dahl")


def test_what_breaks_if_a_system_changes_names_its_routines(world: World) -> None:
    world.live()
    number = systems.listed(world.ctx("Ines Varga"))[0].id
    one = systems.one(world.ctx("Ines Varga"), number)
    assert (one.all_routines, len(one.routines)) == (1, 1)
    seen = systems.one(world.ctx("Mei Tanaka"), number)
    # The analyst may not see routines; that there is one is said all the same.
    assert (seen.all_routines, seen.routines) == (1, [])


LIST = (
    "system;access;owner;test system;note\n"
    "Fettlebook;desktop;corin.dahl@merrowdale.example;yes;The job book\n"
    "Dialhouse;api;;;\n"
    "Kerbgate;by foot;;;\n"
    "Dialhouse;web;;;\n"
    ";web;nobody@merrowdale.example;perhaps;\n"
)


def test_a_list_of_systems_is_looked_at_and_brought_in_once(world: World) -> None:
    world.offered()
    ines = world.ctx("Ines Varga")
    looked = systems.look(ines, LIST.encode())
    assert [(one.line, one.state) for one in looked] == [
        (2, "to be changed"),
        (3, "to be entered"),
        (4, "not as it is"),
        (5, "not as it is"),
        (6, "not as it is"),
    ]
    assert looked[3].faults == ["system “Dialhouse”: stands in line 3 already"]
    assert len(looked[4].faults) == 3
    assert systems.bring(ines, LIST.encode()) == Brought(entered=1, changed=1, here=0, left_out=3)
    assert systems.bring(ines, LIST.encode()) == Brought(entered=0, changed=0, here=2, left_out=3)
    # What is taken out comes in again and changes nothing.
    assert systems.bring(ines, systems.as_csv(ines)).here == 2


def test_a_retired_system_is_no_more_offered(world: World) -> None:
    idea = world.offered()
    ines = world.ctx("Ines Varga")
    number = systems.listed(ines)[0].id
    systems.retire(ines, number, True)
    assert ranges.view(ines, idea).systems == []
    with pytest.raises(Refused):
        systems.retire(ines, number, True)
    with pytest.raises(Forbidden):
        systems.retire(world.ctx("Jonas Lindqvist"), number, False)


def test_what_is_in_service_keeps_its_start_and_its_going_live(world: World) -> None:
    _, idea, _ = world.live()
    ines = world.ctx("Ines Varga")
    promise = business_case.view(ines, idea).promise
    later = Ctx(world.db, world.now + timedelta(days=200), world.actors["Ines Varga"])
    view = business_case.view(later, idea)
    live = world.row("SELECT live_on FROM idea WHERE id = %(i)s", i=idea)["live_on"]
    assert (view.start, view.go_live) == (promise.start_on, live)
    fact_keeping.keep(
        world.ctx("Mei Tanaka"), idea, {"robot_exception_share": "0.2"}, {"robot_exception_share": 1}, ""
    )
    promises.promise_anew(later, idea, "more comes back", 1)
    anew = business_case.view(later, idea).promise
    assert (anew.start_on, anew.go_live_on) == (promise.start_on, live)


def test_who_joins_after_the_sizing_is_named_and_moves_nothing(world: World) -> None:
    idea = world.offered()
    sizing.settle(world.ctx("Ines Varga"), idea, True, "")
    before = ranges.view(world.ctx("Mei Tanaka"), idea)
    later = Ctx(world.db, world.now + timedelta(days=2), world.actors["Corin Dahl"])
    talk.join(later, idea, {"amount": "90", "rhythm": "week"}, "we as well")
    after = ranges.view(world.ctx("Mei Tanaka"), idea)
    assert after.results == before.results
    assert any("joined with a volume since it was sized" in one.words for one in after.ranges.asks)
