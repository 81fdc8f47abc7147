"""Lists of people as CSV: what our own export writes, and what others send, column by column."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.faults import Fault, InputFaults
from tallyman.core.sheets.cells import plain
from tallyman.formats.csv_file import NotReadable, read_csv

LARGEST = 1_000_000
MOST_ROWS = 500
LONGEST_CELL = 400
# How a column may be headed; the first is what the export writes.
HEADS = {
    "name": ("name", "full name", "person"),
    "email": ("mail address", "email", "e-mail", "mail", "address"),
    "division": ("division", "department"),
    "roles": ("roles", "role"),
    "groups": ("groups", "group"),
}
NEEDED = ("name", "email")


@dataclass(frozen=True)
class Line:
    """A person as a file has them; `number` is the line in the file, the head being 1."""

    number: int
    name: str
    email: str
    division: str = ""
    roles: tuple[str, ...] = ()
    groups: tuple[str, ...] = ()


def _table(data: bytes) -> list[list[str]]:
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise InputFaults([Fault("file", size, f"too large; at most {LARGEST // 1_000_000} MB")])
    try:
        return read_csv(data)
    except NotReadable as error:
        raise InputFaults([Fault("file", None, str(error))]) from None


def _list(cell: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in cell.split(",") if part.strip())


def read_people(data: bytes) -> list[Line]:
    """The people of a CSV file, comma or semicolon between. Raises InputFaults for what is no such file."""
    table = _table(data)
    if not table:
        raise InputFaults([Fault("file", None, "is empty")])
    columns = _columns(table[0])
    rows = [(number, row) for number, row in enumerate(table[1:], 2) if any(cell.strip() for cell in row)]
    if len(rows) > MOST_ROWS:
        raise InputFaults(
            [Fault("file", len(rows), f"too many lines; at most {MOST_ROWS} at once, so send it in parts")]
        )
    return [_line(number, row, columns) for number, row in rows]


def _columns(head: list[str]) -> dict[str, int]:
    named = [" ".join(cell.lower().split()) for cell in head]
    columns = {
        key: named.index(word) for key, words in HEADS.items() for word in reversed(words) if word in named
    }
    faults = [
        Fault(
            HEADS[key][0], ", ".join(named)[:120], f"no such column; head one with: {', '.join(HEADS[key])}"
        )
        for key in NEEDED
        if key not in columns
    ]
    if faults:
        raise InputFaults(faults)
    return columns


def _line(number: int, row: list[str], columns: dict[str, int]) -> Line:
    def cell(key: str) -> str:
        at = columns.get(key)
        return "" if at is None or at >= len(row) else plain(row[at][: LONGEST_CELL + 1])

    return Line(
        number,
        cell("name"),
        cell("email"),
        cell("division"),
        _list(cell("roles")),
        _list(cell("groups")),
    )
