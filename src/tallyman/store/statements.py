"""Named SQL: every statement stands below store/sql, in SUBJECT.sql, under its name and purpose."""

from __future__ import annotations

import re
from pathlib import Path

FOLDER = Path(__file__).parent / "sql"
HEAD = re.compile(r"^-- name: (\w+)\n-- (.+)\n", re.MULTILINE)


def load(folder: Path = FOLDER) -> dict[str, str]:
    """All statements as `subject.name` → SQL text. Raises ValueError for a doubled name."""
    found: dict[str, str] = {}
    for path in sorted(folder.rglob("*.sql")):
        text = path.read_text(encoding="utf-8")
        heads = list(HEAD.finditer(text))
        for head, following in zip(heads, [*heads[1:], None], strict=True):
            name = f"{path.stem}.{head.group(1)}"
            if name in found:
                raise ValueError(f"statement {name} stands twice")
            end = following.start() if following else len(text)
            found[name] = text[head.end() : end].strip().rstrip(";")
    return found


STATEMENTS = load()
