"""A spreadsheet program for tests: it reckons a workbook anew, as a colleague's would."""

from __future__ import annotations

import io
import os
import subprocess
from pathlib import Path
from typing import Any

from openpyxl import load_workbook

from tests.patience import patience


def reckoned(data: bytes, folder: Path, changes: dict[str, Any] | None = None) -> dict[str, Any]:
    """The values of all named cells of a workbook, after cells were changed by their names.

    The program starts from what stands in the file's formulas: values kept with them are thrown away.
    """
    book = load_workbook(io.BytesIO(data))
    for name, value in (changes or {}).items():
        sheet, cell = next(iter(book.defined_names[name].destinations))
        book[sheet][cell.replace("$", "")].value = value
    source = folder / "case.xlsx"
    book.save(source)
    out = folder / "out"
    command = ["soffice", "--headless", "--norestore", "--convert-to", "xlsx:Calc MS Excel 2007 XML"]
    command += ["--outdir", str(out), str(source)]
    home = {**os.environ, "HOME": str(folder)}
    subprocess.run(command, check=True, capture_output=True, timeout=patience(120), env=home)
    found = load_workbook(out / "case.xlsx", data_only=True)
    values = {}
    for name, defined in found.defined_names.items():
        places = list(defined.destinations)
        if len(places) == 1 and ":" not in places[0][1]:
            sheet, cell = places[0]
            values[name] = found[sheet][cell.replace("$", "")].value
    return values
