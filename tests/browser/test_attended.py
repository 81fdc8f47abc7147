"""A run on somebody's own computer, from its seat to its end, answered on a phone."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest

from tallyman.services import runs
from tallyman.services.robots import seat_lots
from tests.browser.conftest import Page
from tests.serving import Serving, wait_for
from tests.world import World

PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
# Works until it is ended.
LONG = """
import threading
import tallyman_kit as job

job.log("begun")
threading.Event().wait()
"""


@pytest.fixture(scope="module")
def desk(people: World) -> World:
    people.host = people.machine()
    seat_lots.give(people.ctx("Sol Marin"), "attended", "person", people.number("Mei Tanaka"), 1)
    return people


@pytest.fixture
def phone(page: Page) -> Iterator[Page]:
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    yield page
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def state(people: World, run: int) -> str:
    return str(people.row("SELECT state FROM run WHERE id = %(run)s", run=run)["state"])


def test_who_has_no_seat_is_told_whom_to_ask(page: Page, desk: World) -> None:
    page.sign_in("Ada Pell", "/my-computer")
    page.see("You have no attended seat")
    page.see("No run asks for it.")
    assert page.unseen("Connect it")


def test_from_a_seat_to_a_run_that_asked_first(page: Page, desk: World, served: Serving) -> None:
    page.sign_in("Mei Tanaka", "/profile")
    page.click("My computer")
    page.type("What is this computer called?", "Reedside")
    page.click("Connect it and show the code")
    page.see("It is shown only now")
    found = re.search(r"--code (\S+)", page.words("//pre"))
    assert found is not None and "--as-myself" in page.words("//pre")
    served.runner(found.group(1), "reedside")
    page.click("I have it")
    page.see("heard")
    page.sign_in("Sol Marin", "/workshop/routines/new")
    desk.release()
    page.go("/workshop/routines/new")
    page.type("Name", "Rows by eye")
    page.choose("Area", "Metering")
    page.choose("Release", "count-rows 1.0.0")
    page.choose("It works", "on a person's own computer, who need not stay")
    page.pick("For whom", "mei", "Mei Tanaka")
    page.click("Set it up")
    page.see("Mei Tanaka's own computer")
    page.see("Pre-check: it can start")
    page.click("Start now")
    page.see("Mei Tanaka says that it may begin")
    run = page.number()
    page.sign_in("Mei Tanaka")
    page.see("asks for your computer: now, in ten minutes, or not today")
    page.click(f"R-{run} Rows by eye")
    page.see("1 run asks for it.")
    page.see("You need not stay: it works by itself.")
    page.click_label(f"Not today: R-{run} Rows by eye")
    page.see("then it asks again")
    page.see("No run asks for it.")
    assert state(desk, run) == "waiting"
    page.click_label(f"Now: R-{run} Rows by eye")
    page.see("What it did lately")
    wait_for(lambda: state(desk, run) == "done")
    page.until(lambda _: page.unseen("Agreed, put off, or working"))


def test_on_a_phone_it_is_stopped_by_whose_computer_it_is(phone: Page, desk: World) -> None:
    number = desk.routine(
        "Long one", desk.release("2.0.0", LONG), attended="whole", attended_for=desk.number("Mei Tanaka")
    )
    run = runs.start(desk.again("Sol Marin"), number, "long")
    phone.sign_in("Mei Tanaka", "/my-computer")
    phone.see("You have to be there while it works.")
    phone.click_label(f"Now: R-{run} Long one")
    phone.see("It works since")
    assert phone.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    phone.click("Stop it")
    phone.click("Stop it", '//*[@role="dialog"]')
    wait_for(lambda: state(desk, run) == "cancelled")
    phone.see("cancelled")
