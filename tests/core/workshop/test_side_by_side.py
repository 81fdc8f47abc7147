"""Two texts side by side: both can be read out of the rows again."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.workshop.side_by_side import AROUND, side_by_side

TEXT = "\n".join(f"line {n}" for n in range(1, 31))


def test_equal_texts_have_no_rows() -> None:
    assert side_by_side(TEXT, TEXT) == []
    assert side_by_side("", "") == []


def test_a_changed_line_stands_beside_its_new_form_with_a_few_around() -> None:
    rows = side_by_side(TEXT, TEXT.replace("line 15\n", "line fifteen\n"))
    assert [row.state for row in rows] == [
        "left out",
        *["same"] * AROUND,
        "changed",
        *["same"] * AROUND,
        "left out",
    ]
    assert (rows[0].left, rows[-1].left) == ("11", "12")
    changed = rows[AROUND + 1]
    assert (changed.left_number, changed.left, changed.right_number, changed.right) == (
        15,
        "line 15",
        15,
        "line fifteen",
    )


def test_lines_that_come_and_go_have_nothing_beside_them() -> None:
    rows = side_by_side("a\nb\nc", "a\nc\nd")
    assert [(row.state, row.left, row.right) for row in rows] == [
        ("same", "a", "a"),
        ("gone", "b", ""),
        ("same", "c", "c"),
        ("new", "", "d"),
    ]


LINES = st.lists(st.sampled_from(["a", "b", "c", "", " d"]), max_size=30)


@given(before=LINES, after=LINES)
def test_every_line_that_is_not_left_out_stands_where_it_stood(before: list[str], after: list[str]) -> None:
    was, now = "\n".join(before).splitlines(), "\n".join(after).splitlines()
    rows = side_by_side("\n".join(before), "\n".join(after))
    assert bool(rows) == (was != now)
    for row in rows:
        if row.state != "left out":
            assert row.left_number is None or was[row.left_number - 1] == row.left
            assert row.right_number is None or now[row.right_number - 1] == row.right
            both = row.left_number is not None and row.right_number is not None
            assert (row.state == "same") == (both and row.left == row.right)
    if rows:
        out = sum(int(row.left) for row in rows if row.state == "left out")
        assert sum(row.left_number is not None for row in rows) + out == len(was)
        assert sum(row.right_number is not None for row in rows) + out == len(now)
