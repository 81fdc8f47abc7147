"""Single sign-on, second factors, secrets, tokens, mail settings and lists of people, by those who use them."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from pathlib import Path

import httpx
import pyotp
import pytest

from tallyman.config import read_clock, settings
from tallyman.services import access
from tallyman.standins.identity import Provider, server
from tallyman.standins.mail_catcher import Caught
from tests.browser.conftest import Page
from tests.conftest import free_port
from tests.serving import Serving, wait_for
from tests.world import PASSWORD, World

VERA = {
    "sub": "1",
    "name": "Vera Holm",
    "email": "vera.holm@merrowdale.example",
    "email_verified": True,
    "groups": ["lab"],
}


@pytest.fixture(scope="module")
def idp(served: Serving) -> Iterator[Provider]:
    port = free_port()
    made = Provider(f"http://127.0.0.1:{port}", "tallyman", "hush-hush", [VERA])
    pages = server(made, port)
    thread = threading.Thread(target=pages.serve_forever, daemon=True)
    thread.start()
    settings().public_url = served.url
    yield made
    settings().public_url = ""
    pages.shutdown()
    pages.server_close()
    thread.join()


@pytest.fixture(scope="module")
def desk(people: World) -> World:
    """Areas, and a group that gets its people by single sign-on."""
    people.machine()
    lead = people.ctx("Ines Varga")
    group = access.add_group(lead, "Laboratory desk", "", "", [])
    roles = {row.name: row.id for row in access.listed(lead)}
    access.give(lead, roles["operator"], None, group, people.area)
    return people


def code_of(secret: str) -> str:
    return pyotp.TOTP(secret.replace(" ", "")).at(read_clock())


def next_code(secret: str, used: str) -> str:
    """A code that was not used yet; the app shows a new one each half minute, and early ones are taken."""
    totp = pyotp.TOTP(secret.replace(" ", ""))
    now = read_clock()
    return next(code for n in (0, 1) if (code := totp.at(now, counter_offset=n)) != used)


def test_single_sign_on_is_set_up_brings_a_newcomer_in_and_out(
    page: Page, desk: World, idp: Provider
) -> None:
    page.sign_in("Ines Varga", "/house/people")
    page.click("Laboratory desk")
    page.type("Follows the claim", "lab")
    page.click("Keep it")
    page.see("follows the claim lab")
    page.go("/house/sign-in")
    page.tick("People can sign in by the identity provider")
    page.type("What the button names", "Merrowdale sign-in")
    page.type("Issuer", "http://login.merrowdale.example")
    page.type("Client", "tallyman")
    page.type("Client's secret", "hush-hush")
    page.click("Keep it")
    page.see("give an address that begins with https://")
    assert page.field("What the button names").get_attribute("value") == "Merrowdale sign-in"
    page.type("Issuer", idp.issuer)
    page.click("Keep it")
    page.see("the provider answers under this name")

    page.driver.delete_all_cookies()
    page.go("/workshop")
    page.click("By Merrowdale sign-in")
    page.see("Who are you?")
    page.press('//button[contains(., "Vera Holm")]')
    page.see("Vera Holm")
    page.until(lambda one: one.current_url == f"{page.base}/workshop")
    page.go("/profile?sheet=access")
    page.see("operator for the area Metering and those below it, by the group Laboratory desk")
    page.click("Sign out", "//header")
    page.see("Mail address")
    wait_for(lambda: idp.left)
    page.go("/")
    page.see("Mail address")


def test_a_sign_in_outside_that_is_refused_says_so_on_the_sign_in_page(
    page: Page, desk: World, idp: Provider
) -> None:
    idp.people["1"] = {**VERA, "sub": "9", "email_verified": False}
    idp.people["9"] = idp.people["1"]
    page.driver.delete_all_cookies()
    page.go("/sign-in")
    page.click("By Merrowdale sign-in")
    page.press('//button[contains(., "Vera Holm")]')
    page.see("it names no proved mail address")
    idp.people = {"1": VERA}


def test_a_second_factor_is_set_up_asked_for_and_recovered_from(page: Page, desk: World) -> None:
    page.sign_in("Tom Okafor", "/profile?sheet=sign-in")
    page.click("Set it up")
    secret = page.words('//p[contains(@class, "secret")]')
    page.type("2. The code that it shows", "000000")
    page.click("Turn it on")
    page.see("this code does not fit")
    first = code_of(secret)
    page.type("2. The code that it shows", first)
    page.click("Turn it on")
    page.see("They are shown this once.")
    spare = page.words("//li[contains(., '-')]")
    page.click("I have kept them")
    page.see("10 recovery codes are left")

    for code in (next_code(secret, first), spare):
        page.driver.delete_all_cookies()
        page.go("/ideas")
        page.type("Mail address", "tom.okafor@merrowdale.example")
        page.type("Password", PASSWORD)
        page.click("Sign in")
        page.type("Code from your app", "000000")
        page.click("Go on")
        page.see("this code does not fit")
        page.type("Code from your app", code)
        page.click("Go on")
        page.see("Tom Okafor")
    page.go("/profile?sheet=sign-in")
    page.see("9 recovery codes are left")

    page.sign_in("Ines Varga", "/house/people")
    page.click("Tom Okafor")
    page.click("They lost it: take it away")
    page.until(lambda one: "Signs in with a second factor" not in one.page_source)
    page.sign_in("Tom Okafor")


def test_a_role_that_asks_for_a_second_factor_lets_nothing_pass_before(page: Page, desk: World) -> None:
    page.sign_in("Ines Varga", "/house/roles")
    page.click("builder 1")
    page.click("Ask for one")
    page.see("Who holds it needs a second factor.")
    page.driver.delete_all_cookies()
    page.go("/workshop")
    page.type("Mail address", "jonas.lindqvist@merrowdale.example")
    page.type("Password", PASSWORD)
    page.click("Sign in")
    page.see("Your role builder asks for a second factor.")
    assert page.unseen("Packages")
    page.click("Set it up")
    page.type("2. The code that it shows", code_of(page.words('//p[contains(@class, "secret")]')))
    page.click("Turn it on")
    page.see("They are shown this once.")
    page.click("I have kept them")
    page.see("Packages")
    page.until(lambda one: "asks for a second factor" not in one.page_source)


def test_a_secret_is_put_in_and_its_value_never_comes_out(page: Page, desk: World) -> None:
    page.sign_in("Sol Marin", "/house/secrets")
    page.click("Put one in")
    page.type("Name", "Billing Login")
    page.type("Value", "heron-on-the-weir-4")
    page.click("Put it in")
    page.see("small letters, digits and -")
    page.type("Name", "billing-login")
    page.type("What it is for", "Signs in to the meter store")
    page.click("Put it in")
    page.see("Signs in to the meter store")
    page.click("billing-login")
    page.see("Nobody used it yet.")
    page.click("Change it")
    assert page.field("Another value").get_attribute("value") == ""
    assert "heron-on-the-weir" not in page.driver.page_source
    page.type("Another value", "otter-under-bridge-5")
    page.click("Keep it")
    page.until(lambda one: "Another value" not in one.page_source)
    page.sign_in("Ines Varga", "/house/secrets")
    page.click("billing-login")
    page.click("Take it out")
    page.see("nobody can bring it back")
    page.click("Take it out", '//*[@role="dialog"]')
    page.until(lambda one: "billing-login" not in one.find_element("id", "sheet").text)


def test_a_token_is_made_used_by_a_program_and_revoked(page: Page, desk: World, served: Serving) -> None:
    page.sign_in("Sol Marin", "/profile?sheet=programs")
    page.click("Make a token")
    page.type("For which program", "Meter sync")
    page.click("Make it")
    page.see("tick at least one thing")
    page.tick("see hosts and robots")
    page.click("Make it")
    token = page.words('//p[contains(@class, "token")]')
    page.click("I have kept it")
    page.see("Meter sync")
    with httpx.Client(
        base_url=f"{served.url}/api/v1", headers={"Authorization": f"Bearer {token}"}
    ) as client:
        assert client.get("/robots").status_code == 200
        assert client.get("/runs").status_code == 403
        assert client.post("/hosts", json={"name": "Sluice", "seats": 1}).status_code == 403
        assert client.get("/profile").status_code == 403
        assert (
            client.get("/robots", params={"token": token}, headers={"Authorization": ""}).status_code == 401
        )
        page.sign_in("Ines Varga", "/house/tokens")
        page.see("of Sol Marin")
        page.click("Revoke")
        page.see("revoked")
        assert client.get("/robots").status_code == 401


def test_mail_settings_are_tested_before_they_are_kept(page: Page, desk: World, caught: Caught) -> None:
    page.sign_in("Ines Varga", "/house/mail")
    page.click("Change the mail server")
    page.type("Port", str(free_port()))
    page.click("Send me a test mail")
    page.see("did not take it")
    page.type("Port", str(settings().mail_port))
    page.click("Send me a test mail")
    page.see("Look into your mail, ines.varga@merrowdale.example")
    assert any(mail["subject"] == "Test of the mail settings" for mail in caught.mails)
    page.type("Mails come from", "desk@merrowdale.example")
    page.click("Keep it")
    page.see("from desk@merrowdale.example")


def test_a_list_of_people_is_looked_at_and_brought_in(page: Page, desk: World, tmp_path: Path) -> None:
    path = tmp_path / "people.csv"
    path.write_text(
        "name,mail address,division,roles\n"
        "Pavel Orlik,pavel.orlik@merrowdale.example,Networks,expert for Metering\n"
        "Ada Pell,ada.pell@merrowdale.example,,\n"
        "Nobody,nowhere,,\n",
        encoding="utf-8",
    )
    page.sign_in("Ines Varga", "/house/people")
    page.click("Bring in a list")
    page.attach("List of people", path)
    page.see("1 to be invited, 1 here already, 1 not as they are.")
    page.see("give a mail address such as")
    page.click("Invite 1 person")
    page.see("1 invited, 1 were here already, 1 left out.")
    page.see("expert for Metering")


def test_the_company_and_its_divisions_are_kept(page: Page, desk: World) -> None:
    page.sign_in("Ines Varga", "/house")
    page.see("How it stands")
    page.click("Company", "//table")
    page.type("Currency", "E1")
    page.click("Keep it")
    page.see("three capital letters")
    page.type("Currency", "EUR")
    page.click("Keep it")
    page.see("Kept.")
    page.type("Another division", "Fleet & Stores")
    page.click("Add it")
    page.see("Fleet & Stores")
    page.type("Another division", "Vehicles")
    page.choose("below", "Fleet & Stores")
    page.click("Add it")
    page.see("Vehicles")
    page.click_label("Move Vehicles")
    page.click("Move it")
    page.click_label("Merge Vehicles")
    page.see("0 ideas, 0 people go into")
    page.click("Cancel")
