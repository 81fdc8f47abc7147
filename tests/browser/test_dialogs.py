"""Every dialog of the application stands in view, over the page, and takes the focus."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tallyman.services import safe
from tallyman.services.cases import sizing
from tallyman.services.robots import seat_lots
from tallyman.services.starts import addresses, triggers
from tallyman.services.workshop import rollouts
from tests.browser.conftest import Page
from tests.browser.test_keys import Hands
from tests.world import World

PAGES = Path(__file__).parents[2] / "web" / "src"

# Where each dialog stands: the part that opens it.
OPENERS = {
    "app/KeyHelp.vue",
    "app/Leaving.vue",
    "cases/BackIdea.vue",
    "computer/RunForMe.vue",
    "robots/HostPage.vue",
    "robots/LotForm.vue",
    "safe/SecretUses.vue",
    "shared/Retire.vue",
    "starts/StartAddress.vue",
    "starts/Triggers.vue",
    "tally/CompanyMonths.vue",
    "workshop/MoveRelease.vue",
    "workshop/RolloutPage.vue",
    "workshop/RoutinePage.vue",
    "workshop/StartNow.vue",
}


@pytest.fixture
def hands(page: Page) -> Hands:
    return Hands(page)


@pytest.fixture(scope="module")
def ready(people: World) -> World:
    lead, sol = people.ctx("Ines Varga"), people.ctx("Sol Marin")
    people.idea = people.offered()
    sizing.settle(lead, people.idea, True, "")
    live = people.building("Tanker log to ledger")
    people.host = people.machine(seats=0)
    people.number = people.routine("Count rows", idea_id=live, basis="run")
    triggers.add(sol, people.number, triggers.Given({"expr": "0 10 * * *"}, "UTC"))
    mine = people.actors["Mei Tanaka"].person_id
    people.second = people.row("SELECT id FROM package_release")["id"]
    seat_lots.give(sol, "attended", "person", mine, 1)
    eye = people.routine("Rows by eye", people.second, attended="answer", attended_for=mine)
    people.run = people.start(eye)
    addresses.give(sol, people.number, addresses.Given())
    robot = people.row("SELECT id FROM robot")["id"]
    chosen = [rollouts.Chosen(people.number)]
    staged = rollouts.Given(chosen, "staged", "It counts more", first_robot=robot)
    rollouts.roll_out(sol, people.release("1.1.0"), staged)
    safe.make(lead, safe.Given("fettle-login", "package", "a-secret-of-9"))
    month = (people.now.replace(day=1) - timedelta(days=3)).strftime("%Y-%m")
    people.rows("INSERT INTO tally_month (month) VALUES (%(m)s)", m=month)
    people.db.transact(
        lambda tx: tx.execute(
            "INSERT INTO tally_sum (month, idea_id, line, units, hours, money, entries) "
            "VALUES (%(m)s, %(i)s, 'time saved', 1, 1, 38, 1)",
            {"m": month, "i": live},
        )
    )
    return people


def stands_in_view(page: Page, title: str) -> None:
    """The dialog of that title is seen whole, lies over the page, and has the focus within."""
    path = f'//*[@role="dialog"][starts-with(@aria-label, "{title}")]//*[contains(@class, "el-dialog")]'
    page.find(path)
    page.until(lambda one: one.execute_script(WITHIN, one.find_element(By.XPATH, path)))
    found = page.driver.execute_script(STANDS, page.find(path))
    assert found["whole"], f"{title}: out of view at {found['box']}"
    assert found["over"], f"{title}: {found['above']} lies above it"
    assert found["fixed"], f"{title}: it scrolls away with the page"


WITHIN = "return arguments[0].contains(document.activeElement)"
STANDS = """
const one = arguments[0], box = one.getBoundingClientRect()
const middle = document.elementFromPoint(box.x + box.width / 2, box.y + 30)
return {
  whole: box.top >= 0 && box.left >= 0 && box.bottom <= innerHeight && box.right <= innerWidth && box.height > 80,
  over: one.contains(middle), above: middle && middle.outerHTML.slice(0, 80), box: JSON.stringify(box),
  fixed: getComputedStyle(one.closest('.el-overlay')).position === 'fixed',
}
"""


def of_releases_and_computers(page: Page, ready: World) -> None:
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{ready.second}")
    page.click("Withdraw it")
    page.see("Why is it withdrawn?")
    stands_in_view(page, "Withdraw count-rows 1.0.0")
    page.go(f"/workshop/releases/{ready.second}")
    page.click("Change who sees it")
    page.see("Choose the area that is to see it.")
    stands_in_view(page, "Who sees count-rows 1.0.0")
    page.sign_in("Sol Marin", "/workshop")
    page.press('//a[starts-with(@href, "/workshop/rollouts/")]')
    page.click("Go back")
    page.see("No routine has it yet; none takes it.")
    stands_in_view(page, "Go back")
    page.sign_in("Mei Tanaka", "/my-computer")
    page.click("Not at all")
    stands_in_view(page, f"Stop R-{ready.run}")


def test_every_dialog_is_looked_at_here() -> None:
    found = {
        str(path.relative_to(PAGES))
        for path in PAGES.rglob("*.vue")
        if re.search(r"<(el-dialog|Confirm)\b", path.read_text())
    }
    assert found - {"shared/Confirm.vue"} == OPENERS


@pytest.mark.parametrize("dark", [False, True])
@pytest.mark.parametrize("width", [1280, 390])
def test_each_dialog_stands_in_view_and_takes_the_focus(
    page: Page, ready: World, hands: Hands, width: int, dark: bool
) -> None:
    metrics = {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": width < 700}
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    page.sign_in("Ines Varga", "/portfolio")
    page.driver.execute_script(
        "localStorage.setItem('tallyman-theme', arguments[0])", "dark" if dark else "light"
    )
    page.go("/portfolio")
    for path, opens, title in (
        ("/portfolio", lambda: page.click("Back this idea"), f"Back I-{ready.idea}"),
        ("/today", lambda: hands.press("?"), "Keys of this page"),
    ):
        page.go(path)
        page.see("Tallyman" if path == "/today" else "Portfolio")
        opens()
        stands_in_view(page, title)
    page.go(f"/ideas/{ready.idea}?sheet=talk")
    page.type("Say something", "The list comes twice")
    page.click("Answers")
    stands_in_view(page, "Leave what is typed here?")
    page.click("Leave, keep the draft")
    page.go("/house/secrets")
    page.click("fettle-login")
    page.click("Take it out")
    stands_in_view(page, "Take fettle-login out of the safe?")
    page.sign_in("Sol Marin", f"/workshop/routines/{ready.number}")
    page.click("Start now")
    stands_in_view(page, "Start Count rows now")
    hands.press(Keys.ESCAPE)
    page.click("End it")
    stands_in_view(page, "End this start")
    hands.press(Keys.ESCAPE)
    page.click("Renew its token")
    stands_in_view(page, "Renew the token")
    hands.press(Keys.ESCAPE)
    page.click("Let it go live")
    stands_in_view(page, "Let Count rows go live")
    page.go("/robots")
    page.click_label("Retire Weir")
    page.see("is retired with it")
    stands_in_view(page, "Retire Weir")
    page.go(f"/robots/hosts/{ready.host.id}")
    page.click("Replace it by another computer")
    stands_in_view(page, "A new code for Weir")
    hands.press(Keys.ESCAPE)
    page.click("Revoke its token")
    stands_in_view(page, "Revoke the token of Weir")
    seat_lots.buy(ready.ctx("Sol Marin"), seat_lots.Given("unattended", 2, ready.now.date(), None, None, ""))
    page.go("/robots/seats")
    page.click("Change")
    page.click("Entered by mistake")
    stands_in_view(page, "Take this lot back?")
    of_releases_and_computers(page, ready)
    page.sign_in("Ruth Abernathy", "/value")
    page.press('//main//button[starts-with(normalize-space(.), "Close ")]')
    stands_in_view(page, "Close ")
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def test_the_backer_closes_and_signs_a_month(page: Page, ready: World) -> None:
    page.sign_in("Ines Varga", "/value")
    page.see("Months")
    assert page.unseen("Close "), "the lead may not, and is offered nothing that is refused"
    of_releases_and_computers(page, ready)
    page.sign_in("Ruth Abernathy", "/value")
    page.press('//main//button[starts-with(normalize-space(.), "Close ")]')
    page.see("Nothing is open in it.")
    page.click("Close it in my name")
    page.see("closed by Ruth Abernathy on")
    signed = ready.row("SELECT state, closed_by FROM tally_month WHERE state = 'closed'")
    assert signed["closed_by"] == ready.actors["Ruth Abernathy"].person_id
