"""Started by another program: the address is given on the page, and its pasted examples start once."""

from __future__ import annotations

import ast
import json
import subprocess
import sys

import pytest

from tests.browser.conftest import Page
from tests.patience import patience
from tests.world import World


@pytest.fixture(scope="module")
def live(people: World) -> World:
    people.host = people.machine()
    people.number = people.routine(inputs={"rows": 4})
    return people


def pasted(page: Page, name: str) -> str:
    text: str = page.find(f'//pre[@aria-label="Example for {name}"]').text
    # Nothing runs here, so there is no end to wait for.
    return text.replace("?wait=30", "")


def answer(*command: str) -> dict[str, object]:
    done = subprocess.run(command, capture_output=True, text=True, timeout=patience(30), check=False)
    assert done.returncode == 0, done.stderr
    # The shell gets JSON, and Python prints what it made of it.
    read = json.loads if command[0] == "bash" else ast.literal_eval
    found: dict[str, object] = read(done.stdout)
    return found


def test_pasted_examples_start_it_once_however_often(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    page.see("Started by other programs")
    page.click("Give it an address")
    page.type("From which addresses", "127.0.0.1\nhere")
    page.click("Give it an address", "//form")
    page.see("is no address and no network")
    page.type("From which addresses", "127.0.0.1")
    page.click("Give it an address", "//form")
    page.see("It is shown this once")
    first = answer("bash", "-c", pasted(page, "Shell"))
    again = answer("bash", "-c", pasted(page, "Shell"))
    python = answer(sys.executable, "-c", pasted(page, "Python"))
    assert first["run"] == again["run"] == python["run"]
    assert [one["repeated"] for one in (first, again, python)] == [False, True, True]
    assert len(live.rows("SELECT id FROM run")) == 1
    page.press('//button[contains(., "What was called")]')
    page.see(f"R-{first['run']}")
    page.see("from 127.0.0.1")
    page.click("I have kept it")


def test_a_renewed_and_a_taken_away_token_are_refused(page: Page, live: World) -> None:
    page.sign_in("Sol Marin", f"/workshop/routines/{live.number}")
    page.click("Renew its token")
    page.tick("The token of before ends at once (else it works for a day more)")
    page.click("Renew it")
    page.see("It is shown this once")
    text = pasted(page, "Shell")
    assert "run" in answer("bash", "-c", text)
    page.click("Take the address away")
    page.click("Take it away")
    page.see("None can.")
    assert answer("bash", "-c", text)["code"] == "not_signed_in"
