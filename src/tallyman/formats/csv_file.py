"""Tables as CSV: written so that a spreadsheet opens them as text, read whatever wrote them."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence
from typing import Any

# What a spreadsheet would take for the beginning of a formula.
FORMULA_STARTS = "=+-@\t\r"
NUMBER = re.compile(r"[+-]?[0-9]+([.,][0-9]+)*", re.ASCII)
MARKS = ",;\t|"
SAMPLE_LINES = 20


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


def read_csv(data: bytes) -> list[list[str]]:
    """The rows of a CSV file, comma, semicolon, tab or bar between. Raises NotReadable."""
    text = _decoded(data)
    if "\x00" in text:
        raise NotReadable("is no CSV; in a spreadsheet choose Save as, CSV")
    try:
        return list(csv.reader(io.StringIO(text, newline=""), delimiter=_mark(text)))
    except csv.Error as error:
        raise NotReadable(f"cannot be read as CSV: {error}") from None
