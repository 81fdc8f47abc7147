"""Short lists as CSV with columns found by their heads: what our own export writes, and what others send."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from tallyman.core.faults import Fault, InputFaults
from tallyman.core.ideas.sheet_cells import plain
from tallyman.formats.csv_file import NotReadable, read_csv

LARGEST = 1_000_000
MOST_ROWS = 500
LONGEST_CELL = 600

Heads = Mapping[str, Sequence[str]]


def read_lines(
    data: bytes, heads: Heads, needed: Sequence[str], most: int = MOST_ROWS, closed: bool = False
) -> list[tuple[int, dict[str, str]]]:
    """The lines of a CSV file with their numbers, the head being 1, each as cells by key.

    `heads` says how the column of each key may be headed, the first is what our export writes. Raises
    InputFaults for what is no such file, is too large, lacks a needed column, or (`closed`) has another one.
    """
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise InputFaults([Fault("file", size, f"too large; at most {LARGEST // 1_000_000} MB")])
    try:
        table = read_csv(data)
    except NotReadable as error:
        raise InputFaults([Fault("file", None, str(error))]) from None
    if not table:
        raise InputFaults([Fault("file", None, "is empty")])
    if closed:
        _check_closed(table[0], heads)
    columns = _columns(table[0], heads, needed)
    rows = [(number, row) for number, row in enumerate(table[1:], 2) if any(cell.strip() for cell in row)]
    if len(rows) > most:
        message = f"too many lines; at most {most:,} at once, so send it in parts"
        raise InputFaults([Fault("file", len(rows), message)])
    return [(number, _cells(row, columns, heads)) for number, row in rows]


def _check_closed(head: list[str], heads: Heads) -> None:
    """Raises InputFaults for each column that is headed by nothing known, or twice by the same."""
    keys = {word: key for key, words in heads.items() for word in words}
    seen: dict[str, str] = {}
    faults = []
    for cell in head:
        key = keys.get(" ".join(cell.lower().split()))
        known = ", ".join(words[0] for words in heads.values())
        if key is None:
            faults.append(Fault("head", cell[:60], f"is none of the columns; there are: {known}"[:200]))
        elif key in seen:
            faults.append(Fault("head", cell[:60], f"is the same column as {seen[key]}; leave one out"))
        else:
            seen[key] = cell[:60]
    if faults:
        raise InputFaults(faults)


def _columns(head: list[str], heads: Heads, needed: Sequence[str]) -> dict[str, int]:
    named = [" ".join(cell.lower().split()) for cell in head]
    columns = {
        key: named.index(word) for key, words in heads.items() for word in reversed(words) if word in named
    }
    faults = [
        Fault(
            heads[key][0], ", ".join(named)[:120], f"no such column; head one with: {', '.join(heads[key])}"
        )
        for key in needed
        if key not in columns
    ]
    if faults:
        raise InputFaults(faults)
    return columns


def _cells(row: list[str], columns: dict[str, int], heads: Heads) -> dict[str, str]:
    def cell(key: str) -> str:
        at = columns.get(key)
        return "" if at is None or at >= len(row) else plain(row[at][: LONGEST_CELL + 1])

    return {key: cell(key) for key in heads}
