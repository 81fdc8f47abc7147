"""Two texts side by side: what is the same, changed, gone and new, with some lines around each difference."""

from __future__ import annotations

from dataclasses import dataclass
from difflib import SequenceMatcher
from itertools import zip_longest
from typing import Literal

State = Literal["same", "changed", "gone", "new", "left out"]
AROUND = 3


@dataclass(frozen=True)
class Row:
    """One row: the lines of both texts with their numbers (from 1; None where there is none on that side).

    A row `left out` stands for lines that are the same in both; `left` says how many.
    """

    state: State
    left_number: int | None
    left: str
    right_number: int | None
    right: str


def _row(state: State, left: tuple[int, str] | None, right: tuple[int, str] | None) -> Row:
    return Row(
        state,
        left and left[0] + 1,
        left[1] if left else "",
        right and right[0] + 1,
        right[1] if right else "",
    )


def _same(left: list[tuple[int, str]], right: list[tuple[int, str]], first: bool, last: bool) -> list[Row]:
    """Lines that are the same: those next to a difference, and how many are left out between."""
    rows = [_row("same", one, other) for one, other in zip(left, right, strict=True)]
    head, tail = (0 if first else AROUND), (0 if last else AROUND)
    out = len(rows) - head - tail
    if out <= 1:
        return rows
    between = Row("left out", None, str(out), None, "")
    return [*rows[:head], between, *rows[len(rows) - tail :]]


def side_by_side(before: str, after: str) -> list[Row]:
    """Both texts line by line; nothing where they are the same."""
    was, now = list(enumerate(before.splitlines())), list(enumerate(after.splitlines()))
    steps = SequenceMatcher(None, [text for _, text in was], [text for _, text in now], False).get_opcodes()
    if all(step[0] == "equal" for step in steps):
        return []
    found: list[Row] = []
    for at, (what, a, b, c, d) in enumerate(steps):
        if what == "equal":
            found += _same(was[a:b], now[c:d], at == 0, at == len(steps) - 1)
            continue
        for left, right in zip_longest(was[a:b], now[c:d]):
            state: State = "changed" if left and right else "gone" if left else "new"
            found.append(_row(state, left, right))
    return found
