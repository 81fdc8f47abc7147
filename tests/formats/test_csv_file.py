from __future__ import annotations

import csv
import io

import pytest

from tallyman.formats.csv_file import cell, csv_file


@pytest.mark.parametrize("text", ["=1+1", "+49 12", "-2+3", "-x", "@sum", "\tx", "\rx", "-1e5"])
def test_what_begins_like_a_formula_is_written_as_text(text: str) -> None:
    assert cell(text) == f"'{text}"


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (None, ""),
        ("", ""),
        (7, "7"),
        ("a=b", "a=b"),
        ("é", "é"),
        (-2, "-2"),
        ("-12.50", "-12.50"),
        ("+49", "+49"),
    ],
)
def test_other_cells_stay(value: object, text: str) -> None:
    assert cell(value) == text


def test_a_table_is_read_back_as_it_was_written() -> None:
    data = csv_file(["name", "what"], [['a "b"', "x,y"], ["line\nbreak", None]])
    assert data.startswith(b"\xef\xbb\xbf")
    rows = list(csv.reader(io.StringIO(data.decode("utf-8-sig"))))
    assert rows == [["name", "what"], ['a "b"', "x,y"], ["line\nbreak", ""]]
