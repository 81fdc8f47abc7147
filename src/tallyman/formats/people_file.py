"""Lists of people as CSV: what our own export writes, and what others send, column by column."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.formats.columns import MOST_ROWS, read_lines

__all__ = ["HEADS", "MOST_ROWS", "Line", "read_people"]

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


def _list(cell: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in cell.split(",") if part.strip())


def read_people(data: bytes) -> list[Line]:
    """The people of a CSV file, comma or semicolon between. Raises InputFaults for what is no such file."""
    return [
        Line(
            number,
            cells["name"],
            cells["email"],
            cells["division"],
            _list(cells["roles"]),
            _list(cells["groups"]),
        )
        for number, cells in read_lines(data, HEADS, NEEDED)
    ]
