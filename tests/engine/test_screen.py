"""What the screen of a package shows, taken from outside under its account."""

from __future__ import annotations

import io
import os
import shutil
import threading
from types import SimpleNamespace
from typing import Any

import pytest
from PIL import Image

from tallyman.runner.accounts import Account
from tallyman.runner.screen import Drawn, NoPicture, Screens, take
from tests.engine.runner_world import Bench, bench
from tests.serving import wait_for
from tests.world import package

__all__ = ["bench"]
needs_display = pytest.mark.skipif(
    not (shutil.which("Xvfb") and shutil.which("xauth")), reason="this machine has no virtual display"
)
WAITS = """
import time
import tallyman_kit as job
job.log("drawn on " + job.open_screen(640, 480))
while True:
    time.sleep(0.1)
"""
ME = Account("me", os.geteuid(), os.getegid(), is_runner=True)


class Server:
    """Keeps what a runner sends."""

    def __init__(self) -> None:
        self.pictures: list[bytes] = []
        self.told: list[tuple[int, int, str | None, str]] = []

    def send(self, data: bytes) -> str:
        self.pictures.append(data)
        return "digest"

    def pictured(self, *told: Any) -> None:
        self.told.append(told)


def asked(job: Any) -> Server:
    """What a server gets that asks for a picture of a run."""
    server: Any = Server()
    screens = Screens(server, print)
    screens.asked([job.run, 404], {job.run: job})
    screens.wait(30)
    found: Server = server
    return found


@needs_display
def test_a_package_that_waits_on_a_screen_of_its_own_is_pictured_there(bench: Bench) -> None:
    job = bench.job(package(code=WAITS))
    works = threading.Thread(target=job.go)
    works.start()
    try:
        wait_for(lambda: any("drawn on" in line for line in bench.lines))
        server = asked(job)
    finally:
        job.dropped.set()
        works.join()
    assert server.told == [(1, 1, "digest", "")]
    with Image.open(io.BytesIO(server.pictures[0])) as picture:
        assert (picture.format, picture.size) == ("PNG", (640, 480))


def test_a_package_without_a_screen_says_so() -> None:
    server = asked(SimpleNamespace(run=7, fence=2, drawn=Drawn(), account=ME))
    assert server.told == [(7, 2, None, "its package draws on no screen that can be seen from here")]


@pytest.mark.parametrize("display", ["otter.example:0", "unix:/tmp/x", "", ":0; rm", ":" + "9" * 30])
def test_no_display_of_another_machine_is_looked_at(display: str) -> None:
    drawn = Drawn()
    drawn.told({"display": display})
    with pytest.raises(NoPicture, match="no screen"):
        drawn.display()


def test_a_display_that_is_not_there_is_told_as_such() -> None:
    with pytest.raises(NoPicture, match="could not be read"):
        take(":54321", "", ME)
