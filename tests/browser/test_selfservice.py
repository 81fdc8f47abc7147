"""Self-service through the pages: published by an operator, run on a phone by somebody with no role at all, who
gets a file back; paused, taken back, and talked of."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta

import pytest

from tallyman.config import read_clock
from tallyman.services import robots
from tallyman.services.selfservice import publishing
from tests.browser.conftest import Page
from tests.serving import Serving, wait_for
from tests.world import World, package

PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
CODE = """
from pathlib import Path

import tallyman_kit as job

rows = job.inputs["rows"]
Path("letters.txt").write_text(f"Dear street, {rows} rows were counted.")
job.file("letters.txt")
job.count("rows", rows)
job.output(rows=rows)
"""


@pytest.fixture(scope="module")
def desk(people: World) -> World:
    """An idea in service, whose routine counts rows and hands a letter over; Bo Lund, who holds no role."""
    people.host, people.idea, people.number = people.live(release=package(code=CODE))
    needed = (
        "UPDATE package_release SET inputs_json = JSON_SET(inputs_json, '$.required', JSON_ARRAY('rows'))"
    )
    people.db.transact(lambda tx: tx.execute(needed))
    people.stranger("Bo Lund")
    return people


@pytest.fixture
def phone(page: Page) -> Iterator[Page]:
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    yield page
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def narrow(page: Page) -> bool:
    return bool(page.driver.execute_script("return document.documentElement.scrollWidth") <= 390)


def published(desk: World) -> int:
    """The page, made here where no test before this one published it."""
    row = desk.rows("SELECT id FROM service_page")
    if row:
        return int(row[0]["id"])
    given = publishing.Given(
        "Letters to a street", "Writes a letter.", "", ["rows"], desk.number("Sol Marin")
    )
    return publishing.publish(desk.ctx("Sol Marin"), desk.number, given)


def test_an_operator_publishes_a_routine(page: Page, desk: World) -> None:
    page.sign_in("Sol Marin", "/workshop?tab=pages")
    page.see("No routine is published to colleagues yet.")
    page.go(f"/workshop/routines/{desk.number}")
    page.click("Publish it to colleagues")
    page.type("Its name", "Letters to a street")
    page.click("Publish it")
    page.see("write 1 to 2,000 characters")
    page.type("What it does", "Writes a letter to a street.")
    page.click("Publish it")
    page.see("Pause it")
    page.see("used 0 times by 0 colleagues")
    page.click("Workshop")
    page.click("Self-service pages")
    page.see("1 page is open to colleagues.")


def test_somebody_with_no_role_runs_it_on_a_phone_and_gets_a_file_back(
    phone: Page, desk: World, served: Serving
) -> None:
    published(desk)
    code = robots_code(desk)
    served.runner(code, "weir")
    phone.sign_in("Bo Lund", "/self-service")
    phone.see("1 page")
    assert narrow(phone)
    phone.click("Letters to a street")
    phone.click("Start it")
    phone.see("is needed")
    phone.type("Rows, needed", "12")
    assert narrow(phone)
    phone.click("Start it")
    phone.see("What it was given")
    wait_for(lambda: bool(desk.rows("SELECT 1 FROM run_file")))
    phone.see("Files for you")
    phone.see("letters.txt")
    assert narrow(phone)
    phone.click_label("Look at letters.txt")
    phone.see("Dear street, 12 rows were counted.")
    link = phone.find("//a[@download='letters.txt']").get_attribute("href")
    got = phone.driver.execute_async_script(
        "const done = arguments[1]; fetch(arguments[0]).then((one) => one.text()).then(done)", link
    )
    assert got == "Dear street, 12 rows were counted."
    # Nothing of the pipeline behind it is theirs to see.
    phone.go(f"/runs/{desk.row('SELECT MAX(id) AS id FROM run')['id']}")
    phone.see("run.see")


def robots_code(desk: World) -> str:
    later = read_clock() - desk.now + timedelta(seconds=1)
    return robots.new_code(desk.ctx("Sol Marin", later), desk.host.id).code


def test_it_is_paused_with_a_sentence_and_opened_again(page: Page, desk: World) -> None:
    number = published(desk)
    page.sign_in("Sol Marin", f"/workshop/routines/{desk.number}/self-service")
    page.press('//button[normalize-space(.)="Pause it"]')
    page.press('(//form//button[normalize-space(.)="Pause it"])[1]')
    page.see("colleagues read it")
    page.type("Why", "The list is being renewed until Friday")
    page.press('(//form//button[normalize-space(.)="Pause it"])[1]')
    page.see("Open it again")
    page.sign_in("Bo Lund", f"/self-service/{number}")
    page.see("Paused: The list is being renewed until Friday.")
    page.sign_in("Sol Marin", f"/workshop/routines/{desk.number}/self-service")
    page.click("Open it again")
    page.see("Pause it")


def test_thanks_marks_and_a_wish_reach_the_idea(page: Page, desk: World) -> None:
    number = published(desk)
    page.sign_in("Mei Tanaka", f"/self-service/{number}")
    page.click("Say thanks")
    page.see("You said thanks")
    page.click("Give it marks")
    page.tick("4")
    page.type("Why, if you like", "Quick")
    page.click("Give these marks")
    page.see("Your marks: 4 of 5")
    page.click("It would help me if …")
    page.type("It would help me if …", "it wrote to two streets at once")
    page.click("Send it")
    page.see("Thank you. It is")
    page.sign_in("Sol Marin", f"/self-service/{number}")
    page.see("What colleagues said")
    page.see("it wrote to two streets at once")
    amends = desk.row("SELECT amends_id FROM idea ORDER BY id DESC LIMIT 1")["amends_id"]
    assert amends == desk.idea


def test_a_favourite_stands_first(page: Page, desk: World) -> None:
    published(desk)
    page.sign_in("Ada Pell", "/self-service")
    page.click_label("Favourite: Letters to a street")
    page.until(lambda _: desk.rows("SELECT 1 FROM service_favourite"))
    page.click_label("Favourite: Letters to a street")
    page.until(lambda _: not desk.rows("SELECT 1 FROM service_favourite"))
