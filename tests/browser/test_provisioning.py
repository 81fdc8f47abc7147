"""Bringing robots to work through the pages: points that tick themselves off, and what goes wrong on the way."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tallyman.config import HOME
from tallyman.runner.status import read_status
from tallyman.services import robots
from tallyman.services.house import areas
from tests.browser.conftest import Page
from tests.serving import Serving, wait_for
from tests.world import World


@pytest.fixture(scope="module", autouse=True)
def area(people: World) -> int:
    return areas.add_area(people.ctx("Sol Marin"), "Pump stations", None)


def robot_of(people: World, name: str) -> int:
    return int(people.row("SELECT id FROM robot WHERE name = %(n)s", n=name)["id"])


def code_shown(page: Page) -> str:
    page.see("It is shown only now")
    found = re.search(r"--code (\S+)", page.words("//pre"))
    assert found is not None
    return found.group(1)


def open_points(page: Page) -> list[str]:
    found = page.driver.find_elements("css selector", "li.unmet")
    return [one.get_attribute("data-need") or "" for one in found]


def test_from_nothing_to_a_passed_trial_run(page: Page, served: Serving, people: World) -> None:
    page.sign_in("Sol Marin", "/robots")
    page.click("Add a host")
    page.type("Name of the host", "Culvert")
    page.click("Add it and show the code")
    code = code_shown(page)
    page.click("I have it")
    page.click("Add a robot")
    page.type("Name of the robot", "Otter")
    page.click("Add it")
    page.click("Otter")
    page.see("To work, it needs")
    page.until(lambda _: open_points(page) == ["areas", "connected", "account", "abilities", "trial"])
    page.see("not yet; its one-time code is good until")
    # Points come true in whatever order, and tick themselves off.
    served.runner(code, "culvert")
    page.until(lambda _: open_points(page) == ["areas", "trial"])
    page.click_label("Change: Allowed in an area")
    page.press('//label[contains(@class,"area")][contains(., "Pump stations")]')
    page.click("Keep the changes")
    page.until(lambda _: open_points(page) == ["trial"])
    page.click_label("Start it: A trial run there and back")
    page.see("Trial run of Otter")
    page.see("Read the host")
    page.see("there and back under the account")
    page.go(f"/robots/{robot_of(people, 'Otter')}")
    page.see("Ready to work")
    assert open_points(page) == []
    wait_for(
        lambda: people.rows("SELECT id FROM notification WHERE text LIKE '%%Trial run of Otter, passed%%'")
    )


def test_a_wrong_code_is_refused_where_it_is_typed_and_one_that_ran_out_says_since_when(
    page: Page, served: Serving, people: World
) -> None:
    command = [sys.executable, "-m", "tallyman", "runner", "--server", served.url, "--code", "AAAA-BBBB-CCCC"]
    command += ["--state", str(served.folder / "wrong")]
    environment = {**os.environ, "PYTHONPATH": str(HOME / "src")}
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == 1
    assert "Make a new code for the host under Robots" in done.stderr
    made = robots.add_host(people.ctx("Sol Marin"), "Penstock", 1)
    robots.add_robot(people.ctx("Sol Marin"), robots.Given("Grebe", made.id, [], []))
    people.db.transact(
        lambda tx: tx.execute(
            "UPDATE host SET code_until = code_until - INTERVAL 2 HOUR WHERE id = %s", (made.id,)
        )
    )
    page.sign_in("Sol Marin", f"/robots/{robot_of(people, 'Grebe')}")
    page.see("not yet, and its one-time code has run out")
    page.click_label("New code: Its host Penstock is connected")
    assert code_shown(page)
    page.see("its one-time code is good until")


@pytest.fixture
def account() -> Iterator[str]:
    """An account of this machine with a password, as long as a test lasts."""
    if os.geteuid() != 0 or shutil.which("useradd") is None:
        pytest.skip("accounts are made by root alone")
    name = f"tallyman-{os.getpid()}"
    subprocess.run(["useradd", "--no-create-home", "--shell", "/bin/sh", name], check=True)
    subprocess.run(["chpasswd"], input=f"{name}:reed-and-rush-7\n", text=True, check=True)
    yield name
    subprocess.run(["userdel", name], check=True)


def test_a_wrong_password_says_so_and_the_right_one_ticks_the_point_off(
    page: Page, served: Serving, people: World, account: str
) -> None:
    robot = robot_of(people, "Otter")
    page.sign_in("Ines Varga", f"/robots/{robot}")
    page.see("To work, it needs")
    page.click("Change it")
    page.type("Run-as account", "nobody-like-that")
    page.click("Keep the changes")
    page.see("there is no account nobody-like-that on this host")
    page.click("Change it")
    page.type("Run-as account", account)
    page.click("Keep the changes")
    page.see("none is kept, and none is needed")
    page.see("passed before its host or account changed")
    password = "Password: Its password is proved by a sign-in"
    page.click_label(password)
    page.type("Password", "weir-and-meadow-7")
    page.click("Keep it and try it")
    page.see("(PAM, as at its console) refused it")
    page.click_label(password)
    page.type("Password", "reed-and-rush-7")
    page.click("Keep it and try it")
    page.see("(PAM, as at its console) took it")
    page.go("/house/secrets")
    page.see(f"culvert-{account}")


def refused_by(folder: Path) -> dict[str, Any]:
    """What a runner says of itself once the server knows it no more."""
    told = read_status(folder)
    return told if told.get("trouble") else {}


def test_a_revoked_token_and_a_new_code_on_the_hosts_own_page(
    page: Page, served: Serving, people: World
) -> None:
    made = robots.add_host(people.ctx("Sol Marin"), "Sluice", 1)
    first = served.runner(made.code, "sluice")
    page.sign_in("Ines Varga", f"/robots/hosts/{made.id}")
    page.see("It can")
    page.until(lambda one: "processor" in page.words("//main"))
    page.click("Revoke its token")
    page.see("The server knows its runner no more")
    page.click("Revoke it")
    page.see("its token was revoked")
    # On the host its own page says why, and how to go on; the next runner takes the same folder over.
    told = wait_for(lambda: refused_by(served.folder / "sluice"))
    assert told["trouble"]["key"] == "token" and "make a new code" in told["trouble"]["mend"]
    assert "The server knows this runner no more" in httpx.get(told["page"], trust_env=False).text
    page.click("New code")
    page.click("Make the code")
    served.runner(code_shown(page), "sluice")
    wait_for(lambda: first.poll() is not None)
    page.until(lambda _: page.unseen("its token was revoked"))
    page.see("The runner of Sluice started")
