"""A business case as a workbook with living formulas: change an input, and every figure follows.

The layout is part of the format and described in docs/case-workbook.md and on the first sheet:
*About*, *Case* (figures), *Inputs*, *Sizing*, *Phases*, *Lines*. Inputs and figures carry defined names,
those of `calc business-case`, so that formulas read like the rules.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

LONGEST = 32_000
# Figures on the sheet *Case*: name, label, formula, number format. The order is that of the rules.
_MONEY, _HOURS, _DAYS, _SHARE = "#,##0.00", "#,##0.0000", "0", "0.0000"
FIGURES: tuple[tuple[str, str, str, str], ...] = (
    ("hours_before", "Hours by hand", "volume_per_year*handling_minutes/60", _HOURS),
    ("rework_hours", "Hours of rework", "volume_per_year*rework_share*rework_minutes/60", _HOURS),
    ("cost_before", "Cost today", "(hours_before+rework_hours)*cost_per_hour", _MONEY),
    ("kept_hours", "Hours people keep", "(1-automatable_share)*(hours_before+rework_hours)", _HOURS),
    (
        "returned_hours",
        "Hours handed back by robots",
        "automatable_share*robot_exception_share*volume_per_year*robot_exception_minutes/60",
        _HOURS,
    ),
    (
        "cost_after_people",
        "Cost of what people still do",
        "(kept_hours+returned_hours)*cost_per_hour",
        _MONEY,
    ),
    ("saving_per_year", "Saved a year, once live", "cost_before-cost_after_people", _MONEY),
    ("robot_hours", "Robot hours a year", "volume_per_year*automatable_share*robot_minutes/60", _HOURS),
    (
        "robots",
        "Robots",
        "IF(robot_hours=0,0,ROUNDUP(ROUND(robot_hours/(robot_hours_per_day*robot_days_per_year),9),0))",
        _DAYS,
    ),
    (
        "robot_share",
        "Its share of a robot",
        "IF(robot_hours=0,0,robot_hours/(robot_hours_per_day*robot_days_per_year))",
        _SHARE,
    ),
    ("seats_paid", "Seats it pays for", 'IF(seats="share",robot_share,robots)', _SHARE),
    ("one_time_cost", "Costs once, to build", "build_cost+one_time_other", _MONEY),
    (
        "running_cost_per_year",
        "Costs a year to run",
        "seats_paid*seat_cost_per_year+support_share*one_time_cost+other_software_per_year+lines_per_year",
        _MONEY,
    ),
    ("gap_days", "Days from start to go-live", "MAX(0,go_live-start_day)", _DAYS),
    *(
        (
            f"live_year_{k}",
            f"Live part of year {k}",
            f"MIN(1,MAX(0,(365*{k}-gap_days)/365))",
            _SHARE,
        )
        for k in (1, 2, 3)
    ),
    *(
        (
            f"net_year_{k}",
            f"Net in year {k} from the start",
            f"live_year_{k}*(saving_per_year-running_cost_per_year)" + ("-one_time_cost" if k == 1 else ""),
            _MONEY,
        )
        for k in (1, 2, 3)
    ),
    *(
        (
            f"full_year_{k}",
            f"Net in full year {k} from go-live",
            "saving_per_year-running_cost_per_year" + ("-one_time_cost" if k == 1 else ""),
            _MONEY,
        )
        for k in (1, 2, 3)
    ),
    (
        "payback_months",
        "Paid back after, months from the start",
        'IF(saving_per_year<=running_cost_per_year,"none",'
        "IF(gap_days*12/365+12*one_time_cost/(saving_per_year-running_cost_per_year)>60,"
        '"none",IF(one_time_cost=0,0,'
        "gap_days*12/365+12*one_time_cost/(saving_per_year-running_cost_per_year))))",
        _HOURS,
    ),
    (
        "npv_3y",
        "Worth over three years, NPV",
        "-one_time_cost+"
        + "+".join(
            f"live_year_{k}*(saving_per_year-running_cost_per_year)/(1+discount_rate)^{k}" for k in (1, 2, 3)
        ),
        _MONEY,
    ),
    (
        "return_3y",
        "Return over three years",
        "IF((live_year_1+live_year_2+live_year_3)*running_cost_per_year+one_time_cost=0,"
        '"none",((live_year_1+live_year_2+live_year_3)*(saving_per_year-running_cost_per_year)'
        "-one_time_cost)/((live_year_1+live_year_2+live_year_3)*running_cost_per_year+one_time_cost))",
        "0.000000",
    ),
)
READING = {
    "net_year_1": "Year 1 is the first 365 days from the start of the plan.",
    "full_year_1": "Full years counted from go-live, the cost to build in the first.",
    "payback_months": "Months of 365/12 days; none if not within 60 months, or if it saves too little.",
    "npv_3y": "Cost to build now, yearly amounts at year ends, discounted.",
    "return_3y": "(Saved − to run − to build) ÷ (to run + to build), over three years.",
    "robots": "Robot hours ÷ (hours a day × days a year), up to the next whole robot.",
    "robot_share": "The same before rounding up.",
    "seats_paid": "Whole seats, or the share of them that it uses, as the input seats says: whole or share.",
}


@dataclass(frozen=True)
class Cell:
    """An input: its name in formulas, its label, value, unit, where it comes from, and when.

    `formula` stands instead of a typed value where it follows from other sheets; `value` is then what it
    came to when the workbook was written.
    """

    name: str
    label: str
    value: str | None
    unit: str
    source: str
    date: str
    formula: str = ""


@dataclass(frozen=True)
class CaseBook:
    """What the workbook holds. `phases` and `lines` as rows with the texts of their parts; phases have their
    days; `closed`: days on which nobody works."""

    title: str
    about: Sequence[tuple[str, str]]
    inputs: Sequence[Cell]
    sizing: Sequence[Cell]
    arrives: Sequence[tuple[str, str, str]]
    phases: Sequence[dict[str, Any]]
    phases_follow: bool
    phases_source: str
    closed: Sequence[date]
    lines: Sequence[dict[str, Any]]
    benefits: Sequence[dict[str, Any]]
    exchange: Sequence[tuple[str, str]]
    figures: dict[str, Any]


def case_workbook(book: CaseBook) -> bytes:
    """The workbook as XLSX."""
    import xlsxwriter

    out = io.BytesIO()
    options = {
        "in_memory": True,
        "strings_to_formulas": False,
        "strings_to_urls": False,
        "strings_to_numbers": False,
    }
    with xlsxwriter.Workbook(out, options) as file:
        _Writer(file, book).write()
    return out.getvalue()


class _Writer:
    """Writes the sheets one by one; a name is defined with the cell that it names."""

    def __init__(self, file: Any, book: CaseBook) -> None:
        self.file = file
        self.book = book
        self.missing = 0
        self.bold = file.add_format({"bold": True, "bottom": 1, "text_wrap": True, "valign": "top"})
        self.title = file.add_format({"bold": True, "font_size": 14})
        self.typed = file.add_format({"bg_color": "#FFF8E0", "num_format": "General"})
        self.day = file.add_format({"num_format": "yyyy-mm-dd"})
        self.typed_day = file.add_format({"bg_color": "#FFF8E0", "num_format": "yyyy-mm-dd"})
        self.quiet = file.add_format({"font_color": "#555555", "text_wrap": True, "valign": "top"})
        self.sum = file.add_format({"bold": True, "top": 1, "num_format": _MONEY})

    def write(self) -> None:
        self._about()
        case = self.file.add_worksheet("Case")
        self._inputs()
        self._sizing()
        self._phases()
        self._lines()
        self._case(case)

    def _head(self, sheet: Any, row: int, words: Sequence[str], widths: Sequence[int]) -> None:
        for column, (word, width) in enumerate(zip(words, widths, strict=True)):
            sheet.write_string(row, column, word, self.bold)
            sheet.set_column(column, column, width)

    def _define(self, name: str, sheet: str, row: int, column: int = 1) -> None:
        letter = chr(ord("A") + column)
        self.file.define_name(name, f"={sheet}!${letter}${row + 1}")

    def _about(self) -> None:
        sheet = self.file.add_worksheet("About")
        sheet.set_column(0, 0, 26)
        sheet.set_column(1, 1, 100)
        sheet.write_string(0, 0, self.book.title[:LONGEST], self.title)
        rows = [
            *self.book.about,
            ("", ""),
            ("Case", "All figures, each a formula over the names of the inputs. Nothing is typed there."),
            ("Inputs", "What the case is reckoned from. Cells with a tint are typed: change them."),
            ("Sizing", "How volume, automatable share and build effort follow from the expert's facts."),
            ("Phases", "Person-days and day rates of the build; their sum is the cost to build."),
            ("Lines", "Running lines a year, and benefit lines that are kept apart from time saved."),
            ("Names", "Every input and figure has a defined name; formulas use these names."),
            ("Rounding", "Cells hold unrounded figures and show money to cents, half away from zero."),
        ]
        for row, (head, words) in enumerate(rows, 2):
            sheet.write_string(row, 0, head)
            sheet.write_string(row, 1, str(words)[:LONGEST], self.quiet)

    def _cell(self, sheet: Any, name: str, row: int, cell: Cell) -> None:
        sheet.write_string(row, 0, cell.label)
        self._define(cell.name, name, row)
        if cell.formula and cell.unit == "date":
            sheet.write_formula(row, 1, f"={cell.formula}", self.day, _serial(cell.value))
        elif cell.formula:
            cached = float(cell.value) if cell.value not in (None, "") else ""
            sheet.write_formula(row, 1, f"={cell.formula}", None, cached)
        elif cell.value in (None, ""):
            sheet.write_blank(row, 1, None, self.typed)
        elif cell.unit == "date":
            sheet.write_datetime(row, 1, date.fromisoformat(str(cell.value)), self.typed_day)
        elif cell.unit == "word":
            sheet.write_string(row, 1, str(cell.value), self.typed)
        else:
            sheet.write_number(row, 1, float(str(cell.value)), self.typed)
        sheet.write_string(row, 2, "" if cell.unit in ("word", "date") else cell.unit)
        sheet.write_string(row, 3, cell.source[:LONGEST], self.quiet)
        sheet.write_string(row, 4, cell.date)
        sheet.write_string(row, 5, cell.name, self.quiet)

    def _cells(self, name: str, cells: Sequence[Cell]) -> tuple[Any, int]:
        sheet = self.file.add_worksheet(name)
        words = ("Input", "Value", "Unit", "Where it comes from", "Date", "Name in formulas")
        self._head(sheet, 0, words, (34, 16, 10, 60, 12, 26))
        for row, cell in enumerate(cells, 1):
            self._cell(sheet, name, row, cell)
        sheet.freeze_panes(1, 0)
        return sheet, len(cells) + 1

    def _inputs(self) -> None:
        sheet, row = self._cells("Inputs", self.book.inputs)
        last = row
        for code, rate in self.book.exchange:
            sheet.write_string(row, 0, f"1 {code} is worth")
            sheet.write_number(row, 1, float(rate), self.typed)
            sheet.write_string(row, 3, "cost table", self.quiet)
            sheet.write_string(row, 5, f"rate_{code}", self.quiet)
            self._define(f"rate_{code}", "Inputs", row)
            row += 1
        sheet.write_string(row + 1, 0, "Inputs that are missing")
        nothing = 0 if self.book.phases else 1
        lacking = sum(cell.value in (None, "") for cell in self.book.inputs) + nothing
        sheet.write_formula(row + 1, 1, f"=COUNTBLANK(B2:B{last})+{nothing}", None, lacking)
        self._define("missing_inputs", "Inputs", row + 1)
        self.missing = lacking

    def _sizing(self) -> None:
        sheet, row = self._cells("Sizing", self.book.sizing)
        row += 1
        self._head(
            sheet,
            row,
            ("It arrives as", "Part", "Readiness", "", "", ""),
            (34, 16, 10, 60, 12, 26),
        )
        first = row + 1
        for kind, part, readiness in self.book.arrives:
            row += 1
            sheet.write_string(row, 0, kind)
            sheet.write_number(row, 1, float(part), self.typed)
            sheet.write_number(row, 2, float(readiness), self.typed)
        if self.book.arrives:
            self.file.define_name("arrives_part", f"=Sizing!$B${first + 1}:$B${row + 1}")
            self.file.define_name("arrives_readiness", f"=Sizing!$C${first + 1}:$C${row + 1}")

    def _phases(self) -> None:
        sheet = self.file.add_worksheet("Phases")
        words = (
            *("Phase", "Person-days", "A day costs", "Cost", "Working days", "Lag, days", "From", "To"),
            *("Where it comes from", "Closed days"),
        )
        self._head(sheet, 0, words, (24, 12, 12, 14, 12, 10, 12, 12, 50, 12))
        for n, day in enumerate(self.book.closed, 1):
            sheet.write_datetime(n, 9, day, self.typed_day)
        self.file.define_name("closed_days", f"=Phases!$J$2:$J${max(2, len(self.book.closed) + 1)}")
        row = 0
        for row, phase in enumerate(self.book.phases, 1):
            days, rate = float(phase["person_days"] or 0), float(phase["day_rate"] or 0)
            sheet.write_string(row, 0, str(phase["name"]))
            if self.book.phases_follow:
                sheet.write_formula(row, 1, _phase_formula(row, len(self.book.phases)), None, days)
            else:
                sheet.write_number(row, 1, days, self.typed)
            sheet.write_number(row, 2, rate, self.typed)
            sheet.write_formula(row, 3, f"=B{row + 1}*C{row + 1}", None, days * rate)
            if self.book.phases_follow:
                sheet.write_formula(row, 4, f"=ROUNDUP(B{row + 1},0)", None, int(phase["days"]))
            else:
                sheet.write_number(row, 4, int(phase["days"]), self.typed)
            sheet.write_number(row, 5, int(phase["lag"]), self.typed)
            for column, formula in enumerate(_dates(row), 6):
                cached = _serial(phase["start"] if column == 6 else phase["end"])
                sheet.write_formula(row, column, formula, self.day, cached)
            sheet.write_string(row, 8, self.book.phases_source[:LONGEST], self.quiet)
        sheet.write_string(row + 1, 0, "Cost to build")
        formula = f"=SUM(D2:D{row + 1})" if self.book.phases else "=0"
        total = sum(float(one["person_days"] or 0) * float(one["day_rate"] or 0) for one in self.book.phases)
        sheet.write_formula(row + 1, 3, formula, self.sum, total)
        self._define("build_cost", "Phases", row + 1, 3)
        if self.book.phases:
            self._define("first_day", "Phases", 1, 6)
            self._define("last_day", "Phases", len(self.book.phases), 7)

    def _lines(self) -> None:
        sheet = self.file.add_worksheet("Lines")
        words = (
            "Running line",
            "Amount",
            "A robot",
            "Share of a person",
            "Days",
            "A day costs",
            "Currency",
            "A year",
        )
        self._head(sheet, 0, words, (34, 14, 14, 16, 10, 14, 10, 16))
        row = 0
        for row, line in enumerate(self.book.lines, 1):
            self._line(sheet, row, line)
        sheet.write_string(row + 1, 0, "All lines a year")
        total = sum(float(one["a_year"] or 0) for one in self.book.lines)
        formula = f"=SUM(H2:H{row + 1})" if self.book.lines else "=0"
        sheet.write_formula(row + 1, 7, formula, self.sum, total)
        self._define("lines_per_year", "Lines", row + 1, 7)
        row += 3
        sheet.write_string(row, 0, "Benefit line, apart from time saved", self.bold)
        first = row + 1
        for line in self.book.benefits:
            row += 1
            self._line(sheet, row, line)
            sheet.write_string(row, 8, f"{line['kind']}: {line.get('how', '')}"[:LONGEST], self.quiet)
        if self.book.benefits:
            total = sum(float(one["a_year"] or 0) for one in self.book.benefits)
            sheet.write_string(row + 1, 0, "All benefit lines a year")
            sheet.write_formula(row + 1, 7, f"=SUM(H{first + 1}:H{row + 1})", self.sum, total)

    def _line(self, sheet: Any, row: int, line: dict[str, Any]) -> None:
        sheet.write_string(row, 0, str(line["name"]))
        for column, name in enumerate(("amount", "per_robot", "share", "days", "day_cost"), 1):
            if line.get(name) not in (None, ""):
                sheet.write_number(row, column, float(line[name]), self.typed)
        code = line.get("currency") or ""
        sheet.write_string(row, 6, code)
        n = row + 1
        if line.get("share") not in (None, ""):
            formula = f"D{n}*E{n}*F{n}"
        elif line.get("per_robot") not in (None, ""):
            formula = f"seats_paid*C{n}"
        else:
            formula = f"B{n}"
        if code and any(code == one for one, _ in self.book.exchange):
            formula += f"*rate_{code}"
        sheet.write_formula(row, 7, f"={formula}", None, float(line["a_year"] or 0))

    def _case(self, sheet: Any) -> None:
        words = ("Figure", "Value", "How it is read", "Name in formulas")
        self._head(sheet, 0, words, (40, 20, 90, 26))
        formats = {one: self.file.add_format({"num_format": one}) for *_, one in FIGURES}
        for row, (name, label, formula, form) in enumerate(FIGURES, 1):
            sheet.write_string(row, 0, label)
            cached = self.book.figures.get(name)
            value = ("missing" if self.missing else "none") if cached is None else float(cached)
            whole = f'=IF(missing_inputs>0,"missing",{formula})'
            sheet.write_formula(row, 1, whole, formats[form], "missing" if self.missing else value)
            sheet.write_string(row, 2, READING.get(name, ""), self.quiet)
            sheet.write_string(row, 3, name, self.quiet)
            self._define(name, "Case", row)
        sheet.freeze_panes(1, 0)


def _serial(day: str | None) -> Any:
    """A day as spreadsheets count them."""
    return "" if day is None else (date.fromisoformat(day) - date(1899, 12, 30)).days


def _dates(row: int) -> tuple[str, str]:
    """From when to when a phase goes, in working days: a phase of 0 days ends with the one before."""
    n = row + 1
    first = "WORKDAY(plan_start-1,1,closed_days)"
    if row == 1:
        start = f"={first}"
    else:
        start = f"=IF(E{n}=0,H{n - 1},MAX({first},WORKDAY(H{n - 1},1+F{n},closed_days)))"
    return start, f"=IF(E{n}<=1,G{n},WORKDAY(G{n},E{n}-1,closed_days))"


def _phase_formula(row: int, count: int) -> str:
    """A phase's part of the build effort: a fifth, three fifths, the rest, each up to the half day."""
    before = f"SUM(B$2:B{row})" if row > 1 else "0"
    if row == count:
        return f"=build_effort-{before}"
    share = "0.2" if row == 1 else "0.6"
    return f"=MIN(build_effort-{before},CEILING(ROUND(build_effort*{share},9),0.5))"
