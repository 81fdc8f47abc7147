"""A messy list of 500 ideas, as somebody kept it for years: known to the line what is wrong with it."""

from __future__ import annotations

import io
import random
from dataclasses import dataclass, field
from datetime import date
from typing import Any

import openpyxl

HEADS = [
    "Dept.",
    "Time each (min)",
    "Ref.",
    "Name of the work",
    "Handed in",
    "How many",
    "What happens",
    "Process owner (mail)",
    "Comes as",
    "Remarks",
]
WORKS = (
    "Valve list",
    "Meter note",
    "Permit sheet",
    "Sample label",
    "Stock count",
    "Refund letter",
    "Dig notice",
    "Bill check",
)
PLACES = ("north", "south", "mill", "harbour", "upper", "lower", "station", "bridge", "weir", "ford")


@dataclass
class Messy:
    """The file, and what an import of it must come to."""

    data: bytes = b""
    good: int = 0
    repeats: int = 0
    bad: dict[int, str] = field(default_factory=dict)


BAD = (
    (1, "abc", "minutes"),
    (1, "3 parsecs", "minutes"),
    (5, "lots", "volume"),
    (5, "40", "volume"),
    (3, "", "title"),
    (4, "soon", "noted"),
    (8, "smoke", "arrives"),
    (7, "nobody@merrowdale.example", "owner"),
    (0, "Netwrks", "division"),
)


def _good(n: int, dice: random.Random) -> list[Any]:
    day = date(2024, 1, 1).replace(month=1 + n % 12, day=1 + n % 27)
    return [
        dice.choice(["Networks", "networks", "Customers & Metering", "?", None]),
        dice.choice([12, 7.5, "1,5 h", "1:30", "12 min", "0,5"]),
        f"DEP-{n:04}",
        f"{WORKS[n % len(WORKS)]} {PLACES[n % 10]} {n}",
        dice.choice([day, day.isoformat(), f"{day:%d.%m.%Y}", f"{day:%d/%m/%Y}", 45000 + n, ""]),
        dice.choice(
            ["1.200 a month", "300 per week", "25/day", "1 200 p.a.", "monthly 40", "12.500 per year"]
        ),
        dice.choice(
            [
                "It is typed over by hand.",
                "=SUM(A1:A9) is what they type",
                "",
                "Somebody copies it, line by line.",
            ]
        ),
        dice.choice(["corin.dahl@merrowdale.example", "Corin Dahl", ""]),
        dice.choice(["mail and pdf", "Screen", "e-mail 3; screen 1", "spread sheet", ""]),
        "=cmd|' /C calc'!A1" if n % 40 == 0 else None,
    ]


def messy(rows: int = 500, seed: int = 7) -> Messy:
    """An XLSX with titles above its heads, mixed columns, blank rows, repeats and bad rows."""
    dice = random.Random(seed)
    book = openpyxl.Workbook()
    book.active.title = "Read me"
    book.active.append(["This list was kept by the depot."])
    sheet = book.create_sheet("List 2024")
    sheet.append(["Ideas of the depot", None, "as of spring"])
    sheet.append([])
    sheet.append(HEADS)
    made = Messy()
    line = 3
    for n in range(rows):
        if n % 50 == 9:
            sheet.append([])
            line += 1
        row = _good(n, dice)
        line += 1
        if n % 12 == 5:
            column, value, name = BAD[(n // 12) % len(BAD)]
            row[column] = value
            made.bad[line] = name
        elif n % 25 == 20:
            # The same reference once more, with other words.
            row[2] = f"dep-{n - (3 if (n - 2) % 12 == 5 else 2):04}"
            made.repeats += 1
        else:
            made.good += 1
        for column, value in enumerate(row, 1):
            cell = sheet.cell(line, column)
            cell.value = value
            if isinstance(value, str) and value.startswith("="):
                cell.data_type = "s"
    out = io.BytesIO()
    book.save(out)
    made.data = out.getvalue()
    return made
