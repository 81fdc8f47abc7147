"""Spreadsheets of any kind come as tables of text, or say why they do not."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime, time, timedelta
from typing import Any

import openpyxl
import pytest

from tallyman.core.faults import InputFaults
from tallyman.formats.columns import LARGEST, MOST_ROWS, read_lines
from tallyman.formats.sheet_file import LONGEST_CELL, NotReadable, read

# A sheet knows no zones.
DAY = datetime.fromisoformat("2026-03-01")
HEADS = {"name": ("name", "system"), "owner": ("owner",), "note": ("note", "remark")}


def workbook(pages: dict[str, list[list[Any]]], hidden: str = "") -> bytes:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for title, rows in pages.items():
        page = book.create_sheet(title)
        for row in rows:
            page.append(row)
        page.sheet_state = "hidden" if title == hidden else "visible"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def rows(data: bytes) -> list[list[str]]:
    [page] = read(data, "list")["pages"]
    return page["rows"]  # type: ignore[no-any-return]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
@pytest.mark.parametrize("mark", [",", ";", "\t"])
def test_a_csv_is_read_whatever_its_encoding_and_marks(encoding: str, mark: str) -> None:
    text = f"title{mark}owner\r\nLeak claims{mark}Sol Marín\r\n"
    assert rows(text.encode(encoding)) == [["title", "owner"], ["Leak claims", "Sol Marín"]]


def test_what_a_cell_holds_comes_as_text() -> None:
    cells = [
        12.0,
        0.5,
        True,
        None,
        DAY,
        DAY + timedelta(hours=14, minutes=5),
        date(2026, 3, 2),
        time(6, 30),
    ]
    assert rows(workbook({"a": [cells]})) == [
        ["12", "0.5", "yes", "", "2026-03-01", "2026-03-01 14:05", "2026-03-02", "06:30"]
    ]


def test_pages_come_by_name_and_hidden_or_empty_ones_not_at_all() -> None:
    data = workbook({"ideas": [["a"]], "old": [["b"]], "empty": [], "more": [["c"]]}, hidden="old")
    assert [page["name"] for page in read(data, "list.xlsx")["pages"]] == ["ideas", "more"]


def test_rows_are_as_wide_as_the_widest_and_end_with_the_last_that_holds_something() -> None:
    found = rows(b"a,b\nc\n,,\n \nd,e,f,,\n,,\n \n")
    assert found == [["a", "b", ""], ["c", "", ""], ["", "", ""], [" ", "", ""], ["d", "e", "f"]]


def test_a_cell_is_bounded() -> None:
    [[cell]] = rows(b"x" * 9000)
    assert len(cell) == LONGEST_CELL


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"\n\n , \n", "is empty"),
        (b"\xd0\xcf\x11\xe0" + b"\0" * 600, "save it as XLSX or CSV"),
        (b"PK\x03\x04 and nothing more", "cannot be read as XLSX"),
        (b"a\n" * 20_001, "too many rows"),
    ],
)
def test_what_cannot_be_read_says_why(data: bytes, words: str) -> None:
    with pytest.raises(NotReadable, match=words):
        read(data, "list")


def test_a_workbook_far_larger_inside_is_not_unpacked() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as box:
        box.writestr("xl/worksheets/sheet1.xml", b"0" * 201_000_000)
    with pytest.raises(NotReadable, match="larger inside"):
        read(out.getvalue(), "list.xlsx")


def test_columns_are_found_by_any_of_their_heads_in_any_order() -> None:
    data = b"Remark; SYSTEM ;other\nseldom used;Fettlebook;x\n;;\n;Weirlog\n"
    assert read_lines(data, HEADS, ["name"]) == [
        (2, {"name": "Fettlebook", "owner": "", "note": "seldom used"}),
        (4, {"name": "Weirlog", "owner": "", "note": ""}),
    ]


def test_our_own_head_goes_before_what_others_write() -> None:
    assert read_lines(b"system,name\nWeirlog,Fettlebook\n", HEADS, ["name"])[0][1]["name"] == "Fettlebook"


@pytest.mark.parametrize(
    ("data", "field", "words"),
    [
        (b"", "file", "is empty"),
        (b"other,more\n1,2\n", "name", "no such column; head one with: name, system"),
        (b"name\n" + b"x\n" * (MOST_ROWS + 1), "file", "send it in parts"),
        (b"name\n" + b"x" * LARGEST, "file", "at most 1 MB"),
    ],
)
def test_a_list_that_cannot_be_taken_says_what_would_do(data: bytes, field: str, words: str) -> None:
    with pytest.raises(InputFaults) as refused:
        read_lines(data, HEADS, ["name"])
    [fault] = refused.value.faults
    assert fault.field == field
    assert words in fault.message
