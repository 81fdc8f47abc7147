"""Coming in by invitation, asking for access, seeing one area, and a lead who explains why."""

from __future__ import annotations

import re

import pytest

from tallyman.services.house.areas import add_area
from tallyman.services.ideas import helpers
from tallyman.standins.mail_catcher import Caught
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import World

PASSWORD = "six-otters-swim-9"


@pytest.fixture(scope="module")
def areas(people: World) -> World:
    """Two areas with a routine in each."""
    people.machine()
    release = people.release()
    people.number = people.routine("Check readings", release)
    far = add_area(people.ctx("Sol Marin"), "Street works", None)
    people.second = people.routine("Permit list", release, area_id=far)
    return people


def link(caught: Caught, to: str, page: str) -> str:
    """The path of the link in the latest mail to somebody."""

    def look() -> str | None:
        for mail in list(caught.mails):
            found = re.search(rf"(/{page}/\S+)", mail["body"])
            if to in mail["to"] and found:
                return found.group(1)
        return None

    return str(wait_for(look))


def test_an_invited_person_comes_in_asks_and_sees_one_area_only(
    page: Page, areas: World, caught: Caught
) -> None:
    page.sign_in("Ines Varga", "/house/people")
    page.click("Invite somebody")
    page.type("Name", "Jaro Senn")
    page.type("Mail address", "jaro.senn@merrowdale.example")
    page.click("Send the invitation")
    page.see("invited")
    path = link(caught, "jaro.senn@merrowdale.example", "welcome")

    page.driver.delete_all_cookies()
    page.go(path)
    page.see("Welcome to Merrowdale Water")
    page.type("A password", "short")
    page.click("Come in")
    page.see("12 to 200 characters")
    assert page.field("Your name, as others see it").get_attribute("value") == "Jaro Senn"
    page.type("A password", PASSWORD)
    page.click("Come in")
    page.see("What you can do here")
    page.see("Ines Varga can give you more.")
    assert page.unseen("Workshop")

    # A page that may not be seen says which permission is missing, and takes the request.
    page.go(f"/workshop/routines/{areas.number}")
    page.see("routine.see")
    page.see("Ask Ines Varga, who can give it.")
    page.click("Ask for it")
    page.type("What do you need it for, and for which area?", "I look after the meter letters")
    page.click("Ask for it")
    page.see("Asked.")

    page.sign_in("Ines Varga")
    page.click("Jaro Senn asks for access")
    page.see("I look after the meter letters")
    page.choose("Role", "operator")
    page.choose("For", "Metering")
    page.click("Give it")
    page.see("Nobody waits for an answer.")

    page.driver.delete_all_cookies()
    page.go("/workshop")
    page.type("Mail address", "jaro.senn@merrowdale.example")
    page.type("Password", PASSWORD)
    page.click("Sign in")
    page.see("Check readings")
    assert page.unseen("Permit list")
    page.go("/robots")
    page.see("Dipper 1")
    page.go(f"/workshop/routines/{areas.second}")
    page.see("or it does not exist")
    assert page.unseen("Permit list")
    page.go("/profile?sheet=access")
    page.see("operator for the area Metering and those below it")
    assert page.faults() == []


def test_a_lead_explains_with_two_clicks_why_somebody_cannot(page: Page, areas: World) -> None:
    page.sign_in("Ines Varga", "/house/people")
    page.click("Ada Pell")
    page.see("No, Ada Pell may not see routines")
    page.see("routine.see is missing.")
    page.see("Ines Varga can give it")
    page.click("Give a role")
    page.choose("Role", "backer")
    page.see("The tally: see the tally; close and sign a month")
    page.click("Give the role")
    page.see("backer for the whole company")


def test_a_lead_sees_as_somebody_else_and_can_change_nothing(page: Page, areas: World) -> None:
    page.sign_in("Ines Varga", "/house/roles")
    page.click("See as this role")
    page.see("You see this as somebody with the role lead")
    page.click("See as Ines Varga again")
    page.see("people are here")
    page.click("Corin Dahl")
    page.click("See as Corin")
    page.see("You see this as Corin Dahl.")
    page.go("/profile")
    page.see("corin.dahl@merrowdale.example")
    page.click("Keep the profile")
    page.see("nothing can be changed meanwhile")
    page.click("See as Ines Varga again")
    page.see("people are here")


def test_an_own_role_is_ticked_and_warns_of_what_should_be_apart(page: Page, areas: World) -> None:
    page.sign_in("Ines Varga", "/house/roles")
    page.click("analyst 1")
    page.click("Copy it")
    page.type("Name of the role", "Chooser")
    page.press('//label[.//input[@aria-label="back ideas"] or @aria-label="back ideas"]')
    page.see("who sizes an idea should not alone back it")
    page.click("Make the role")
    page.see("Chooser")


def test_an_area_is_moved_after_a_look_at_who_loses(page: Page, areas: World) -> None:
    page.sign_in("Ines Varga", "/house/areas")
    page.press('//tr[contains(.,"Street works")]//button[normalize-space(.)="Move"]')
    page.choose("Below", "Metering")
    page.see("Allowed here from then on: the robots Dipper 1.")
    page.see("Jaro Senn")
    page.click("Move it")
    wait_for(
        lambda: areas.rows(
            "SELECT 1 FROM area a JOIN area b ON b.id = a.parent_id "
            "WHERE a.name = 'Street works' AND b.name = 'Metering'"
        )
    )


def test_a_helper_is_asked_on_the_idea_and_sees_it(page: Page, areas: World) -> None:
    idea = areas.noted("Wayleave renewals")
    bela = areas.stranger("Bela Kiss")
    assert bela.actor.person_id is not None
    helpers.add_helper(areas.ctx("Ada Pell"), idea, bela.actor.person_id, "look at the map")
    page.sign_in("Bela Kiss", f"/ideas/{idea}")
    page.see("Wayleave renewals")
    page.see("Bela Kiss: look at the map")


def test_a_forgotten_password_is_set_by_the_link_in_a_mail(page: Page, areas: World, caught: Caught) -> None:
    page.driver.delete_all_cookies()
    page.go("/sign-in")
    page.click("I forgot my password")
    page.type("Your mail address", "tom.okafor@merrowdale.example")
    page.click("Send me a link")
    page.see("a mail with a link is on its way")
    page.go(link(caught, "tom.okafor@merrowdale.example", "new-password"))
    page.type("For tom.okafor@merrowdale.example", PASSWORD)
    page.click("Set it")
    page.see("It is set")
    page.click("Sign in")
    page.type("Mail address", "tom.okafor@merrowdale.example")
    page.type("Password", PASSWORD)
    page.click("Sign in")
    page.see("Tom Okafor")
