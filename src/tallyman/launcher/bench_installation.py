"""An installation of the benchmark's own: a private database, a web and an engine process, and hosts."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

import httpx
import psutil

from tallyman.config import HOME, Settings, read_clock
from tallyman.core.access.permissions import permissions_of
from tallyman.formats.package_zip import pack
from tallyman.launcher import mariadb
from tallyman.launcher.machine import Trouble
from tallyman.services import robots
from tallyman.services.context import PROGRAM, Actor, Ctx
from tallyman.services.robots import host_tokens
from tallyman.services.workshop import packages, routines
from tallyman.store.db import Database, Tx
from tallyman.store.migrate import migrate

UP_SECONDS = 60.0
MANIFEST = b'name = "nothing"\nversion = "1.0.0"\nentry = "main.py"\n'


class Installation:
    """A private database, one web and one engine process, and some hosts."""

    def __init__(self, port: int) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="tallyman-bench-"))
        self.folder.chmod(0o755)
        self.port = port
        self.wanted = Settings(
            db_port=port + 1,
            db_name="tallyman",
            db_user="app",
            db_password="app",
            owner_user="owner",
            owner_password="owner",
        )
        mariadb.install(self.folder / "db")
        self.server = mariadb.start(self.folder / "db", port + 1)
        self.processes: list[subprocess.Popen[bytes]] = []
        mariadb.prepare(self.server, self.wanted, "bench")
        self.owner = self._connect("owner")
        migrate(self.owner, "app", read_clock())
        self.db = self._connect("app")
        self.actor = Actor(None, "bench", permissions=permissions_of(["operator", "builder"]))
        self.db.transact(self._person)

    def _connect(self, user: str) -> Database:
        return Database(port=self.port + 1, user=user, password=user, name="tallyman", size=8)

    def _person(self, tx: Tx) -> None:
        tx.write("common.set_company", name="Merrowdale Water", zone="UTC", currency="EUR")
        person = tx.insert(
            "people.add",
            name="Sol Marín",
            email="sol@merrowdale.example",
            password_hash="",
            zone="UTC",
            division=None,
            now=read_clock(),
        )
        self.actor = Actor(
            person, "Sol Marín", permissions=permissions_of(["operator", "builder"]), address="-"
        )

    def ctx(self) -> Ctx:
        """What the operator does now."""
        return Ctx(self.db, read_clock(), self.actor)

    def spawn(self, *words: str) -> psutil.Process:
        """Starts one of the program's processes."""
        environment = {
            **os.environ,
            "PYTHONPATH": str(HOME / "src"),
            "TALLYMAN_VAR": str(self.folder / "var"),
            "TALLYMAN_DB_PORT": str(self.port + 1),
            "TALLYMAN_DB_USER": "app",
            "TALLYMAN_DB_PASSWORD": "app",
        }
        process = subprocess.Popen(
            [sys.executable, "-m", "tallyman", *words],
            env=environment,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        self.processes.append(process)
        return psutil.Process(process.pid)

    def wait_up(self) -> None:
        """Waits until the web process answers."""
        ends = time.monotonic() + UP_SECONDS
        while time.monotonic() < ends:
            try:
                if httpx.get(f"http://127.0.0.1:{self.port}/readyz", timeout=2).status_code == 200:
                    return
            except httpx.TransportError:
                threading.Event().wait(0.02)
        raise Trouble("The web process of the bench does not come up.")

    def hosts(self, number: int, area: int, name: str) -> list[str]:
        """Connected hosts with a seat and a robot each; gives their tokens."""
        tokens = []
        for n in range(number):
            made = robots.add_host(self.ctx(), f"{name} {n}", 1)
            robots.add_robot(self.ctx(), robots.Given(f"{name} robot {n}", made.id, [], [area]))
            ctx = Ctx(self.db, read_clock(), PROGRAM)
            tokens.append(str(host_tokens.connect(ctx, made.code, 1, "bench", {})["token"]))
        return tokens

    def routine(self, area: int, name: str) -> int:
        """A routine whose runs execute nothing."""
        release = self.db.transact(lambda tx: tx.execute("SELECT id FROM package_release").fetchone())
        if release is None:
            data = pack({"package.toml": MANIFEST, "main.py": b""})
            number = packages.release(self.ctx(), data, packages.Given("First"))
        else:
            number = int(release["id"])
        return routines.add(self.ctx(), routines.Given(name, area, number, {}, [], run_limit=100))

    def end(self) -> None:
        """Stops everything and clears the disk."""
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            try:
                process.wait(timeout=15)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
        self.db.close()
        self.owner.close()
        self.server.stop()
        shutil.rmtree(self.folder, ignore_errors=True)
