"""The operator's pages: starts on the clock, pausing and continuing, health, corrections, hosts."""

from __future__ import annotations

import hashlib
from datetime import timedelta

import pytest
from selenium.webdriver.common.by import By

from tallyman.config import read_clock
from tallyman.services import runs, tally
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.runs import dispatch, reports, uploads
from tallyman.services.runs.answers import WorkGiven
from tallyman.services.starts import triggers
from tallyman.services.workshop import packages
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import MANIFEST, World, package

STATE = b'{"next": 1}'


@pytest.fixture(scope="module")
def live(people: World) -> World:
    people.host, people.idea, people.number = people.live()
    people.run = people.start(people.number, "live")
    work = people.take(people.host)
    people.finish(people.host, work, later=timedelta(), counts={"rows": "10"})
    people.settle()
    return people


def now(live: World) -> Ctx:
    return Ctx(live.db, read_clock(), PROGRAM)


def take(live: World, run: int) -> WorkGiven:
    """Takes runs, ending others at once, until the one that is meant comes."""

    def one() -> WorkGiven | None:
        dispatch.heartbeat(now(live), live.host, dispatch.Beat(read_clock(), []))
        work = dispatch.take(now(live), live.host)
        if work is not None and work.run != run:
            end(live, work)
            return None
        return work

    found: WorkGiven = wait_for(one)
    return found


def end(live: World, work: WorkGiven) -> None:
    reports.outcome(now(live), live.host, work.run, work.fence, reports.Outcome("done", True, "", {}, {}))


def add_start(page: Page, live: World, kind: str) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    page.click("Add a start on the clock")
    page.tick(kind)


def test_a_start_is_made_by_weekday_with_a_window_and_read_back(page: Page, live: World) -> None:
    add_start(page, live, "by weekday")
    page.see("Monday to Friday at 07:30 (Europe/Lisbon)")
    page.choose("On closed days", "start on the next open day")
    page.see("from a closed day moved to the next open one")
    page.choose("Missed while the engine was away", "leave out")
    page.type("Lapses when not begun after, minutes", "90")
    page.click("Start it so")
    page.see("missed starts are left out; lapses when not begun within 90 min")
    row = live.row("SELECT missed, latest_minutes, on_closed FROM start_trigger ORDER BY id DESC LIMIT 1")
    assert (row["missed"], row["latest_minutes"], row["on_closed"]) == ("skip", 90, "next")


def test_a_pasted_code_is_read_and_kept_in_our_own_form(page: Page, live: World) -> None:
    add_start(page, live, "by a code")
    page.type("Minute, hour, day of month, month, day of week", "30 15 6 ? * 2-6")
    page.see("starts happen on the full minute; give 0")
    page.type("Minute, hour, day of month, month, day of week", "0 15 6 ? * 2-6")
    page.see("Monday to Friday at 06:15 (Europe/Lisbon)")
    page.see("Kept as 15 6 * * 1-5")
    page.click("Cancel")


def test_an_interval_and_a_single_start_show_their_sentence(page: Page, live: World) -> None:
    add_start(page, live, "every so often")
    page.see("Every 30 minutes by elapsed time")
    page.choose("Unit", "hours")
    page.see("Every 30 hours by elapsed time")
    page.tick("once")
    page.see("Once, on ")


def test_a_start_tells_what_became_of_it_and_can_be_changed(page: Page, live: World) -> None:
    sol = live.ctx("Sol Marin")
    number = triggers.add(sol, live.number, triggers.Given({"expr": "* * * * *"}, "UTC", missed="once"))
    before = read_clock() - timedelta(minutes=5)
    live.db.transact(
        lambda tx: tx.execute(
            "UPDATE start_trigger SET next_at = %(n)s, handled_to = %(n)s WHERE id = %(i)s",
            {"n": before, "i": number},
        )
    )
    wait_for(lambda: live.rows("SELECT id FROM trigger_start WHERE trigger_id = %(i)s", i=number))
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    page.see("Every minute (UTC)")
    page.press('//tr[contains(., "Every minute (UTC)")]//button[contains(., "What became of it")]')
    page.see("merged")
    page.see("stands for")
    page.press('//tr[contains(., "Every minute (UTC)")]//button[normalize-space(.)="Change"]')
    page.type("Minute, hour, day of month, month, day of week", "15 4 * * *")
    page.see("Every day at 04:15 (UTC)")
    page.click("Keep the change")
    page.see("15 4 * * *")
    page.press('//tr[contains(., "04:15 (UTC)")]//button[normalize-space(.)="End it"]')
    page.click("End it", "//*[@role='dialog']")
    gone = '//main//tr[contains(., "04:15 (UTC)")]'
    page.until(lambda one: not one.find_elements(By.XPATH, gone))


def test_a_run_is_paused_and_continued_on_its_page(page: Page, live: World) -> None:
    manifest = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\ncheckpoints = true')
    data = package("3.0.0", manifest=manifest)
    release = packages.release(live.ctx("Jonas Lindqvist"), data, packages.Given("First"))
    routine = live.routine("Pausable letters", release)
    run = runs.start(Ctx(live.db, read_clock(), live.actors["Sol Marin"]), routine, "pausable")
    work = take(live, run)
    page.sign_in("Sol Marin", f"/runs/{run}")
    page.click("Pause it")
    page.see("Sol Marin asked to pause it; the package saves its state at its next checkpoint and stops.")
    digest = hashlib.sha256(STATE).hexdigest()
    uploads.begin(now(live), live.host, digest, len(STATE))
    uploads.put(now(live), live.host, digest, 0, STATE)
    reports.outcome(now(live), live.host, run, work.fence, reports.Outcome("held", True, "", {}, {}, digest))
    page.see("Its robot is free; continued, any eligible robot goes on from the saved state.")
    page.see("Segment 1: Dipper 1 on Weir")
    page.click("Continue it")
    page.see("It goes on from the state saved after segment 1.")
    second = take(live, run)
    assert second.saved == digest
    page.see("Segment 2: Dipper 1 on Weir")
    end(live, second)
    page.until(lambda _: page.unseen("Pause it"))


def test_a_late_outcome_and_an_unusual_count_are_decided_on_the_runs_page(page: Page, live: World) -> None:
    """A lost run's runner comes back after more than half an hour, with a count that nobody would expect."""
    run = runs.start(Ctx(live.db, read_clock(), live.actors["Sol Marin"]), live.number, "late")
    work = take(live, run)
    gone = "UPDATE run SET lease_until = %(at)s WHERE id = %(r)s"
    long_ago = read_clock() - timedelta(minutes=40)
    live.db.transact(lambda tx: tx.execute(gone, {"at": long_ago, "r": run}))
    # In force on the day before, too: shortly after midnight that is when it was lost.
    earlier = "UPDATE rate SET since = DATE_SUB(since, INTERVAL 3 DAY)"
    live.db.transact(lambda tx: tx.execute(earlier))
    page.sign_in("Sol Marin", f"/runs/{run}")
    page.see("did not renew the lease")
    since = "UPDATE run SET ended_at = %(at)s WHERE id = %(r)s"
    live.db.transact(lambda tx: tx.execute(since, {"at": long_ago, "r": run}))
    said = reports.Outcome("done", True, "", {"rows": 3}, {"rows": "900000000"})
    assert reports.outcome(now(live), live.host, run, work.fence, said) == "lost"
    page.go("/")
    page.see("was lost, and its outcome came late; say whether it counts")
    page.go(f"/runs/{run}")
    page.see("with 900,000,000 rows")
    page.click("It counts")
    page.see("Its count is far from the usual")
    page.see("Nothing of it is posted until somebody says that it is right")
    page.click("It is right, post it")
    page.until(lambda _: page.unseen("It is right, post it"))
    page.see("as somebody said it is right")


def test_a_run_that_cannot_be_paused_says_why(page: Page, live: World) -> None:
    run = runs.start(Ctx(live.db, read_clock(), live.actors["Sol Marin"]), live.number, "plain")
    work = take(live, run)
    page.sign_in("Sol Marin", f"/runs/{work.run}")
    page.see("It cannot be paused: count-rows 1.0.0 has no checkpoints.")
    end(live, work)


def test_a_count_is_corrected_on_the_run_page_and_stays_traceable(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/runs/{live.run}")
    page.click("Correct the count")
    page.type("Units it counts", "lots")
    page.type("Why", "the list held two weeks")
    page.click("Correct it")
    page.see("not a number")
    page.type("Units it counts", "6")
    page.click("Correct it")
    page.see("Sol Marin corrected the count to 6 units")
    page.see("reversal: the list held two weeks")
    page.see("correction: the list held two weeks")
    assert tally.verify(now(live)) == []


def test_the_health_page_shows_what_is_stuck_and_mends_it(page: Page, live: World) -> None:
    live.db.transact(
        lambda tx: tx.write(
            "common.effect", kind="tell", object="idea:1", payload={"text": "x"}, now=read_clock()
        )
    )
    page.sign_in("Sol Marin", "/health")
    page.see("Effects are carried out")
    page.see("telling people")
    page.see("KeyError")
    page.click("Set aside")
    page.type_in("Why it is set aside", "nobody was meant to be told")
    page.click("Set it aside for good")
    page.see("Set aside by somebody")
    page.see("nobody was meant to be told")


def test_a_host_is_given_hours_and_a_robot_an_account(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.press('//tr[contains(., "Weir")]//button[normalize-space(.)="Hours"]')
    page.tick("only within hours; runs that are on go on to their end")
    page.click("Keep it")
    page.see("works 08:00 to 18:00 (Europe/Lisbon)")
    page.press('//tr[contains(., "Dipper 1")]//button[normalize-space(.)="Change"]')
    page.type("Run-as account", "not an account")
    page.click("Keep the changes")
    page.see("letters, digits, . _ and -")
    page.type("Run-as account", "meterbot")
    page.click("Keep the changes")
    page.see("its runner has not looked at the account meterbot yet")


def test_a_wheel_is_kept_and_named_by_its_hash(page: Page, live: World, tmp_path: object) -> None:
    from pathlib import Path

    made = Path(str(tmp_path)) / "valvemath-1.2.0-py3-none-any.whl"
    made.write_bytes(b"PK\x03\x04 a wheel")
    page.sign_in("Jonas Lindqvist", "/workshop?tab=packages")
    page.attach("Wheel", made)
    page.see(f"--hash=sha256:{hashlib.sha256(made.read_bytes()).hexdigest()}")
    assert live.row("SELECT name FROM wheel")["name"] == "valvemath-1.2.0-py3-none-any.whl"
