"""Named SQL: every statement stands below store/sql, in ROOM/SUBJECT.sql, under its name and purpose."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

FOLDER = Path(__file__).parent / "sql"
HEAD = re.compile(
    r"^-- name: (\w+)\n-- (.+)\n"
    r"(?:-- gives: (\w+)\n)?(?:-- always: ([\w, ]+)\n)?(?:-- yes or no: ([\w, ]+)\n)?"
    r"(?:-- reads all: (.+)\n)?(?:-- moves worths: (\w+)\n)?",
    re.MULTILINE,
)
# Statements that belong to no room are in the folder itself.
COMMON = "common"


@dataclass(frozen=True)
class Statement:
    """A statement: its text, what it is for, its room, the name of the record it gives, if it says one, and
    the columns that always have a value, or mean yes or no, though the database cannot know it; and why it
    reads a whole table that grows, if it does. `moves_worths`: what ideas are worth changes with what it
    writes, of `all` or of the idea that this parameter names."""

    sql: str
    purpose: str
    room: str
    gives: str | None
    always: frozenset[str] = frozenset()
    yes_no: frozenset[str] = frozenset()
    reads_all: str = ""
    moves_worths: str = ""


def load(folder: Path = FOLDER) -> dict[str, Statement]:
    """All statements by `subject.name`. Raises ValueError for a doubled name."""
    found: dict[str, Statement] = {}
    for path in sorted(folder.rglob("*.sql")):
        text = path.read_text(encoding="utf-8")
        heads = list(HEAD.finditer(text))
        room = COMMON if path.parent == folder else path.parent.name
        for head, following in zip(heads, [*heads[1:], None], strict=True):
            name = f"{path.stem}.{head.group(1)}"
            if name in found:
                raise ValueError(f"statement {name} stands twice")
            end = following.start() if following else len(text)
            sql = text[head.end() : end].strip().rstrip(";")
            always, yes_no = (frozenset((head.group(n) or "").replace(",", " ").split()) for n in (4, 5))
            found[name] = Statement(
                sql,
                head.group(2),
                room,
                head.group(3),
                always,
                yes_no,
                head.group(6) or "",
                head.group(7) or "",
            )
    return found


STATEMENTS = load()
