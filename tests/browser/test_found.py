"""Something is found wherever it lies and moved to where it belongs; a run that gives no sign says so."""

from __future__ import annotations

import hashlib
from datetime import timedelta

import pytest

from tallyman.config import read_clock
from tallyman.services import safe
from tallyman.services.house import areas
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch, screens, uploads
from tests.browser.conftest import Page
from tests.serving import wait_for
from tests.world import World, picture


@pytest.fixture(scope="module")
def live(people: World) -> World:
    people.host = people.machine(robots_=2)
    people.number = people.routine("Hydrant letters")
    people.other = areas.add_area(people.ctx("Sol Marin"), "Laboratory", None)
    return people


def test_a_routine_is_found_by_a_part_of_its_name_and_moved(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/house/areas")
    page.click_label("Bring here, to Laboratory")
    page.type("What comes to Laboratory?", "hydr")
    page.see("in Metering")
    page.click_label("Move it here: Hydrant letters")
    # What it would lack there is seen before.
    page.see("Pre-check in Laboratory: 1 not met")
    page.see("A robot allowed in Laboratory")
    page.click("Another one")
    page.type("What comes to Laboratory?", "Dipper 2")
    page.click_label("Move it here: Dipper 2")
    page.see("It takes work of this area and those below it alone from then on.")
    page.click("Move it here")
    page.until(lambda _: page.unseen("What comes to Laboratory?"))
    page.click_label("Bring here, to Laboratory")
    page.type("What comes to Laboratory?", "hydr")
    page.click_label("Move it here: Hydrant letters")
    page.see("Pre-check in Laboratory: it can start")
    page.click("Move it here")
    page.until(lambda _: page.unseen("What comes to Laboratory?"))
    row = live.row("SELECT area_id FROM routine WHERE id = %(id)s", id=live.number)
    assert row["area_id"] == live.other


def test_a_run_that_gives_no_sign_says_since_when_and_what_helps(page: Page, live: World) -> None:
    run = live.start(live.routine("Quiet one", live.release("1.1.0")))
    now = read_clock()
    later = now - live.now
    host = host_tokens.host_of(live.program(later), live.token)
    dispatch.heartbeat(live.program(later), host, dispatch.Beat(now, []))
    work = dispatch.take(live.program(later), host)
    while work is not None and work.run != run:
        work = dispatch.take(live.program(later), host)
    assert work is not None
    told = dispatch.Beat(now, [(run, work.fence)], quiet={run: 900})
    dispatch.heartbeat(live.program(later + timedelta(seconds=1)), host, told)
    page.sign_in("Sol Marin")
    page.see("reports nothing and uses no processor for longer than it usually does")
    page.click(f"R-{run} Quiet one")
    page.see("it reports nothing and uses no processor.")
    page.press('//*[@data-stalled]//button[normalize-space(.)="10 min"]')
    page.see("known once 5 good runs told their longest silence")
    page.see("A window waits for an answer")
    # Its area wants to see the screen from now on.
    page.go(f"/house/areas?area={live.area}")
    page.tick("Take a picture of its screen, here and in all areas below")
    wait_for(lambda: live.row("SELECT screens FROM area WHERE id = %(id)s", id=live.area)["screens"])
    ctx = live.program(later + timedelta(seconds=2))
    assert dispatch.heartbeat(ctx, host, told).screens == [run]
    data = picture(width=300)
    digest = hashlib.sha256(data).hexdigest()
    uploads.begin(ctx, host, digest, len(data))
    uploads.put(ctx, host, digest, 0, data)
    screens.keep(ctx, host, run, work.fence, digest, "")
    page.go(f"/runs/{run}")
    page.see("seen by whoever may read the log")
    wide = "return document.querySelector('[data-screen] img').naturalWidth"
    page.until(lambda one: one.execute_script(wide) == 300)


def test_a_host_gets_a_value_of_its_own(page: Page, live: World) -> None:
    number = safe.make(live.ctx("Ines Varga"), safe.Given("quill-login", "package", "reed-for-all-1"))
    page.sign_in("Ines Varga", f"/house/secrets?secret={number}")
    page.see("Every host and robot gets the same value.")
    page.click("Add a value for one host or robot")
    page.see("Choose for which, and type its value.")
    page.choose("For", "host Weir")
    page.type("Value for it alone", "short")
    page.click("Put it in")
    page.see("at least 6 characters")
    page.type("Value for it alone", "weir-of-host-2")
    page.click("Put it in")
    page.see("never used")
    page.click("Add a value for one host or robot")
    page.choose("For", "host Weir")
    page.see("Replace it")
    page.click("Cancel", '//section[.//h3[normalize-space(.)="Values of its own"]]')
    page.click_label("Take it out: the value for the host Weir")
    page.see("Every host and robot gets the same value.")
