"""The main flows by keys alone: whoever uses no mouse gets everywhere, and sees where they are."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tallyman.services.ideas import review
from tests.browser.conftest import Page
from tests.world import PASSWORD, World

MOST_TABS = 90
# What has the focus: what it is called, and whether anybody sees that it has it.
HERE = """
const one = document.activeElement
const label = one.labels?.[0]?.textContent ?? ''
const name = one.getAttribute('aria-label') ?? (label || one.textContent)
return [name.trim().replace(/\\s+/g, ' '), one.matches(':focus-visible, .given-focus:focus')]
"""


class Hands:
    """Presses keys, and finds the way by Tab."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def press(self, *keys: str) -> None:
        """Presses keys one after the other, where the focus is."""
        ActionChains(self.page.driver).send_keys(*keys).perform()

    def hold(self, modifier: str, key: str) -> None:
        """Presses a key while another is held."""
        ActionChains(self.page.driver).key_down(modifier).send_keys(key).key_up(modifier).perform()

    def reach(self, name: str, back: bool = False) -> None:
        """Goes on by Tab, or back, until something of this name has the focus, which must be seen."""
        for _ in range(MOST_TABS):
            here, _ = self.page.driver.execute_script(HERE)
            if here == name:
                # A page that gives the focus by itself may still be on its way to show it.
                self.page.until(lambda one: one.execute_script(HERE) == [name, True])
                return
            if back:
                self.hold(Keys.SHIFT, Keys.TAB)
            else:
                self.press(Keys.TAB)
        raise AssertionError(f"no way to {name!r} by Tab")

    def enter(self, name: str) -> None:
        """Goes to something and acts on it."""
        self.reach(name)
        self.press(Keys.ENTER)


@pytest.fixture
def hands(page: Page) -> Hands:
    return Hands(page)


@pytest.fixture(scope="module")
def full(people: World) -> World:
    people.host = people.machine()
    people.number = people.routine("Count rows")
    return people


def test_signing_in(page: Page, full: World, hands: Hands) -> None:
    page.go("/sign-in")
    page.see("Sign in")
    hands.reach("Mail address")
    hands.press("ines.varga@merrowdale.example", Keys.TAB, PASSWORD, Keys.ENTER)
    page.see("What waits for me")


def test_finding_anything_and_going_there(page: Page, full: World, hands: Hands) -> None:
    number = full.noted("Sluice list of valves")
    page.sign_in("Ines Varga")
    page.see("What waits for me")
    hands.press("/")
    hands.press(f"I-{number}")
    page.see("Sluice list of valves")
    hands.press(Keys.ENTER)
    page.until(lambda one: one.current_url.endswith(f"/ideas/{number}"))
    page.until(lambda one: one.title == "Sluice list of valves · Ideas · Tallyman")


def test_the_keys_of_a_page_are_shown_and_put_away(page: Page, full: World, hands: Hands) -> None:
    page.sign_in("Ines Varga")
    page.see("What waits for me")
    hands.press("?")
    page.see("Find anything by its name or number")
    hands.press(Keys.ESCAPE)
    page.until(lambda _: page.unseen("Find anything by its name or number"))


def test_handing_in_an_idea(page: Page, full: World, hands: Hands) -> None:
    page.sign_in("Ada Pell", "/ideas/new")
    page.see("question 1 of")
    page.until(lambda one: one.switch_to.active_element.tag_name == "input")
    hands.press("Gate keys by hand", Keys.ENTER)
    page.see("question 2 of")
    page.until(lambda _: full.rows("SELECT id FROM idea WHERE title = 'Gate keys by hand'"))


def test_reviewing_and_taking_it_back(page: Page, full: World, hands: Hands) -> None:
    number = full.noted("Weir log by radio")
    for other in full.matches_of(number):
        review.settle(full.ctx("Tom Okafor"), number, other, "other")
    page.sign_in("Tom Okafor", f"/ideas/{number}")
    page.see("Screen it")
    hands.press("s")
    page.see("is screened")
    hands.press("u")
    page.until(lambda _: page.unseen("is screened"))
    assert full.row("SELECT stage FROM idea WHERE id = %(i)s", i=number)["stage"] == "noted"


def test_declining_with_a_reason(page: Page, full: World, hands: Hands) -> None:
    number = full.noted("Lantern oil stock")
    page.sign_in("Tom Okafor", f"/ideas/{number}")
    page.see("Review")
    hands.press("d")
    hands.reach("Reason")
    hands.press(Keys.ENTER, Keys.ARROW_DOWN, Keys.ENTER)
    hands.press(Keys.TAB, "Too few lanterns are left")
    hands.enter("Decline and tell Ada Pell")
    page.until(lambda _: full.row("SELECT stage FROM idea WHERE id = %(i)s", i=number)["stage"] == "declined")


def test_a_decline_that_is_taken_back_keeps_its_words(page: Page, full: World, hands: Hands) -> None:
    number = full.noted("Lantern glass stock")
    page.sign_in("Tom Okafor", f"/ideas/{number}")
    page.see("Review")
    hands.press("d")
    page.choose("Reason", "too little volume")
    page.type("In your words, to the proposer", "Two a year at most")
    page.click("Decline and tell Ada Pell")
    page.see("is declined")
    hands.press("u")
    page.until(lambda _: page.unseen("is declined"))
    assert full.row("SELECT stage FROM idea WHERE id = %(i)s", i=number)["stage"] == "noted"
    page.go(f"/ideas/{number}")
    page.see("Review")
    hands.press("d")
    page.see("Decline and tell Ada Pell")
    assert page.field("In your words, to the proposer").get_attribute("value") == "Two a year at most"


def test_an_area_is_found_by_typing_and_taken_by_keys(page: Page, full: World, hands: Hands) -> None:
    page.sign_in("Ines Varga", "/house/calendar")
    page.see("working days")
    page.field("Calendar of").send_keys("meter")
    here = "return document.activeElement.innerText"

    def onto(_: object) -> bool:
        if page.driver.execute_script(here) != "Metering":
            hands.press(Keys.ARROW_DOWN)
        return bool(page.driver.execute_script(here) == "Metering")

    page.until(onto)
    hands.press(Keys.ENTER)
    page.until(lambda one: "area=" in one.current_url)


def test_saying_something_about_an_idea(page: Page, full: World, hands: Hands) -> None:
    number = full.noted("Culvert photos")
    page.sign_in("Ada Pell", f"/ideas/{number}")
    page.see("Culvert photos")
    hands.enter("Talk")
    hands.reach("Say something")
    hands.press("They come by mail as well")
    hands.enter("Say it")
    page.until(lambda _: full.rows("SELECT id FROM idea_comment WHERE idea_id = %(i)s", i=number))


def test_narrowing_a_list(page: Page, full: World, hands: Hands) -> None:
    full.screened("Ferry lists")
    page.sign_in("Ines Varga", "/ideas")
    page.see("Ferry lists")
    hands.reach("Words anywhere, also in files; or I-104")
    hands.press("ferry")
    page.until(lambda one: "text=ferry" in one.current_url)
    hands.reach("overdue")
    hands.press(Keys.SPACE)
    page.see("No idea fits this.")
    hands.enter("Show all")
    page.see("Ferry lists")


def test_starting_a_routine_found_by_name_and_cancelling_its_run(
    page: Page, full: World, hands: Hands
) -> None:
    full.db.transact(lambda tx: tx.execute("UPDATE host SET heard_at = heard_at - INTERVAL 1 MINUTE"))
    page.sign_in("Sol Marin")
    page.see("What waits for me")
    hands.press("/")
    hands.press("start count")
    page.see("Start Count rows")
    hands.press(Keys.ENTER)
    page.until(lambda one: f"/workshop/routines/{full.number}" in one.current_url)
    hands.reach("Start now")
    hands.press(Keys.ENTER)
    page.see("Start Count rows now")
    hands.enter("Start it, and let it wait")
    page.until(lambda one: "/runs/" in one.current_url)
    hands.enter("Cancel the run")
    hands.enter("Yes, cancel it")
    page.see("before it started")


def test_changing_a_house_rule(page: Page, full: World, hands: Hands) -> None:
    page.sign_in("Ines Varga", "/house/ideas?sheet=stages")
    page.see("Left within, working days")
    hands.reach("noted: left within, working days")
    hands.hold(Keys.CONTROL, "a")
    hands.press("4", Keys.TAB)
    page.see("What changes, and why")
    hands.reach("What changes, and why", back=True)
    hands.press("four days are enough", Keys.ENTER)
    page.see("In force: version 2")
