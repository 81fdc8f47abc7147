"""Nine of twelve deliberate mistakes, each through the pages: what is wrong is named before a start, with its
mend one press away, and comes true by itself once mended. The other three, of codes and passwords, stand with
the points of a robot."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from tallyman.config import read_clock
from tallyman.services import robots
from tallyman.services.workshop import packages, routines
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import MANIFEST, World, package

ASKS = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\nsecrets = ["quill-login"]')


@pytest.fixture(scope="module", autouse=True)
def live(people: World) -> World:
    people.host, people.idea, people.number = people.live()
    wrong(people, "UPDATE host SET heard_at = %(at)s + INTERVAL 1 DAY", at=read_clock())
    return people


def wrong(world: World, sql: str, **params: object) -> None:
    """Something goes wrong, or right again, that no page does."""
    world.db.transact(lambda tx: tx.execute(sql, params))


def path(world: World) -> str:
    return f"/workshop/routines/{world.number}"


def need(key: str) -> str:
    return f'//li[@data-need="{key}"]'


@contextmanager
def lacking(page: Page, world: World, key: str, *words: str) -> Iterator[None]:
    """The need stands on the routine's page as not met, in these words; in the end it can start."""
    page.sign_in("Ines Varga", path(world))
    page.see("Pre-check: 1 not met")
    told = page.words(need(key))
    for one in words:
        assert one in told, told
    # Before a start it is said as well, with the same words.
    page.click("Start now")
    page.see(f"Start {page.words('//main//h1')} now")
    assert words[0] in page.words(f'//*[@role="dialog"]{need(key)}')
    page.click("Cancel", '//*[@role="dialog"]')
    page.until(lambda one: not any(e.is_displayed() for e in one.find_elements("css selector", ".el-dialog")))
    yield
    if not page.driver.current_url.endswith(path(world)):
        page.go(path(world))
    page.see("Pre-check: it can start")


def mend(page: Page, key: str) -> None:
    page.press(f"{need(key)}//*[self::a or self::button][contains(@class, 'el-button')]")


def test_no_seat(page: Page, people: World) -> None:
    robots.set_seats(people.ctx("Sol Marin"), people.host.id, 0)
    with lacking(page, people, "seat", "with a free seat on its host", "Weir: 0 of 0 in use"):
        mend(page, "seat")
        page.until(lambda one: one.current_url.endswith(f"/robots/hosts/{people.host.id}"))
        page.click("Seats")
        page.type("Seats", "1")
        page.click("Keep the seats")
        wait_for(
            lambda: people.row("SELECT seats FROM host WHERE id = %(id)s", id=people.host.id)["seats"] == 1
        )


def test_area_not_allowed(page: Page, people: World) -> None:
    wrong(people, "DELETE FROM robot_area")
    with lacking(page, people, "area", "A robot allowed in Metering", "no robot may work there"):
        mend(page, "area")
        page.click_label("Change: Allowed in an area")
        page.press('//label[contains(@class,"area")][contains(., "Metering")]')
        page.click("Keep the changes")
        wait_for(lambda: people.rows("SELECT robot_id FROM robot_area"))


def test_tag_missing(page: Page, people: World) -> None:
    wrong(people, """UPDATE routine SET tags_json = '["print"]' WHERE id = %(id)s""", id=people.number)
    with lacking(page, people, "tags", "with the tags print", "none of Dipper 1 has them all"):
        mend(page, "tags")
        page.click("Change it")
        page.type("Tags, what it can do", "print")
        page.click("Keep the changes")
        wait_for(lambda: "print" in str(people.row("SELECT tags_json FROM robot")["tags_json"]))


def test_a_withdrawn_release(page: Page, people: World) -> None:
    first = people.row("SELECT release_id FROM routine WHERE id = %(id)s", id=people.number)["release_id"]
    packages.release(people.ctx("Jonas Lindqvist"), package("1.0.1"), packages.Given("First"))
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{first}")
    page.click("Withdraw it")
    page.see("starts nothing until it has another release")
    page.click("Withdraw it", '//*[@role="dialog"]')
    page.see("say why, in 3 to 500 characters")
    page.type("Why is it withdrawn?", "it counted rows twice")
    page.click("Withdraw it", '//*[@role="dialog"]')
    page.see("It starts nothing anew.")
    said = "count-rows 1.0.0 is withdrawn: it counted rows twice"
    with lacking(page, people, "release", "Its release is not withdrawn", said):
        mend(page, "release")
        page.choose("Release", "count-rows 1.0.1")
        page.see("Pre-check of this set-up: it can start")
        page.type("Why without a trial", "the first one counted twice")
        page.click("Keep the changes")


def test_bad_input(page: Page, people: World) -> None:
    wrong(people, """UPDATE routine SET inputs_json = '{"rows": -4}' WHERE id = %(id)s""", id=people.number)
    with lacking(page, people, "inputs", "Inputs fit the release", "Rows “-4”: allowed: 0 or more"):
        mend(page, "inputs")
        page.type("Rows", "4")
        page.see("Pre-check of this set-up: it can start")
        page.click("Keep the changes")


def test_a_silent_host(page: Page, people: World) -> None:
    wrong(people, "UPDATE host SET heard_at = %(at)s - INTERVAL 1 HOUR", at=read_clock())
    with lacking(page, people, "host", "on a host that is heard from", "Weir not heard from since"):
        mend(page, "host")
        page.see("silent")
        wrong(people, "UPDATE host SET heard_at = %(at)s + INTERVAL 1 DAY", at=read_clock())


def test_a_full_disk_on_the_host(page: Page, people: World) -> None:
    wrong(people, "UPDATE host SET disk_free_mb = 120")
    with lacking(page, people, "disk", "on a host with 500 MB of disk free", "Weir has 120 MB", "Make room"):
        mend(page, "disk")
        page.until(lambda one: one.current_url.endswith(f"/robots/hosts/{people.host.id}"))
        wrong(people, "UPDATE host SET disk_free_mb = 9000")


def test_a_clock_off_by_an_hour(page: Page, people: World) -> None:
    wrong(people, "UPDATE host SET clock_ahead_ms = 3600000")
    said = ("on a host whose clock is right", "the clock of Weir is 60 min ahead", "Set the clock")
    with lacking(page, people, "clock", *said):
        mend(page, "clock")
        page.until(lambda one: one.current_url.endswith(f"/robots/hosts/{people.host.id}"))
        wrong(people, "UPDATE host SET clock_ahead_ms = 20")


def test_a_secret_missing(page: Page, people: World) -> None:
    release = packages.release(
        people.ctx("Jonas Lindqvist"), package("2.0.0", manifest=ASKS), packages.Given("First")
    )
    row = people.row("SELECT version, name FROM routine WHERE id = %(id)s", id=people.number)
    given = routines.Given(
        row["name"], people.area, release, {}, [], idea_id=people.idea, basis="count", count_name="rows"
    )
    given = routines.Given(**{**given.__dict__, "release_why": "it signs in by itself"})
    routines.change(people.ctx("Ines Varga"), people.number, given, row["version"])
    said = ("Its secrets are in the safe", "not in the safe for this area: quill-login")
    with lacking(page, people, "secrets", *said):
        mend(page, "secrets")
        page.click("Put one in")
        page.type("Name", "quill-login")
        page.type("Value", "reed-and-rush-7")
        page.click("Put it in")
        page.see("quill-login")
