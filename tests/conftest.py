"""One private MariaDB for a whole test run, a database for each worker, empty tables for each test."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import random
import shutil
import socket
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psutil
import pytest

from tallyman.config import Settings, configure_logs, settings
from tallyman.launcher import mariadb
from tallyman.store.db import Database, Tx
from tallyman.store.migrate import migrate
from tests.patience import patience
from tests.world import World

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)
ROOT = "root-of-the-tests"
pytest_plugins = ["tests.parts"]
FOLDERS = "tallyman-test-"
FOLDER = pytest.StashKey[Path]()


def free_port(following: int = 1) -> int:
    """A port that is free, with as many following ones; below those the system gives to clients."""
    while True:
        first = random.randrange(12_000, 30_000)
        try:
            for port in range(first, first + following):
                with socket.socket() as probe:
                    probe.bind(("127.0.0.1", port))
        except OSError:
            continue
        return first


def pytest_configure(config: pytest.Config) -> None:
    """Says where the run's database is to be; the first test that needs it starts it."""
    configure_logs()
    if hasattr(config, "workerinput") or config.option.collectonly:
        return
    _clear_what_was_left()
    folder = Path(tempfile.mkdtemp(prefix=FOLDERS))
    folder.chmod(0o755)
    (folder / "run.pid").write_text(str(os.getpid()))
    os.environ["TALLYMAN_RUNNER_ACCOUNTS"] = str(folder / "accounts.json")
    os.environ["TALLYMAN_TEST_DATABASE"] = json.dumps({"folder": str(folder), "port": free_port()})
    config.stash[FOLDER] = folder


def pytest_unconfigure(config: pytest.Config) -> None:
    folder = config.stash.get(FOLDER, None)
    if folder is not None:
        _clear(folder)


def _clear_what_was_left() -> None:
    """A run that was killed could not stop its database; the next one does."""
    for folder in Path(tempfile.gettempdir()).glob(f"{FOLDERS}*"):
        pid = folder / "run.pid"
        if pid.exists() and not psutil.pid_exists(int(pid.read_text() or 0)):
            _clear(folder)


def _clear(folder: Path) -> None:
    with contextlib.suppress(psutil.NoSuchProcess, FileNotFoundError):
        server = psutil.Process(int((folder / "pid").read_text()))
        server.terminate()
        server.wait(timeout=patience(60))
    shutil.rmtree(folder, ignore_errors=True)


def started() -> mariadb.Server:
    """The run's database, started by whichever worker needs it first."""
    found = json.loads(os.environ["TALLYMAN_TEST_DATABASE"])
    folder, port = Path(found["folder"]), found["port"]
    with (folder / "starting").open("w") as alone:
        fcntl.flock(alone, fcntl.LOCK_EX)
        if not (folder / "started").exists():
            mariadb.install(folder)
            # A test database may forget on a power cut; what it must not do is wait for the disk.
            server = mariadb.start(folder, port, "--innodb-flush-log-at-trx-commit=0")
            mariadb.connect_root(server, ROOT).close()
            (folder / "started").touch()
            # It outlives this worker: the end of the run stops it, by its number.
            server.process.returncode = 0
    return mariadb.Server(folder, port, None)


class Databases:
    """The two accounts of one worker's database."""

    def __init__(self, worker: str) -> None:
        server = started()
        name = f"tallyman_{worker}"
        self.wanted = Settings(
            db_port=server.port,
            db_name=name,
            db_user=f"app_{worker}",
            db_password="app",
            owner_user=f"owner_{worker}",
            owner_password="owner",
        )
        mariadb.prepare(server, self.wanted, ROOT)
        self.owner = self.connect(owner=True)
        migrate(self.owner, self.wanted.db_user, NOW)
        rows = self.owner.transact(
            lambda tx: tx.execute("SHOW FULL TABLES WHERE Table_type = 'BASE TABLE'").fetchall()
        )
        self.tables = [next(iter(row.values())) for row in rows]

    def settings(self, owner: bool = False) -> dict[str, Any]:
        """How an account reaches the worker's database."""
        one = self.wanted
        user, word = (one.owner_user, one.owner_password) if owner else (one.db_user, one.db_password)
        return {"port": one.db_port, "user": user, "password": word, "name": one.db_name, "size": 40}

    def connect(self, owner: bool = False) -> Database:
        return Database(**self.settings(owner))

    def empty(self) -> None:
        def work(tx: Tx) -> None:
            tx.execute("SET FOREIGN_KEY_CHECKS = 0")
            for table in self.tables:
                if table not in ("schema_migration", "migration_lease"):
                    but = " WHERE NOT built_in" if table == "role" else ""
                    tx.execute(f"DELETE FROM `{table}`{but}")
            tx.execute("UPDATE role SET second_factor = FALSE, version = 1")
            tx.execute("SET FOREIGN_KEY_CHECKS = 1")

        self.owner.transact(work)


@pytest.fixture(scope="session")
def databases(request: pytest.FixtureRequest) -> Iterator[Databases]:
    found = Databases(os.environ.get("PYTEST_XDIST_WORKER", "main"))
    yield found
    found.owner.close()


@pytest.fixture
def db(databases: Databases) -> Iterator[Database]:
    databases.empty()
    database = databases.connect()
    yield database
    database.close()


@pytest.fixture(scope="session", autouse=True)
def keys(tmp_path_factory: pytest.TempPathFactory) -> None:
    """The tests have a ring of keys of their own, and the name that clients without a network use."""
    settings().hosts = ("testserver",)
    settings().outgoing = ("127.0.0.1", "localhost", "::1")
    settings().keys_file = str(tmp_path_factory.mktemp("keys") / "keys.json")


@pytest.fixture
def world(db: Database) -> World:
    return World(db, NOW)
