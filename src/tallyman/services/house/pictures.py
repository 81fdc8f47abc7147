"""The table of a picture as a file, by the same writers as every other list."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from tallyman.errors import Fault, InputFaults
from tallyman.formats.csv_file import csv_file
from tallyman.formats.xlsx_file import xlsx_file
from tallyman.services.context import Ctx

Cell = str | Decimal | None
MOST_CELLS = 200_000


def table_file(
    ctx: Ctx, ending: str, title: str, columns: Sequence[str], rows: Sequence[Sequence[Cell]]
) -> bytes:
    """A table with its head as CSV or as a workbook. Raises InputFaults where a row has other columns.

    The reader has the figures before them already; nothing is read, so that no permission is asked.
    """
    faults = [
        Fault(f"rows[{n}]", len(row), f"give {len(columns)} cells, one for each column")
        for n, row in enumerate(rows)
        if len(row) != len(columns)
    ]
    if faults:
        raise InputFaults(faults[:20])
    if len(rows) * len(columns) > MOST_CELLS:
        raise InputFaults([Fault("rows", len(rows), f"a picture has {MOST_CELLS:,} cells at most")])
    return csv_file(columns, rows) if ending == "csv" else xlsx_file(title, columns, rows)
