"""What the statements give: every record by the statement it comes from."""

from __future__ import annotations

from importlib import import_module
from pathlib import Path

from tallyman.store.record import Record

GIVES: dict[str, type[Record]] = {}
for path in sorted(Path(__file__).parent.glob("[a-z]*.py")):
    GIVES |= import_module(f"{__name__}.{path.stem}").GIVES
