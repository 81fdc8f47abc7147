"""Spreadsheets as tables of text: XLSX and CSV, whatever their encoding, their marks and their tricks."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime, time
from typing import Any

from tallyman.formats.csv_file import NotReadable, read_rows

__all__ = ["NotReadable", "read"]

MOST_ROWS = 20_000
MOST_COLUMNS = 80
MOST_PAGES = 20
LONGEST_CELL = 5000
LARGEST_UNPACKED = 200_000_000
ZIP = b"PK\x03\x04"


def read(data: bytes, name: str) -> dict[str, Any]:
    """`pages`: every page with its name and rows of text; of a text file with how many cells each row had
    (`widths`), which rows do not close (`unclosed`), and the `mark` between cells. `limits`: in words, what
    was left out for its size. Raises NotReadable."""
    limits: list[str] = []
    if data.startswith(ZIP):
        pages = _workbook(data, limits)
    elif data.startswith(b"\xd0\xcf\x11\xe0"):
        raise NotReadable("is of an old kind, or locked by a password; save it as XLSX or CSV")
    else:
        found = read_rows(data)
        unclosed = {str(row): text for row, text in found.unclosed.items()}
        pages = [
            {
                "name": "",
                "rows": found.cells,
                "widths": found.widths,
                "unclosed": unclosed,
                "mark": found.mark,
            }
        ]
    pages = [{**page, "rows": _trimmed(page["rows"], page["name"], limits)} for page in pages]
    filled = [page for page in pages if page["rows"]]
    if not filled:
        raise NotReadable("is empty")
    if max(len(page["rows"]) for page in filled) > MOST_ROWS:
        raise NotReadable(f"has too many rows; at most {MOST_ROWS:,}, so send it in parts")
    return {"pages": filled, "limits": limits}


def _workbook(data: bytes, limits: list[str]) -> list[dict[str, Any]]:
    import openpyxl

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            if sum(part.file_size for part in box.infolist()) > LARGEST_UNPACKED:
                raise NotReadable("is far larger inside than outside; it is not read")
        # Values as last computed, never formulas; links to other files are not followed.
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        if len(book.worksheets) > MOST_PAGES:
            limits.append(f"pages after the first {MOST_PAGES}, from {book.worksheets[MOST_PAGES].title} on")
        return [
            {"name": sheet.title, "rows": _rows(sheet)}
            for sheet in book.worksheets[:MOST_PAGES]
            if sheet.sheet_state == "visible"
        ]
    except NotReadable:
        raise
    except Exception as error:
        raise NotReadable(f"cannot be read as XLSX ({type(error).__name__}); save it anew") from None


def _rows(sheet: Any) -> list[list[str]]:
    rows: list[list[str]] = []
    empty = 0
    for row in sheet.iter_rows(values_only=True, max_col=MOST_COLUMNS + 1):
        cells = [_text(value) for value in row]
        if not any(cells):
            empty += 1
            # A sheet may claim a million rows after its last one.
            if empty > MOST_ROWS:
                break
            rows.append([])
            continue
        rows.append(cells)
        if len(rows) > 2 * MOST_ROWS:
            break
    return rows


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime):
        whole_day = value.time() == time()
        return value.date().isoformat() if whole_day else value.isoformat(sep=" ", timespec="minutes")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, time):
        return value.isoformat(timespec="minutes")
    return str(value)


def _trimmed(rows: list[list[str]], page: str, limits: list[str]) -> list[list[str]]:
    """Rows without empty ones at the end, each as wide as the widest, cells of bounded length; what goes
    for its size is said."""
    where = f" of the page {page}" if page else ""
    if any(cell.strip() for row in rows for cell in row[MOST_COLUMNS:]):
        limits.append(f"columns after the first {MOST_COLUMNS}{where}")
    long = sum(len(cell) > LONGEST_CELL for row in rows for cell in row[:MOST_COLUMNS])
    if long:
        limits.append(f"what stands after {LONGEST_CELL:,} characters in {long:,} of the cells{where}")
    cut = [[cell[:LONGEST_CELL] for cell in row[:MOST_COLUMNS]] for row in rows]
    while cut and not any(cell.strip() for cell in cut[-1]):
        cut.pop()
    width = max(
        (max((n for n, cell in enumerate(row, 1) if cell.strip()), default=0) for row in cut), default=0
    )
    return [(row + [""] * width)[:width] for row in cut]
