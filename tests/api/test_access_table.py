"""Every route against every built-in role, compared with the reviewed table in docs/access-table.md."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest

from tallyman.core.access.permissions import ROLES
from tests.access_world import HEAD, TABLE, Everybody, everybody, kept, label, variants
from tests.conftest import Databases


@pytest.fixture(scope="module")
def all_of_them(databases: Databases, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Everybody]:
    with everybody(databases, tmp_path_factory.mktemp("keys") / "keys.json") as found:
        yield found


@pytest.mark.skipif("TALLYMAN_WRITE_TABLE" not in os.environ, reason="writes the table to be reviewed")
def test_write_the_table(all_of_them: Everybody) -> None:
    lines = ["| route | " + " | ".join(ROLES) + " |", "|" + " --- |" * (len(ROLES) + 1)]
    for verb, path, own in variants():
        cells = all_of_them.row(verb, path, own)
        lines.append(f"| {label(verb, path, own)} | " + " | ".join(cells) + " |")
    TABLE.write_text(HEAD + "\n".join(lines) + "\n", encoding="utf-8")
    for (verb, path), text in all_of_them.misfits.items():
        print("MISFIT", verb, path, text)


@pytest.mark.parametrize(("verb", "path", "own"), variants())
def test_a_route_allows_what_the_table_says(all_of_them: Everybody, verb: str, path: str, own: bool) -> None:
    rows = kept()
    heading = label(verb, path, own)
    assert heading in rows, f"{heading} has no row in {TABLE.name}; review what it allows and add one"
    assert all_of_them.row(verb, path, own) == rows[heading]


def test_the_table_has_no_row_without_a_route() -> None:
    assert set(kept()) == {label(*one) for one in variants()}
