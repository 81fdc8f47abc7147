"""The desks of operator, analyst, lead and proposer: what each does there, and what a page shows of it."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tallyman.config import read_clock
from tallyman.demo import history
from tallyman.services import runs
from tallyman.services.cases import fact_keeping
from tallyman.services.context import Ctx
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch, reports
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasFacts
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import World, package


@pytest.fixture(scope="module")
def live(people: World) -> World:
    """An idea in service with one tallied run, one being built, and a host that is silent by now."""
    people.host, people.idea, people.number = people.live()
    run = people.start(people.number, "live")
    counts = {"rows": "10", "handed_back": "1"}
    work = people.take(people.host)
    people.finish(people.host, work, later=timedelta(), counts=counts)
    people.settle()
    people.run = run
    people.second = people.building("Tanker log to ledger")
    return people


def rows(page: Page, heading: str) -> list[str]:
    path = f'//h2[normalize-space(.)="{heading}"]/following::table[1]/tbody/tr'
    return [one.text for one in page.driver.find_elements(By.XPATH, path)]


def test_the_lead_sees_what_waits_and_goes_there(page: Page, live: World) -> None:
    idea = live.offered("Wayleave renewals by post")
    page.sign_in("Ines Varga")
    page.see("thing waits for you")
    assert rows(page, "What waits for me") == [
        f"Agree I-{idea} Wayleave renewals by post\nsized, waits for your agreement\n" + due(live, idea)
    ]
    page.click(f"I-{idea} Wayleave renewals by post")
    page.see("Agree to the sizing")


def due(live: World, idea: int) -> str:
    day = live.row("SELECT due_on FROM idea WHERE id = %(i)s", i=idea)["due_on"]
    return f"{day.day} {day:%b}"


def test_a_sizing_is_sent_back_with_a_reason(page: Page, live: World) -> None:
    idea = live.offered("Bore-hole level returns")
    page.sign_in("Ines Varga", f"/ideas/{idea}?sheet=sizing")
    page.click("Send back")
    page.click("Send it back")
    page.see("say what should be looked at again")
    page.type("What should be looked at again?", "Twelve steps seem few")
    page.click("Send it back")
    page.see("Sent back: Twelve steps seem few")
    page.sign_in("Mei Tanaka")
    page.see("its sizing was sent back")


def test_phases_of_a_plan_are_changed_and_dates_follow(page: Page, live: World) -> None:
    idea = live.screened("Store orders below the limit")
    fact_keeping.keep(Ctx(live.db, read_clock(), live.actors["Mei Tanaka"]), idea, World.FACTS, {}, "")
    page.sign_in("Mei Tanaka", f"/ideas/{idea}?sheet=plan")
    page.see("Now expected from")
    before = page.words("//main//p[contains(., 'Now expected')]")
    page.leave("Working days of Build", "40")
    page.until(lambda _: page.words("//main//p[contains(., 'Now expected')]") != before)
    page.leave("Working days of Build", "2.5")
    page.see("give a whole number")
    page.leave("Working days of Build", "30")
    page.click("Follow the build effort again")
    page.until(lambda _: page.words("//main//p[contains(., 'Now expected')]") == before)


def test_a_missing_fact_leads_to_its_field(page: Page, live: World) -> None:
    idea = live.screened("Moving-house final bills")
    page.sign_in("Mei Tanaka", f"/ideas/{idea}?sheet=case")
    page.click("Steps")
    page.until(lambda one: one.current_url.endswith("sheet=sizing&field=steps"))
    page.until(
        lambda one: (
            one.switch_to.active_element.get_attribute("id") == page.field("Steps").get_attribute("id")
        )
    )


def test_value_leads_from_the_sum_down_to_the_entry_and_its_run(page: Page, live: World) -> None:
    page.sign_in("Ruth Abernathy", "/value")
    page.see("Delivered to date")
    page.press('//*[contains(., "Delivered to date")]/following-sibling::button')
    page.see("sum of what the ideas delivered")
    page.click(f"I-{live.idea} Leak allowance claims")
    page.see("Counted by")
    page.press('//tr[contains(., "entries")]//button[@aria-expanded]')
    page.see("handed back")
    assert "month=" in page.driver.current_url
    page.driver.refresh()
    page.see("handed back")


def test_a_rate_is_proposed_and_approved_by_somebody_else(page: Page, live: World) -> None:
    page.sign_in("Mei Tanaka", "/value/rates")
    page.choose("Rate", "An hour costs")
    page.type("Value", "forty")
    page.type("Where it comes from", "finance, new table")
    page.click("Propose it")
    page.see("forty is not a number such as 1,234.5")
    page.type("Value", "41.50")
    page.click("Propose it")
    page.see("Waiting for approval")
    page.see("€ 41.50 an hour")
    page.sign_in("Ines Varga", "/value/rates")
    page.click("Approve")
    page.until(lambda _: page.unseen("Waiting for approval"))
    assert any("in force" in row and "41.50" in row for row in rows(page, "Cost tables"))


def test_a_silent_host_shows_and_says_what_it_means(page: Page, live: World) -> None:
    live.db.transact(lambda tx: tx.execute("UPDATE host SET heard_at = heard_at - INTERVAL 40 SECOND"))
    page.sign_in("Sol Marin", "/robots")
    page.see("Weir silent")
    page.see("lacking: Its host Weir is connected (")
    page.go("/")
    page.see("no robot on it gets work until its runner is heard again")
    page.go(f"/workshop/routines/{live.number}")
    page.see("Pre-check: 1 not met")
    page.click("Start the runner on the host")
    page.until(lambda one: one.current_url.endswith(f"/robots/hosts/{live.host.id}"))


def test_seats_are_given_and_taken(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.click_label("Seats of Weir")
    page.see("That is as many as it has.")
    page.type("Seats", "2")
    page.see("1 seat now, 2 then: up to 2 runs at once")
    page.see("a seat a year")
    page.click("Keep the seats")
    page.see("0 of 2")
    page.click_label("Seats of Weir")
    page.type("Seats", "1")
    page.see("2 seats now, 1 then")
    page.click("Keep the seats")
    page.see("0 of 1")


def test_a_name_that_is_taken_is_refused_at_its_field(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.click("Add a host")
    page.type("Name of the host", "Weir")
    page.click("Add it and show the code")
    page.see("a host of this name exists already")
    assert page.field("Name of the host").get_attribute("value") == "Weir"


def test_robots_without_an_area_are_said_to_get_no_work(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.click("Add a robot")
    page.type("Name of the robot", "Grebe")
    page.type("Tags, what it can do", "Bad Tag!")
    page.click("Add it")
    page.see("small letters, digits")
    page.type("Tags, what it can do", "print")
    page.click("Add it")
    page.see("nowhere, so it gets no work")
    page.click("Change", '//tr[contains(., "Grebe")]')
    page.press('//label[contains(@class,"area")][contains(., "Metering")]')
    page.click("Keep the changes")
    page.until(lambda _: page.unseen("nowhere, so it gets no work"))


def test_a_wrong_package_is_refused_with_every_reason(page: Page, live: World, tmp_path: Path) -> None:
    page.sign_in("Jonas Lindqvist", "/workshop?tab=packages")
    wrong = tmp_path / "wrong.zip"
    manifest = 'name = "Wrong"\nversion = "x"\nentry = "none.py"\n'
    wrong.write_bytes(package(manifest=manifest))
    page.attach("Package", wrong)
    for words in (
        "small letters, digits and -",
        "three numbers, such as 1.0.0",
        "name a .py file of the package",
    ):
        page.see(words)


def test_a_routine_is_changed_and_a_crossing_change_is_shown(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    page.click("Change the set-up")
    page.type("Time limit, minutes", "0")
    page.click("Keep the changes")
    page.see("allowed: 1 to 10080")
    page.type("Time limit, minutes", "20")
    live.db.transact(lambda tx: tx.execute("UPDATE routine SET version = version + 1"))
    page.click("Keep the changes")
    page.see("Somebody changed this routine meanwhile")
    page.click("Keep mine")
    page.see("time limit 20 min")


def test_a_run_is_watched_live(page: Page, live: World) -> None:
    run = runs.start(Ctx(live.db, read_clock(), live.actors["Sol Marin"]), live.number, "watched")
    page.sign_in("Sol Marin", f"/runs/{run}")
    page.see("It waits:")
    live.db.transact(lambda tx: tx.execute("UPDATE host SET heard_at = %(now)s", {"now": read_clock()}))
    host = host_tokens.host_of(live.program(), live.token)
    work = wait_for(lambda: dispatch.take(Ctx(live.db, read_clock()), host))
    page.see("Log")
    now = read_clock()
    line = {"at": now.isoformat(), "level": "caution", "text": "meter 17 has no reading"}
    step = {"n": 1, "name": "Read the list", "started_at": now, "data_in": {"file": "week.csv"}}
    reports.report(Ctx(live.db, now), host, run, work.fence, 1, [line], [step])
    page.see("meter 17 has no reading")
    page.see("1 Read the list")
    page.click("Cancel the run")
    page.click("Yes, cancel it")
    page.see("Sol Marin asked to cancel it")
    reports.outcome(
        Ctx(live.db, read_clock()),
        host,
        run,
        work.fence,
        reports.Outcome("cancelled", True, "cancelled while it ran", {}, {}),
    )
    page.see("cancelled while it ran")


def test_runs_are_filtered_by_the_address_and_back_works(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/runs")
    page.choose("State", "ended badly")
    page.see("No run is ended badly.")
    assert (
        page.driver.current_url.endswith("/runs?state=ended+badly")
        or "state=ended" in page.driver.current_url
    )
    page.click("Show all")
    page.see(f"R-{live.run}")
    page.click("Count rows")
    page.until(lambda one: "/runs/" in one.current_url)
    page.driver.back()
    page.see("running, ")


def test_ideas_are_found_by_words_and_stage(page: Page, live: World) -> None:
    page.sign_in("Ines Varga", "/ideas")
    page.see("Leak allowance claims")
    page.type("Words anywhere, also in files; or I-104", "tanker")
    page.until(lambda _: page.unseen("Leak allowance claims"))
    page.see("Tanker log to ledger")
    assert "text=tanker" in page.driver.current_url
    page.type("Words anywhere, also in files; or I-104", "nothing like it")
    page.see("No idea fits this.")
    page.click("Show all")
    page.see("Leak allowance claims")


def test_the_margin_is_put_away_and_stays_so(page: Page, live: World) -> None:
    page.sign_in("Ines Varga", f"/ideas/{live.idea}")
    page.see("Who has a part")
    page.click("Put away ›")
    page.until(lambda _: page.unseen("Who has a part"))
    page.driver.refresh()
    page.see("‹ Notes")
    assert page.unseen("Who has a part")
    page.click("‹ Notes")
    page.see("Who has a part")


def test_help_waits_behind_a_question_mark_and_a_figure_opens_the_margin(page: Page, live: World) -> None:
    page.sign_in("Ines Varga", "/value")
    page.see("Delivered to date")
    assert page.unseen("How to read it")
    page.click_label("Help on this page")
    page.see("How to read it")
    page.click("Put away ›")
    page.until(lambda _: page.unseen("How to read it"))
    page.press('//main//button[contains(., "€")]')
    page.see("Working")


def test_the_dark_theme_is_kept(page: Page, live: World) -> None:
    page.sign_in("Ines Varga", "/ideas")
    page.click("Dark")
    page.driver.refresh()
    page.see("Light")
    theme = page.driver.execute_script("return document.documentElement.dataset.theme")
    page.click("Light")
    assert theme == "dark"


def test_messages_are_read_once(page: Page, live: World) -> None:
    live.settle()
    page.sign_in("Ada Pell")
    page.click("Mark as read")
    page.see("0 messages")


def test_the_interview_fits_a_phone(page: Page, live: World) -> None:
    page.sign_in("Ada Pell", "/ideas/new")
    page.see("What is the work called?")
    page.driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": 390, "height": 800, "deviceScaleFactor": 1, "mobile": True},
    )
    page.driver.refresh()
    page.see("What is the work called?")
    wide = page.driver.execute_script("return document.documentElement.scrollWidth")
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    assert wide <= 390


def test_the_sheet_is_reached_by_keyboard_before_all_else(page: Page, live: World) -> None:
    page.sign_in("Ines Varga", "/ideas")
    page.see("Everything handed in")
    page.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.TAB)
    assert page.driver.switch_to.active_element.text == "Skip to the sheet"


def test_ten_thousand_runs_are_paged(page: Page, live: World) -> None:
    def work(tx: Tx) -> None:
        row = tx.execute("SELECT * FROM run WHERE id = %(r)s", {"r": live.run}).fetchone()
        assert row is not None
        one = history.trial_row(row["routine_id"], row["release_id"], row["started_at"])
        tx.many("demo.add_run", [{**one, "words": "bulk"}] * 10_000)

    live.db.transact(work)
    page.sign_in("Sol Marin", "/runs")
    page.see("bulk")
    shown = "main table.ledger > tbody > tr"
    assert len(page.driver.find_elements(By.CSS_SELECTOR, shown)) == 40
    page.click("Show more")
    page.until(lambda one: len(one.find_elements(By.CSS_SELECTOR, shown)) == 80)


def test_nothing_was_complained_about(page: Page, live: World) -> None:
    assert page.faults() == []


def test_a_sizing_shows_its_range_and_the_year_is_drawn(page: Page, live: World) -> None:
    idea = live.screened("Sluice keeper's hours")
    fact_keeping.keep(
        live.ctx("Mei Tanaka"), idea, {**World.FACTS, "minutes_low": "8", "minutes_high": "30"}, {}, "talk"
    )
    page.sign_in("Mei Tanaka", f"/ideas/{idea}?sheet=sizing")
    page.see("As a range")
    page.see("What moves it most, h a year")
    page.tick("Net")
    page.see("It pays back")
    bars = page.find('//*[@data-field="peaks"]//*[name()="svg"]')
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", bars)
    width, height = bars.size["width"], bars.size["height"]
    # Drawn: the bar of January is pulled down to nearly nothing.
    drawing = ActionChains(page.driver).move_to_element_with_offset(bars, -width // 2 + width // 24, 0)
    drawing.click_and_hold().move_by_offset(0, height // 2 - 3).release().perform()
    page.see("Every month alike")
    page.until(lambda _: facts(live, idea).get("peaks", ["1"])[0] != "1")
    # Typed: July three times as high.
    field = page.find('//input[contains(@aria-label, "Height of Jul")]')
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("3", Keys.TAB)
    page.until(lambda _: facts(live, idea)["peaks"][6] == "3")


def facts(world: World, idea: int) -> dict[str, Any]:
    rows = world.db.transact(lambda tx: tx.all(IdeasFacts, "ideas.facts", idea=idea))
    return {row.field: row.value for row in rows}
