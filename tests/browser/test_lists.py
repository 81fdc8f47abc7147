"""A list in other words and columns comes in through its page without anybody reading a manual."""

from __future__ import annotations

from pathlib import Path

from selenium.webdriver.common.by import By

from tests.browser.conftest import Page
from tests.services.ideas.test_lists import foreign
from tests.world import World


def bring(page: Page, path: Path) -> None:
    page.until(lambda one: one.find_elements(By.CSS_SELECTOR, "input[type=file]"))
    page.driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(path))
    page.see("Which column is what")


def test_sixty_six_rows_in_other_words_come_in_as_sixty_ideas(
    page: Page, people: World, tmp_path: Path
) -> None:
    path = tmp_path / "vorgaenge.csv"
    path.write_bytes(foreign())
    page.sign_in("Tom Okafor", "/ideas/bring")
    bring(page, path)
    page.see("of 66 lines 66 stay out")
    page.see("5 columns were told by what stands in them")
    for column, stands in (
        ("Bereich", "Where it belongs"),
        ("Ansprechpartner", "Who answers for it"),
        ("Eingang", "What it arrives as"),
    ):
        page.choose(f"{column} stands for", stands)
        page.until(lambda _, words=stands: page.unseen(f"{words} (taken)"))
    page.click("All are right")
    page.see("4 words say nothing here yet")
    page.choose("pro Woche is", "week")
    page.see("3 words say nothing here yet")
    page.choose("Anruf is", "talk")
    page.see("2 words say nothing here yet")
    page.pick("C. Dahl is", "Corin", "Corin Dahl")
    page.see("1 word says nothing here yet")
    page.pick("Netze is", "Netw", "Networks")
    page.see("60 come in, 4 stand twice, 2 stay out")
    page.see("5 a week")
    # What does not fit its head is mended where it stands.
    page.see("opens a quotation mark that is not closed")
    page.leave("Line 31 as it stands", "Kurz;Hier fehlen Zellen")
    page.see("it needs 8")
    assert page.field("Line 31 as it stands").get_attribute("value") == "Kurz;Hier fehlen Zellen"
    page.leave("Line 31 as it stands", "Kurz;Nun ganz;5 pro Woche;0:10;Netze;C. Dahl;Papier;V-901")
    page.see("61 come in, 4 stand twice, 1 stays out")
    page.click("61 come in")
    page.click("As it came")
    page.see("60 come in, 4 stand twice, 2 stay out")
    page.click("Bring in 60 ideas")
    page.see("60 came in; 4 stood twice; 2 stayed out")
    assert people.row("SELECT COUNT(*) AS n FROM idea WHERE source = 'spreadsheet'")["n"] == 60


def test_what_says_otherwise_under_the_same_number_is_decided_in_its_place(
    page: Page, people: World, tmp_path: Path
) -> None:
    path = tmp_path / "depot.csv"
    path.write_text(
        "no,title,what,minutes\nD1,Keys of the depot,are handed out,5\nD1,Keys,are handed out,9\n"
    )
    page.sign_in("Tom Okafor", "/ideas/bring")
    bring(page, path)
    page.see("of 2 lines 1 comes in, 1 is in conflict")
    page.see("It says otherwise")
    page.click("Another idea: bring it in")
    page.see("of 2 lines 2 come in")
    page.click("Take back")
    page.see("1 is in conflict")
    page.click("The same idea: leave it as it is")
    page.see("1 comes in, 1 stands twice")
