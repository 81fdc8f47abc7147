"""Releases through the pages: what changed is seen before it is one, who signs it, and a second person's yes."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

import pytest

from tallyman import signed
from tallyman.config import read_clock
from tallyman.services import access
from tallyman.services.house import areas
from tallyman.services.robots import seat_lots
from tallyman.services.runs import dispatch
from tallyman.services.workshop import packages, routines
from tests.browser.conftest import Page
from tests.world import MANIFEST, World, package

OPEN = MANIFEST.replace('version = "{version}"\n', "")
NEEDS = OPEN + '\n[inputs.list]\ntype = "string"\nrequired = true\n'
ASKS = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\nsecrets = ["quill-login"]')


@pytest.fixture(scope="module")
def live(people: World) -> World:
    """A routine of the first release of count-rows."""
    people.host = people.machine()
    people.second = people.release()
    people.number = people.routine(release=people.second)
    return people


def attach(page: Page, folder: Path, data: bytes) -> None:
    path = folder / "count-rows.zip"
    path.write_bytes(data)
    page.attach("Package", path)


def test_what_a_release_changes_is_said_before_it_is_one(page: Page, live: World, tmp_path: Path) -> None:
    page.sign_in("Jonas Lindqvist", "/workshop?tab=packages")
    attach(page, tmp_path, package("1.0.1", manifest=NEEDS.replace("tags", 'version = "1.0.1"\ntags', 1)))
    page.see("1.0.1 says fix, but input list is new, and required, which is breaking; make it 2.0.0")
    page.see("Its number promises less than it changes.")
    attach(page, tmp_path, package(manifest=NEEDS))
    page.see("fix: whoever set it up goes on as before 1.0.1: less than was found")
    page.see("Say in a sentence what changed.")
    page.type("What changed", "It wants the list named")
    page.click("Release it as 2.0.0")
    page.see("count-rows 2.0.0")
    page.see("“It wants the list named”")
    page.see("Since 1.0.0: breaking; Jonas Lindqvist said breaking.")
    page.see("Not signed.")


def test_files_of_two_releases_stand_side_by_side(page: Page, live: World) -> None:
    ctx = live.ctx("Jonas Lindqvist")
    code = "import tallyman_kit as job\n\njob.count('rows', 3)\njob.output(rows=3)\n"
    kept = packages.release(ctx, package("1.0.9", code), packages.Given("Shorter"))
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{kept}")
    page.see("Since 1.0.0: fix; Jonas Lindqvist said fix.")
    page.click("side by side: main.py")
    page.see("job.count('rows', 3)")


def test_a_key_is_added_on_the_profile_and_retired(page: Page, live: World) -> None:
    private, public = signed.make_key()
    page.sign_in("Jonas Lindqvist", "/profile?sheet=programs")
    page.click("Add a key")
    page.type("On which computer", "My desk")
    page.type("Its public half", "AAAA")
    page.click("Add it")
    page.see("is no public half of a key")
    page.type("Its public half", public)
    page.click("Add it")
    page.see(signed.shown(public))
    given = packages.Given("Signed", says="fix", signature=signed.sign(private, package("1.0.10")))
    kept = packages.release(live.ctx("Jonas Lindqvist"), package("1.0.10"), given)
    page.go(f"/workshop/releases/{kept}")
    page.see(f"Signed by the key My desk, {signed.shown(public)}.")
    page.go("/profile?sheet=programs")
    page.click_label("Retire the key My desk")
    page.see("retired")


def test_a_second_person_says_yes_to_a_release_and_what_it_newly_asks_for(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", "/house/areas")
    page.click("Change", '//tr[contains(., "Metering")]')
    page.tick(
        "A second person says yes to it, and to each secret it newly asks for, here and in all areas below"
    )
    page.until(lambda _: live.row("SELECT approve_releases AS on_ FROM area WHERE name = 'Metering'")["on_"])
    kept = packages.release(
        live.ctx("Jonas Lindqvist"), package("3.0.0", manifest=ASKS), packages.Given("Asks")
    )
    row = live.row("SELECT version, name FROM routine WHERE id = %(id)s", id=live.number)
    given = routines.Given(row["name"], live.area, kept, {}, [], release_why="it signs in by itself")
    routines.change(live.ctx("Sol Marin"), live.number, given, row["version"])
    page.go(f"/workshop/routines/{live.number}")
    page.see("nobody but who released count-rows 3.0.0 said yes to it")
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{kept}")
    page.see("Metering asks for it; until then no run of it starts there.")
    page.see("You released it; somebody else says yes to it.")
    page.sign_in("Ines Varga")
    page.click("count-rows 3.0.0")
    page.see("Say yes to each secret that it newly asks for.")
    page.tick("quill-login")
    page.type("What you looked at", "Where the login goes")
    page.click("Say yes to count-rows 3.0.0")
    page.see("by Ines Varga")
    page.see("Where the login goes")
    page.go(f"/workshop/routines/{live.number}")
    page.see("Its secrets are in the safe")
    assert page.unseen("nobody but who released")
    areas.set_approving(live.ctx("Sol Marin"), live.area, False)


def heard(live: World) -> timedelta:
    """The host is heard from now; how much later that is than the world was made."""
    now = read_clock()
    dispatch.heartbeat(live.program(now - live.now), live.host, dispatch.Beat(now, []))
    return now - live.now


def test_a_try_out_is_kept_tried_and_released_to_others(page: Page, live: World, tmp_path: Path) -> None:
    sol, jonas = live.ctx("Sol Marin"), live.actors["Jonas Lindqvist"].person_id
    page.sign_in("Jonas Lindqvist", "/workshop?tab=packages")
    attach(page, tmp_path, package(manifest=OPEN, code="import tallyman_kit as job\n\njob.output(rows=5)\n"))
    page.see("So it is a")
    page.tick("me alone: a try-out, which gets its number once others see it")
    page.type("What changed", "It counts five")
    page.click("Keep it as a try-out")
    page.see("count-rows try-out 1")
    page.see("Seen by you alone.")
    heard(live)
    page.see("Pre-check of the try-out: 1 not met")
    page.see("Jonas Lindqvist: 0 of 0 in use")
    heard(live)
    release = int(page.driver.current_url.rsplit("/", 1)[1])
    seat_lots.give(sol, "builder", "person", jonas, 1)
    page.see("Pre-check of the try-out: it can start")
    page.click("Try it out")
    page.see("count-rows try-out 1")
    page.until(lambda one: "/runs/" in one.current_url)
    # It was started by the clock of now; the world's own stands since it was made.
    later = heard(live) + timedelta(seconds=1)
    work = live.take(live.host, later)
    live.finish(live.host, work, later=later)
    page.see("done")
    page.click("The release")
    page.see(f"R-{work.run}")
    # Nobody else finds it; that there is one is said.
    page.sign_in("Sol Marin", f"/workshop/releases/{release}")
    page.see("There is no such release, or you do not see it.")
    page.go("/workshop?tab=packages")
    page.see("1 release is a try-out that nobody but the maker sees")
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{release}")
    page.click("Let others see it")
    page.see("will see it: ")
    page.see("It counts five")
    page.press('//button[starts-with(normalize-space(.), "Release it as")]')
    page.see("Seen by the company.")
    page.until(lambda _: page.unseen("Try it out"))
    assert live.row("SELECT version FROM package_release WHERE id = %(id)s", id=release)["version"][
        0
    ].isdigit()


def test_an_area_s_release_is_moved_with_who_loses_sight_of_it_said(page: Page, live: World) -> None:
    works = areas.add_area(live.ctx("Sol Marin"), "Street works", None)
    role = next(row.id for row in access.listed(live.ctx("Ines Varga")) if row.name == "builder")
    access.give(live.ctx("Ines Varga"), role, live.actors["Ada Pell"].person_id, None, works)
    kept = packages.release(live.ctx("Jonas Lindqvist"), package("7.0.0"), packages.Given("Anew"))
    page.sign_in("Jonas Lindqvist", f"/workshop/releases/{kept}")
    page.click("Change who sees it")
    page.see("Choose the area that is to see it.")
    page.choose("Area", "Metering")
    page.see("1 person will see it no more: Ada Pell.")
    page.click("Change who sees it", '//*[@role="dialog"]')
    page.see("Seen by the area Metering.")
    page.sign_in("Ada Pell", "/workshop?tab=packages")
    page.see("1 release is seen by areas that you do not work in")


def test_a_routine_is_copied_to_another_area(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    name = live.row("SELECT name FROM routine WHERE id = %(id)s", id=live.number)["name"]
    page.click("Copy it to another area")
    page.see(f"A copy of {name} in Metering.")
    page.see("Left behind: its address for other programs, if it has one.")
    page.see("Choose an area and a release first.")
    page.type("Name", f"{name}, the other one")
    page.choose("Area", "Metering")
    page.click("Set it up")
    page.see(f"{name}, the other one")
    page.see("on trial: its runs post nothing")
    rows = live.rows("SELECT release_id, inputs_json FROM routine WHERE name LIKE %(n)s", n=f"{name}%")
    assert len(rows) == 2 and rows[0] == rows[1]
