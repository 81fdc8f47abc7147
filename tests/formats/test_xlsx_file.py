"""Tables as workbooks."""

from __future__ import annotations

import io
from datetime import UTC, date, datetime

import pytest
from openpyxl import load_workbook

from tallyman.formats.xlsx_file import LONGEST_NAME, sheet_name, xlsx_file


@pytest.mark.parametrize(
    ("given", "kept"),
    [
        ("Delivered", "Delivered"),
        ("Delivered / by month", "Delivered   by month"),
        ("[2026]: what?", "2026  what"),
        ("'quoted'", "quoted"),
        ("", "Table 1"),
        ("///", "Table 1"),
        ("History", "History 1"),
        ("x" * 50, "x" * LONGEST_NAME),
    ],
)
def test_a_title_becomes_a_name_that_workbooks_take(given: str, kept: str) -> None:
    assert sheet_name(given) == kept
    assert load_workbook(io.BytesIO(xlsx_file(given, ["a"], [[1]]))).sheetnames == [kept]


def test_cells_are_what_they_are() -> None:
    day, at = date(2026, 10, 2), datetime(2026, 10, 2, 8, 30, tzinfo=UTC)
    data = xlsx_file("All", ["a", "b", "c", "d", "e"], [["=1", True, day, at, None]])
    sheet = load_workbook(io.BytesIO(data)).active
    assert sheet is not None
    text, yes, kept, time, nothing = (cell.value for cell in sheet[2])
    assert (text, yes, nothing) == ("=1", "yes", None)
    assert str(kept) == "2026-10-02 00:00:00"
    assert str(time) == "2026-10-02 08:30:00"
    assert sheet["A2"].data_type == "s"
    assert sheet.auto_filter.ref == "A1:E2"
