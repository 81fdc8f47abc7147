"""Columns that no head explains are told by what stands in them, and asked about."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.core.ideas import sheet_cells
from tallyman.core.ideas.sheet_cells import Unreadable
from tallyman.core.ideas.sheet_guess import HEAD, KnownNames, find_head, guess
from tallyman.core.ideas.sheet_lines import Columns, broken, differing, read_line, said_as_read

KNOWN = KnownNames({"corin dahl", "mei.tanaka@merrowdale.example"}, {"networks"})
LONG = "is read from the letters that came in and typed into the register, line by line"
ROWS = [
    ["V-1", "Valve list", f"A list {LONG}", "30 pro Woche", "0:20", "Networks", "Corin Dahl", "3.2.2026"],
    ["V-2", "Meter note", f"A note {LONG}", "12 pro Monat", "0:05", "Networks", "Corin Dahl", "14.2.2026"],
    ["V-3", "Pump hours", f"The hours {LONG}", "5 pro Tag", "0:15", "Networks", "Corin Dahl", "9.3.2026"],
]
ROLES = {
    "number": 0,
    "title": 1,
    "what": 2,
    "volume": 3,
    "minutes": 4,
    "division": 5,
    "owner": 6,
    "noted": 7,
}


def test_without_any_head_each_column_is_told_and_all_are_asked() -> None:
    found = guess(ROWS, KNOWN)
    assert (found.head, found.at) == (None, ROLES)
    assert set(found.asked) == {HEAD, *ROLES}


def test_heads_in_other_words_are_heads_and_their_columns_told_by_content() -> None:
    heads = ["Kennung", "Vorgang", "Ablauf", "Menge", "Dauer", "Bereich", "Kontakt", "Eingang"]
    found = guess([heads, *ROWS], KNOWN)
    assert (found.head, found.at) == (0, ROLES)
    assert HEAD in found.asked


def test_heads_of_ours_are_not_asked_about() -> None:
    rows = [["Title", "Description", "Colour"], ["Valve list", LONG, "red"], ["Meter note", LONG, "red"]]
    found = guess(rows, KNOWN)
    assert (found.head, found.at, found.asked) == (0, {"title": 0, "what": 1}, ())


def test_a_first_row_of_days_and_numbers_is_no_head() -> None:
    rows = [["Valve list", "2026-01-02", "12"], ["Meter note", "2026-01-05", "8"]]
    assert find_head(rows) == (None, False)
    assert find_head([["What", "When", "How long"], *rows])[0] == 0


def test_where_the_head_is_can_be_said() -> None:
    found = guess(ROWS, KNOWN, head=0, chosen=True)
    assert found.head == 0
    assert HEAD not in found.asked
    assert guess(ROWS, KNOWN, head=None, chosen=True).head is None


@given(st.lists(st.lists(st.text(max_size=12), max_size=5), max_size=6))
@settings(deadline=None)
def test_whatever_stands_in_a_list_each_column_is_one_thing(rows: list[list[str]]) -> None:
    width = max(map(len, rows), default=0)
    found = guess([row + [""] * (width - len(row)) for row in rows], KNOWN)
    columns = list(found.at.values())
    assert len(columns) == len(set(columns))
    assert all(0 <= column < width for column in columns)


@pytest.mark.parametrize(
    ("width", "row", "how"),
    [
        (3, ["a", "b", "c"], None),
        (5, ["a", "b", "c", "", ""], None),
        (2, ["a", "b", ""], "short"),
        (4, ["a", "b", "c", "d"], "long"),
    ],
)
def test_a_row_fits_its_head_or_is_short_or_long(width: int, row: list[str], how: str | None) -> None:
    assert broken(width, row, 3) == how


@pytest.mark.parametrize(
    ("cell", "mark", "amount"),
    [("€ 1.200", ",", "1200"), ("1,200.50 EUR", ".", "1200.5"), ("3 k", ".", "3000"), ("40,-", ",", "40")],
)
def test_amounts_in_the_companys_currency(cell: str, mark: str, amount: str) -> None:
    assert sheet_cells.read_money(cell, mark, "EUR") == amount


@pytest.mark.parametrize(
    ("cell", "said"), [("$ 40", "in USD"), ("40 chf", "in CHF"), ("about forty", "no"), ("-3", "below")]
)
def test_another_currency_is_said_and_never_taken_for_ours(cell: str, said: str) -> None:
    with pytest.raises(Unreadable, match=said if said != "no" else "is not an amount"):
        sheet_cells.read_money(cell, ".", "EUR")
    if "USD" in said:
        assert sheet_cells.read_money(cell, ".", "USD") == "40"


def test_words_of_theirs_count_for_every_line_and_come_back_from_their_kept_form() -> None:
    at = {"title": 0, "arrives": 1, "rhythm": 2, "volume": 3, "state": 4}
    words = {
        "kind": {"papier": "scan", "anruf": ""},
        "rhythm": {"wöchentlich": "week"},
        "state": {"läuft": "in service"},
    }
    row = ["Valve list", "Papier 2, Anruf, mail", "wöchentlich", "30", "Läuft"]
    columns = Columns.of(at, ["a"] * 5, [row], {}, words)
    for one in (columns, Columns.from_content(columns.as_content())):
        line = read_line(row, one)
        assert line.faults == []
        assert line.answers["arrives"] == [{"kind": "scan", "part": "2"}, {"kind": "mail", "part": "1"}]
        assert line.answers["volume"] == {"amount": "30", "rhythm": "week"}
        assert line.state == "in service"


def test_how_a_column_is_written_can_be_said_against_its_cells() -> None:
    at = {"title": 0, "volume": 1, "minutes": 2, "noted": 3}
    row = ["One", "1.200", "2", "3/4/2026"]
    ways = {
        "volume": {"rhythm": "year", "decimal": ","},
        "minutes": {"unit": "hours"},
        "noted": {"days": "month first"},
    }
    columns = Columns.of(at, ["", "", "", ""], [row], ways)
    assert columns.ways("volume") == {"rhythm": "year", "decimal": ","}
    assert said_as_read("volume", "1.200", columns) == "1200 a year"
    assert said_as_read("minutes", "2", columns) == "120 minutes"
    assert said_as_read("noted", "3/4/2026", columns) == "2026-03-04"
    assert read_line(row, columns).noted == "2026-03-04"


def test_a_column_that_leaves_doubt_is_written_as_the_others_of_its_list() -> None:
    at = {"title": 0, "volume": 1, "minutes": 2}
    rows = [["One", "1.200 a month", "1,5"], ["Two", "3.400 a month", "0,5"]]
    columns = Columns.of(at, ["", "", ""], rows)
    assert read_line(rows[0], columns).answers["volume"] == {"amount": "1200", "rhythm": "month"}
    alone = Columns.of({"title": 0, "volume": 1}, ["", ""], rows)
    assert alone.ways("volume")["decimal"] == "."


def test_two_of_a_number_differ_only_in_what_both_say() -> None:
    one = {"title": "Valve list", "minutes": "5", "off": "2"}
    other = {"title": "valve  LIST", "minutes": "9", "judge": "1"}
    assert differing(one, other) == {"minutes": ("5", "9")}


def test_an_idea_of_its_own_has_a_mark_of_its_own_that_comes_again() -> None:
    columns = Columns.of({"title": 0, "number": 1}, ["Name", "Ref"], [])
    first, other = read_line(["One", "A-1"], columns), read_line(["Two", "A-1"], columns)
    assert first.mark == other.mark
    other.another = True
    assert first.mark != other.mark
    again = read_line(["Two", "a-1"], columns)
    again.another = True
    assert again.mark == other.mark
