"""The ledger in its final shape: corrections, month ends, closing, and the proof."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from typing import Any

import pytest

from tallyman.core import proving
from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import runs, tally
from tallyman.services.cases import fact_keeping, promises
from tallyman.services.rates import rates
from tallyman.services.tally import posting
from tallyman.store.records.runs import RunsForPosting
from tests.world import World

MINUTE = timedelta(minutes=1)
APRIL = timedelta(days=30)


def live_run(world: World, rows: str = "10") -> tuple[int, int]:
    """A run in service that counted; gives its idea and its number."""
    host, idea, routine = world.live()
    run = world.start(routine, "live")
    world.finish(host, world.take(host), counts={"rows": rows})
    world.settle(3 * MINUTE)
    return idea, run


def entries(world: World, run: int, line: str = "time saved") -> list[tuple[int, str, str, Decimal]]:
    return [
        (row["correction"], row["kind"], row["month"], row["units"])
        for row in world.rows(
            "SELECT correction, kind, month, units FROM tally_entry WHERE run_id = %(r)s AND line = %(l)s ORDER BY correction",
            r=run,
            l=line,
        )
    ]


def correct(
    world: World, run: int, units: Any, back: Any = 0, why: str = "counted twice", **more: Any
) -> None:
    tally.correct_run(world.ctx("Ines Varga", more.pop("later", 5 * MINUTE)), run, units, back, why)


def test_a_correction_reverses_and_posts_anew(world: World) -> None:
    _, run = live_run(world)
    correct(world, run, "4")
    world.settle(6 * MINUTE)
    assert entries(world, run) == [
        (0, "run", "2026-03", Decimal(10)),
        (1, "reversal", "2026-03", Decimal(-10)),
        (2, "correction", "2026-03", Decimal(4)),
    ]
    assert len(entries(world, run, "robot time")) == 1
    row = world.row("SELECT SUM(units) AS units FROM tally_sum WHERE line = 'time saved'")
    assert row["units"] == Decimal(4)
    assert tally.verify(world.program(6 * MINUTE)) == []
    found = runs.one(world.ctx("Ines Varga"), run)
    assert (found.fix.units, found.fix.person) == (Decimal(4), "Ines Varga")


def test_a_correction_asked_twice_posts_once(world: World) -> None:
    _, run = live_run(world)
    correct(world, run, "4")
    correct(world, run, "4")
    world.settle(6 * MINUTE)
    assert world.db.transact(lambda tx: tally.post_run(tx, world.program(7 * MINUTE), run)) == 0
    assert len(entries(world, run)) == 3


def test_units_handed_back_are_corrected_too(world: World) -> None:
    _, run = live_run(world)
    correct(world, run, "10", "2")
    world.settle(6 * MINUTE)
    assert entries(world, run, "handed back") == [(0, "run", "2026-03", Decimal(-2))]
    correct(world, run, "10", "0")
    world.settle(7 * MINUTE)
    assert [row[1] for row in entries(world, run, "handed back")] == ["run", "reversal"]
    assert tally.verify(world.program(7 * MINUTE)) == []


def test_a_correction_of_a_closed_month_falls_in_the_open_one_and_names_its_own(world: World) -> None:
    idea, run = live_run(world)
    tally.close_month(world.ctx("Ruth Abernathy", APRIL), "2026-03")
    correct(world, run, "4", later=APRIL)
    world.settle(APRIL + MINUTE)
    assert [row[1:3] for row in entries(world, run)] == [
        ("run", "2026-03"),
        ("reversal", "2026-04"),
        ("correction", "2026-04"),
    ]
    april = tally.entries(world.ctx("Ines Varga", APRIL), idea, "2026-04", 0).rows
    assert {row.belongs_to for row in april} == {"2026-03"}
    assert {row.why for row in april} == {"counted twice"}
    assert tally.verify(world.program(APRIL)) == []


@pytest.mark.parametrize(
    ("units", "back", "why", "field"),
    [
        ("many", 0, "wrong", "units"),
        ("-1", 0, "wrong", "units"),
        ("1", "x", "wrong", "handed_back"),
        ("7", "9", "nine of seven", "handed_back"),
        ("1", 0, "", "why"),
    ],
)
def test_a_correction_that_cannot_be_is_named(
    world: World, units: str, back: Any, why: str, field: str
) -> None:
    with pytest.raises(InputFaults) as refused:
        tally.correct_run(world.ctx("Ines Varga"), 1, units, back, why)
    assert refused.value.faults[0].field == field


def test_only_counted_runs_are_corrected_and_only_by_those_who_may(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    world.finish(host, world.take(host))
    with pytest.raises(Refused, match="counts for no idea"):
        correct(world, run, "1")
    with pytest.raises(NotFound):
        correct(world, 999, "1")
    with pytest.raises(Forbidden, match=r"value\.change"):
        tally.correct_run(world.ctx("Ruth Abernathy"), run, "1", 0, "why not")


def test_a_month_end_posts_what_robot_hours_do_not_hold_once(world: World) -> None:
    idea, _ = live_run(world)
    later = world.program(APRIL)
    assert tally.month_ends(world.program(5 * MINUTE)) == 0
    assert tally.month_ends(later) > 0
    assert tally.month_ends(later) == 0
    rows = world.rows("SELECT line, money, idea_id FROM tally_entry WHERE kind = 'month end' ORDER BY line")
    one_time = Decimal(
        world.row("SELECT result_json AS r FROM promise")["r"].split('"one_time_cost": "')[1].split('"')[0]
    )
    by_line = {row["line"]: row for row in rows}
    assert by_line["build"]["money"] == -one_time
    # Live since 10 March: 22 days of the month lie in service.
    expected = -one_time * Decimal("0.1") * 22 / 365
    assert by_line["support"]["money"] == expected.quantize(Decimal("0.000001"))
    assert by_line["support"]["idea_id"] == idea
    # One seat of 5,200 a year for 31 days, less the share that one run of two minutes used.
    within = Decimal(18) * 250 * 31 / 365
    seat = Decimal(5200) * 31 / 365
    used = Decimal(4) / 60 / within
    assert by_line["unused seats"]["money"].quantize(Decimal("0.01")) == (-seat * (1 - used)).quantize(
        Decimal("0.01")
    )
    assert tally.verify(later) == []


def test_a_month_end_entry_shows_its_working(world: World) -> None:
    idea, _ = live_run(world)
    tally.month_ends(world.program(APRIL))
    rows = tally.entries(world.ctx("Ines Varga", APRIL), idea, "2026-03", 0).rows
    support = next(row for row in rows if row.line == "support")
    assert support.working.formula == "− support share × one-time cost × days in service ÷ 365"
    assert {one.name for one in support.working.inputs} >= {
        "Support share",
        "One-time cost",
        "Days in service",
    }
    lines = {row.line: row for row in tally.of_idea(world.ctx("Ines Varga", APRIL), idea).lines}
    assert set(lines) == {"saving", "robots", "support", "software", "running lines", "build"}
    assert lines["build"].delivered == lines["build"].promised
    assert lines["build"].difference == "0.00"


def test_the_value_page_sets_costs_against_what_was_saved(world: World) -> None:
    live_run(world)
    tally.month_ends(world.program(APRIL))
    seen = tally.overview(world.ctx("Ines Varga", APRIL))
    total = seen.total
    assert seen.rest is not None and Decimal(seen.rest.money) < 0
    assert Decimal(total.net) == Decimal(total.saved) + Decimal(total.costs) + Decimal(seen.rest.money)
    assert Decimal(total.costs) < Decimal(total.robot_time) < 0


def test_who_may_close_is_shown_the_month_and_what_is_open_in_it(world: World) -> None:
    live_run(world)
    ruth = world.ctx("Ruth Abernathy", APRIL)
    assert tally.overview(ruth).to_close == "2026-03"
    assert tally.overview(world.ctx("Ines Varga", APRIL)).to_close is None, "the lead may not"
    rates.propose(world.ctx("Mei Tanaka", APRIL), "seat_year", "6000", date(2026, 3, 20), "a new contract")
    look = tally.closing.look(ruth, "2026-03")
    assert look.entries > 0 and look.open == ["1 rate proposed from a day in it waits"]
    tally.close_month(ruth, "2026-03")
    march = next(row for row in tally.overview(ruth).months if row.month == "2026-03")
    assert (march.state, march.closed_by, march.open_then) == ("closed", "Ruth Abernathy", look.open)
    assert tally.overview(ruth).to_close is None
    with pytest.raises(Forbidden):
        tally.closing.look(world.ctx("Ines Varga", APRIL), "2026-03")


def test_closing_signs_the_sums_and_a_changed_ledger_is_found(world: World, databases: Any) -> None:
    live_run(world)
    tally.close_month(world.ctx("Ruth Abernathy", APRIL), "2026-03")
    signed = world.row("SELECT entries, money FROM tally_month WHERE month = '2026-03'")
    held = world.row("SELECT COUNT(*) AS n, SUM(money) AS money FROM tally_entry WHERE month = '2026-03'")
    assert (signed["entries"], signed["money"]) == (held["n"], held["money"])
    assert tally.verify(world.program(APRIL)) == []
    # Only the owner of the schema can change an entry; the proof finds it.
    databases.owner.transact(
        lambda tx: tx.execute("UPDATE tally_entry SET money = money + 1 WHERE line = 'support'")
    )
    wrong = tally.verify(world.program(APRIL))
    assert any("2026-03 is closed and holds not what was signed" in line for line in wrong)


def test_the_application_can_neither_change_nor_erase_entries(world: World) -> None:
    live_run(world)
    for sql in ("UPDATE tally_entry SET money = 0", "DELETE FROM tally_entry", "UPDATE audit SET who = 'x'"):
        with pytest.raises(Exception, match="denied"):
            world.db.transact(lambda tx, sql=sql: tx.execute(sql))


@pytest.mark.parametrize(
    ("sql", "words"),
    [
        ("UPDATE slot SET run_id = 999 WHERE kind = 'robot'", "which does not run"),
        ("UPDATE run SET state = 'running'", "runs with 0 of its 3 places"),
        ("UPDATE run SET ended_at = NULL WHERE state = 'done'", "its times do not fit"),
        ("UPDATE run_segment SET ended_at = NULL", "a segment of run"),
        ("UPDATE run SET state = 'running', lease_until = '2026-03-01'", "its lease ended at"),
        (
            "INSERT INTO trigger_start (trigger_id, nominal_at, at, what, run_id, noted_at) VALUES (1, '2026-03-01', '2026-03-01', 'started', 77, '2026-03-01')",
            "which is not its own",
        ),
        ("UPDATE tally_sum SET money = money + 1", "differs from its entries"),
        ("DELETE FROM tally_sum", "are in no sum"),
    ],
)
def test_the_proof_finds_what_is_wrong(world: World, databases: Any, sql: str, words: str) -> None:
    live_run(world)

    def spoil(tx: Any) -> None:
        tx.execute("SET FOREIGN_KEY_CHECKS = 0")
        tx.execute(sql)
        tx.execute("SET FOREIGN_KEY_CHECKS = 1")

    databases.owner.transact(spoil)
    assert any(words in line for line in tally.verify(world.program(5 * MINUTE)))


def test_robot_time_counts_segments_not_pauses() -> None:
    run = RunsForPosting(
        id=1,
        routine_id=1,
        state="done",
        attended="",
        outcome="worked",
        trial=False,
        counts={},
        started_at=datetime(2026, 3, 1, 9, tzinfo=UTC),
        ended_at=datetime(2026, 3, 1, 12, tzinfo=UTC),
        area_id=1,
        idea_id=None,
        basis=None,
        count_name=None,
        input=None,
        fixed_units=None,
        fixed_back=None,
        fixed_why=None,
        fixed_by=None,
        worked_micros=Decimal(600_000_000),
        segments=2,
    )
    assert posting.facts_of(run).robot_minutes == 10
    assert posting.facts_of(replace(run, segments=0, worked_micros=Decimal(0))).robot_minutes == 180


JUNE = timedelta(days=100)


def test_a_month_in_which_no_run_ended_is_posted_and_closed_like_any_other(world: World) -> None:
    live_run(world)
    june = world.program(JUNE)
    assert tally.month_ends(june) > 0
    assert tally.month_ends(june) == 0
    lines = world.rows("SELECT month, line FROM tally_entry WHERE kind = 'month end' ORDER BY month, line")
    by_month = {
        month: [row["line"] for row in lines if row["month"] == month]
        for month in ("2026-03", "2026-04", "2026-05", "2026-06")
    }
    assert by_month["2026-03"] == ["build", "support", "unused seats"]
    assert by_month["2026-04"] == by_month["2026-05"] == ["support", "unused seats"]
    assert by_month["2026-06"] == []
    for month in ("2026-04", "2026-05"):
        tally.close_month(world.ctx("Ruth Abernathy", JUNE), month)
    assert tally.verify(june) == []


def test_a_month_is_closed_although_no_engine_came_by_since_it_began(world: World) -> None:
    live_run(world)
    tally.close_month(world.ctx("Ruth Abernathy", JUNE), "2026-04")
    held = world.row("SELECT COUNT(*) AS n FROM tally_entry WHERE month = '2026-04'")
    assert world.row("SELECT entries FROM tally_month WHERE month = '2026-04'")["entries"] == held["n"] == 2


def test_a_month_before_anything_was_in_service_is_not_closed(world: World) -> None:
    live_run(world)
    with pytest.raises(Refused, match="nothing was in service yet"):
        tally.close_month(world.ctx("Ruth Abernathy", JUNE), "2026-02")


def test_months_before_a_promise_made_anew_stand_against_the_one_of_then(world: World) -> None:
    idea, _ = live_run(world)
    ines = world.ctx("Ines Varga", JUNE)
    before = {row.month: row.promised for row in tally.of_idea(ines, idea).months}
    fact_keeping.keep(
        world.ctx("Mei Tanaka"), idea, {"robot_exception_share": "0.3"}, {"robot_exception_share": 1}, ""
    )
    promises.promise_anew(ines, idea, "more comes back", 1)
    found = tally.of_idea(ines, idea)
    after = {row.month: row.promised for row in found.months}
    assert {month: after[month] for month in list(after)[:-1]} == {
        month: before[month] for month in list(before)[:-1]
    }
    assert after["2026-06"] != before["2026-06"]
    overview = tally.overview(ines)
    total = Decimal(found.total.promised)
    assert abs(sum(Decimal(value) for value in after.values()) - total) <= Decimal("0.05")
    assert overview.rows[0].promised == overview.total.promised == found.total.promised
    saving = next(row for row in found.lines if row.line == "saving")
    assert saving.promised == found.total.promised
    promises_made = saving.working.steps[1].steps
    assert len(promises_made) == 2, "each promise stands apart, with its days"
    assert proving.faults(saving.working) == []


def test_a_rate_approved_from_before_corrects_what_ended_since(world: World) -> None:
    idea, run = live_run(world)
    mei, ines = world.ctx("Mei Tanaka"), world.ctx("Ines Varga")
    amounts = (
        "SELECT money, why FROM tally_entry WHERE run_id = %(r)s AND line = 'time saved' ORDER BY correction"
    )
    before = world.row(amounts, r=run)["money"]
    number = rates.propose(mei, "hour_cost", "76", world.now.date() - timedelta(days=2), "a new agreement")
    shown = next(row for row in rates.listed(ines) if row.id == number)
    assert shown.touches == 1, "the trial run posts nothing"
    rates.settle(ines, number, True)
    world.settle(3 * MINUTE)
    assert [row[:2] for row in entries(world, run)] == [(0, "run"), (1, "reversal"), (2, "correction")]
    last = world.rows(amounts, r=run)[2]
    assert last["money"] == 2 * before
    assert last["why"].startswith("An hour costs 76") and "approved afterwards" in last["why"]
    assert Decimal(tally.of_idea(ines, idea).total.saved) == last["money"]
    assert tally.verify(world.program(APRIL)) == []


def test_a_rate_from_a_day_to_come_corrects_nothing(world: World) -> None:
    _, run = live_run(world)
    day = world.now.date() + timedelta(days=2)
    number = rates.propose(world.ctx("Mei Tanaka"), "hour_cost", "76", day, "a new agreement")
    assert next(row for row in rates.listed(world.ctx("Ines Varga")) if row.id == number).touches == 0
    rates.settle(world.ctx("Ines Varga"), number, True)
    world.settle(3 * MINUTE)
    assert [row[1] for row in entries(world, run)] == ["run"]
