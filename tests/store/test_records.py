"""Records are what the database says of every statement; words are what its constraints say."""

from __future__ import annotations

import ast
import os
import re

import pytest

from tallyman.store import shapes
from tallyman.store.words import WORDS
from tests.conftest import Databases


@pytest.mark.skipif("TALLYMAN_WRITE_RECORDS" not in os.environ, reason="writes src/tallyman/store/records")
def test_write_the_records(databases: Databases) -> None:
    shapes.write(databases.owner)


def test_the_records_are_those_of_the_statements(databases: Databases) -> None:
    """Write them anew by TALLYMAN_WRITE_RECORDS=1 pytest tests/store/test_records.py -k write."""
    for room, text in databases.owner.transact(shapes.written).items():
        kept = (shapes.TARGET / f"{room}.py").read_text()
        assert ast.dump(ast.parse(kept)) == ast.dump(ast.parse(text)), room


def test_words_are_those_of_the_constraints(databases: Databases) -> None:
    rows = databases.owner.transact(
        lambda tx: tx.execute(
            "SELECT table_name AS t, check_clause AS c FROM information_schema.check_constraints "
            "WHERE constraint_schema = DATABASE()"
        ).fetchall()
    )
    held = {}
    for row in rows:
        for column, words in re.findall(r"`(\w+)` (?:in \(|= )('[^)]*')", row["c"]):
            held[f"{row['t']}.{column}"] = set(re.findall(r"'([^']*)'", words))
    assert held == {column: set(one.values()) for column, one in WORDS.items()}
