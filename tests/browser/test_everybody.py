"""Every main view as several people: nothing that keeps somebody out, in light and dark, at a desk and on a phone."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.support.ui import WebDriverWait

from tallyman.config import HOME
from tallyman.services.robots import seat_lots
from tallyman.services.selfservice import publishing, using
from tallyman.services.starts import by_hand
from tallyman.services.workshop import rollouts
from tests.browser.conftest import Page
from tests.patience import patience
from tests.world import World

AXE = HOME / "web" / "node_modules" / "axe-core" / "axe.min.js"
PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
VIEWS = {
    "Ines Varga": (
        "/",
        "/ideas",
        "/ideas?map=1",
        "/ideas/{idea}",
        "/ideas/{idea}?sheet=sizing",
        "/ideas/{idea}?sheet=case",
        "/ideas/{idea}?sheet=plan",
        "/portfolio",
        "/value",
        "/value/rates",
        "/house",
        "/house/ideas",
        "/house/ideas?sheet=stages",
        "/house/people",
        "/house/roles",
        "/house/calendar",
        "/profile",
    ),
    "Sol Marin": (
        "/workshop",
        "/workshop/routines/{routine}",
        "/workshop/routines/{routine}/start",
        "/workshop/routines/{routine}/self-service",
        "/workshop?tab=pages",
        "/workshop/releases/{newer}/roll-out",
        "/workshop/rollouts/{rollout}",
        "/runs/groups/{group}",
        "/robots",
        "/runs",
        "/runs/{run}",
        "/house/areas",
        "/house/secrets",
        "/health",
        "/robots/hosts/{host}",
        "/robots/seats",
        "/uses/host/{host}",
    ),
    "Mei Tanaka": ("/my-computer",),
    "Ada Pell": (
        "/",
        "/ideas",
        "/ideas/new",
        "/ideas/begin",
        "/ideas/thanks",
        "/self-service",
        "/self-service/{page}",
        "/self-service/runs",
        "/self-service/runs/{mine}",
    ),
}
WIDER = """
const width = document.documentElement.clientWidth
const over = [...document.querySelectorAll('main *')].filter((one) => {
  if (one.getBoundingClientRect().right <= width + 1) return false
  for (let up = one.parentElement; up; up = up.parentElement)
    if (['auto', 'scroll', 'hidden'].includes(getComputedStyle(up).overflowX)) return false
  return true
})
return document.documentElement.scrollWidth > width
  ? over.slice(0, 3).map((one) => `${one.tagName}.${one.className} ${one.textContent.trim().slice(0, 40)}`)
  : []
"""

# What a thumb has to meet; a link within a sentence is as high as its line.
LOW = """
const seen = (one) => one.getBoundingClientRect().width > 0 && one.checkVisibility({ visibilityProperty: true })
const inText = (one) => getComputedStyle(one).display === 'inline'
  && one.parentElement.textContent.trim().length > one.textContent.trim().length
const all = 'a, button, .el-checkbox, .el-radio, .el-input__wrapper, .el-select__wrapper, .el-textarea, [role=tab]'
return [...document.querySelectorAll(`header :is(${all}), main :is(${all})`)]
  .filter((one) => seen(one) && !inText(one) && one.getBoundingClientRect().height < 39.5)
  .slice(0, 6)
  .map((one) => `${Math.round(one.getBoundingClientRect().height)} px: ${one.tagName}.${one.className} `
    + `${(one.getAttribute('aria-label') ?? one.textContent).trim().slice(0, 40)}`)
"""
# What scrolls within itself is reached by keys.
UNREACHED = """
return [...document.querySelectorAll('main table')]
  .filter((one) => one.scrollWidth > one.clientWidth + 1 && one.tabIndex < 0)
  .map((one) => one.textContent.trim().slice(0, 60))
"""
CUT = """
return [...document.querySelectorAll('header *, main *')]
  .filter((one) => {
    const style = getComputedStyle(one)
    if (!one.textContent.trim() || !one.checkVisibility() || one.closest('svg, .el-textarea')) return false
    const hides = style.overflowX === 'hidden' && one.scrollWidth > one.clientWidth + 1 && one.clientWidth > 1
    return hides && style.display !== 'inline'
  })
  .slice(0, 4)
  .map((one) => `${one.tagName}.${one.className} ${one.textContent.trim().slice(0, 60)}`)
"""


@pytest.fixture(scope="module")
def full(people: World) -> World:
    """An idea in service with a run behind it, one offered, and one noted with a long name."""
    people.host, idea, routine = people.live()
    people.idea, people.number = idea, routine
    mine = people.actors["Mei Tanaka"].person_id
    seat_lots.give(people.ctx("Sol Marin"), "attended", "person", mine, 1)
    release = people.row("SELECT id FROM package_release")["id"]
    people.start(people.routine("Rows by eye", release, attended="answer", attended_for=mine))
    people.run = people.start(routine, "next")
    together = by_hand.start(people.ctx("Sol Marin"), routine, by_hand.Given(times=2), "together")
    assert together.group is not None
    people.second = together.group
    newer = people.release("1.1.0")
    robot = people.row("SELECT id FROM robot")["id"]
    chosen = [rollouts.Chosen(routine)]
    staged = rollouts.Given(chosen, "staged", "It counts more", first_robot=robot)
    people.offer = rollouts.roll_out(people.ctx("Sol Marin"), newer, staged)
    given = publishing.Given(
        "Count", "Counts rows.", "A sheet.", ["rows"], people.actors["Sol Marin"].person_id
    )
    shown = publishing.publish(people.ctx("Sol Marin"), routine, given)
    using.start(people.ctx("Ada Pell"), shown, {"rows": 3}, "mine")
    people.noted(
        "Notices about planned works that close a street for longer than one working day, to all who live there"
    )
    people.offered("Tanker log to ledger")
    return people


def settled(page: Page) -> None:
    def still(one: Any) -> bool:
        busy = one.find_elements("css selector", "[aria-busy=true]")
        return not busy and bool(one.find_elements("css selector", "main h1"))

    WebDriverWait(page.driver, patience(20), 0.1).until(still)


def views(world: World, name: str) -> list[str]:
    numbers = {"idea": world.idea, "routine": world.number, "run": world.run, "host": world.host.id}
    numbers["page"] = world.row("SELECT id FROM service_page")["id"]
    numbers["mine"] = world.row("SELECT run_id FROM service_run")["run_id"]
    numbers["group"] = world.second
    numbers["rollout"] = world.offer
    numbers["newer"] = world.row("SELECT MAX(id) AS id FROM package_release")["id"]
    return [view.format(**numbers) for view in VIEWS[name]]


def hindrances(page: Page) -> list[str]:
    """What keeps somebody out of the page as it stands, by its rule and place."""
    found = page.driver.execute_async_script(
        "const done = arguments[0];"
        "axe.run(document, {resultTypes: ['violations']}).then((all) => done(all.violations"
        ".filter((one) => ['serious', 'critical'].includes(one.impact))"
        ".flatMap((one) => one.nodes.slice(0, 3).map((node) => `${one.id}: ${node.target} ${node.html.slice(0, 120)}`))))"
    )
    return [str(one) for one in found]


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("name", sorted(VIEWS))
def test_nothing_keeps_anybody_out(page: Page, full: World, name: str, theme: str) -> None:
    page.sign_in(name)
    page.driver.execute_script("localStorage.setItem('tallyman-theme', arguments[0])", theme)
    script = Path(AXE).read_text()
    found = {}
    for view in views(full, name):
        page.go(view)
        settled(page)
        page.driver.execute_script(script)
        if wrong := hindrances(page):
            found[view] = wrong
    page.driver.execute_script("localStorage.setItem('tallyman-theme', 'light')")
    assert not found, json.dumps(found, indent=1)


@pytest.mark.parametrize("name", sorted(VIEWS))
def test_on_a_phone_pages_fit_and_are_met_by_a_thumb(page: Page, full: World, name: str) -> None:
    page.sign_in(name)
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    found = {}
    for view in views(full, name):
        page.go(view)
        settled(page)
        page.until(lambda one: not one.execute_script(UNREACHED))
        wrong = {
            "wider than the screen": page.driver.execute_script(WIDER),
            "too low for a thumb": page.driver.execute_script(LOW),
            "cut": page.driver.execute_script(CUT),
        }
        if any(wrong.values()):
            found[view] = {words: rows for words, rows in wrong.items() if rows}
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    assert not found, json.dumps(found, indent=1)


def test_on_a_phone_the_sections_are_one_touch_away(page: Page, full: World) -> None:
    page.sign_in("Ines Varga")
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    page.go("/house/people")
    settled(page)
    assert page.unseen("Portfolio")
    page.click("Sections", "//header")
    page.click("Portfolio", "//header")
    page.see("To decide")
    band = page.driver.execute_script(
        "return document.querySelector('header').getBoundingClientRect().height"
    )
    assert band < 844 / 8
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


@pytest.mark.parametrize("name", sorted(VIEWS))
def test_at_a_desk_no_page_is_wider_than_the_screen_and_no_text_is_cut(
    page: Page, full: World, name: str
) -> None:
    page.sign_in(name)
    page.driver.set_window_size(1280, 800)
    found = {}
    for view in views(full, name):
        page.go(view)
        settled(page)
        wrong = [*page.driver.execute_script(WIDER), *page.driver.execute_script(CUT)]
        if wrong:
            found[view] = wrong
    assert not found, json.dumps(found, indent=1)


def test_rows_of_a_list_begin_high_on_the_page(page: Page, full: World) -> None:
    page.sign_in("Ines Varga")
    page.driver.set_window_size(1280, 800)
    begins = "return document.querySelector('main tbody tr').getBoundingClientRect().top"
    for view in ("/ideas", "/runs", "/house/trail"):
        page.go(view)
        settled(page)
        page.find("//main//tbody/tr")
        inner = page.driver.execute_script("return [innerWidth, innerHeight]")
        assert page.driver.execute_script(begins) < 330, (view, inner)
