"""Rolling a release out through the pages: three routines take it, in stages and at once, and go back."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.config import read_clock
from tallyman.services.house import areas
from tallyman.services.workshop import packages, rolling
from tests.browser.conftest import Page
from tests.world import MANIFEST, World, package

NEEDED = MANIFEST + '\n[inputs.place]\ntype = "string"\ntitle = "Place"\nrequired = true\n'


@pytest.fixture(scope="module")
def live(people: World) -> World:
    """Three routines of the first release, one of them in another area, and a release that needs an input more."""
    people.host = people.machine()
    first = people.release()
    works = areas.add_area(people.ctx("Sol Marin"), "Street works", None)
    people.db.transact(
        lambda tx: tx.execute("INSERT INTO robot_area SELECT id, %(a)s FROM robot", {"a": works})
    )
    people.number = people.routine("Count meters", first)
    people.routine("Count rows", first)
    people.run = people.routine("Count valves", first, area_id=works)
    given = packages.Given("The place is named")
    data = package("2.0.0", manifest=NEEDED)
    people.second = packages.release(people.ctx("Jonas Lindqvist"), data, given)
    return people


def has(live: World) -> list[str]:
    rows = live.rows(
        "SELECT r.version FROM routine o JOIN package_release r ON r.id = o.release_id ORDER BY o.name"
    )
    return [row["version"] for row in rows]


def chosen(page: Page, live: World) -> None:
    """The page of the roll-out with a place typed for each of the three."""
    page.sign_in("Sol Marin", f"/workshop/releases/{live.second}")
    page.click("Roll it out")
    page.see("Roll out count-rows 2.0.0")
    page.see("Instead of 1.0.0")
    page.see("input place is new, and required")
    page.see("Inputs fit the release: Place is needed")
    page.see("Choose a routine that can take it.")
    for n in range(1, 4):
        row = f"(//ul[@aria-label='Routines with 1.0.0']/li)[{n}]"
        page.press(f"{row}//button[normalize-space(.)='Its inputs']")
        page.type("Place, needed", f"Street {n}")
        page.until(lambda one, row=row: "Place is needed" not in one.find_element("xpath", row).text)
        page.press(f"{row}//button[normalize-space(.)='Close its inputs']")


def test_three_take_it_at_once_and_go_back_with_one_press(page: Page, live: World) -> None:
    chosen(page, live)
    page.see("Say why first.")
    page.type("Why", "The list of the desk")
    page.click("Roll it out to 3 routines")
    page.see("Roll-out of count-rows 2.0.0")
    page.see("Sol Marin rolls it out at once")
    assert has(live) == ["2.0.0"] * 3
    page.click("Go back")
    page.see("3 routines take the release and the inputs of before again")
    page.click("Go back", within='//*[@role="dialog"]')
    page.see("gone back")
    page.see("back at the one before")
    assert has(live) == ["1.0.0"] * 3
    page.go(f"/workshop/routines/{live.number}")
    page.see("Releases it had")
    page.see("the roll-out went back")


def test_in_stages_the_first_area_decides_for_the_rest(page: Page, live: World) -> None:
    chosen(page, live)
    page.type("Why", "The list of the desk")
    page.tick("In stages: first in one area or on one robot, then the rest")
    page.click("Begin with some of 3 routines")
    page.see("choose one robot or one area that goes first")
    page.choose("Area", "Street works")
    page.type("The rest follows after", "1")
    page.click("Begin with some of 3 routines")
    page.see("0 of 1 runs ended well, 0 failed or lost; it goes back at 1.")
    assert has(live) == ["1.0.0", "1.0.0", "2.0.0"]
    page.go("/workshop")
    page.see("Roll-outs: 1 under way")
    later = read_clock() - live.now + timedelta(seconds=1)
    live.start(live.run, "first", later)
    live.finish(live.host, live.take(live.host, later), later=later)
    # The engine of the application may have been quicker.
    rolling.carry_on(live.program(later))
    page.press('//a[starts-with(@href, "/workshop/rollouts/")]')
    page.see("1 of 1 runs ended well")
    assert has(live) == ["2.0.0"] * 3


def test_who_may_change_no_routine_is_offered_nothing(page: Page, live: World) -> None:
    page.sign_in("Ada Pell", f"/workshop/releases/{live.second}/roll-out")
    page.see("routine.change")
