"""Starts on the clock: each nominal time once, with a history of what became of it."""

from __future__ import annotations

import threading
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from icalendar import Calendar

from tallyman.errors import Conflict, InputFaults, NotFound
from tallyman.services import runs
from tallyman.services.runs import dispatch
from tallyman.services.starts import clock, kinds, triggers
from tallyman.services.starts.triggers import Given
from tallyman.store.records.starts import TriggersDue
from tests.conftest import NOW
from tests.world import NUMBERS, World

HOUR = timedelta(hours=1)


@pytest.fixture
def clocked(world: World) -> World:
    world.host = world.machine()
    world.number = world.routine()
    return world


def trigger(world: World, form: dict[str, Any], **more: Any) -> int:
    return triggers.add(world.ctx("Sol Marin"), world.number, Given(form, more.pop("zone", "UTC"), **more))


def fire(world: World, later: timedelta) -> int:
    return kinds.start_due(world.program(later))


def history(world: World, number: int) -> list[tuple[str, str, str]]:
    found = triggers.history(world.ctx("Sol Marin"), world.number, number, None)
    return [(f"{row.nominal_at:%d %H:%M}", row.what, row.why) for row in reversed(found.rows)]


def test_each_nominal_time_starts_once_and_is_noted_with_its_run(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"})
    assert fire(clocked, HOUR) == 1
    assert fire(clocked, HOUR) == 0
    assert fire(clocked, 2 * HOUR) == 1
    assert history(clocked, number) == [("10 10:00", "started", ""), ("10 11:00", "started", "")]
    found = triggers.history(clocked.ctx("Sol Marin"), clocked.number, number, None).rows
    assert [row.run_state for row in found] == ["waiting", "waiting"]


def test_missed_starts_are_made_up_for_by_one(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"}, missed="once")
    assert fire(clocked, 3 * HOUR + timedelta(minutes=20)) == 1
    told = history(clocked, number)
    assert [row[1] for row in told] == ["merged", "merged", "started"]
    assert "the start of 2026-03-10 12:00 UTC stands for it" in told[0][2]
    assert told[2][2] == "stands for 2 earlier starts missed while the engine was away"


def test_the_start_in_time_stands_for_the_missed_ones(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"}, missed="once")
    assert fire(clocked, 3 * HOUR + timedelta(seconds=10)) == 1
    assert [row[1] for row in history(clocked, number)] == ["merged", "merged", "started"]


def test_each_missed_start_is_made_up_for(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"}, missed="all")
    assert fire(clocked, 3 * HOUR + timedelta(minutes=20)) == 3
    assert {row[2] for row in history(clocked, number)} == {"late, as the engine was away"}


def test_missed_starts_are_left_out(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"}, missed="skip")
    assert fire(clocked, 3 * HOUR + timedelta(seconds=30)) == 1
    assert [row[1] for row in history(clocked, number)] == ["missed", "missed", "started"]


def test_starts_beyond_the_age_are_missed_for_good(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"}, missed="all", missed_hours=2)
    assert fire(clocked, 5 * HOUR + timedelta(minutes=5)) == 2
    told = history(clocked, number)
    assert [row[1] for row in told] == ["missed", "missed", "missed", "started", "started"]
    assert "older than 2 h" in told[0][2]


def test_a_trigger_far_behind_catches_up_in_several_turns(
    clocked: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(clock, "MOST_AT_ONCE", 10)
    number = trigger(clocked, {"expr": "* * * * *"}, missed="all")
    made = 0
    for _ in range(4):
        made += fire(clocked, timedelta(minutes=35))
    assert made == 35
    assert len(history(clocked, number)) == 35


def test_closed_days_and_windows_are_noted_as_skipped(clocked: World) -> None:
    number = trigger(
        clocked,
        {"expr": "0 9,21 * * *"},
        on_closed="skip",
        window={"from": "08:00", "to": "18:00"},
        missed="all",
        missed_hours=500,
    )
    fire(clocked, timedelta(days=6, hours=1))
    told = history(clocked, number)
    assert ("14 09:00", "skipped", "2026-03-14 is a closed day") in told
    assert ("13 21:00", "skipped", "outside the window 08:00 to 18:00") in told
    assert [row[0] for row in told if row[1] == "started"] == ["11 09:00", "12 09:00", "13 09:00", "16 09:00"]


def test_a_moved_start_names_the_day_it_was_meant_for(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 9 14,16 * *"}, on_closed="next")
    assert fire(clocked, timedelta(days=6, seconds=5)) == 1
    told = history(clocked, number)
    assert told[0] == ("14 09:00", "started", "moved from 2026-03-14 09:00 UTC, a closed day")
    assert told[1] == ("16 09:00", "merged", "falls together with another")


def test_what_was_started_stays_started_whatever_the_trigger_is_changed_to(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"})
    assert fire(clocked, 2 * HOUR) >= 1
    later = clocked.ctx("Sol Marin", 2 * HOUR)
    triggers.change(later, clocked.number, number, Given({"expr": "*/30 * * * *"}, "UTC", missed="all"), 1)
    # The clock is set back: what comes again was settled before.
    assert fire(clocked, 2 * HOUR) == 0
    assert fire(clocked, 2 * HOUR + timedelta(minutes=31)) == 1
    assert history(clocked, number)[-1][0] == "10 11:30"


def test_a_nominal_time_started_by_an_engine_that_noted_nothing_is_not_started_again(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"})
    fire(clocked, HOUR)
    clocked.db.transact(lambda tx: tx.execute("DELETE FROM trigger_start"))
    clocked.db.transact(
        lambda tx: tx.execute(
            "UPDATE start_trigger SET next_at = %(n)s, handled_to = NULL", {"n": NOW + HOUR}
        )
    )
    assert fire(clocked, HOUR) == 0
    assert len(clocked.rows("SELECT id FROM run WHERE trigger_id = %(t)s", t=number)) == 1


def test_two_people_changing_one_start_are_told(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 * * * *"})
    sol = clocked.ctx("Sol Marin")
    triggers.change(sol, clocked.number, number, Given({"expr": "5 * * * *"}, "UTC"), 1)
    with pytest.raises(Conflict) as refused:
        triggers.change(sol, clocked.number, number, Given({"expr": "9 * * * *"}, "UTC"), 1)
    assert "5 minutes past every hour" in refused.value.more["theirs"]["sentence"]
    assert "9 minutes past every hour" in refused.value.more["yours"]["sentence"]


def test_a_run_waits_for_its_window_and_lapses_at_its_latest_start(clocked: World) -> None:
    trigger(
        clocked,
        {"expr": "0 10 * * *"},
        window={"from": "09:30", "to": "10:30"},
        latest_minutes=120,
        missed="all",
    )
    fire(clocked, 2 * HOUR)
    run = clocked.row("SELECT id FROM run")["id"]
    later = clocked.program(2 * HOUR)
    dispatch.heartbeat(later, clocked.host, dispatch.Beat(later.now, []))
    assert dispatch.take(later, clocked.host) is None
    found = runs.one(clocked.ctx("Sol Marin", 2 * HOUR), run)
    assert found.waits_for == "Within its window: 09:30 to 10:30 (UTC)"
    much_later = clocked.program(3 * HOUR + timedelta(minutes=1))
    dispatch.heartbeat(much_later, clocked.host, dispatch.Beat(much_later.now, []))
    assert runs.lapse(much_later) == 1
    found = runs.one(clocked.ctx("Sol Marin"), run)
    assert found.state == "lapsed"
    assert "it waited for: Within its window" in found.reason


def test_forms_beside_codes_are_kept_as_they_are(clocked: World) -> None:
    trigger(clocked, {"every_minutes": 90, "anchor": "2026-03-10T09:10:00Z"})
    trigger(clocked, {"once": "2026-03-10T12:15"}, zone="Europe/Lisbon")
    trigger(clocked, {"expr": "0 30 7 ? * 2-6 2026-2027"})
    rows = clocked.db.transact(lambda tx: triggers.rows_of(tx, clocked.ctx("Sol Marin"), clocked.number))
    assert [row.form for row in rows] == [
        {"every_minutes": 90, "anchor": "2026-03-10T09:10:00Z"},
        {"once": "2026-03-10T12:15"},
        {"expr": "30 7 * * 1-5", "years": "2026-2027"},
    ]
    assert fire(clocked, timedelta(minutes=11)) == 1
    assert fire(clocked, timedelta(hours=3, minutes=16)) == 2
    rows = clocked.db.transact(lambda tx: triggers.rows_of(tx, clocked.program(4 * HOUR), clocked.number))
    assert rows[1].times == []


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"missed": "twice"}, "missed"),
        ({"missed_hours": -1}, "missed_hours"),
        ({"latest_minutes": 0}, "latest_minutes"),
        ({"on_closed": "wait"}, "on_closed"),
        ({"form": {"once": "2020-01-01T00:00"}}, "once"),
        ({"window": {"from": "9", "to": "10:00"}}, "window.from"),
    ],
)
def test_what_cannot_be_is_refused_by_its_field(clocked: World, more: dict[str, Any], field: str) -> None:
    given = {"form": {"expr": "0 9 * * *"}, "zone": "UTC", **more}
    with pytest.raises(InputFaults) as refused:
        triggers.preview(clocked.ctx("Sol Marin"), Given(**given))
    assert refused.value.faults[0].field == field


def test_the_coming_starts_leave_as_a_calendar_file(clocked: World) -> None:
    trigger(clocked, {"expr": "30 8 * * 1-5"}, zone="Europe/Lisbon")
    found = Calendar.from_ical(triggers.as_calendar(clocked.ctx("Sol Marin"), clocked.number))
    event = found.walk("VEVENT")[0]
    assert event["summary"] == "Count rows"
    assert event["description"] == "Monday to Friday at 08:30 (Europe/Lisbon)"
    assert event.decoded("dtstart") == datetime(2026, 3, 11, 8, 30, tzinfo=UTC)
    times = [one.dt for one in event["rdate"].dts]
    # After the change of the clock the same wall time is another instant.
    assert datetime(2026, 3, 30, 7, 30, tzinfo=UTC) in times
    assert len(times) == 499


def test_a_history_comes_in_pages(clocked: World, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(triggers, "HISTORY_A_PAGE", 3)
    number = trigger(clocked, {"expr": "* * * * *"}, missed="all")
    fire(clocked, timedelta(minutes=5))
    sol = clocked.ctx("Sol Marin")
    first = triggers.history(sol, clocked.number, number, None)
    second = triggers.history(sol, clocked.number, number, first.next)
    assert (len(first.rows), len(second.rows), second.next) == (3, 2, None)
    with pytest.raises(NotFound):
        triggers.history(sol, clocked.number + 1, number, None)


def test_ten_thousand_triggers_are_kept_and_only_the_due_ones_looked_at(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 12 * * *"})
    clocked.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO start_trigger (routine_id, expression, form_json, zone, next_at, next_nominal, handled_to, made_by, made_at) "
            "SELECT routine_id, expression, form_json, zone, %(at)s + INTERVAL seq MINUTE, %(at)s + INTERVAL seq MINUTE, handled_to, "
            "made_by, made_at FROM start_trigger JOIN " + NUMBERS + " s WHERE id = %(t)s",
            {"t": number, "at": NOW + timedelta(days=1)},
        )
    )
    assert len(clocked.db.transact(lambda tx: tx.all(TriggersDue, "triggers.due", now=NOW + 4 * HOUR))) == 1
    assert fire(clocked, 4 * HOUR) == 1


def test_a_trigger_that_cannot_be_read_does_not_hold_up_the_others(clocked: World) -> None:
    bad = trigger(clocked, {"expr": "0 * * * *"})
    trigger(clocked, {"expr": "0 * * * *"})
    clocked.db.transact(
        lambda tx: tx.execute("UPDATE start_trigger SET zone = 'Nowhere/Else' WHERE id = %(i)s", {"i": bad})
    )
    fire(clocked, HOUR)
    assert len(clocked.rows("SELECT id FROM run")) == 1
    hitch = clocked.row("SELECT work, row_key, fault FROM hitch")
    assert (hitch["work"], hitch["row_key"]) == ("triggers", str(bad))
    assert "Nowhere/Else" in hitch["fault"]


def test_more_triggers_than_a_page_are_started_in_one_turn(clocked: World) -> None:
    number = trigger(clocked, {"expr": "0 10 * * *"})
    clocked.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO start_trigger (routine_id, expression, form_json, zone, next_at, next_nominal, handled_to, made_by, made_at) "
            "SELECT routine_id, expression, form_json, zone, next_at, next_nominal, handled_to, made_by, made_at "
            "FROM start_trigger JOIN " + NUMBERS + " s WHERE id = %(t)s AND s.seq <= 450",
            {"t": number},
        )
    )
    assert fire(clocked, HOUR) == 451
    assert fire(clocked, HOUR) == 0


def test_two_engines_at_once_start_each_nominal_time_once(clocked: World) -> None:
    for _ in range(20):
        trigger(clocked, {"expr": "*/5 * * * *"}, missed="all")
    together = threading.Barrier(3)

    def engine() -> None:
        together.wait()
        for minutes in (20, 25, 40):
            fire(clocked, timedelta(minutes=minutes))

    threads = [threading.Thread(target=engine) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    fire(clocked, timedelta(minutes=40))
    rows = clocked.rows("SELECT trigger_id, COUNT(*) AS n FROM run GROUP BY trigger_id")
    assert {row["n"] for row in rows} == {8}
    assert len(rows) == 20
