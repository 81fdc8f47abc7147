"""No error of the database reaches a person without words: every unique key, check and link of the schema is
broken on purpose, and every kind of value that does not fit."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from typing import Any

import pymysql
import pytest

from tallyman.core.faults import InputFaults
from tallyman.errors import Clash
from tallyman.store.db import Database, Tx
from tallyman.store.refusals import TAKEN, called
from tallyman.store.words import WORDS
from tests.conftest import NOW, Databases
from tests.store import crowd

ROWS = 3
# Numbers that no check allows and their columns can hold.
OUT_OF_RANGE = {"tinyint": "121", "smallint": "999", "int": "99999", "bigint": "99999"}
CODE = re.compile(r"`|CONSTRAINT|SQL|Duplicate|FOREIGN|\b(uq|ck|fk|ix)_|_id\b|_json\b")


@pytest.fixture(scope="module")
def small() -> Iterator[Database]:
    """A database of its own with a few rows in every table."""
    found = Databases(f"small_{os.environ.get('PYTEST_XDIST_WORKER', 'main')}")
    found.owner.transact(lambda tx: crowd.fill(tx, NOW, ROWS))
    yield found.owner
    found.owner.close()


def said(db: Database, *statements: str) -> Clash:
    """What a person is told of statements the last of which the database refuses. Nothing is kept."""

    def work(tx: Tx) -> None:
        for statement in statements:
            tx.execute(statement, {"now": NOW})

    with pytest.raises(Clash) as refused:
        db.transact(work)
    return refused.value


def all_of(db: Database, sql: str) -> list[dict[str, Any]]:
    return db.transact(lambda tx: list(tx.execute(sql).fetchall()))


UNIQUE = (
    "SELECT TABLE_NAME AS t, INDEX_NAME AS k, GROUP_CONCAT(COLUMN_NAME ORDER BY SEQ_IN_INDEX) AS c"
    " FROM information_schema.STATISTICS WHERE TABLE_SCHEMA = DATABASE() AND NON_UNIQUE = 0 GROUP BY 1, 2"
)
CHECKS = (
    "SELECT TABLE_NAME AS t, CONSTRAINT_NAME AS k, CHECK_CLAUSE AS c FROM information_schema.CHECK_CONSTRAINTS"
    " WHERE CONSTRAINT_SCHEMA = DATABASE()"
)
LINKS = (
    "SELECT TABLE_NAME AS t, CONSTRAINT_NAME AS k, COLUMN_NAME AS c, REFERENCED_TABLE_NAME AS o"
    " FROM information_schema.KEY_COLUMN_USAGE"
    " WHERE TABLE_SCHEMA = DATABASE() AND REFERENCED_TABLE_NAME IS NOT NULL"
)
# What a column that the database makes is made of, where its name does not say it.
MADE_OF = {"name_in_use": "name", "counts_for": "idea_id"}
UNCHECKED = ("SET check_constraint_checks = 0", "SET foreign_key_checks = 0")
CHECKED = ("SET check_constraint_checks = 1", "SET foreign_key_checks = 0")
UNLINKED = ("SET check_constraint_checks = 0", "SET foreign_key_checks = 1")


def literal(table: str, column: crowd.Column, n: int) -> str:
    """The n-th value of a column, as SQL; `n` is small."""
    words = WORDS.get(f"{table}.{column.name}")
    if words is not None:
        return repr(words.values()[0])
    if column.name.endswith("_json"):
        return "'[]'"
    if column.kind in ("datetime", "timestamp", "date", "time"):
        return f"CAST(%(now)s - INTERVAL {n} DAY AS {column.kind.replace('timestamp', 'datetime')}) + INTERVAL {n} SECOND"
    if column.kind.endswith(("char", "text", "blob", "binary")):
        return f"'w{n}'"
    return str(n)


def test_every_unique_key_says_what_is_there_already(small: Database) -> None:
    columns = small.transact(crowd.columns)
    met = set()
    for row in all_of(small, UNIQUE):
        table, key = row["t"], row["k"]
        # What the database makes of another column itself, it makes again.
        known = {one.name for one in columns[table]}
        parts = {
            part if part in known else MADE_OF.get(part, part.replace("_key", "_id"))
            for part in row["c"].split(",")
        }
        # Among what is in use, and not among what is over.
        over = {"retired_at", "ended_at"} if MADE_OF.keys() & set(row["c"].split(",")) else set()
        names = ", ".join(f"`{one.name}`" for one in columns[table] if one.name not in over)
        kept = [one for one in columns[table] if one.name not in over]
        first = ", ".join(literal(table, one, 70) for one in kept)
        other = ", ".join(literal(table, one, 70 if one.name in parts else 80) for one in kept)
        into = f"INSERT INTO `{table}` ({names}) VALUES"
        refused = said(small, *UNCHECKED, f"{into} ({first})", f"{into} ({other})")
        assert refused.constraint == key, (table, key, refused.constraint)
        assert not CODE.search(refused.message), refused.message
        met.add(key)
    assert met - {"PRIMARY"} == set(TAKEN)


def test_every_check_says_what_cannot_hold_it(small: Database) -> None:
    columns = small.transact(crowd.columns)
    for row in all_of(small, CHECKS):
        table, key = row["t"], row["k"]
        parts = [one for one in columns[table] if f"`{one.name}`" in row["c"]]
        # No word, no JSON, no number allowed; and of two of which one is to be set, both.
        wrong = ", ".join(f"`{one.name}` = {OUT_OF_RANGE.get(one.kind, repr('?'))}" for one in parts)
        refused = said(small, *CHECKED, f"UPDATE `{table}` SET {wrong}")
        assert refused.constraint == key, (table, key, refused.constraint)
        assert called(table) in refused.message
        assert not CODE.search(refused.message), refused.message


def test_every_link_says_what_is_not_there_or_still_needed(small: Database) -> None:
    columns = small.transact(crowd.columns)
    links = all_of(small, LINKS)
    assert len(links) > 90
    for row in links:
        table, column, other = row["t"], row["c"], row["o"]
        kind = next(one.kind for one in columns[table] if one.name == column)
        lost = "999" if kind.endswith("int") else "'nothing'"
        refused = said(small, *UNLINKED, f"UPDATE `{table}` SET `{column}` = {lost}")
        assert refused.constraint == row["k"], (table, column, refused.constraint)
        assert called(other) in refused.message
        assert not CODE.search(refused.message), refused.message


def test_what_others_need_says_so_when_it_is_to_go(small: Database) -> None:
    refused = said(small, *UNLINKED, "DELETE FROM person")
    assert refused.message.endswith("still needs it")
    assert not CODE.search(refused.message)


@pytest.mark.parametrize(
    ("sql", "field", "words"),
    [
        ("UPDATE idea SET title = REPEAT('x', 5000)", "title", "is longer than can be kept; shorten it"),
        ("UPDATE routine SET priority = 99999999999", "priority", "is larger than can be kept"),
        ("UPDATE idea SET title = NULL", "title", "is missing; give a value"),
        (
            "UPDATE clock_trigger SET latest_minutes = 'soon'",
            "latest_minutes",
            "is not what can be kept there",
        ),
    ],
)
def test_a_value_that_does_not_fit_names_its_field(small: Database, sql: str, field: str, words: str) -> None:
    def work(tx: Tx) -> None:
        for statement in (*UNCHECKED, sql):
            tx.execute(statement)

    with pytest.raises(InputFaults) as refused:
        small.transact(work)
    assert [(fault.field, fault.message) for fault in refused.value.faults] == [(field, words)]


def test_what_is_no_refusal_stays_what_it_is(small: Database) -> None:
    with pytest.raises(pymysql.err.ProgrammingError):
        small.transact(lambda tx: tx.execute("SELECT nothing FROM nowhere"))


def test_a_link_that_is_missing_for_a_moment_is_tried_again(small: Database) -> None:
    """As while a migration changes the table that it points at."""
    tries: list[int] = []

    def work(tx: Tx) -> None:
        tries.append(len(tries))
        tx.execute("SET foreign_key_checks = 1")
        if len(tries) == 1:
            tx.execute("UPDATE robot SET host_id = 999")

    small.transact(work)
    assert tries == [0, 1]


def test_a_link_that_stays_missing_is_refused_after_a_few_tries(small: Database) -> None:
    tries: list[int] = []

    def work(tx: Tx) -> None:
        tries.append(len(tries))
        tx.execute("SET foreign_key_checks = 1")
        tx.execute("UPDATE robot SET host_id = 999")

    with pytest.raises(Clash, match="there is no such host"):
        small.transact(work)
    assert tries == [0, 1, 2]
