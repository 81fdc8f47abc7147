from __future__ import annotations

import json
import threading
from dataclasses import replace
from datetime import timedelta
from decimal import Decimal

import pytest

from tallyman.errors import NotFound, Refused
from tallyman.services import robots, runs, tally
from tallyman.services.house import mails
from tallyman.services.robots import HostByToken, host_tokens
from tallyman.services.runs import dispatch, reports
from tallyman.services.runs.answers import HeartbeatAnswer, WorkGiven
from tallyman.services.today import desk
from tallyman.services.upkeep import hitches
from tests.conftest import NOW
from tests.world import World

MINUTE = timedelta(minutes=1)


def state(world: World, run: int) -> str:
    return str(world.row("SELECT state FROM run WHERE id = %(r)s", r=run)["state"])


def waits_for(world: World, run: int, later: timedelta = timedelta()) -> str:
    return str(runs.one(world.ctx("Sol Marin", later), run).waits_for)


def beat(world: World, host: HostByToken, later: timedelta, *held: WorkGiven) -> HeartbeatAnswer:
    ctx = world.program(later)
    return dispatch.heartbeat(ctx, host, dispatch.Beat(ctx.now, [(one.run, one.fence) for one in held]))


def test_a_double_click_starts_once(world: World) -> None:
    world.machine()
    routine = world.routine()
    assert world.start(routine, "same") == world.start(routine, "same")
    assert world.start(routine, "other") != world.start(routine, "same")


def test_a_run_goes_from_waiting_to_done(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    assert state(world, run) == "waiting"
    work = world.take(host)
    assert (work.run, work.fence, work.robot) == (run, 1, "Dipper 1")
    assert state(world, run) == "running"
    assert world.finish(host, work, outputs={"rows": 3}, counts={"rows": "3"}) == "done"
    found = runs.one(world.ctx("Sol Marin"), run)
    assert (found.state, found.outcome, found.outputs) == ("done", "worked", {"rows": 3})
    assert world.rows("SELECT * FROM slot WHERE run_id IS NOT NULL") == []


def test_a_waiting_run_always_says_why(world: World) -> None:
    host = world.machine()
    routine = world.routine(run_limit=2)
    first, second = world.start(routine, "1"), world.start(routine, "2")
    assert "nothing is lacking" in waits_for(world, second)
    world.take(host)
    assert "Dipper 1 works on" in waits_for(world, second)
    assert "heard from" in waits_for(world, second, timedelta(seconds=40))
    assert state(world, first) == "running"


def test_runs_start_by_priority_and_age(world: World) -> None:
    host = world.machine()
    low = world.routine("Low", priority=5)
    high = world.routine("High", release=world.release("1.0.1"), priority=1)
    world.start(low, "old", -timedelta(hours=1))
    world.start(high, "new")
    world.start(low, "older still", -timedelta(hours=3))
    order = []
    for _ in range(3):
        work = world.take(host)
        order.append(world.row("SELECT routine_id FROM run WHERE id = %(r)s", r=work.run)["routine_id"])
        world.finish(host, work)
    assert order == [low, high, low]


def test_a_run_goes_to_one_runner_only(world: World) -> None:
    host = world.machine(seats=8, robots_=8)
    routine = world.routine(run_limit=5)
    made = {world.start(routine, str(n)) for n in range(6)}
    gate = threading.Barrier(8)
    taken: list[WorkGiven] = []

    def ask() -> None:
        gate.wait()
        work = dispatch.take(world.program(), host)
        if work is not None:
            taken.append(work)

    threads = [threading.Thread(target=ask) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    while (work := dispatch.take(world.program(), host)) is not None:
        taken.append(work)
    assert len({one.run for one in taken}) == len(taken) == 5
    assert {one.run for one in taken} < made
    assert len({one.robot for one in taken}) == 5
    assert tally.verify(world.program()) == []


def test_the_routines_limit_and_the_hosts_seats_hold(world: World) -> None:
    host = world.machine(seats=1, robots_=2)
    routine = world.routine(run_limit=2)
    second = [world.start(routine, str(n)) for n in range(2)][1]
    world.take(host)
    assert dispatch.take(world.program(), host) is None
    assert "seat" in waits_for(world, second)


def test_a_repeated_report_changes_nothing(world: World) -> None:
    host = world.machine()
    world.start(world.routine())
    work = world.take(host)
    line = {"at": NOW.isoformat(), "level": "info", "text": "once"}
    step = {"n": 1, "name": "Count", "started_at": NOW, "ended_at": NOW, "data_out": {"rows": 3}}
    for _ in range(2):
        assert reports.report(world.program(), host, work.run, 1, 1, [line], [step])
    found = runs.log(world.ctx("Sol Marin"), work.run, 0)
    assert (found.total, found.lines[0].text) == (1, "once")
    steps = runs.one(world.ctx("Sol Marin"), work.run).steps
    assert [(one.name, one.data_out) for one in steps] == [("Count", {"rows": 3})]


def test_a_repeated_outcome_changes_nothing(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    world.finish(host, work)
    world.finish(host, work, "failed")
    assert state(world, run) == "done"


def test_outputs_that_do_not_fit_the_declaration_fail_the_run(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    world.finish(host, world.take(host), outputs={"rows": "three"})
    found = runs.one(world.ctx("Sol Marin"), run)
    assert found.state == "failed"
    assert "rows “three”: is to be a whole number" in found.reason


def test_cancelling_before_the_start_ends_it_at_once(world: World) -> None:
    world.machine()
    run = world.start(world.routine())
    assert runs.cancel(world.ctx("Sol Marin"), run) == "cancelled"
    with pytest.raises(Refused, match="already"):
        runs.cancel(world.ctx("Sol Marin"), run)


def test_cancelling_a_running_run_asks_the_runner(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    runs.cancel(world.ctx("Sol Marin"), run)
    assert beat(world, host, MINUTE, work).cancel == [run]
    world.finish(host, work, "cancelled")
    assert state(world, run) == "cancelled"


def test_done_stands_when_it_finishes_before_the_cancel(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    runs.cancel(world.ctx("Sol Marin"), run)
    world.finish(host, work)
    found = runs.one(world.ctx("Sol Marin"), run)
    assert found.state == "done"
    assert "before the cancel" in found.reason


def test_heartbeats_renew_the_lease_and_silence_loses_the_run(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    beat(world, host, 10 * MINUTE, work)
    assert runs.lose_silent(world.program(24 * MINUTE)) == 0
    assert runs.lose_silent(world.program(26 * MINUTE)) == 1
    found = runs.one(world.ctx("Sol Marin"), run)
    assert found.state == "lost"
    assert "did not renew the lease" in found.reason
    assert beat(world, host, 27 * MINUTE, work).stop == [run]
    assert tally.verify(world.program()) == []


def test_a_late_outcome_counts_while_no_later_attempt_exists(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    runs.lose_silent(world.program(16 * MINUTE))
    assert world.finish(host, work, later=20 * MINUTE) == "done"
    assert "came late" in runs.one(world.ctx("Sol Marin"), run).reason


def test_a_later_attempt_fences_the_earlier_one_off(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine(again_after_lost=True))
    work = world.take(host)
    runs.lose_silent(world.program(16 * MINUTE))
    again = world.row("SELECT id, started_words FROM run WHERE again_of = %(r)s", r=run)
    assert world.finish(host, work, later=20 * MINUTE) == "lost"
    assert state(world, run) == "lost"
    assert state(world, again["id"]) == "waiting"


def test_another_hosts_run_is_not_ones_own(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    made = robots.add_host(world.ctx("Sol Marin"), "Sluice", 1)
    token = host_tokens.connect(world.program(), made.code, 1, "x", {})["token"]
    other = host_tokens.host_of(world.program(), token)
    with pytest.raises(NotFound):
        world.finish(other, work)
    assert state(world, run) == "running"


@pytest.mark.parametrize("counts", [{"rows": "many"}, {"rows": "-1"}, {"rows": "1e12"}])
def test_counts_that_are_no_counts_end_the_run_as_failed_and_say_so(
    world: World, counts: dict[str, str]
) -> None:
    host = world.machine()
    run = world.start(world.routine())
    assert world.finish(host, world.take(host), counts=counts | {"good": "3"}) == "failed"
    row = world.row("SELECT reason, counts_json FROM run WHERE id = %(r)s", r=run)
    assert "the count 'rows' is" in row["reason"]
    assert json.loads(row["counts_json"]) == {"good": "3"}


def test_a_waiting_run_lapses_with_what_it_waited_for(world: World) -> None:
    world.machine(robots_=0)
    run = world.start(world.routine())
    world.db.transact(lambda tx: tx.execute("UPDATE run SET lapses_at = '2026-03-10 09:05'"))
    assert runs.lapse(world.program(6 * MINUTE)) == 1
    assert "no robot may work there" in runs.one(world.ctx("Sol Marin"), run).reason
    assert state(world, run) == "lapsed"


def entries(world: World, run: int) -> dict[str, Decimal]:
    rows = world.rows("SELECT line, money FROM tally_entry WHERE run_id = %(r)s", r=run)
    return {row["line"]: row["money"] for row in rows}


def live_run(world: World, counts: dict[str, str], end: str = "done") -> tuple[int, int]:
    host, idea, routine = world.live()
    run = world.start(routine, "live")
    world.finish(host, world.take(host), end, counts=counts)
    world.settle(timedelta(minutes=5))
    return run, idea


def test_a_finished_run_posts_benefit_and_cost_at_the_rates_in_force(world: World) -> None:
    run, idea = live_run(world, {"rows": "10", "handed_back": "1"})
    # 10 × 12 min at 38 an hour; 1 × 9 min back; 2 min of a robot at 6 an hour
    assert entries(world, run) == {
        "time saved": Decimal("76.000000"),
        "handed back": Decimal("-5.700000"),
        "robot time": Decimal("-0.200000"),
    }
    month = tally.of_idea(world.ctx("Ines Varga"), idea).months[-1]
    assert (month.saved, month.entries, month.units) == ("70.30", 3, "10")


def test_posting_twice_posts_once(world: World) -> None:
    run, _ = live_run(world, {"rows": "10"})
    assert world.db.transact(lambda tx: tally.post_run(tx, world.program(), run)) == 0
    assert tally.verify(world.program()) == []


def test_a_failed_run_posts_what_it_counted(world: World) -> None:
    run, _ = live_run(world, {"rows": "5"}, "failed")
    assert entries(world, run)["time saved"] == Decimal("38.000000")


def test_a_missing_count_is_cautioned(world: World) -> None:
    run, _ = live_run(world, {})
    assert "did not report the count" in runs.one(world.ctx("Ines Varga"), run).caution


def test_trial_runs_post_nothing(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    world.finish(host, world.take(host), counts={"rows": "10"})
    world.settle()
    assert entries(world, run) == {}


def test_a_lost_run_costs_its_time_and_its_late_benefit_is_added(world: World) -> None:
    host, _, routine = world.live()
    run = world.start(routine, "live")
    work = world.take(host)
    runs.lose_silent(world.program(16 * MINUTE))
    world.settle(17 * MINUTE)
    # A quarter of an hour at 6 an hour: what came after the lease was nobody's to pay.
    assert entries(world, run)["robot time"] == Decimal("-1.500000")
    world.finish(host, work, counts={"rows": "10"}, later=20 * MINUTE)
    world.settle(21 * MINUTE)
    assert entries(world, run)["robot time"] == Decimal("-1.500000")
    assert entries(world, run)["time saved"] > 0
    assert tally.verify(world.program()) == []


def test_late_runs_of_a_closed_month_fall_in_the_open_one(world: World) -> None:
    host, _, routine = world.live()
    run = world.start(routine, "live")
    world.finish(host, world.take(host), counts={"rows": "10"})
    world.db.transact(lambda tx: tx.write("tally.open_month", month="2026-03"))
    april = timedelta(days=30)
    tally.close_month(world.ctx("Ruth Abernathy", april), "2026-03")
    world.settle(april)
    rows = world.rows("SELECT DISTINCT month, belongs_to FROM tally_entry WHERE run_id = %(r)s", r=run)
    assert rows == [{"month": "2026-04", "belongs_to": "2026-03"}]


def test_a_month_is_closed_once_and_not_before_it_is_over(world: World) -> None:
    live_run(world, {"rows": "1"})
    with pytest.raises(Refused, match="not over"):
        tally.close_month(world.ctx("Ruth Abernathy"), "2026-03")
    later = world.ctx("Ruth Abernathy", timedelta(days=30))
    tally.close_month(later, "2026-03")
    with pytest.raises(Refused, match="closed already"):
        tally.close_month(later, "2026-03")


def test_the_rate_of_the_finish_day_counts_not_todays(world: World) -> None:
    host, _, routine = world.live()
    run = world.start(routine, "live")
    world.finish(host, world.take(host), counts={"rows": "10"})
    world.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO rate (kind, value, since, state, source, made_by, made_at) "
            "VALUES ('hour_cost', 100, '2026-03-11', 'approved', 'x', 1, '2026-03-11')"
        )
    )
    world.settle(timedelta(days=2))
    assert entries(world, run)["time saved"] == Decimal("76.000000")


def test_sums_of_the_overview_are_those_of_its_ideas(world: World) -> None:
    live_run(world, {"rows": "10"})
    found = tally.overview(world.ctx("Ruth Abernathy"))
    assert found.total.saved == found.rows[0].saved == "76.00"
    assert found.working["saved"].parts[0].value == "76.00"
    assert found.months[-1].saved == "76.00"


def test_every_entry_shows_its_run_rates_and_working(world: World) -> None:
    run, idea = live_run(world, {"rows": "10"})
    row = tally.entries(world.ctx("Ines Varga"), idea, "2026-03", 0).rows[0]
    used = {one.name: one for one in row.working.inputs}
    assert used["Units"].source == f"run R-{run}"
    assert used["Minutes by hand"].value == "12.00"
    assert used["An hour costs"].value == "38.00"


def test_verify_finds_a_sum_that_is_wrong(world: World) -> None:
    live_run(world, {"rows": "10"})
    world.db.transact(
        lambda tx: tx.execute("UPDATE tally_sum SET money = money + 1 WHERE line = 'time saved'")
    )
    assert any("differs from its entries" in line for line in tally.verify(world.program()))


def test_an_effect_that_fails_is_put_off_and_later_ones_of_its_object_wait(world: World) -> None:
    live_run(world, {"rows": "10"})
    world.db.transact(lambda tx: tx.execute("UPDATE rate SET state = 'refused' WHERE kind = 'hour_cost'"))
    host = host_tokens.host_of(world.program(), world.token)
    run = world.start(world.row("SELECT id FROM routine")["id"], "next")
    world.finish(host, world.take(host), counts={"rows": "1"})
    world.settle(5 * MINUTE)
    row = world.row("SELECT row_key, fault, tries, due_at FROM hitch WHERE work = 'effects'")
    assert "No rate for an hour" in row["fault"]
    assert (row["row_key"], row["tries"]) == (f"run:{run}", 1)
    assert row["due_at"] == NOW + 5 * MINUTE + hitches.pause(1)
    world.db.transact(lambda tx: tx.execute("UPDATE rate SET state = 'approved' WHERE kind = 'hour_cost'"))
    world.settle(6 * MINUTE)
    assert entries(world, run)["time saved"] == Decimal("7.600000")


def test_mails_that_fail_are_tried_again_later(world: World) -> None:
    world.noted()
    world.settle()

    def refuse(*_: str) -> str:
        raise OSError("mailbox full")

    assert mails.send_mails(world.program(), refuse) == 0
    assert mails.send_mails(world.program(), lambda *_: "taken") == 0
    sent: list[str] = []
    later = replace(world.program(), now=NOW + MINUTE)
    assert mails.send_mails(later, lambda to, *_: sent.append(to) or "taken") == len(sent) > 0
    assert "tom.okafor@merrowdale.example" in sent


def test_today_shows_each_person_what_waits_for_them(world: World) -> None:
    world.noted("Wayleave renewals")
    world.offered("Tanker log to ledger")

    def waits(name: str) -> list[str]:
        return [one.kind for one in desk.view(world.ctx(name)).waits]

    assert waits("Tom Okafor") == ["review"]
    assert waits("Ines Varga") == ["review", "agree"]
    assert waits("Mei Tanaka") == []
    assert waits("Corin Dahl") == ["confirm", "confirm"]
    assert waits("Jonas Lindqvist") == []


def test_today_shows_what_went_wrong_and_what_comes(world: World) -> None:
    host = world.machine()
    run = world.start(world.routine())
    world.finish(host, world.take(host), "failed")
    found = desk.view(world.ctx("Sol Marin", timedelta(minutes=10)))
    assert {one.title for one in found.wrong} == {"Host Weir", f"R-{run} Count rows"}
    assert desk.view(world.ctx("Ada Pell", timedelta(minutes=10))).wrong == []


def test_the_answer_to_an_outcome_is_the_state_that_is_kept(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    host = world.machine()
    run = world.start(world.routine())
    work = world.take(host)
    stale = world.db.transact(lambda tx: reports.mine(tx, host, run, work.fence))
    assert world.finish(host, work) == "done"
    # As a second web process sees it, which looked before the first one kept it.
    monkeypatch.setattr(reports, "mine", lambda *_: stale)
    said = reports.Outcome("failed", reason="the answer to the first was lost")
    assert reports.outcome(world.program(2 * MINUTE), host, run, work.fence, said) == "done"
