"""A runner without a server: what a job does to a package, read from its spool."""

from __future__ import annotations

import hashlib
import json
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tallyman.formats.redact import Redactor
from tallyman.runner.accounts import Accounts
from tallyman.runner.execute import Host, Job, Places
from tallyman.runner.spool import Spool
from tallyman.runner.surroundings import Surroundings

STUBBORN = """
import signal, time
signal.signal(signal.SIGTERM, signal.SIG_IGN)
import tallyman_kit as job
job.log("begun")
job.count("rows", 2)
time.sleep(600)
"""


class Server:
    """Gives files by their digest, as the server would."""

    def __init__(self, *files: bytes) -> None:
        self.files = {hashlib.sha256(data).hexdigest(): data for data in files}

    def file(self, digest: str) -> bytes:
        return self.files.get(digest, b"damaged on the way")

    def secrets(self, run: int, fence: int) -> tuple[dict[str, str], list[str]]:
        return {"billing-login": "otter-in-the-reeds", "at-most": "5"}, ["at-most"]


class Bench:
    """Executes packages in a folder that other accounts can reach."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.surroundings = Surroundings()
        self.as_runner = os.geteuid() != 0
        self.redactor = Redactor(["key-of-the-runner"])

    def job(self, data: bytes, *more_files: bytes, **more: Any) -> Job:
        work = {
            "run": 1,
            "fence": 1,
            "entry": "main.py",
            "digest": hashlib.sha256(data).hexdigest(),
            "inputs": {},
            "input_schema": {},
            "limit_seconds": 60,
            "lease_seconds": 60,
            **more,
        }
        places = Places(self.folder)
        spool = Spool(places.spool / "1-1", self.surroundings)
        server: Any = Server(data, *more_files)
        places.make()
        known = Accounts(self.folder, self.as_runner, self.folder / "accounts.json")
        return Job(server, work, places, spool, self.surroundings, Host(known), self.redactor)

    def go(self, data: bytes, *more_files: bytes, **more: Any) -> dict[str, Any]:
        """Executes it whole and gives its outcome."""
        self.job(data, *more_files, **more).go()
        return self.outcome

    @property
    def outcome(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads((self.folder / "spool/1-1/outcome.json").read_text())
        return found

    @property
    def reports(self) -> list[dict[str, Any]]:
        return [
            json.loads(path.read_text()) for path in sorted((self.folder / "spool/1-1").glob("[0-9]*.json"))
        ]

    @property
    def lines(self) -> list[str]:
        return [line["text"] for report in self.reports for line in report["lines"]]


@pytest.fixture
def bench() -> Iterator[Bench]:
    with tempfile.TemporaryDirectory(prefix="tallyman-runner-") as folder:
        Path(folder).chmod(0o755)
        yield Bench(Path(folder))
