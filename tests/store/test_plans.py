"""How the database would carry out every statement that reads, and every list, among a hundred thousand rows:
by an index, or it says beside its purpose why it reads a whole table that grows."""

from __future__ import annotations

import math
import os
import re
from collections.abc import Iterator, Mapping
from datetime import timedelta
from typing import Any

import pytest

from tallyman.store.db import Database, Tx
from tallyman.store.lists import LISTINGS, _cursor, composed
from tallyman.store.shapes import selects
from tests.conftest import NOW, Databases
from tests.store import crowd

# More rows than this are not looked up, they are read through.
MOST = 5_000
LATELY, LONG_AGO = NOW - timedelta(days=1), NOW - timedelta(days=340)
NUMBERS = (
    "after all_areas area but but_person everywhere fence group host id idea low me order owner person phase"
    " routine run trigger upto version"
)
# What a parameter is like, by its name; every other one is a text.
LIKE: dict[str, Any] = {
    **dict.fromkeys(NUMBERS.split(), 77),
    **dict.fromkeys(["all_areas", "all_secrets", "everywhere", "after"], 0),
    **dict.fromkeys(["limit", "most"], 50),
    **dict.fromkeys(
        ["areas", "divisions", "ideas", "ids", "people", "roles", "routines", "secret_areas"], (7, 8, 9)
    ),
    **dict.fromkeys(["digests", "emails", "kinds", "marks", "names"], ("w7 of the crowd", "w8 of the crowd")),
    **dict.fromkeys(["before", "begins", "idle", "now", "since", "soon", "until"], LATELY),
    **dict.fromkeys(["day", "first", "last", "on", "this", "today"], LATELY.date()),
    "month": "2026-02",
    "nominal": (LATELY,),
    "words": "w77*",
}
# What each filter of a list is given, where that is no text.
FILTERS: dict[str, Any] = {
    **dict.fromkeys(["amendments", "asked", "waiting"], True),
    **dict.fromkeys(
        ["not_drafts_of_others", "owner", "proposer", "reach_from", "reach_to", "robot", "routine", "who"], 7
    ),
    **dict.fromkeys(["worth_from", "worth_to"], 7),
    **dict.fromkeys(["division", "ids"], (7, 8)),
    "figured_in": (7, 8),
    "in_areas": {"in_areas": (7, 8), "not_drafts_of_others": 7, "browsed": (7, 8), "browse_all": False},
    "late_on": (NOW - timedelta(days=1990)).date(),
    "since": NOW - timedelta(days=400),
    "since_before": LONG_AGO,
    "stage": "noted",
    "stages": ("noted", "sized"),
    "state": "failed",
    "states": ("waiting", "running"),
    "text": {"text": "%w77%", "text_number": 0, "text_words": "+w77*"},
}


@pytest.fixture(scope="module")
def crowded() -> Iterator[Database]:
    """A database of its own, full of rows."""
    found = Databases(f"crowd_{os.environ.get('PYTEST_XDIST_WORKER', 'main')}")
    found.owner.transact(lambda tx: crowd.fill(tx, NOW))
    yield found.owner
    found.owner.close()


def read_through(
    db: Database, sql: str, given: Mapping[str, Any], most: int = MOST
) -> list[tuple[str, str, int]]:
    """The tables that a statement reads through: their names, the index, and how many rows each."""
    # Explained by doing it: a plan alone counts what a LIMIT never reads.
    plan = db.transact(lambda tx: list(tx.execute(f"ANALYZE {sql}", given).fetchall()))

    def rows(row: Mapping[str, Any]) -> float:
        # A filter by row numbers shows its share beside them: 1.00 (0%).
        return float(str(row["r_rows"] or 0).split()[0])

    # What is joined multiplies; what stands in brackets is done once, or for each row by a key.
    joined = [row for row in plan if row["select_type"] in ("SIMPLE", "PRIMARY")]
    whole = math.prod(max(1.0, rows(row)) for row in joined)
    wide = joined if whole > most else [row for row in plan if rows(row) > most]
    return [(row["table"], row["key"], round(rows(row))) for row in wide]


def test_the_crowd_is_large_wherever_rows_gather(crowded: Database) -> None:
    def work(tx: Tx) -> dict[str, int]:
        tables = [
            next(iter(row.values()))
            for row in tx.execute("SHOW FULL TABLES WHERE Table_type = 'BASE TABLE'").fetchall()
        ]
        return {
            table: tx.execute(f"SELECT COUNT(*) AS n FROM `{table}`").fetchone()["n"]  # type: ignore[index]
            for table in tables
            if crowd.rows_of(table) == crowd.MANY
        }

    sizes = crowded.transact(work)
    assert min(sizes.values()) == crowd.MANY, sizes
    assert len(sizes) > 40


@pytest.mark.parametrize("name", sorted(selects()))
def test_a_statement_finds_its_rows_by_an_index(crowded: Database, name: str) -> None:
    statement = selects()[name]
    given = {one: LIKE.get(one, "w77 of the crowd") for one in re.findall(r"%\((\w+)\)s", statement.sql)}
    wide = read_through(crowded, statement.sql, given)
    # Verifying is a command that goes through everything.
    may = bool(statement.reads_all) or name.split(".")[1].startswith("check_")
    assert may or not wide
    assert wide or not statement.reads_all, "it says that it reads all, but does not"


@pytest.mark.parametrize("further", [False, True], ids=["first page", "further page"])
@pytest.mark.parametrize(
    ("name", "sort"), [(name, sort) for name, one in LISTINGS.items() for sort in one.sorts]
)
def test_a_list_reads_its_page_and_no_more(crowded: Database, name: str, sort: str, further: bool) -> None:
    listing = LISTINGS[name]
    marks: dict[str, Any] = {"title": "w500", "due": LONG_AGO, "oldest": LONG_AGO, "changed": LONG_AGO}
    mark = _cursor(marks.get(sort, crowd.MANY // 2), crowd.MANY // 2) if further else None
    wide = {}
    for one in [None, *listing.filters]:
        value = FILTERS.get(one or "", "w77 of the crowd")
        if isinstance(value, dict) and name != "ideas":
            value = value[one]
        sql, given = composed(listing, {one: value} if one else {}, sort, mark, 50)
        # What few rows fit is looked for to the end of the list, but once.
        most = crowd.MANY * 6 // 5 if one and one != "not_drafts_of_others" else MOST
        wide[one or "no filter"] = read_through(crowded, sql, given, most)
    assert not {one: tables for one, tables in wide.items() if tables}
