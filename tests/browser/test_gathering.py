"""Ideas come in and are found, through the built pages: on a phone, from a list, by views and many at once."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tallyman.services.ideas import rules_set
from tallyman.standins.mail_catcher import Caught
from tests.browser.conftest import Page
from tests.messy import messy
from tests.serving import wait_for
from tests.world import World, picture

PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
TITLE = "Letters on flushed mains"


@pytest.fixture
def phone(page: Page) -> Iterator[Page]:
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    yield page
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def mailed(caught: Caught, name: str, words: str) -> bool:
    address = f"{name.lower().replace(' ', '.')}@merrowdale.example"

    def there() -> bool:
        mails = [one["body"].replace("\n", " ") for one in list(caught.mails) if address in one["to"]]
        return any(words in body for body in mails)

    return bool(wait_for(there))


def narrow(page: Page) -> None:
    wide = page.driver.execute_script("return document.documentElement.scrollWidth")
    assert wide <= PHONE["width"], f"{wide} wide at {page.driver.current_url}"


def interview(page: Page, title: str, volume: str) -> int:
    """The short interview, on whatever is narrow."""
    page.see("What is the work called?")
    page.press('//label[contains(., "The short one")]')
    page.see("question 1 of 5")
    page.type("What is the work called?", title)
    narrow(page)
    page.click("Next")
    page.type("What happens in it, and what comes out?", "Write to each home before its main is flushed.")
    page.click("Next")
    page.type("How many", volume)
    page.choose("Rhythm", "month")
    page.click("Next")
    page.type("How many minutes does one take?", "6")
    page.click("Next")
    page.pick("Where does it belong?", "netw", "Networks")
    narrow(page)
    page.click("Next")
    page.see("A last look")
    page.see(f"{volume} a month")
    narrow(page)
    page.click("Hand it in")
    page.see("Thank you. It is handed in")
    page.see("Hours in reach a year")
    narrow(page)
    found = re.search(r"/ideas/(\d+)", page.driver.current_url)
    assert found
    return int(found[1])


def test_an_idea_from_a_phone_goes_its_way_to_being_merged(
    phone: Page, people: World, caught: Caught
) -> None:
    page = phone
    page.sign_in("Ada Pell", "/ideas/new")
    idea = interview(page, TITLE, "300")
    assert mailed(caught, "Tom Okafor", f"handed in I-{idea}")

    page.sign_in("Corin Dahl", "/ideas/new")
    page.type("What is the work called?", "Flushed mains: leters to homes")
    page.see("both say")
    page.click("It is the same work: join it")
    page.type("How many come to you", "40")
    page.choose("each", "month")
    page.click("Join it", "//form[contains(@class, 'note')]")
    page.see("does the same work")
    narrow(page)
    assert mailed(caught, "Ada Pell", "does the same work and joined")

    page.sign_in("Tom Okafor", f"/ideas/{idea}")
    page.click("Send back", '//tr[contains(., "How many minutes")]')
    page.type("What would you like to know?", "With the address?")
    page.click("Send back to Ada Pell")
    page.see("answers what was asked back")
    assert mailed(caught, "Ada Pell", "With the address?")

    page.sign_in("Ada Pell", f"/ideas/{idea}")
    page.click("Answer it")
    page.type("How many minutes does one take?", "7")
    page.click("Keep the answer")
    page.see("A reviewer reads the answers and decides")
    narrow(page)
    assert mailed(caught, "Tom Okafor", "answered what you sent back")

    page.sign_in("Tom Okafor", f"/ideas/{idea}")
    page.click("Screen it")
    page.see("Nothing waits for you.")
    narrow(page)
    assert mailed(caught, "Ada Pell", "was screened by Tom Okafor")
    assert mailed(caught, "Ada Pell", "A first notch, with thanks")

    page.sign_in("Ada Pell", "/ideas/new")
    third = interview(page, "Home letters for flushed mains", "25")
    page.sign_in("Tom Okafor", f"/ideas/{third}")
    page.press(f'//li[contains(., "{TITLE}")]//button[normalize-space(.)="Same"]')
    page.click(f"Merge into I-{idea}")
    page.click(f"Merge it into I-{idea}", "//form")
    page.go(f"/ideas/{third}")
    page.see("It goes on in")
    page.go(f"/ideas/{idea}?sheet=talk")
    page.see("40 a month")
    page.see("went into this one")
    narrow(page)
    assert mailed(caught, "Tom Okafor", f"handed in I-{third}")


def test_a_messy_list_is_looked_at_brought_in_and_brought_once(
    page: Page, people: World, tmp_path: Path
) -> None:
    made = messy(60)
    path = tmp_path / "depot list.xlsx"
    path.write_bytes(made.data)
    page.sign_in("Tom Okafor", "/ideas/bring")
    page.attach("Spreadsheet", path)
    page.see("Which column is what")
    page.see("lines follow.")
    page.see(f"{len(made.bad)} stay out")
    page.see("is not minutes such as 12, 12 min, 1.5 h or 1:30")
    page.choose("Ref. stands for", "– stays out –")
    page.until(lambda _: page.unseen(f"{made.repeats} are in conflict"))
    page.choose("Ref. stands for", "Its number over there")
    page.see(f"{made.repeats} are in conflict")
    page.click(f"Bring in {made.good} ideas")
    page.see("Done.")
    page.see(f"{made.good} came in")
    assert people.row("SELECT COUNT(*) AS n FROM idea WHERE source = 'spreadsheet'")["n"] == made.good
    page.go("/ideas/bring")
    page.see("depot list.xlsx")
    page.attach("Spreadsheet", path)
    page.see(f"{made.good} are here already, {made.repeats} are in conflict")
    page.see("No line comes in as it is; see why below.")
    broken = tmp_path / "broken.xlsx"
    broken.write_bytes(b"PK\x03\x04 nothing")
    page.go("/ideas/bring")
    page.attach("Spreadsheet", broken)
    page.see("cannot be read as XLSX")


def test_views_columns_and_one_act_on_many(page: Page, people: World) -> None:
    people.noted("Sluice list of valves")
    people.noted("Meters by the sluice")
    people.screened("Sluice hours of keepers")
    page.sign_in("Tom Okafor", "/ideas")
    page.type("Words anywhere, also in files; or I-104", "sluice")
    page.see("Sluice hours of keepers")
    page.choose("Stage", "noted")
    page.until(lambda _: page.unseen("Sluice hours of keepers"))
    page.click("Columns and order")
    page.press('//label[contains(., "Came in by")]')
    page.see("interview")
    page.click("Saved views")
    page.click("Save this view")
    page.type("Name of the view", "Mine to sort")
    page.click("Save")
    page.see("View: Mine to sort")
    page.go("/ideas")
    page.see("Sluice hours of keepers")
    page.click("Saved views")
    page.click("Mine to sort")
    page.until(lambda _: page.unseen("Sluice hours of keepers"))
    page.see("Meters by the sluice")
    assert "cols=" in page.driver.current_url
    page.press('//label[.//input[@aria-label="Choose all shown"] or @aria-label="Choose all shown"]')
    page.see("2 ideas chosen")
    page.click("Decline", "//div[contains(@class, 'bar')]")
    page.choose("Reason", "too little volume")
    page.type("In words, to all who have a part", "Too few of them")
    page.click("Decline 2 ideas")
    page.see("Done with 2.")
    assert people.row("SELECT COUNT(*) AS n FROM idea WHERE stage = 'declined'")["n"] == 2
    page.go("/ideas?map=1")
    page.see("Nothing is past its limit.")
    page.press('//tr[contains(., "screened")]//a[contains(@class, "count")]')
    page.see("Sluice hours of keepers")


def test_the_team_enters_what_runs_already_and_a_colleague_asks_for_a_change(
    page: Page, people: World
) -> None:
    page.sign_in("Tom Okafor", "/ideas/enter")
    page.press('//label[contains(., "An automation that runs already")]')
    page.click("Enter it")
    page.see("needed to find it again and talk about it")
    page.see("say since when it runs")
    page.type("What is the work called?", "Sample labels")
    page.type("What happens in it, and what comes out?", "Labels for the round are printed.")
    page.day("It runs since", date(2025, 3, 1))
    page.type("Where it runs", "A desk in the laboratory")
    page.type("How we know that it runs", "found on the round")
    page.click("Enter it")
    page.see("registered as running already")
    page.see("Runs on A desk in the laboratory.")
    number = page.number()
    page.sign_in("Ines Varga", f"/ideas/{number}")
    page.click("Ask for a change")
    page.see("A change to I-")


def test_a_file_is_dropped_described_and_looked_into(page: Page, people: World, tmp_path: Path) -> None:
    idea = people.noted("Valve list")
    photo = tmp_path / "photo.png"
    photo.write_bytes(picture(width=800))
    page.sign_in("Ada Pell", f"/ideas/{idea}")
    page.attach("File", photo)
    page.see("photo.png")
    page.click("Describe")
    page.type("Title", "The stamp")
    page.type("Remark", "as it looks since spring")
    page.click("Keep", "//div[contains(@class, 'note')]")
    page.see("The stamp")
    page.click("Look")
    page.until(
        lambda one: one.execute_script(
            "const i = document.querySelector('.look img'); return i && i.naturalWidth === 800"
        )
    )


def test_the_lead_edits_an_interview_and_sees_what_factors_do(page: Page, people: World) -> None:
    people.noted("Valve list", arrives=[{"kind": "screen", "part": "1"}], minutes="12")
    people.noted("Meter note", arrives=[{"kind": "spreadsheet", "part": "1"}], minutes="11")
    page.sign_in("Ines Varga", "/house/ideas")
    page.click("The short one")
    page.choose("Add a question to step 1", "a question of our own")
    fields = page.driver.find_elements(By.XPATH, '//input[@aria-label="Question"]')
    fields[2].send_keys("Which form is it?")
    page.type("What changes, and why", "the form says it all")
    page.click("Keep it as version 2")
    page.see("In force: version 2")
    page.click("Factors")
    page.see("fixed-layout PDF")
    field = page.find('//input[contains(@aria-label, ": screen")]')
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("0.5")
    page.click("See what it does to today's order")
    page.see("would change their place")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("5")
    page.type("What changes, and why", "x")
    page.click("Keep it as version 2")
    page.see("a share lies between 0 and 1")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("0.5")
    page.click("Keep it as version 2")
    page.see("stand by former factors.")
    page.click("Reckon them by factors 2")
    page.until(lambda _: page.unseen("stand by former factors"))
    page.sign_in("Ada Pell", "/ideas/new?q=own-1")
    page.press('//label[contains(., "The short one")]')
    page.see("of 6")


def test_two_leads_edit_the_stages_and_neither_loses_what_they_typed(page: Page, people: World) -> None:
    page.sign_in("Ines Varga", "/house/ideas?sheet=stages")
    page.see("Left within, working days")
    field = page.find('//input[contains(@aria-label, "noted: left within")]')
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("3")
    page.type("What changes, and why", "three days are enough")
    rules_set.keep_stages(people.ctx("Ines Varga"), {"screened": {"days": 9}}, "from another tab", 0)
    # The page has read the other's by now; what is typed still stands on the version it began with.
    page.see("Keep it as version 3")
    page.click("Keep it as version 3")
    page.see("Somebody changed this meanwhile.")
    assert field.get_attribute("value") == "3"
    page.see("Theirs, as it stands now")
    page.click("Go on with what is chosen")
    page.click("Keep it as version 3")
    page.see("In force: version 3")
    page.go("/house/ideas?sheet=stages")
    kept = [
        page.find(f'//input[contains(@aria-label, "{stage}: left within")]').get_attribute("value")
        for stage in ("noted", "screened")
    ]
    assert kept == ["3", "9"]
