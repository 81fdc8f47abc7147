"""One private MariaDB for a whole test run, a database for each worker, empty tables for each test."""

from __future__ import annotations

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

import pytest

from tallyman.config import Settings, configure_logs, settings
from tallyman.launcher import mariadb
from tallyman.store.db import Database, Tx
from tallyman.store.migrate import migrate
from tests.world import World

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)
ROOT = "root-of-the-tests"
_server: mariadb.Server | None = None


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
    """The run's first process starts the database; the workers find it by the environment."""
    global _server
    configure_logs()
    if hasattr(config, "workerinput") or config.option.collectonly:
        return
    folder = Path(tempfile.mkdtemp(prefix="tallyman-test-"))
    folder.chmod(0o755)
    mariadb.install(folder)
    # A test database may forget on a power cut; what it must not do is wait for the disk.
    _server = mariadb.start(folder, free_port(), "--innodb-flush-log-at-trx-commit=0")
    mariadb.connect_root(_server, ROOT).close()
    kept = {"folder": str(folder), "port": _server.port}
    os.environ["TALLYMAN_RUNNER_ACCOUNTS"] = str(folder / "accounts.json")
    os.environ["TALLYMAN_TEST_DATABASE"] = json.dumps(kept)


def pytest_unconfigure(config: pytest.Config) -> None:
    if _server is not None:
        _server.stop()
        shutil.rmtree(_server.folder, ignore_errors=True)


class Databases:
    """The two accounts of one worker's database."""

    def __init__(self, worker: str) -> None:
        found = json.loads(os.environ["TALLYMAN_TEST_DATABASE"])
        name = f"tallyman_{worker}"
        self.wanted = Settings(
            db_port=found["port"],
            db_name=name,
            db_user=f"app_{worker}",
            db_password="app",
            owner_user=f"owner_{worker}",
            owner_password="owner",
        )
        server = mariadb.Server(Path(found["folder"]), found["port"], None)
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
