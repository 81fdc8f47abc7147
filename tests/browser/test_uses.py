"""What hangs on what: from any page to what would stop, by mouse and by keys."""

from __future__ import annotations

import pytest

from tallyman.services.starts import triggers
from tests.browser.conftest import Page
from tests.world import World


@pytest.fixture(scope="module")
def live(people: World) -> World:
    people.host = people.machine(seats=1, robots_=2)
    people.letters = people.routine("Hydrant letters")
    given = triggers.Given({"expr": "0 * * * *"}, "UTC")
    triggers.add(people.ctx("Sol Marin"), people.letters, given)
    return people


def test_from_a_host_to_what_would_stop_without_it_and_on_by_its_boxes(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/robots/hosts/{live.host.id}")
    page.click("What hangs on it, and what would stop without it")
    page.see("What hangs on Weir")
    page.see("1 routine could not start")
    page.press('//button[normalize-space(.)="24 starts"]')
    page.see("starts by people and programs are not known ahead")
    page.press('//*[@role="group"]//a[contains(., "Dipper 2")]')
    page.see("What hangs on Dipper 2")
    page.see("other robots may run what it runs")
    page.see("it works on this")
    page.driver.back()
    page.see("What hangs on Weir")


def test_what_is_not_there_says_so(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/uses/host/404")
    page.see("There is nothing like that here.")
