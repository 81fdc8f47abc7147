"""Starting as one wants it, through the pages: other inputs, another time, several times, a row for each run."""

from __future__ import annotations

import pytest

from tallyman.services.workshop import packages, routines
from tests.browser.conftest import Page
from tests.world import MANIFEST, World, package

STREETS = MANIFEST + (
    '\n[inputs.streets]\ntype = "array"\ntitle = "Streets"\n'
    '\n[inputs.streets.items]\ntype = "object"\ntitle = "Street"\nrequired = ["name"]\n'
    '\n[inputs.streets.items.properties.name]\ntype = "string"\ntitle = "Name"\n'
)


@pytest.fixture(scope="module")
def live(people: World) -> World:
    """A routine that takes rows and streets."""
    people.host = people.machine()
    given = packages.Given("First")
    kept = packages.release(people.ctx("Jonas Lindqvist"), package(manifest=STREETS), given)
    people.second = routines.add(
        people.ctx("Sol Marin"), routines.Given("Count rows", people.area, kept, {"rows": 2}, [])
    )
    return people


def opened(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.second}")
    page.click("Choose how to start")
    page.see("What is chosen here is for these runs alone")


def test_other_inputs_are_for_this_run_alone(page: Page, live: World) -> None:
    opened(page, live)
    page.type("Rows", "7")
    page.click("Add to Streets")
    # The look at the start says it before anybody asks for it.
    page.see("Streets 1, Name is needed")
    page.see("What it is given does not fit yet, and does not pass by itself.")
    page.type("Name, needed", "Weir Lane")
    page.click("Start it now")
    page.until(lambda one: "/runs/" in one.current_url)
    run = int(page.driver.current_url.rsplit("/", 1)[1])
    kept = live.row("SELECT inputs_json FROM run WHERE id = %(id)s", id=run)["inputs_json"]
    assert "Weir Lane" in kept and "7" in kept
    assert live.row("SELECT inputs_json FROM routine WHERE id = %(id)s", id=live.second)["inputs_json"] == (
        '{"rows": 2}'
    )


def test_several_times_are_one_group_that_can_be_cancelled(page: Page, live: World) -> None:
    opened(page, live)
    page.type("Times", "3")
    page.click("Start 3 runs now")
    page.see("3 runs of Count rows")
    page.see("Started together by Sol Marin, 3 times")
    page.click("Cancel what waits")
    page.click("Yes, cancel 3 runs")
    page.see("cancelled by Sol Marin before it started")
    page.press('//a[starts-with(normalize-space(.), "R-")]')
    page.click("started together with others")
    page.see("3 runs of Count rows")


def test_each_row_of_a_table_is_a_run_and_what_is_refused_is_named(page: Page, live: World) -> None:
    opened(page, live)
    page.tick("A run for each row of a table")
    page.type("The table", "rows;streets\n3;\nmany;\n5;\n")
    page.click("Look at it")
    page.see("2 runs to be started, 1 row refused.")
    page.see("Rows “many”: is to be a whole number")
    page.click("Start 2 runs")
    page.see("2 runs of Count rows")
    page.see("1 row refused")
    page.see("Line 3")
    page.see("a run for each row of a table")


def test_who_may_not_start_is_not_offered_it(page: Page, live: World) -> None:
    page.sign_in("Ruth Abernathy", f"/workshop/routines/{live.second}/start")
    page.see("You may not")
    assert page.unseen("Start it now")
