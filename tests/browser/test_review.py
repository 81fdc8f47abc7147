"""The review queue by keys alone: every waiting idea is reached, decided, and can be taken back."""

from __future__ import annotations

import time

import pytest
from selenium.webdriver.common.keys import Keys

from tallyman.services.ideas import review
from tests.browser.conftest import Page
from tests.browser.test_keys import Hands
from tests.world import World

WAITING = 30
MINUTES = 10
THINGS = (
    *(
        "Sluice",
        "Penstock",
        "Culvert",
        "Manhole",
        "Reservoir",
        "Turbine",
        "Filter",
        "Pump",
        "Hydrant",
        "Weir",
    ),
    *("Borehole", "Spillway", "Conduit", "Chlorine", "Aqueduct", "Cistern", "Siphon", "Tanker", "Gauge"),
    *("Ladder", "Lantern", "Orchard", "Pasture", "Quarry", "Railway", "Stable", "Timber", "Umbrella", "Vine"),
    "Wharf",
)


@pytest.fixture(scope="module")
def hands(page: Page) -> Hands:
    return Hands(page)


@pytest.fixture(scope="module")
def waiting(people: World) -> list[int]:
    found = [
        people.noted(f"{thing} papers", what=f"Papers about each {thing.lower()} are sorted.")
        for thing in THINGS
    ]
    # Two that may be the same work, and one whose proposer was asked back.
    people.noted("Lantern papers twice", what="Papers about each lantern are sorted twice.")
    asked = people.noted("Asked back", what="Nobody knows.")
    review.judge_answer(people.ctx("Tom Okafor"), asked, "minutes", False, "With the address?")
    return found


def stages(people: World) -> dict[str, int]:
    rows = people.rows("SELECT stage, COUNT(*) AS n FROM idea GROUP BY stage")
    return {row["stage"]: row["n"] for row in rows}


def test_next_reaches_every_idea_that_waits(
    page: Page, people: World, waiting: list[int], hands: Hands
) -> None:
    page.sign_in("Tom Okafor", f"/ideas/{waiting[0]}")
    page.see(f"1 of {WAITING + 1} waiting")
    seen = {page.number()}
    for n in range(2, WAITING + 2):
        hands.press("n")
        page.see(f"{n} of {WAITING + 1} waiting")
        seen.add(page.number())
    assert len(seen) == WAITING + 1
    hands.press("n")
    page.see(f"1 of {WAITING + 1} waiting")
    hands.press("p")
    page.see(f"{WAITING + 1} of {WAITING + 1} waiting")
    focused = page.driver.switch_to.active_element
    assert focused.get_attribute("aria-label") == "Review", "whoever goes on stays at the desk"


def test_what_was_said_of_all_can_be_taken_back(
    page: Page, people: World, waiting: list[int], hands: Hands
) -> None:
    lantern = waiting[THINGS.index("Lantern")]
    page.sign_in("Tom Okafor", f"/ideas/{lantern}")
    page.see("Say first which are the same work.")
    hands.press("o")
    page.see("is other work")
    page.until(lambda _: page.unseen("Say first which are the same work."))
    hands.press("u")
    page.see("Say first which are the same work.")
    assert not people.rows("SELECT * FROM idea_match WHERE idea_id = %(i)s", i=lantern)
    hands.press("1")
    page.see("is the same work: merge this one into it.")
    hands.press("1")
    page.until(lambda _: page.unseen("is the same work: merge this one into it."))


def test_thirty_ideas_are_decided_by_keys_alone(
    page: Page, people: World, waiting: list[int], hands: Hands
) -> None:
    page.sign_in("Tom Okafor", f"/ideas/{waiting[0]}")
    began = time.monotonic()
    for n in range(WAITING + 1):
        page.see(f"1 of {WAITING + 1 - n} waiting" if n == 0 else f" of {WAITING + 1 - n} waiting")
        page.until(lambda _: page.driver.switch_to.active_element.get_attribute("aria-label") != "x")
        if n % 6 == 5:
            hands.press("d")
            hands.reach("Reason")
            hands.press(Keys.ENTER, Keys.ARROW_DOWN, Keys.ENTER, Keys.TAB, "Too few of them")
            hands.enter("Decline and tell Ada Pell")
        elif n % 6 == 2:
            hands.press("b")
            hands.reach("About which answer")
            hands.press(Keys.ENTER, Keys.ARROW_DOWN, Keys.ENTER, Keys.TAB, "How many are there?")
            hands.enter("Ask back")
        else:
            if not page.unseen("Say first which are the same work."):
                hands.press("o")
                page.until(lambda _: page.unseen("Say first which are the same work."))
            hands.press("s")
    page.see("Nothing waits for you.")
    assert time.monotonic() - began < MINUTES * 60
    left = "SELECT id FROM idea WHERE stage = 'noted' AND asked_on IS NULL"
    page.until(lambda _: not people.rows(left))
    found = stages(people)
    assert (found["screened"], found["declined"], found["noted"]) == (21, 5, 6)
    assert page.faults() == []
