"""An idea given on a phone is joined, asked back, answered, screened; another is merged into it; one is parked."""

from __future__ import annotations

from datetime import date

import pytest

from tallyman.services.ideas import drafts
from tallyman.standins.mail_catcher import Caught
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import World

PHONE = {"width": 390, "height": 780, "deviceScaleFactor": 1, "mobile": True}
TITLE = "Hydrant letters to streets"


@pytest.fixture(scope="module")
def desk(people: World) -> World:
    people.machine()
    people.idea = people.noted(TITLE, what="Write a letter to each street before its hydrants are looked at.")
    people.stranger("Bela Kiss")
    return people


def mailed(caught: Caught, to: str, words: str) -> bool:
    address = f"{to.lower().replace(' ', '.')}@merrowdale.example"
    return bool(
        wait_for(lambda: any(address in mail["to"] and words in mail["body"] for mail in list(caught.mails)))
    )


def test_somebody_joins_from_a_phone_instead_of_repeating_it(page: Page, desk: World, caught: Caught) -> None:
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    try:
        page.sign_in("Bela Kiss", "/ideas/new")
        page.type("What is the work called?", "Letters to streets on hydrants")
        # She may not see the idea yet, so only her own words are told.
        page.see("is seen by those with a part in it")
        page.see("Both say")
        page.click("It is the same work: join it")
        page.type("How many come to you", "30")
        page.choose("each", "month")
        page.type("What should be known of it", "In the south we write two each")
        page.click("Join it", "//form[contains(@class, 'note')]")
        page.see("does the same work")
        page.see("30 a month")
        wide = page.driver.execute_script("return document.documentElement.scrollWidth")
        assert wide <= PHONE["width"]
    finally:
        page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    assert mailed(caught, "Ada Pell", "does the same work and joined")


def test_an_idea_is_asked_back_answered_and_screened_by_keys(page: Page, desk: World, caught: Caught) -> None:
    page.sign_in("Tom Okafor", f"/ideas/{desk.idea}?sheet=talk")
    page.type("Say something", "Who prints them?")
    page.click("Say it")
    page.see("Who prints them?")
    assert mailed(caught, "Ada Pell", "Who prints them?")
    page.go(f"/ideas/{desk.idea}")
    page.click("Send back")
    page.type("What would you like to know?", "Which streets?")
    page.click("Send back to Ada Pell")
    page.see("answers what was asked back; the age stands still meanwhile")
    assert mailed(caught, "Ada Pell", "Which streets?")

    page.sign_in("Ada Pell", f"/ideas/{desk.idea}")
    page.click("Answer it")
    page.type("What is the work called?", f"{TITLE} of the week")
    page.click("Keep the answer")
    page.see("A reviewer reads the answers and decides")

    page.sign_in("Tom Okafor", f"/ideas/{desk.idea}")
    page.see("No other idea is likely to be the same work.")
    page.find("//body").send_keys("s")
    page.until(lambda one: not one.current_url.endswith(f"/ideas/{desk.idea}"))
    page.go(f"/ideas/{desk.idea}")
    page.see("An analyst sizes it")


def test_a_second_idea_is_merged_and_both_sides_see_it(page: Page, desk: World, caught: Caught) -> None:
    bela = desk.again("Bela Kiss")
    other = drafts.start(bela, "another")
    for question, value in {
        "title": "Letters before hydrants are looked at",
        "what": "Write letters to the streets before hydrants are looked at.",
        "division": desk.divisions["Networks"],
    }.items():
        drafts.answer(bela, other, question, value, None)
    drafts.hand_in(bela, other)
    page.sign_in("Tom Okafor", f"/ideas/{other}")
    page.press('//li[contains(., "Hydrant letters to streets")]//button[normalize-space(.)="Same"]')
    page.click(f"Merge into I-{desk.idea}")
    page.see("becomes one who does that work too")
    page.click(f"Merge it into I-{desk.idea}", "//form")
    page.go(f"/ideas/{other}")
    page.see(f"I-{desk.idea} {TITLE}")
    page.see("what was said and shown here stays")
    page.go(f"/ideas/{desk.idea}?sheet=talk")
    page.see("went into this one")
    assert mailed(caught, "Bela Kiss", "goes on in")


def test_an_idea_is_parked_and_brought_back(page: Page, desk: World) -> None:
    parked = desk.screened("Tanker log to ledger")
    page.sign_in("Tom Okafor", f"/ideas/{parked}")
    page.click("Park it")
    page.day("Until", date(2031, 1, 15))
    page.type("What does it wait for?", "the new ledger")
    page.click("Park it", "//form")
    page.see("choose a day after today, within two years")
    assert page.field("What does it wait for?").get_attribute("value") == "the new ledger"
    page.click("Cancel")
    page.click("Another route")
    page.see("Who sees to it")
    page.click("Cancel")
    page.click("Decline it")
    page.choose("Reason", "about to change or end")
    page.type("In your words, to the proposer", "The log ends in spring.")
    page.click("Decline and tell Ada Pell")
    page.click("Bring it back")
    page.type("Why does it come back?", "It stays after all.")
    page.click("Bring it back", "//form")
    page.see("An analyst sizes it")


def test_somebody_without_an_idea_begins_with_typical_work(page: Page, desk: World) -> None:
    page.sign_in("Corin Dahl", "/ideas")
    page.click("Where do I begin?")
    page.click("Work in the field")
    page.click("paper or scans")
    page.see("Job sheets into the job book")
    assert page.unseen("Payment reminders")
    page.click("Begin with it")
    page.until(lambda one: "/ideas/new/" in one.current_url)
    field = page.field("What is the work called?")
    assert field.get_attribute("value") == "Job sheets into the job book"
