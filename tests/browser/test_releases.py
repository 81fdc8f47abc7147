"""Releases through the pages: what changed is seen before it is one, who signs it, and a second person's yes."""

from __future__ import annotations

from pathlib import Path

import pytest

from tallyman import signed
from tallyman.services.house import areas
from tallyman.services.workshop import packages, routines
from tests.browser.conftest import Page
from tests.world import MANIFEST, World, package

OPEN = MANIFEST.replace('version = "{version}"\n', "")
NEEDS = OPEN + '\n[inputs.list]\ntype = "string"\nrequired = true\n'
ASKS = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\nsecrets = ["quill-login"]')


@pytest.fixture(scope="module")
def live(people: World) -> World:
    """A routine of the first release of count-rows."""
    people.machine()
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
