"""A fresh installation: the first person comes in by the printed code, and sees what to do first."""

from __future__ import annotations

from tallyman.config import read_clock
from tallyman.launcher.shots import browser
from tallyman.services.context import Ctx
from tallyman.services.people import first_run
from tests.browser.conftest import Page
from tests.serving import Serving


def test_the_first_person_becomes_lead_and_sees_five_steps(served: Serving) -> None:
    code = first_run.code(Ctx(served.db, read_clock()))
    assert code is not None
    with browser() as driver:
        page = Page(driver, served.url)
        page.go("/portfolio")
        page.see("Nobody is here yet.")
        page.type("Code", "WRONG")
        page.type("Your name", "Ines Varga")
        page.type("Your mail address", "ines.varga@merrowdale.example")
        page.type("A password", "six-otters-swim-9")
        page.type("Your company", "Merrowdale Water")
        page.type("Your time zone", "Europe/Lisbon")
        page.click("Begin")
        page.see("this is not the code that was printed")
        assert page.field("Your company").get_attribute("value") == "Merrowdale Water"
        page.type("Code", code.lower())
        page.click("Begin")
        page.see("First steps")
        for words in (
            "Invite people",
            "Say what work costs",
            "Hand in a first idea",
            "0 of 7 rates approved",
        ):
            page.see(words)
        page.click("Invite people")
        page.click("Invite somebody")
        page.type("Name", "Mei Tanaka")
        page.type("Mail address", "mei.tanaka@merrowdale.example")
        page.click("Send the invitation")
        page.see("invited")
        page.go("/")
        page.see("1 beside you")
        page.go("/value/rates")
        page.see("Cases cannot be reckoned whole without a rate for: An hour costs; A robot hour")
        page.choose("Rate", "Discount rate")
        page.see("as a share, 0.1 is 10 %")
        page.type("Value", "0.06")
        page.type("Where it comes from", "finance")
        page.click("Propose it")
        page.see("nobody else may approve rates: give somebody a role that may")
        page.go("/first")
        page.see("Somebody is here already.")
        assert page.faults() == []
