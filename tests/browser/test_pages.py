"""Refusals, lost drafts, double clicks, roles and keyboard, through the built pages."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tallyman.services.cases import fact_keeping
from tests.browser.conftest import Page
from tests.world import PASSWORD, World


@pytest.fixture(scope="module")
def filled(people: World) -> World:
    people.idea = people.noted("Hydrant letters")
    people.offer = people.offered("Tanker log to ledger")
    people.host = people.machine()
    people.number = people.routine()
    return people


def test_a_wrong_password_is_refused_and_slowed_down(page: Page, filled: World) -> None:
    page.driver.delete_all_cookies()
    page.go("/sign-in")
    page.type("Mail address", "ruth.abernathy@merrowdale.example")
    for _ in range(3):
        page.type("Password", "wrong")
        page.click("Sign in")
        page.see("Address and password do not belong together.")
    page.type("Password", PASSWORD)
    page.click("Sign in")
    page.see("Too many failed tries")
    filled.db.transact(lambda tx: tx.execute("DELETE FROM sign_in_try"))


def sections(page: Page) -> list[str]:
    return [one.text for one in page.driver.find_elements(By.CSS_SELECTOR, "nav[aria-label=Sections] a")]


@pytest.mark.parametrize(
    ("name", "wanted"),
    [
        ("Ada Pell", ["Today", "Ideas", "Self-service"]),
        ("Ruth Abernathy", ["Today", "Ideas", "Portfolio", "Value", "Self-service"]),
        ("Sol Marin", ["Today", "Ideas", "Portfolio", "Workshop", "Robots", "Runs", "Value", "Self-service"]),
    ],
)
def test_each_person_sees_the_sections_they_may_use(
    page: Page, filled: World, name: str, wanted: list[str]
) -> None:
    page.sign_in(name)
    assert sections(page) == wanted


def test_a_page_one_may_not_see_says_which_permission_is_missing(page: Page, filled: World) -> None:
    page.sign_in("Ada Pell", "/runs")
    page.see("the permission run.see is missing")
    page.see("Ask Ines Varga, who can give it.")


def test_an_idea_that_is_not_there_is_said_so(page: Page, filled: World) -> None:
    page.sign_in("Ada Pell", "/ideas/999999")
    page.see("There is no idea I-999999 that you may see.")


def test_an_ended_session_leads_to_the_sign_in_and_back(page: Page, filled: World) -> None:
    page.sign_in("Tom Okafor", "/ideas?sort=newest")
    filled.db.transact(lambda tx: tx.execute("DELETE FROM session"))
    page.driver.refresh()
    page.see("You will then be taken to the page you asked for.")
    page.type("Mail address", "tom.okafor@merrowdale.example")
    page.type("Password", PASSWORD)
    page.click("Sign in")
    page.see("Tom Okafor")
    assert page.driver.current_url == f"{page.base}/ideas?sort=newest"


def test_a_draft_is_there_again_after_leaving(page: Page, filled: World) -> None:
    page.sign_in("Ada Pell", "/ideas/new")
    page.type("What is the work called?", "Wayleave renewals by post")
    page.see("Kept.")
    number = page.number()
    page.go("/")
    page.click(f"I-{number} Wayleave renewals by post")
    page.until(
        lambda _: page.field("What is the work called?").get_attribute("value") == "Wayleave renewals by post"
    )


def test_an_answer_that_is_refused_stays_in_its_field(page: Page, filled: World) -> None:
    page.sign_in("Ada Pell", "/ideas/new")
    page.see("What is the work called?")
    number = page.number()
    page.go(f"/ideas/new/{number}?q=minutes")
    page.type("How many minutes does one take?", "ten")
    page.click("Next")
    page.see("not a number; give a number such as 12.5")
    assert page.field("How many minutes does one take?").get_attribute("value") == "ten"


def test_similar_ideas_show_while_typing(page: Page, filled: World) -> None:
    page.sign_in("Ada Pell", "/ideas/new")
    page.type("What is the work called?", "Letters for hydrants")
    page.see("Like what others handed in")
    page.see("Hydrant letters")


def test_declining_without_words_is_refused_at_its_field(page: Page, filled: World) -> None:
    page.sign_in("Tom Okafor", f"/ideas/{filled.idea}")
    page.click("Decline")
    page.choose("Reason", "too little volume")
    page.click("Decline and tell Ada Pell")
    page.see("explain it to the proposer in a sentence")


def test_who_sized_is_not_offered_to_agree(page: Page, filled: World) -> None:
    page.sign_in("Mei Tanaka", f"/ideas/{filled.offer}?sheet=sizing")
    page.see("somebody else gives it")
    assert page.unseen("Agree to the sizing")


def test_a_change_that_crosses_another_shows_both_values(page: Page, filled: World) -> None:
    idea = filled.screened("Bore-hole returns")
    # Without its stream the page does not hear of the other's change before it sends its own.
    page.driver.execute_cdp_cmd("Network.enable", {})
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/api/v1/events"]})
    page.sign_in("Mei Tanaka", f"/ideas/{idea}?sheet=sizing")
    page.see("How it goes")
    fact_keeping.keep(filled.ctx("Mei Tanaka"), idea, {"steps": "11"}, {}, "")
    page.leave("Steps", "15")
    page.see("changed “Steps” meanwhile")
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    page.click("Keep mine")
    kept = "SELECT value_json FROM fact WHERE field = 'steps' AND idea_id = %(i)s"
    page.until(lambda _: filled.row(kept, i=idea)["value_json"] == '"15"')
    page.driver.get_log("browser")


def test_what_is_typed_is_asked_about_on_leaving_and_stands_there_again(page: Page, filled: World) -> None:
    page.sign_in("Mei Tanaka", f"/ideas/{filled.idea}")
    page.click("Talk")
    page.type("Say something", "The list comes twice")
    page.click("Answers")
    page.see("Leave what is typed here?")
    page.click("Stay here")
    assert page.field("Say something").get_attribute("value") == "The list comes twice"
    page.driver.back()
    page.see("Leave what is typed here?")
    page.click("Leave, keep the draft")
    page.until(lambda one: "sheet=talk" not in one.current_url)
    page.go(f"/ideas/{filled.idea}?sheet=talk")
    page.see("Here again: what you typed")
    assert page.field("Say something").get_attribute("value") == "The list comes twice"
    page.click("Say it")
    page.until(lambda _: filled.rows("SELECT id FROM idea_comment"))
    page.until(lambda _: page.field("Say something").get_attribute("value") == "")
    page.go(f"/ideas/{filled.idea}?sheet=talk")
    page.see("Talk")
    assert page.unseen("Here again")


def test_a_double_click_starts_one_run(page: Page, filled: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{filled.number}")
    # Nothing is heard of the host, so that it would wait is seen before the yes.
    page.click("Start now")
    page.see("A run started now waits until what is not met has come true")
    button = page.find('//button[normalize-space(.)="Start it, and let it wait"]')
    page.driver.execute_script("arguments[0].click(); arguments[0].click()", button)
    page.until(lambda one: "/runs/" in one.current_url)
    page.see("It waits:")
    assert len(filled.rows("SELECT id FROM run")) == 1


def test_a_waiting_run_says_why_and_can_be_cancelled(page: Page, filled: World) -> None:
    run = filled.start(filled.number, "waits")
    page.sign_in("Sol Marin", f"/runs/{run}")
    page.see("on a host that is heard from")
    page.click("Cancel the run")
    page.click("Yes, cancel it")
    page.see("cancelled by Sol Marin before it started")


def test_a_figure_opens_its_working_by_keyboard_and_its_link_shows_it_again(
    page: Page, filled: World
) -> None:
    page.sign_in("Ines Varga", f"/ideas/{filled.offer}?sheet=case")
    figure = page.find('//*[contains(., "Costs a year to run")]/following-sibling::button')
    figure.send_keys(Keys.ENTER)
    page.see("seats + support + other software + running lines")
    address = page.driver.current_url
    page.go("/")
    page.see("What waits for me")
    page.driver.get(address)
    page.see("seats + support + other software + running lines")


def test_every_picture_has_a_table_one_key_away(page: Page, filled: World) -> None:
    page.sign_in("Ines Varga", f"/ideas/{filled.offer}?sheet=case")
    page.find("//figure").send_keys("t")
    page.see("Month")
    assert page.words("//figure//table//th") == "Month"


def test_nothing_was_complained_about(page: Page, filled: World) -> None:
    assert page.faults() == []
