"""Tables as CSV: written so that a spreadsheet opens them as text, read whatever wrote them."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

# What a spreadsheet would take for the beginning of a formula.
FORMULA_STARTS = "=+-@\t\r"
NUMBER = re.compile(r"[+-]?[0-9]+([.,][0-9]+)*", re.ASCII)
MARKS = ",;\t|"
SAMPLE_LINES = 20
# A cell may go over lines; one that goes over more than these was never closed.
MOST_SPANNED = 200


class NotReadable(ValueError):
    """A file that is no table; the message says why, and what would do."""


def cell(value: Any) -> str:
    """A cell's text; one that begins like a formula gets an apostrophe before it, a number never."""
    text = "" if value is None else str(value)
    begins_so = text[:1] in FORMULA_STARTS and text
    return f"'{text}" if begins_so and not NUMBER.fullmatch(text) else text


def csv_file(head: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """A table with its head, in UTF-8 with the mark that spreadsheets look for."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(head)
    for row in rows:
        writer.writerow([cell(value) for value in row])
    return out.getvalue().encode("utf-8-sig")


def _decoded(data: bytes) -> str:
    encodings = ["utf-8-sig", "cp1252"]
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        encodings = ["utf-16"]
    for encoding in encodings:
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise NotReadable("cannot be read as text; save it as CSV in UTF-8")


def _mark(text: str) -> str:
    """What parts the columns: the mark that most lines have equally often, the more columns the better."""
    lines = [line for line in text.splitlines() if line.strip()][:SAMPLE_LINES]

    def score(mark: str) -> tuple[int, int]:
        counts = [line.count(mark) for line in lines]
        usual = max(counts, key=counts.count, default=0)
        return (counts.count(usual) if usual else 0, usual)

    return max(MARKS, key=score)


@dataclass(frozen=True)
class Rows:
    """The rows of a text file as read: their cells; by row (from 0) how many cells stood there, and the
    text of those whose quotation marks do not close, each kept to its own line of the file; and the mark."""

    cells: list[list[str]]
    widths: list[int]
    unclosed: dict[int, str]
    mark: str


def read_csv(data: bytes) -> list[list[str]]:
    """The rows of a CSV file, comma, semicolon, tab or bar between. Raises NotReadable."""
    text = _text(data)
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=_mark(text)))
    except csv.Error as error:
        raise NotReadable(f"cannot be read as CSV: {error}") from None


def _text(data: bytes) -> str:
    text = _decoded(data)
    if "\x00" in text:
        raise NotReadable("is no CSV; in a spreadsheet choose Save as, CSV")
    return text


def read_rows(data: bytes) -> Rows:
    """As `read_csv`, but a row that opens a quotation mark and does not close it where a cell ends takes no
    other row with it: it is named, and reading goes on with the next line of the file."""
    text = _text(data)
    lines, mark = io.StringIO(text, newline="").readlines(), _mark(text)
    rows = Rows([], [], {}, mark)
    at, usual = 0, 0
    while at < len(lines):
        cells, taken = _record(lines, at, mark)
        spans = taken > 1 and usual and len(cells) != usual
        if taken == 0 or spans:
            # Over several lines and of another width than the rows before: a stray mark swallowed some.
            raw = lines[at].rstrip("\r\n")
            rows.unclosed[len(rows.cells)] = raw
            cells, taken = [raw], 1
        elif not usual and len(cells) > 1:
            usual = len(cells)
        rows.cells.append(cells)
        rows.widths.append(len(cells))
        at += taken
    return rows


def split_line(text: str, mark: str) -> list[str] | None:
    """The cells of one row as somebody mended it; None if its quotation marks still do not close."""
    cells, taken = _record(io.StringIO(text, newline="").readlines(), 0, mark)
    return cells if taken else None


def _record(lines: Sequence[str], at: int, mark: str) -> tuple[list[str], int]:
    """The row that begins on a line, and over how many lines it goes; 0 where it does not close."""
    reader = csv.reader(lines[at : at + MOST_SPANNED], delimiter=mark, strict=True)
    try:
        return next(reader), reader.line_num
    except StopIteration:
        return [], 1
    except csv.Error:
        return [], 0
