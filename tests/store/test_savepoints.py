"""A line that is taken back leaves nothing, and takes nothing of its neighbours with it."""

from __future__ import annotations

from collections.abc import Callable

import pymysql
import pytest

from tallyman.errors import Clash
from tallyman.store.db import Database, Tx


def add(tx: Tx, name: str) -> int:
    return tx.insert("people.add_division", name=name, parent=None)


def divisions(db: Database) -> list[str]:
    rows = db.transact(lambda tx: tx.execute("SELECT name FROM division ORDER BY name").fetchall())
    return [row["name"] for row in rows]


def lines(*given: Callable[[Tx], object]) -> Callable[[Tx], list[bool]]:
    """Each line by itself within one transaction: whether it stayed."""

    def work(tx: Tx) -> list[bool]:
        stayed = []
        for line in given:
            tx.write("sheets.mark_line")
            try:
                line(tx)
                stayed.append(True)
            except (Clash, ValueError):
                tx.write("sheets.back_to_line")
                stayed.append(False)
        return stayed

    return work


def fails(tx: Tx) -> None:
    add(tx, "Half a line")
    raise ValueError("the line cannot be read to its end")


def test_what_a_refused_line_wrote_goes_and_the_lines_around_it_stay(db: Database) -> None:
    given = lines(lambda tx: add(tx, "Networks"), fails, lambda tx: add(tx, "Metering"))
    assert db.transact(given) == [True, False, True]
    assert divisions(db) == ["Metering", "Networks"]


def test_a_refusal_of_the_database_itself_is_taken_back_as_well(db: Database) -> None:
    given = lines(
        lambda tx: add(tx, "Networks"), lambda tx: add(tx, "Networks"), lambda tx: add(tx, "Metering")
    )
    assert db.transact(given) == [True, False, True]
    assert divisions(db) == ["Metering", "Networks"]


def test_what_is_read_again_after_a_line_was_taken_back_is_as_it_was(db: Database) -> None:
    def work(tx: Tx) -> tuple[int, int, int]:
        def there() -> int:
            found = tx.execute("SELECT COUNT(*) AS n FROM division").fetchone()
            assert found is not None
            return int(found["n"])

        before = there()
        tx.write("sheets.mark_line")
        add(tx, "Networks")
        within = there()
        tx.write("sheets.back_to_line")
        return before, within, there()

    assert db.transact(work) == (0, 1, 0)


def test_nothing_of_any_line_stays_when_the_whole_fails(db: Database) -> None:
    def work(tx: Tx) -> None:
        lines(lambda tx: add(tx, "Networks"), fails)(tx)
        raise RuntimeError("the process ends")

    with pytest.raises(RuntimeError):
        db.transact(work)
    assert divisions(db) == []


def test_a_transaction_that_another_one_ended_is_not_gone_on_with_by_its_lines(db: Database) -> None:
    """A deadlock takes back the whole transaction: to go on from the mark would lose the lines before it."""
    tries = []

    def work(tx: Tx) -> None:
        tries.append(len(tries))
        tx.write("sheets.mark_line")
        add(tx, "Networks")
        if len(tries) == 1:
            raise pymysql.err.OperationalError(1213, "Deadlock found")

    db.transact(work)
    assert tries == [0, 1]
    assert divisions(db) == ["Networks"]


def test_a_mark_of_another_transaction_is_none_of_ours(db: Database) -> None:
    db.transact(lambda tx: tx.write("sheets.mark_line"))
    with pytest.raises(pymysql.err.MySQLError, match="SAVEPOINT"):
        db.transact(lambda tx: tx.write("sheets.back_to_line"))
