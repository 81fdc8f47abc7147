"""Migrations: on a database with data, twice, by two at once, and beside the release before."""

from __future__ import annotations

import json
import os
import shutil
import threading
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest

from tallyman.config import Settings
from tallyman.engine import loops
from tallyman.errors import Clash, Unavailable
from tallyman.launcher import mariadb
from tallyman.services import runs, tally
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.robots import HostByToken
from tallyman.services.runs import dispatch, reports
from tallyman.services.starts import kinds
from tallyman.store import migrate as module
from tallyman.store.db import Database, Tx
from tallyman.store.migrate import migrate, pending
from tests.conftest import NOW, ROOT, started

FORMER = ("001_people.sql", "002_ideas.sql", "003_robots.sql", "004_tally.sql")
MINUTE = timedelta(minutes=1)


def former_statements() -> dict[str, str]:
    text = (Path(__file__).parent / "former_release.sql").read_text()
    parts = [part for part in text.split("-- name: ") if part.strip()]
    return {
        part.split("\n", 1)[0]: "\n".join(line for line in part.split("\n")[1:] if not line.startswith("--"))
        for part in parts
    }


SQL = former_statements()


class Old:
    """A database of the release before, with data, and that release's own statements."""

    def __init__(self, worker: str) -> None:
        self.server = started()
        self.wanted = Settings(
            db_port=self.server.port,
            db_name=f"tallyman_old_{worker}",
            db_user=f"old_app_{worker}",
            db_password="app",
            owner_user=f"old_owner_{worker}",
            owner_password="owner",
        )
        self._root(f"DROP DATABASE IF EXISTS {self.wanted.db_name}")
        mariadb.prepare(self.server, self.wanted, ROOT)
        self.owner = self._connect(self.wanted.owner_user, "owner")
        self.app = self._connect(self.wanted.db_user, "app")

    def _root(self, sql: str) -> None:
        with mariadb.connect_root(self.server, ROOT) as connection, connection.cursor() as cursor:
            cursor.execute(sql)

    def _connect(self, user: str, password: str) -> Database:
        one = self.wanted
        return Database(port=one.db_port, user=user, password=password, name=one.db_name)

    def end(self) -> None:
        self.owner.close()
        self.app.close()
        self._root(f"DROP DATABASE {self.wanted.db_name}")

    def do(self, name: str, **params: Any) -> int:
        """One statement of the release before, in a transaction of its own."""

        def work(tx: Tx) -> int:
            cursor = tx.execute(SQL[name].rstrip().rstrip(";"), params)
            return cursor.lastrowid or cursor.rowcount

        return self.app.transact(work)

    def row(self, sql: str, **params: Any) -> dict[str, Any]:
        found = self.app.transact(lambda tx: tx.execute(sql, params).fetchone())
        assert found is not None
        return dict(found)

    def fill(self) -> None:
        """People, a host, a routine, rates: as the release before would have made them."""
        person = "INSERT INTO person (name, email, password_hash, zone, made_at) VALUES ('Sol', 's@merrowdale.example', '', 'UTC', %(n)s)"
        for sql in (
            person,
            "INSERT INTO area (name) VALUES ('Metering')",
            "INSERT INTO area_above VALUES (1, 1, 0)",
            "INSERT INTO host (name, token_hash, heard_at, seats, made_at) VALUES ('Weir', 'x', %(n)s, 1, %(n)s)",
            "INSERT INTO robot (name, host_id, tags_json, made_at) VALUES ('Dipper', 1, '[]', %(n)s)",
            "INSERT INTO robot_area VALUES (1, 1)",
            "INSERT INTO package (name, made_at) VALUES ('count-rows', %(n)s)",
            "INSERT INTO file_body VALUES (REPEAT('a', 64), 1, %(n)s)",
            "INSERT INTO package_release (package_id, version, entry, inputs_json, outputs_json, tags_json, files_json, digest, size, "
            "person_id, at) VALUES (1, '1.0.0', 'main.py', '{}', '{}', '[]', '[]', REPEAT('a', 64), 1, 1, %(n)s)",
            "INSERT INTO routine (name, area_id, release_id, inputs_json, tags_json, on_trial, made_by, made_at) "
            "VALUES ('Count', 1, 1, '{}', '[]', FALSE, 1, %(n)s)",
            "INSERT INTO slot (kind, owner_id, n) VALUES ('robot', 1, 0), ('seat', 1, 0), ('limit', 1, 0)",
            "INSERT INTO tally_month (month) VALUES ('2026-03')",
            "INSERT INTO rate (kind, value, since, state, source, made_by, made_at) VALUES ('hour_cost', 38, '2026-01-01', 'approved', "
            "'x', 1, %(n)s), ('robot_hour', 6, '2026-01-01', 'approved', 'x', 1, %(n)s)",
        ):
            self.app.transact(lambda tx, sql=sql: tx.execute(sql, {"n": NOW}))
        self.do("add_trigger", routine=1, next=NOW + timedelta(hours=1), person=1, now=NOW)

    def run_one(self, n: int = 0) -> int:
        """A run from start to posting by the release before."""
        at = NOW + n * MINUTE
        run = self.do("start", routine=1, release=1, trigger=None, nominal=None, now=at)
        assert self.do("claim", id=run, robot=1, host=1, lease=at + 15 * MINUTE, now=at) == 1
        for kind in ("robot", "seat", "limit"):
            assert self.do("take_slot", run=run, kind=kind, owner=1, n=0) == 1
        self.do("finish", id=run, now=at + MINUTE)
        self.do("free", run=run)
        self.do("post", run=run, routine=1, area=1, now=at)
        self.do("add_to_sum")
        return run


@pytest.fixture
def old(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Old]:
    one = Old(os.environ.get("PYTEST_XDIST_WORKER", "main"))
    with monkeypatch.context() as before:
        for name in FORMER:
            shutil.copy(module.FOLDER / name, tmp_path / name)
        before.setattr(module, "FOLDER", tmp_path)
        assert migrate(one.owner, one.wanted.db_user, NOW) == list(FORMER)
    one.fill()
    one.run_one()
    yield one
    one.end()


def upgrade(old: Old) -> list[str]:
    return migrate(old.owner, old.wanted.db_user, NOW)


def test_a_database_with_data_is_migrated_and_once_more_changes_nothing(old: Old) -> None:
    names = upgrade(old)
    assert names
    assert not set(names) & set(FORMER)
    before = old.row("SELECT COUNT(*) AS n FROM run")["n"]
    assert upgrade(old) == []
    assert old.row("SELECT COUNT(*) AS n FROM run")["n"] == before
    assert json.loads(old.row("SELECT form_json AS f FROM clock_trigger")["f"]) == {"expr": "0 * * * *"}
    assert tally.verify(Ctx(old.app, NOW + MINUTE, PROGRAM)) == []


def test_a_migration_cut_short_is_run_again_from_its_beginning(old: Old) -> None:
    whole = module.FOLDER / "005_engine.sql"
    statements = module._statements(whole.read_text())
    for sql in statements[: len(statements) // 2]:
        old.owner.transact(lambda tx, sql=sql: tx.execute(sql.rstrip(";")))
    assert "005_engine.sql" in pending(old.owner)
    assert "005_engine.sql" in upgrade(old)
    assert tally.verify(Ctx(old.app, NOW + MINUTE, PROGRAM)) == []


def test_the_release_before_goes_on_working_while_and_after_the_database_is_migrated(old: Old) -> None:
    stop, faults, made = threading.Event(), [], []

    def work() -> None:
        n = 10
        while not stop.is_set():
            try:
                made.append(old.run_one(n))
            except Exception as error:
                faults.append(error)
                return
            n += 2

    thread = threading.Thread(target=work)
    thread.start()
    try:
        upgrade(old)
        after = len(made) + 3
        pause = threading.Event()
        while len(made) < after and not faults:
            pause.wait(0.01)
    finally:
        # Whatever came of it: the tables must not be taken away under what still works on them.
        stop.set()
        thread.join()
    assert faults == []
    assert tally.verify(Ctx(old.app, NOW + timedelta(days=1), PROGRAM)) == []


def test_a_table_that_a_deadlock_kept_from_its_place_is_altered_once_more(old: Old) -> None:
    """A changed table takes its place when all that point at it are free, and one of them is kept by work
    that wants another one next: the database ends the change then, with a number of its own."""
    root = mariadb.connect_root(old.server, ROOT)

    def place() -> str:
        with root.cursor() as cursor:
            cursor.execute(
                "SELECT state FROM information_schema.processlist WHERE user = %s AND info LIKE 'ALTER%%'",
                (old.wanted.owner_user,),
            )
            return str((cursor.fetchone() or ("",))[0])

    def work(tx: Tx) -> None:
        for n in range(40):
            tx.execute("INSERT INTO works_second VALUES (%(n)s, 1)", {"n": n})
        if not started.is_set():
            thread.start()
            started.set()
        pause = threading.Event()
        while thread.is_alive() and place() != "Rename result table":
            pause.wait(0.01)
        tx.execute("INSERT INTO works_first VALUES (1, 2)")

    def alter(tx: Tx) -> None:
        tries.append(tx)
        tx.execute("ALTER TABLE works ADD CONSTRAINT ck_works CHECK (a > 0)")

    for sql in (
        "CREATE TABLE works (id BIGINT PRIMARY KEY, a INT)",
        "CREATE TABLE works_first (id BIGINT, w BIGINT, CONSTRAINT fk_a FOREIGN KEY (w) REFERENCES works (id))",
        "CREATE TABLE works_second (id BIGINT, w BIGINT, CONSTRAINT fk_b FOREIGN KEY (w) REFERENCES works (id))",
        "INSERT INTO works VALUES (1, 1), (2, 1)",
    ):
        old.owner.transact(lambda tx, sql=sql: tx.execute(sql))
    tries: list[Tx] = []
    started = threading.Event()
    thread = threading.Thread(target=lambda: old.owner.transact(alter))
    with root:
        old.owner.transact(work)
        thread.join()
    assert len(tries) > 1
    with pytest.raises(Clash, match="ck works"):
        old.owner.transact(lambda tx: tx.execute("INSERT INTO works VALUES (3, 0)"))


def test_old_and_new_share_the_work_on_the_migrated_database(old: Old) -> None:
    upgrade(old)
    host = old.app.transact(
        lambda tx: tx.one(HostByToken, "robots.host_by_token", token="x", next="", machine="", address="")
    )
    assert host is not None
    now = Ctx(old.app, NOW + timedelta(hours=1), PROGRAM)
    dispatch.heartbeat(now, host, dispatch.Beat(now.now, []))
    # The new engine starts what the old release set up.
    assert kinds.start_due(now) == 1
    first = dispatch.take(now, host)
    assert first is not None
    # A run that the old release started waits, and is not taken over the limit.
    second = old.do("start", routine=1, release=1, trigger=None, nominal=None, now=now.now)
    assert dispatch.take(now, host) is None
    # The old release ends the run that the new one began.
    assert old.do("finish", id=first.run, now=now.now + MINUTE) == 1
    old.do("free", run=first.run)
    old.do("effect", run=first.run, now=now.now)
    taken = dispatch.take(now, host)
    assert taken is not None
    assert taken.run == second
    later = Ctx(old.app, now.now + 2 * MINUTE, PROGRAM)
    reports.outcome(later, host, second, 1, reports.Outcome("done", True, "", {}, {"rows": "1"}))
    while loops.effects(later):
        pass
    posted = old.row(
        "SELECT COUNT(*) AS n FROM tally_entry WHERE run_id IN %(runs)s", runs=(first.run, second)
    )
    assert posted["n"] == 2
    assert any("a segment of run" in line for line in tally.verify(later))
    assert runs.repair(later) == 1
    assert tally.verify(later) == []


def test_of_two_migrations_at_once_the_second_is_told_to_wait(old: Old) -> None:
    module._take_lease(old.owner, "another", NOW)
    with pytest.raises(Unavailable, match="another process migrates"):
        upgrade(old)
    # A lease that was left behind ends.
    assert migrate(old.owner, old.wanted.db_user, NOW + timedelta(hours=1))


def test_a_server_keeps_its_temporary_tables_to_itself(db: Database) -> None:
    """A server that starts clears the temporary tables of the folder it is given, whoever made them."""
    data, temporary = (
        db.transact(lambda tx, name=name: tx.composed(f"SELECT @@{name}", {})[0][0])
        for name in ("datadir", "tmpdir")
    )
    assert Path(temporary) == Path(data).parent / "temporary"
