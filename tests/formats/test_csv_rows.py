"""Rows of a text file that do not fit are told one by one, and take no other row with them."""

from __future__ import annotations

import csv
import io

from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.formats.csv_file import read_rows, split_line


def test_a_mark_that_does_not_close_takes_no_other_row_with_it() -> None:
    text = 'a;b;c\n1;"over\ntwo lines";3\n9;"never closed;5\nx;y;z\nq;"open again\nr;"closed";t\n'
    found = read_rows(text.encode())
    assert found.cells[1] == ["1", "over\ntwo lines", "3"]
    assert found.unclosed == {2: '9;"never closed;5', 4: 'q;"open again'}
    assert found.cells[3] == ["x", "y", "z"]
    assert found.cells[5] == ["r", "closed", "t"]
    assert found.widths == [3, 3, 1, 3, 1, 3]
    assert found.mark == ";"


def test_words_after_a_closing_mark_are_no_cell() -> None:
    assert read_rows(b'a,b\n"5" pipe,x\n5" pipe,x\n').unclosed == {1: '"5" pipe,x'}


def test_a_mended_row_is_split_as_its_file_was() -> None:
    assert split_line('9;"x; y";5', ";") == ["9", "x; y", "5"]
    assert split_line('9;"x; y;5', ";") is None


@given(st.lists(st.lists(st.text("ab \"';,\n", max_size=6), min_size=3, max_size=3), min_size=1, max_size=8))
@settings(deadline=None)
def test_what_is_written_well_is_read_back_whole(rows: list[list[str]]) -> None:
    rows = [["one", "two", "three"], *[[cell or "-" for cell in row] for row in rows]]
    out = io.StringIO()
    csv.writer(out, quoting=csv.QUOTE_ALL).writerows(rows)
    found = read_rows(out.getvalue().encode())
    if found.mark == ",":
        assert found.unclosed == {}
        assert found.cells == rows
