"""Tables as a spreadsheet file: text stays text, whatever it begins with; numbers and days are such."""

from __future__ import annotations

import io
import re
from collections.abc import Iterable, Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Any

LONGEST_CELL = 32_000
LONGEST_NAME = 31


def sheet_name(name: str) -> str:
    """A name that workbooks take for a sheet: without their own signs, not too long, not empty."""
    clean = re.sub(r"[\[\]:*?/\\]+", " ", name).strip(" '")[:LONGEST_NAME].strip(" '")
    # One name is kept by spreadsheets for themselves.
    return clean if clean and clean.lower() != "history" else f"{clean or 'Table'} 1"


def xlsx_file(name: str, head: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """One sheet with a head that stays in view and can be filtered. Times are written in UTC."""
    import xlsxwriter

    out = io.BytesIO()
    # Nothing that a person typed becomes a formula or a link.
    options = {
        "in_memory": True,
        "strings_to_formulas": False,
        "strings_to_urls": False,
        "strings_to_numbers": False,
        "remove_timezone": True,
    }
    with xlsxwriter.Workbook(out, options) as book:
        sheet = book.add_worksheet(sheet_name(name))
        bold = book.add_format({"bold": True, "bottom": 1})
        formats: dict[type, Any] = {
            date: book.add_format({"num_format": "yyyy-mm-dd"}),
            datetime: book.add_format({"num_format": "yyyy-mm-dd hh:mm"}),
        }
        sheet.write_row(0, 0, head, bold)
        last = 0
        for last, row in enumerate(rows, 1):
            for column, value in enumerate(row):
                _write(sheet, last, column, value, formats)
        sheet.freeze_panes(1, 0)
        if head:
            sheet.autofilter(0, 0, last, len(head) - 1)
            sheet.set_column(0, len(head) - 1, 16)
    return out.getvalue()


def _write(sheet: Any, row: int, column: int, value: Any, formats: dict[type, Any]) -> None:
    if value is None:
        return
    if isinstance(value, bool):
        sheet.write_string(row, column, "yes" if value else "no")
    elif isinstance(value, (int, float, Decimal)):
        sheet.write_number(row, column, value)
    elif isinstance(value, datetime):
        sheet.write_datetime(row, column, value, formats[datetime])
    elif isinstance(value, date):
        sheet.write_datetime(row, column, value, formats[date])
    else:
        sheet.write_string(row, column, str(value)[:LONGEST_CELL])
