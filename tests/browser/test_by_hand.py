"""What no robot does shows what it was promised and what it brings: through its pages, by the people it is for."""

from __future__ import annotations

from datetime import timedelta

from selenium.webdriver.common.by import By

from tallyman.services.ideas import moves
from tests.browser.conftest import Page
from tests.world import World

AGO = timedelta(days=40)


def since(people: World) -> str:
    return (people.now - AGO).date().isoformat()


def say(page: Page, phase: str, minutes: str) -> None:
    page.press(f'//tr[td[normalize-space(.)="{phase}"]]//button')
    page.type("Minutes one takes", minutes)
    page.type("How it was measured", "a week at two desks")
    page.click("Keep it")
    page.until(lambda one: not one.find_elements(By.XPATH, '//button[normalize-space(.)="Keep it"]'))


def brings(page: Page, people: World, idea: int, units: str) -> None:
    """Before, after, promise, units and the yes of the lead; the tally follows."""
    say(page, "Before", "12")
    say(page, "After", "7")
    page.see("5 min from")
    page.see("waits for somebody else to approve it")
    page.click("Give units")
    page.see("Say of which days, all of one month.")
    page.type("First day", since(people))
    page.type("Last day", since(people))
    page.type("Units", units)
    page.type("Where the figure comes from", "the book of the desk")
    page.click("Keep these units")
    page.see("not in the tally yet")
    page.sign_in("Ines Varga", "/value/rates")
    page.click("Approve")
    page.until(lambda one: not one.find_elements(By.XPATH, '//button[normalize-space(.)="Approve"]'))
    page.go(f"/ideas/{idea}?sheet=tally")
    page.click("Say what it is to bring")
    page.type("Items a year", "3650")
    page.see("304.2 hours a year")
    page.click("Promise it")
    page.until(lambda _: page.unseen("Nothing is promised of it yet"))
    people.settle()
    page.go(f"/ideas/{idea}?sheet=tally")
    page.see("is approved, and counts")
    page.see("Counted by hand, in service since")
    # 60 × 5 min × € 38 an hour.
    page.press('//tr[contains(., "entr")]//button[@aria-expanded]')


def test_what_runs_already_is_registered_measured_promised_and_counted(page: Page, people: World) -> None:
    page.sign_in("Tom Okafor", "/ideas/enter")
    page.press('//label[contains(., "An automation that runs already")]')
    page.type("What is the work called?", "Labels of the round")
    page.type("What happens in it, and what comes out?", "Labels are printed from the plan.")
    page.type("It runs since", since(people))
    page.type("Where it runs", "a tool of the desk")
    page.type("How we know that it runs", "found in the round of the desks")
    page.click("Enter it")
    page.see("Before and after")
    page.see("since")
    idea = int(people.row("SELECT MAX(id) AS id FROM idea")["id"])
    brings(page, people, idea, "60")
    page.see("190.00")


def test_a_training_shows_promised_and_delivered(page: Page, people: World) -> None:
    idea = people.screened("Handwritten notes of the crews")
    due = (people.now + AGO).date()
    owner = people.number("Corin Dahl")
    moves.take_route(people.ctx("Tom Okafor"), idea, "training", "Teach it", owner, due)
    page.sign_in("Corin Dahl", f"/ideas/{idea}")
    page.click("It is carried out")
    page.type("Since when it is so", since(people))
    page.type("What was done?", "All depots were taught")
    page.click("It is carried out", "//form")
    page.click("Tally")
    page.see("Before and after")
    brings(page, people, idea, "120")
    page.see("380.00")
    page.click("Change it")
    page.type("Units", "90")
    page.type("Why it changes", "thirty were of another depot")
    page.click("Change the count")
    people.settle()
    page.go(f"/ideas/{idea}?sheet=tally")
    page.see("285.00")
