"""A picture of the screen that a stalled run works on, taken when the server asks for it."""

from __future__ import annotations

import contextlib
import re
import subprocess
import sys
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping
from pathlib import Path
from typing import Any, Protocol

import httpx
import psutil

from tallyman.runner.accounts import Account
from tallyman.runner.client import Client, Rejected, Stopped

GRAB = Path(__file__).with_name("grab.py")
SECONDS = 15.0
LARGEST = 5_000_000
# Displays of this host alone: a package may name no other.
LOCAL = re.compile(r"^:\d{1,5}(\.\d)?$")


class NoPicture(Exception):
    """There is no picture; says why."""


class Drawn:
    """Where the package of a run draws: as it told by the kit, else as one of its processes was told.

    `pid`: the process that all of them live below; 0 before it works.
    """

    def __init__(self) -> None:
        self.pid = 0
        self._told: tuple[str, str] | None = None

    def told(self, found: Mapping[str, Any]) -> None:
        """The package says which display it opened, and with which file."""
        self._told = (str(found["display"])[:20], str(found.get("opened_by") or "")[:1000])

    def display(self) -> tuple[str, str]:
        """The display, and the file that opens it (or an empty text). Raises NoPicture for none."""
        for display, opened_by in [*([self._told] if self._told else []), *self._of_processes()]:
            if LOCAL.match(display):
                return display, opened_by
        raise NoPicture("its package draws on no screen that can be seen from here")

    def _of_processes(self) -> Iterator[tuple[str, str]]:
        if not self.pid:
            return
        with contextlib.suppress(psutil.Error):
            for process in psutil.Process(self.pid).children(recursive=True):
                with contextlib.suppress(psutil.Error):
                    found = process.environ()
                    yield found.get("DISPLAY", ""), found.get("XAUTHORITY", "")


class Pictured(Protocol):
    """A run that works here: its numbers, where it draws, and its account."""

    run: int
    fence: int
    drawn: Drawn
    account: Account | None


def take(display: str, opened_by: str, account: Account) -> bytes:
    """The display as PNG, taken under the account of the package. Raises NoPicture."""
    ids = [] if account.is_runner else [str(account.uid), str(account.gid), *map(str, account.groups)]
    command = [sys.executable, str(GRAB), display, *ids]
    # What the display answers is read under the package's account, never as the runner.
    with subprocess.Popen(
        command,
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        env={"XAUTHORITY": opened_by} if opened_by else {},
    ) as process:
        assert process.stdout is not None and process.stderr is not None
        ends = threading.Timer(SECONDS, process.kill)
        ends.start()
        try:
            data = process.stdout.read(LARGEST + 1)
            if len(data) > LARGEST:
                process.kill()
            said = process.stderr.read(2_000).decode(errors="replace").strip()
            code = process.wait()
        finally:
            ends.cancel()
    if code == 0 and 0 < len(data) <= LARGEST:
        return data
    last = said.splitlines()[-1] if said else "it took too long"
    raise NoPicture(f"the screen {display} could not be read: {last[:200]}")


class Screens:
    """Takes the pictures that the server asks for, beside everything else, one after the other."""

    def __init__(self, client: Client, say: Callable[[str], None]) -> None:
        self._client, self._say = client, say
        self._thread: threading.Thread | None = None

    def asked(self, runs: Iterable[int], jobs: Mapping[int, Pictured]) -> None:
        """The server asks for these; while one is being taken, the next heartbeat asks again."""
        wanted = [jobs[run] for run in runs if run in jobs]
        if wanted and (self._thread is None or not self._thread.is_alive()):
            self._thread = threading.Thread(target=self._all, args=(wanted,), name="screens", daemon=True)
            self._thread.start()

    def wait(self, seconds: float) -> None:
        """Waits for what is being taken."""
        if self._thread is not None:
            self._thread.join(timeout=seconds)

    def _all(self, wanted: Iterable[Pictured]) -> None:
        for job in wanted:
            try:
                digest, said = self._one(job)
                self._client.pictured(job.run, job.fence, digest, said)
            except Stopped:
                return
            except (Rejected, httpx.TransportError) as error:
                self._say(f"The picture of R-{job.run} was not sent: {error}")

    def _one(self, job: Pictured) -> tuple[str | None, str]:
        try:
            if job.account is None:
                raise NoPicture("its package does not work at the moment")
            return self._client.send(take(*job.drawn.display(), job.account)), ""
        except (NoPicture, OSError) as error:
            return None, str(error)
