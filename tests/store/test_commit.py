"""A commit without an answer: nothing is lost and nothing is done twice."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import pymysql
import pytest

from tallyman.errors import Unavailable
from tallyman.store import db as store
from tallyman.store.db import Database, Tx
from tallyman.store.records.house import AreaBelow
from tests.conftest import Databases


@pytest.fixture
def cut(monkeypatch: pytest.MonkeyPatch) -> Callable[[str], None]:
    """Breaks the next commit: before it reaches the server, or on the way back."""

    def arrange(when: str) -> None:
        whole = pymysql.connections.Connection.commit
        left = [1]

        def commit(self: Any) -> None:
            if not left[0]:
                whole(self)
                return
            left[0] -= 1
            if when == "after":
                whole(self)
            self._force_close()
            raise pymysql.err.OperationalError(2013, "Lost connection to server during query")

        monkeypatch.setattr(pymysql.connections.Connection, "commit", commit)

    return arrange


@pytest.fixture
def left_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    """The next commit finds its node cut off from the others of its cluster; the connection stays."""
    whole = pymysql.connections.Connection.commit
    left = [1]

    def commit(self: Any) -> None:
        if not left[0]:
            whole(self)
            return
        left[0] -= 1
        self.rollback()
        raise pymysql.err.OperationalError(1180, "Not connected to Primary Component")

    monkeypatch.setattr(pymysql.connections.Connection, "commit", commit)


def add(tx: Tx) -> int:
    return tx.insert("people.add_division", name="Networks", parent=None)


def divisions(db: Database) -> int:
    rows = db.transact(lambda tx: tx.execute("SELECT name FROM division").fetchall())
    return len(rows)


@pytest.mark.parametrize("when", ["before", "after"])
def test_a_change_is_made_once_whenever_the_connection_breaks(
    db: Database, cut: Callable[[str], None], when: str
) -> None:
    cut(when)
    number = db.transact(add)
    assert divisions(db) == 1
    row = db.transact(lambda tx: tx.execute("SELECT id FROM division").fetchone())
    assert row is not None
    assert row["id"] == number


@pytest.mark.usefixtures("left_alone")
def test_a_change_is_made_once_although_its_node_was_cut_off_while_it_was_kept(db: Database) -> None:
    number = db.transact(add)
    rows = db.transact(lambda tx: tx.execute("SELECT id FROM division").fetchall())
    assert [row["id"] for row in rows] == [number]


def test_a_straggling_commit_is_shut_out_once_it_was_asked_for(db: Database) -> None:
    token = "c" * 32
    assert db._committed(token) is False
    # The same mark in the transaction that straggles cannot be written any more.
    with pytest.raises(Exception, match="there already"):
        db.transact(lambda tx: tx.execute(store.MARK, {"token": token}))


def test_while_nobody_can_tell_it_says_so(
    db: Database, cut: Callable[[str], None], monkeypatch: pytest.MonkeyPatch
) -> None:
    cut("after")
    monkeypatch.setattr(store, "ASK_SECONDS", 0.0)
    whole = Database._connect
    calls = [0]

    def connect(self: Database) -> Any:
        calls[0] += 1
        if calls[0] > 1:
            raise Unavailable("the database does not answer")
        return whole(self)

    monkeypatch.setattr(Database, "_connect", connect)
    with pytest.raises(Unavailable, match="while a change was being kept"):
        db.transact(add)


def test_a_transaction_that_only_reads_leaves_no_mark(db: Database) -> None:
    db.transact(lambda tx: tx.all(AreaBelow, "areas.all"))
    assert db.transact(lambda tx: tx.execute("SELECT token FROM commit_mark").fetchall()) == ()
    db.transact(add)
    assert len(db.transact(lambda tx: tx.execute("SELECT token FROM commit_mark").fetchall())) == 1


def test_what_is_in_the_way_too_often_is_said_in_words(db: Database) -> None:
    def work(tx: Tx) -> None:
        raise pymysql.err.OperationalError(1213, "Deadlock found")

    with pytest.raises(Unavailable, match="too many others"):
        db.transact(work)


def test_two_writers_of_one_row_are_both_kept(databases: Databases) -> None:
    databases.empty()
    db = databases.connect()
    db.transact(lambda tx: tx.write("tally.open_month", month="2026-03"))
    together = threading.Barrier(4)

    def work() -> None:
        together.wait()
        for _ in range(10):
            db.transact(
                lambda tx: tx.write(
                    "tally.add_to_sum", month="2026-03", idea=1, line="time saved", units=1, hours=1, money=1
                )
            )

    threads = [threading.Thread(target=work) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    row = db.transact(lambda tx: tx.execute("SELECT units, entries FROM tally_sum").fetchone())
    db.close()
    assert row is not None
    assert (int(row["units"]), row["entries"]) == (40, 40)
