"""Cells and heads of spreadsheets, as people type them."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.core.ideas import sheet_cells
from tallyman.core.ideas.sheet_cells import Unreadable
from tallyman.core.ideas.sheet_guess import find_head
from tallyman.core.ideas.sheet_lines import Columns, blank, read_line
from tallyman.core.ideas.sheets import check_match, suggest


@pytest.mark.parametrize(
    ("text", "decimal", "value"),
    [
        ("1,200", ".", "1200"),
        ("1.200", ",", "1200"),
        ("1.200,50", ".", "1200.5"),
        ("1,200.50", ",", "1200.5"),
        ("1 200", ".", "1200"),
        ("1\u202f200", ".", "1200"),
        ("1'200", ".", "1200"),
        ("12,5", ".", "12.5"),
        ("~300", ".", "300"),
        ("12.5", ",", "12.5"),
        ("-3", ".", "-3"),
    ],
)
def test_numbers_with_any_marks(text: str, decimal: str, value: str) -> None:
    assert sheet_cells.as_text(sheet_cells.read_number(text, decimal)) == value


@pytest.mark.parametrize("text", ["10-15", "1,20,0", "abc", "1.2.3", "", "1e400"])
def test_what_is_no_number_is_said(text: str) -> None:
    with pytest.raises(Unreadable):
        sheet_cells.read_number(text)


@given(st.integers(0, 10**9), st.sampled_from([",", "."]))
def test_grouped_whole_numbers_are_read_back(number: int, decimal: str) -> None:
    grouped = f"{number:,}".replace(",", "." if decimal == "," else ",")
    assert sheet_cells.read_number(grouped, decimal) == number


@pytest.mark.parametrize(
    ("column", "mark"),
    [
        (["1.200,5", "3"], ","),
        (["12,5", "1.200"], ","),
        (["1,200", "12.5"], "."),
        (["1.200.300"], ","),
        (["1,200"], "."),
        (["none", ""], "."),
    ],
)
def test_the_decimal_mark_of_a_column_is_told_by_the_cells_without_doubt(
    column: list[str], mark: str
) -> None:
    assert sheet_cells.decimal_mark(column) == mark


@pytest.mark.parametrize(
    ("text", "rhythm", "amount", "per"),
    [
        ("300 per week", None, "300", "week"),
        ("25/day", None, "25", "day"),
        ("1,200 p.a.", None, "1200", "year"),
        ("p.a. 500", None, "500", "year"),
        ("monthly: 40", None, "40", "month"),
        ("40", "quarter", "40", "quarter"),
        ("3 times a working day", None, "3", "working day"),
        ("12 cases", "week", "12", "week"),
    ],
)
def test_volumes(text: str, rhythm: str | None, amount: str, per: str) -> None:
    assert sheet_cells.read_volume(text, rhythm, ".") == {"amount": amount, "rhythm": per}


@pytest.mark.parametrize("text", ["lots", "40", "40 now and then", "-3 a week"])
def test_a_volume_without_a_rhythm_or_number_is_said(text: str) -> None:
    with pytest.raises(Unreadable):
        sheet_cells.read_volume(text, None, ".")


@pytest.mark.parametrize(
    ("text", "hours", "minutes"),
    [
        ("12", False, "12"),
        ("12 min", True, "12"),
        ("1.5 h", False, "90"),
        ("1:30", False, "90"),
        ("2", True, "120"),
        ("30 sec", False, "0.5"),
    ],
)
def test_minutes(text: str, hours: bool, minutes: str) -> None:
    assert sheet_cells.read_minutes(text, hours, ".") == minutes


@pytest.mark.parametrize(
    ("text", "value"), [("3", "3"), ("30 %", "3"), ("0.3", "3"), ("2 of ten", "2"), ("4/10", "4")]
)
def test_of_ten(text: str, value: str) -> None:
    assert sheet_cells.read_of_ten(text, ".") == value


def test_kinds_of_input_in_any_order_and_spelling() -> None:
    assert sheet_cells.read_arrives("E-Mail 3; Screens 1") == [
        {"kind": "mail", "part": "3"},
        {"kind": "screen", "part": "1"},
    ]
    assert sheet_cells.read_arrives("pdf and handwriten") == [
        {"kind": "fixed-layout PDF", "part": "1"},
        {"kind": "handwriting", "part": "1"},
    ]
    with pytest.raises(Unreadable, match="no kind"):
        sheet_cells.read_arrives("smoke")


@pytest.mark.parametrize(
    ("text", "first", "day"),
    [
        ("2024-03-05", True, date(2024, 3, 5)),
        ("2024-03-05 10:15", True, date(2024, 3, 5)),
        ("05.03.2024", True, date(2024, 3, 5)),
        ("3/5/24", False, date(2024, 3, 5)),
        ("5 March 2024", True, date(2024, 3, 5)),
        ("Mar 5, 2024", True, date(2024, 3, 5)),
        ("45356", True, date(2024, 3, 5)),
    ],
)
def test_days_in_many_forms(text: str, first: bool, day: date) -> None:
    assert sheet_cells.read_day(text, first) == day


@pytest.mark.parametrize("text", ["soon", "31.02.2024", "13/13/2024", "99999999"])
def test_what_is_no_day_is_said(text: str) -> None:
    with pytest.raises(Unreadable):
        sheet_cells.read_day(text)


def test_day_or_month_first_is_told_by_the_column() -> None:
    assert sheet_cells.day_first(["01/02/2024", "13/02/2024"])
    assert not sheet_cells.day_first(["01/02/2024", "02/13/2024"])


def test_heads_are_matched_however_they_are_worded() -> None:
    heads = [
        "Nr",
        "Process name",
        "What happens (short)",
        "Vol. per month",
        "Time (min)",
        "Dept",
        "Process owner (mail)",
        "Submitted on",
        "Inputs",
        "Colour",
    ]
    assert suggest(heads) == {
        "number": 0, "title": 1, "what": 2, "volume": 3, "minutes": 4, "division": 5, "owner": 6, "noted": 7, "arrives": 8,
    }  # fmt: skip


def test_the_head_is_found_below_titles() -> None:
    rows = [["Ideas of the depot", ""], ["", ""], ["Title", "Description"], ["One", "It is done"]]
    assert find_head(rows) == (2, True)


def test_a_match_names_what_is_wrong_with_it() -> None:
    with pytest.raises(InputFaults) as caught:
        check_match({"minutes": 9, "rhythm": 0, "volume": 0, "wht": 1}, 3)
    named = {fault.field for fault in caught.value.faults}
    assert named >= {"minutes", "rhythm", "volume", "title"}
    assert "did you mean 'what'" in str(caught.value)


def test_a_line_reads_what_it_can_and_names_the_rest() -> None:
    heads = ["Name", "How many a month", "Hours each", "Changed"]
    rows = [["Valve list", "1.200", "0,5", "a bit"], ["Meter note", "12,5", "abc", "a lot"]]
    columns = Columns.of({"title": 0, "volume": 1, "minutes": 2, "changed": 3}, heads, rows)
    line = read_line(rows[0], columns)
    assert line.answers["volume"] == {"amount": "1200", "rhythm": "month"}
    assert line.answers["minutes"] == "30"
    assert [fault.field for fault in line.faults] == ["changed"]
    assert line.notes == ["no description; the name stands for it"]
    other = read_line(rows[1], columns)
    assert [(fault.field, fault.value) for fault in other.faults] == [("minutes", "abc")]


def test_the_mark_of_an_idea_is_its_number_or_else_its_words() -> None:
    columns = Columns.of({"title": 0, "number": 1}, ["Name", "Ref"], [])
    assert read_line(["One", "A-1"], columns).mark == read_line(["Two", "a-1"], columns).mark
    assert read_line(["One", ""], columns).mark == read_line([" one ", "-"], columns).mark
    assert read_line(["One", ""], columns).mark != read_line(["Two", ""], columns).mark


def test_a_long_name_is_cut_and_stands_whole_in_the_description() -> None:
    line = read_line(["x" * 130], Columns.of({"title": 0}, ["Name"], []))
    assert len(line.answers["title"]) == 120
    assert "x" * 130 in line.answers["what"]
    assert "130 characters" in line.notes[0]


def test_rows_that_say_nothing_are_blank() -> None:
    assert blank(["", " ", "-", "n/a"])
    assert not blank(["", "x"])


@given(st.lists(st.text(max_size=30), min_size=1, max_size=9))
def test_no_cell_breaks_the_reading(row: list[str]) -> None:
    names = ["title", "what", "volume", "minutes", "judge", "arrives", "noted", "changed", "number"]
    columns = Columns.of({name: n for n, name in enumerate(names[: len(row)])}, names[: len(row)], [row])
    line = read_line(row, columns)
    for fault in line.faults:
        assert fault.message
