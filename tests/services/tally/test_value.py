"""What pages read: lists, pages of runs and logs, portfolio, workings, choices, histories."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import people, robots, runs, tally
from tallyman.services.cases import business_case, fact_keeping, ranges
from tallyman.services.house import areas
from tallyman.services.ideas import drafts, moves, owners, page, review
from tallyman.services.portfolio import ranking
from tallyman.services.rates import rates
from tallyman.services.robots import host_tokens
from tallyman.services.runs import reports
from tallyman.services.runs.answers import RunPage
from tallyman.services.starts import routine_page, triggers
from tallyman.services.today import desk
from tallyman.services.workshop import routines
from tallyman.store.records.runs import RunsReports
from tests.conftest import NOW
from tests.world import NUMBERS, World

ROLES = {
    "Ada Pell": {"idea.make"},
    "Ruth Abernathy": {"idea.make", "idea.see", "value.see", "value.decide", "rate.see"},
}


def runs_of(world: World, name: str = "Sol Marin", **more: Any) -> RunPage:
    given = {"state": None, "routine": None, "robot": None, "after": None, "limit": 50, **more}
    return runs.page_of_runs(world.ctx(name), **given)


@pytest.fixture
def busy(world: World) -> World:
    """Three runs of two routines: done, failed, waiting."""
    host = world.machine()
    first = world.routine("First")
    second = world.routine("Second", release=world.release("1.0.1"))
    world.start(first, "1")
    world.finish(host, world.take(host))
    world.start(second, "2")
    world.finish(host, world.take(host), "failed")
    world.start(first, "3")
    world.number, world.second = first, second
    return world


@pytest.mark.parametrize(
    ("state", "states"),
    [
        (None, ["waiting", "failed", "done"]),
        ("open", ["waiting"]),
        ("ended badly", ["failed"]),
        ("done", ["done"]),
        ("lost", []),
    ],
)
def test_runs_are_listed_by_state(busy: World, state: str | None, states: list[str]) -> None:
    assert [row.state for row in runs_of(busy, state=state).rows] == states


def test_runs_are_listed_by_routine(busy: World) -> None:
    assert {row.routine for row in runs_of(busy, routine=busy.second).rows} == {"Second"}


def test_runs_come_in_pages(busy: World) -> None:
    first = runs_of(busy, limit=2)
    second = runs_of(busy, limit=2, after=first.next)
    assert [len(first.rows), len(second.rows), second.next] == [2, 1, None]


def test_open_runs_are_counted_by_state(busy: World) -> None:
    assert runs_of(busy).open == {"waiting": 1}


def test_a_running_run_shows_its_step_in_the_list(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    work = busy.take(host)
    step = {"n": 3, "name": "Write the letters", "started_at": NOW}
    reports.report(busy.program(), host, work.run, work.fence, 1, [], [step])
    assert runs_of(busy, state="running").rows[0].reason == "step 3: Write the letters"


def test_a_usual_length_is_known_from_the_third_run_on(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    last = busy.row("SELECT MAX(id) AS id FROM run")["id"]
    assert runs.one(busy.ctx("Sol Marin"), last).usual_seconds is None
    busy.finish(host, busy.take(host))
    for n in range(2):
        busy.start(busy.number, f"more {n}")
        busy.finish(host, busy.take(host))
    assert runs.one(busy.ctx("Sol Marin"), last).usual_seconds == 120


def test_log_lines_are_read_on_from_a_number(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    work = busy.take(host)
    for seq in (1, 2, 3):
        lines = [{"at": NOW.isoformat(), "level": "info", "text": f"{seq}.{n}"} for n in range(3)]
        reports.report(busy.program(), host, work.run, work.fence, seq, lines, [])
    found = runs.log(busy.ctx("Sol Marin"), work.run, 4)
    assert [line.text for line in found.lines] == ["2.1", "2.2", "3.0", "3.1", "3.2"]
    assert found.total == 9


def test_the_end_of_a_log_of_thousands_of_batches_is_read_without_the_rest(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    work = busy.take(host)
    line = {"at": NOW.isoformat(), "level": "info", "text": "one"}
    reports.report(busy.program(), host, work.run, work.fence, 1, [line], [])
    busy.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO run_report (run_id, fence, seq, at, lines_total, lines_packed) SELECT run_id, fence, s.seq + 1, at, "
            f"lines_total, lines_packed FROM run_report JOIN {NUMBERS} s WHERE s.seq <= 3000"
        )
    )
    last = {**line, "level": "error", "text": "it broke"}
    reports.report(busy.program(), host, work.run, work.fence, 9000, [last], [])
    found = runs.log(busy.ctx("Sol Marin"), work.run, 2999)
    assert [(one.n, one.text) for one in found.lines] == [
        (3000, "one"),
        (3001, "one"),
        (3002, "it broke"),
    ]
    assert found.total == 3002
    unpacked = busy.db.transact(
        lambda tx: tx.all(RunsReports, "runs.reports", run=work.run, after=2999, upto=3999)
    )
    assert len(unpacked) == 3


def test_too_many_lines_at_once_are_refused(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    work = busy.take(host)
    lines = [{"at": "", "level": "info", "text": "x"}] * (reports.MOST_LINES + 1)
    with pytest.raises(InputFaults, match="at most 1000"):
        reports.report(busy.program(), host, work.run, work.fence, 1, lines, [])


def test_reports_of_a_lost_run_are_kept_for_reading(busy: World) -> None:
    host = host_tokens.host_of(busy.program(), busy.token)
    work = busy.take(host)
    runs.lose_silent(busy.program(timedelta(minutes=16)))
    line = {"at": NOW.isoformat(), "level": "info", "text": "late"}
    assert not reports.report(busy.program(), host, work.run, work.fence, 1, [line], [])
    assert runs.log(busy.ctx("Sol Marin"), work.run, 0).total == 1


def test_routines_show_last_run_and_next_start(busy: World) -> None:
    triggers.add(busy.ctx("Sol Marin"), busy.number, triggers.Given({"expr": "0 10 * * *"}, "UTC", "run"))
    rows = {row.name: row for row in routines.listed(busy.ctx("Sol Marin"))}
    assert (rows["First"].last_state, rows["Second"].last_state) == ("waiting", "failed")
    assert rows["First"].next_at == NOW.replace(hour=10)
    assert rows["Second"].next_at is None
    coming = desk.view(busy.ctx("Sol Marin")).coming
    assert [row.routine for row in coming] == ["First"]


def test_a_routine_shows_its_triggers_as_sentences(busy: World) -> None:
    triggers.add(
        busy.ctx("Sol Marin"), busy.number, triggers.Given({"expr": "30 7 L * *"}, "UTC", "previous")
    )
    shown = routine_page.one(busy.ctx("Sol Marin"), busy.number).triggers[0]
    assert shown.sentence.startswith("On the last day of the month, at 07:30, from a closed day")
    assert len(shown.times) == 5


def test_histories_name_who_did_what(busy: World) -> None:
    found = people.history(busy.ctx("Sol Marin"), "routine", busy.number)
    assert [(one.who, one.words) for one in found] == [("Sol Marin", "Set up First")]


def runs_list(ctx: Any) -> Any:
    return runs.page_of_runs(ctx, state=None, routine=None, robot=None, after=None, limit=5)


@pytest.mark.parametrize(
    "read",
    [
        runs_list,
        robots.view,
        routines.listed,
        tally.overview,
        ranking.view,
        rates.listed,
    ],
)
def test_desks_are_closed_to_those_without_the_permission(world: World, read: Any) -> None:
    with pytest.raises(Forbidden):
        read(world.ctx("Ada Pell"))


@pytest.mark.parametrize(
    ("read", "words"),
    [
        (lambda ctx: runs.one(ctx, 99), "no run R-99"),
        (lambda ctx: routine_page.one(ctx, 99), "no such routine"),
        (lambda ctx: robots.new_code(ctx, 99), "no such host"),
        (lambda ctx: robots.set_seats(ctx, 99, 1), "no such host"),
        (lambda ctx: robots.change_robot(ctx, 99, robots.Given("Otter", 1, [], []), 1), "no such robot"),
        (lambda ctx: runs.cancel(ctx, 99), "no run R-99"),
        (lambda ctx: triggers.retire(ctx, 1, 99), "no such routine"),
    ],
)
def test_what_is_not_there_is_said(world: World, read: Any, words: str) -> None:
    with pytest.raises(NotFound, match=words):
        read(world.ctx("Sol Marin"))


@pytest.mark.parametrize(("seats", "fine"), [(-1, False), (0, True), (50, True), (51, False)])
def test_seats_have_bounds(world: World, seats: int, fine: bool) -> None:
    if fine:
        assert robots.add_host(world.ctx("Sol Marin"), "Sluice", seats).code
        return
    with pytest.raises(InputFaults, match="0 to 50"):
        robots.add_host(world.ctx("Sol Marin"), "Sluice", seats)


@pytest.mark.parametrize("name", ["", "   ", "x" * 81, "a\nb", "<b>"])
def test_names_have_bounds(world: World, name: str) -> None:
    with pytest.raises(InputFaults, match="1 to 80 characters"):
        areas.add_area(world.ctx("Sol Marin"), name, None)


def test_similar_ideas_show_title_and_stage_to_those_who_may_see_them(world: World) -> None:
    number = world.noted("Hydrant letters")
    found = review.similar(world.ctx("Ada Pell"), "Letters for hydrants", "", 0)
    assert [(one.id, one.title, one.stage) for one in found] == [(number, "Hydrant letters", "noted")]


def test_of_an_idea_that_may_not_be_seen_only_the_words_typed_are_told(world: World) -> None:
    world.noted("Hydrant letters to the quillwort office")
    found = review.similar(world.stranger("Jaro Senn"), "Letters for hydrants", "", 0)
    assert [(one.title, one.stage, one.may_join) for one in found] == [(None, None, True)]
    assert "quillwort" not in str(found)


def test_evidence_taken_off_widens_the_range_again(world: World) -> None:
    idea = world.noted()
    ada = world.ctx("Ada Pell")
    file = drafts.attach(ada, idea, "steps.md", "how-to", b"1. open")
    narrow = world.row("SELECT hours_low FROM idea")["hours_low"]
    assert drafts.download(ada, idea, file) == ("steps.md", b"1. open")
    drafts.detach(ada, idea, file)
    assert world.row("SELECT hours_low FROM idea")["hours_low"] < narrow
    with pytest.raises(NotFound):
        drafts.download(ada, idea, file)


def test_only_the_named_owner_confirms(world: World) -> None:
    idea = world.noted()
    with pytest.raises(Forbidden, match="Corin Dahl"):
        owners.confirm(world.ctx("Tom Okafor"), idea)


def test_a_draft_is_given_up_by_its_proposer(world: World) -> None:
    idea = world.draft()
    moves.withdraw(world.ctx("Ada Pell"), idea, "")
    assert page.one(world.ctx("Ada Pell"), idea).stage == "withdrawn"


def test_answers_of_a_backed_idea_are_settled(world: World) -> None:
    idea = world.backed()
    with pytest.raises(Refused, match="settled by now"):
        drafts.answer(world.ctx("Ada Pell"), idea, "minutes", "20", None)
    mei = world.ctx("Mei Tanaka")
    before = business_case.view(mei, idea)
    fact_keeping.keep(mei, idea, {"steps": "90"}, {"steps": 1}, "")
    after = business_case.view(mei, idea)
    # What is changed from here on moves what is now expected, never the promise or the stage.
    assert after.promise == before.promise
    assert after.figures.one_time_cost != before.figures.one_time_cost
    assert page.one(mei, idea).stage == "backed"


def test_a_fact_taken_back_lets_the_answer_count_again(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    fact_keeping.keep(mei, idea, {"handling_minutes": "14"}, {}, "stop watch")
    shown = {row.field: row for row in ranges.view(mei, idea).fields}["handling_minutes"]
    assert (shown.value, shown.source, shown.own) == ("14", "stop watch, Mei Tanaka", True)
    fact_keeping.keep(mei, idea, {"handling_minutes": ""}, {"handling_minutes": 1}, "")
    shown = {row.field: row for row in ranges.view(mei, idea).fields}["handling_minutes"]
    assert (shown.value, shown.source, shown.own) == ("11", "interview, Ada Pell", False)


def test_a_case_uses_the_house_rate_until_it_has_its_own(world: World) -> None:
    idea = world.screened()
    mei = world.ctx("Mei Tanaka")
    fields = {row.field: row for row in business_case.view(mei, idea).fields}
    assert (fields["cost_per_hour"].value, fields["cost_per_hour"].source) == (
        "38",
        "cost table, Mei Tanaka",
    )
    fact_keeping.keep(mei, idea, {"cost_per_hour": "45"}, {}, "")
    fields = {row.field: row for row in business_case.view(mei, idea).fields}
    assert (fields["cost_per_hour"].value, fields["cost_per_hour"].own) == ("45", True)


def test_a_plan_leaves_closed_days_out(world: World) -> None:
    idea = world.offered()
    mei = world.ctx("Mei Tanaka")
    before = business_case.view(mei, idea).plan
    day = before.phases[0].start
    world.db.transact(lambda tx: tx.write("common.add_closed_day", day=day, name="Founders' day"))
    after = business_case.view(mei, idea).plan
    assert after.phases[0].start > day
    assert after.end > before.end


@pytest.mark.parametrize(
    ("given", "field"),
    [
        ({"phases": [{"name": ""}]}, "phases[0].name"),
        ({"phases": [{"name": "Build", "days": "2.5"}]}, "phases[0].days"),
        ({"running_lines": [{"name": "Support", "amount": "x"}]}, "running_lines[0].amount"),
        ({"systems": [{"name": "X", "access": "fax"}]}, "systems[0].access"),
        ({"plan_start": "soon"}, "plan_start"),
        ({"plan_start": "1999-01-01"}, "plan_start"),
        ({"variants": "0"}, "variants"),
        ({"steps": "2.5"}, "steps"),
        ({"discount_rate": "-1"}, "discount_rate"),
        ({"robot_hours_per_day": "25"}, "robot_hours_per_day"),
        ({"robot_days_per_year": "0"}, "robot_days_per_year"),
        ({"colour": "red"}, "colour"),
        ({"arrives": [{"kind": "screen", "part": "-1"}]}, "arrives.screen"),
    ],
)
def test_facts_out_of_bounds_are_named(world: World, given: dict[str, Any], field: str) -> None:
    idea = world.screened()
    with pytest.raises(InputFaults) as refused:
        fact_keeping.keep(world.ctx("Mei Tanaka"), idea, given, {}, "")
    assert [one.field for one in refused.value.faults] == [field]


@pytest.mark.parametrize(
    ("kind", "value", "source", "idea", "field"),
    [
        ("colour", "1", "x", 0, "kind"),
        ("hour_cost", "-1", "x", 0, "value"),
        ("hour_cost", "x", "x", 0, "value"),
        ("hour_cost", "40", " ", 0, "source"),
        ("hour_cost", "40", "x", 7, "idea"),
        ("minutes_by_hand", "40", "x", 0, "idea"),
    ],
)
def test_rates_out_of_bounds_are_named(
    world: World, kind: str, value: str, source: str, idea: int, field: str
) -> None:
    with pytest.raises(InputFaults) as refused:
        rates.propose(world.ctx("Ines Varga"), kind, value, NOW.date(), source, rates.Wanted(idea))
    assert [one.field for one in refused.value.faults] == [field]


def test_a_refused_rate_is_never_in_force(world: World) -> None:
    rate = rates.propose(world.ctx("Mei Tanaka"), "hour_cost", "90", NOW.date(), "a guess")
    rates.settle(world.ctx("Ines Varga"), rate, False)
    found = world.db.transact(lambda tx: rates.in_force(tx, "hour_cost", NOW.date()))
    assert found is not None
    assert found.value == 38
    with pytest.raises(Refused, match="refused already"):
        rates.settle(world.ctx("Ines Varga"), rate, True)


def test_a_rate_to_come_counts_from_its_day(world: World) -> None:
    day = NOW.date() + timedelta(days=10)
    rate = rates.propose(world.ctx("Mei Tanaka"), "hour_cost", "42", day, "finance")
    rates.settle(world.ctx("Ines Varga"), rate, True)

    def value(on: Any) -> Any:
        found = world.db.transact(lambda tx: rates.in_force(tx, "hour_cost", on))
        return None if found is None else found.value

    assert (value(day - timedelta(days=1)), value(day)) == (38, 42)


@pytest.mark.parametrize("name", sorted(ROLES))
def test_me_lists_what_one_may_do(world: World, name: str) -> None:
    assert set(people.me(world.ctx(name)).permissions) == ROLES[name]
