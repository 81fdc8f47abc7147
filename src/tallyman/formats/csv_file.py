"""Tables as CSV that a spreadsheet opens as text, whatever a cell begins with."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

# What a spreadsheet would take for the beginning of a formula.
FORMULA_STARTS = "=+-@\t\r"


def cell(value: Any) -> str:
    """A cell's text; one that begins like a formula gets an apostrophe before it."""
    text = "" if value is None else str(value)
    return f"'{text}" if text[:1] in FORMULA_STARTS and text else text


def csv_file(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """A table with its head, in UTF-8 with the mark that spreadsheets look for."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    for row in rows:
        writer.writerow([cell(value) for value in row])
    return out.getvalue().encode("utf-8-sig")
