"""Bringing in lists of ideas from spreadsheets: read apart, columns and words matched, lines mended in their
place, every line looked at before anything comes in."""

from __future__ import annotations

import csv
import hashlib
import io
from collections.abc import Mapping, Sequence

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.free import Free, FreeObject
from tallyman.core.ideas import sheet_guess, sheet_lines, sheets
from tallyman.core.ideas.way import DECLINE_REASONS
from tallyman.errors import Conflict, NotFound, Refused
from tallyman.formats import apart
from tallyman.formats.csv_file import csv_file, split_line
from tallyman.formats.uploads import clean_name
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.ideas import sheet_looks, sheet_view
from tallyman.services.ideas.answers import SheetRow
from tallyman.services.ideas.answers_of_lists import SheetLine, SheetOut
from tallyman.services.ideas.sheet_coming import ERRAND, find_sheet
from tallyman.services.ideas.sheet_looks import Known
from tallyman.services.ideas.sheet_view import OURS
from tallyman.services.ideas.team_entry import ENTER
from tallyman.services.upkeep import errands
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeaSheet, SheetsCounts, SheetsLines, SheetsOneLine

LARGEST = 10_000_000
MOST_LINES = 5_000
LONGEST_CELL = 5_000
STAGES = ("noted", "screened")


@in_transaction
def upload(tx: Tx, ctx: Ctx, name: str, data: bytes, page: str | None = None) -> int:
    """Reads a spreadsheet and keeps it, with a first guess at its columns; gives its number."""
    # What its lines say lies in no area, so it is for who enters ideas of the whole company.
    ctx.require_at(ENTER, None)
    shown = clean_name(name)
    if not data:
        raise InputFaults([Fault("file", shown, "is empty; choose another")])
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise InputFaults([Fault("file", size, f"too large; at most {LARGEST // 1_000_000} MB")])
    read = apart.run("sheet", data, shown)
    pages = read["pages"]
    chosen = _page(pages, page)
    guess = sheet_guess.guess(chosen["rows"], Known(tx).names())
    head, lines = _laid_out(chosen, guess.head)
    if not lines:
        raise InputFaults([Fault("file", shown, "has a head and no lines below it")])
    if len(lines) > MOST_LINES:
        message = f"too many lines; at most {MOST_LINES:,} at once, so send it in parts"
        raise InputFaults([Fault("file", f"{len(lines):,}", message)])
    number = tx.insert(
        "sheets.add",
        person=ctx.actor.person_id,
        name=shown,
        digest=hashlib.sha256(data).hexdigest(),
        page=chosen["name"],
        head={**head, "pages": [one["name"] for one in pages], "limits": read["limits"]},
        match={"columns": dict(guess.at), "asked": list(guess.asked), "stage": "noted", "why": ""},
        now=ctx.now,
    )
    _add_lines(tx, number, lines)
    audit(tx, ctx, "list brought", f"sheet:{number}", f"Brought {shown} with {len(lines):,} lines")
    return number


def _page(pages: list[FreeObject], wanted: str | None) -> FreeObject:
    """The page asked for, or the one whose head names most of what we look for, then the longest."""
    for page in pages:
        if wanted is not None and page["name"] == wanted:
            return page
    if wanted is not None:
        names = ", ".join(page["name"] for page in pages)
        raise InputFaults([Fault("page", wanted, f"there is no such page; choose one of {names}")])

    def named(page: FreeObject) -> int:
        at, _ = sheet_guess.find_head(page["rows"])
        return 0 if at is None else len(sheets.suggest(page["rows"][at]))

    return max(pages, key=lambda page: (named(page), len(page["rows"])))


def _laid_out(page: FreeObject, head: int | None) -> tuple[FreeObject, list[FreeObject]]:
    """A page's head, and its lines below: number, cells, and how a row does not fit the head. `head` counts
    from 0; None: there is none. Rows of a workbook are as wide as their sheet, those of a text may not be."""
    rows, mark = page["rows"], page.get("mark", "")
    widths: list[int] = page.get("widths") or []
    unclosed = page.get("unclosed") or {}
    below = 0 if head is None else head + 1
    heads = [""] * max(map(len, rows), default=0) if head is None else rows[head]
    wanted = _wanted(widths, head, below) if widths else 0
    lines = []
    for at, row in enumerate(rows[below:], below):
        if sheet_lines.blank(row):
            continue
        broken: FreeObject = {}
        if str(at) in unclosed:
            broken = {"why": "unclosed", "raw": unclosed[str(at)]}
        elif widths and (why := sheet_lines.broken(widths[at], row, wanted)) is not None:
            broken = {"why": why, "raw": _raw(row, widths[at], mark)}
        if broken:
            broken |= {"there": widths[at], "wanted": wanted}
        lines.append({"line": at + 1, "cells": row, "broken": broken or None})
    kept = {"row": below, "heads": heads, "above": rows[:below], "mark": mark, "wanted": wanted}
    if widths:
        kept["widths"] = widths
    return kept, lines


def _wanted(widths: list[int], head: int | None, below: int) -> int:
    """How many cells a row should have: as many as the head, or as most rows have."""
    if head is not None:
        return widths[head]
    rows = [width for width in widths[below:] if width]
    return max(set(rows), key=rows.count, default=0)


def _raw(row: Sequence[str], width: int, mark: str) -> str:
    out = io.StringIO()
    csv.writer(out, delimiter=mark or ",").writerow(row[:width])
    return out.getvalue().rstrip("\r\n")


def _add_lines(tx: Tx, number: int, lines: list[FreeObject]) -> None:
    for line in lines:
        tx.write("sheets.add_line", sheet=number, **line)


def _open(tx: Tx, ctx: Ctx, number: int, version: int) -> IdeaSheet:
    """A list that can be worked on: nobody brings it in just now, and it is as it was seen."""
    sheet = find_sheet(tx, ctx, number)
    if sheet.errand_state in ("waiting", "running"):
        raise Refused("This list is being brought in just now.", "Stop it first, or wait.")
    if sheet.version != version:
        raise _changed(sheet)
    return sheet


def _changed(sheet: IdeaSheet) -> Conflict:
    return Conflict("The list was changed meanwhile.", "Look at it again.", version=sheet.version)


def _keep(tx: Tx, sheet: IdeaSheet, match: FreeObject) -> None:
    if not tx.write("sheets.set_match", id=sheet.id, match=match, version=sheet.version):
        raise _changed(sheet)


@in_transaction
def view(tx: Tx, ctx: Ctx, number: int) -> SheetOut:
    """A list with its columns and what would become of each line; nothing has come in by looking."""
    sheet = find_sheet(tx, ctx, number)
    return sheet_view.shown(tx, sheet, tx.all(SheetsLines, "sheets.lines", sheet=number))


# ---- what is matched ---------------------------------------------------------------------------------


@in_transaction
def set_head(tx: Tx, ctx: Ctx, number: int, row: int, version: int) -> None:
    """Says in which row the head is, 0 for none; the columns are guessed anew. Raises InputFaults."""
    sheet = _open(tx, ctx, number, version)
    if sheet.errand_id is not None:
        raise Refused("Lines of this list came in already.", "Bring the file once more to read it otherwise.")
    lines = {one.line: one for one in tx.all(SheetsLines, "sheets.lines", sheet=number)}
    last = max(lines, default=0)
    if not 0 <= row <= min(sheet_guess.HEAD_ROWS, last - 1):
        most = min(sheet_guess.HEAD_ROWS, last - 1)
        raise InputFaults(
            [Fault("row", row, f"choose one of the rows 1 to {most}, or 0 where there is none")]
        )
    blank: list[str] = [""] * len(sheet.head["heads"])
    # One that the release before read kept nothing above its head.
    above = sheet.head.get("above", [*[blank] * (sheet.head["row"] - 1), sheet.head["heads"]])
    rows = [lines[at].cells if at in lines else blank for at in range(1, last + 1)]
    rows[: len(above)] = above
    unclosed = {
        str(one.line - 1): one.broken["raw"]
        for one in lines.values()
        if one.broken and one.broken["why"] == "unclosed"
    }
    page = {"rows": rows, "widths": sheet.head.get("widths"), "mark": sheet.head.get("mark", "")}
    head, found = _laid_out({**page, "unclosed": unclosed}, row - 1 if row else None)
    guess = sheet_guess.guess(rows, Known(tx).names(), row - 1 if row else None, chosen=True)
    match = {**sheet.match, "columns": dict(guess.at), "asked": list(guess.asked), "ways": {}, "words": {}}
    tx.write("sheets.drop_lines", sheet=number)
    _add_lines(tx, number, found)
    kept = {**sheet.head, **head}
    if not tx.write("sheets.set_head", id=number, head=kept, match=match, version=version):
        raise _changed(sheet)


@in_transaction
def set_match(tx: Tx, ctx: Ctx, number: int, given: Mapping[str, Free], version: int) -> None:
    """Says which column is what and how it is written, where the ideas begin, and what comes in without
    what. `asked` names what was told by the contents and nobody has said right yet. Raises InputFaults;
    Conflict when the list was changed meanwhile."""
    sheet = _open(tx, ctx, number, version)
    columns = sheets.check_match(given["columns"], len(sheet.head["heads"]))
    faults = []
    if given["stage"] not in STAGES:
        faults.append(Fault("stage", given["stage"], f"allowed: {', '.join(STAGES)}"))
    faults += _ways_faults(given["ways"])
    back_on, declined_for = given["back_on"], given["declined_for"]
    if back_on is not None and back_on <= company_day(tx, ctx):
        faults.append(Fault("back_on", back_on.isoformat(), "choose a day after today"))
    if declined_for and declined_for not in DECLINE_REASONS:
        faults.append(unknown_word("declined_for", declined_for, DECLINE_REASONS))
    if faults:
        raise InputFaults(faults)
    before = sheet.match
    asked = [
        name
        for name in before.get("asked", [])
        if name in given["asked"] and columns.get(name) == before["columns"].get(name)
    ]
    match = {
        **{key: value for key, value in before.items() if key != "lenient"},
        "columns": columns,
        "asked": asked,
        "ways": {name: dict(ways) for name, ways in given["ways"].items() if name in columns and ways},
        "stage": given["stage"],
        "why": str(given["why"]).strip()[:500],
        "back_on": back_on.isoformat() if back_on else "",
        "declined_for": declined_for,
        "without_people": bool(given["without_people"]),
        "without_values": bool(given["without_values"]),
        "ends_early": bool(given["ends_early"]),
    }
    _keep(tx, sheet, match)


def _ways_faults(given: Mapping[str, Mapping[str, str]]) -> list[Fault]:
    faults = []
    for field, ways in given.items():
        for way, value in ways.items():
            allowed = sheet_lines.WAYS[way] if way in sheet_lines.WAYS_OF.get(field, ()) else ()
            if value not in allowed:
                faults.append(
                    unknown_word(f"{field}.{way}", value, allowed or sheet_lines.WAYS_OF.get(field, ()))
                )
    return faults


@in_transaction
def set_word(
    tx: Tx, ctx: Ctx, number: int, of: str, theirs: str, ours: str | int | None, version: int
) -> None:
    """Says once for all lines what a word of theirs stands for; "" leaves it out, None takes back what was
    said. Raises InputFaults."""
    sheet = _open(tx, ctx, number, version)
    known = Known(tx)
    low = theirs.strip().lower()
    if of not in (*OURS, "person", "division"):
        raise InputFaults([unknown_word("of", of, [*OURS, "person", "division"])])
    if of in OURS and ours not in (None, "", *OURS[of]):
        raise InputFaults([unknown_word("ours", ours, OURS[of])])
    if of not in OURS and ours not in (None, "") and ours not in known.named[of]:
        raise InputFaults([Fault("ours", ours, f"there is no such {of} here; choose one")])
    words: dict[str, FreeObject] = {key: dict(table) for key, table in sheet.match.get("words", {}).items()}
    table = words.setdefault(of, {})
    table.pop(low, None)
    if ours is not None:
        table[low] = ours
    _keep(tx, sheet, {**sheet.match, "words": words})


# ---- lines that are mended ---------------------------------------------------------------------------


def _line(tx: Tx, ctx: Ctx, number: int, line: int, version: int) -> SheetsOneLine:
    """A line that has not come in, locked, of a list that was seen as it is."""
    sheet = _open(tx, ctx, number, version)
    row = tx.one(SheetsOneLine, "sheets.one_line", sheet=number, line=line)
    if row is None:
        raise NotFound(f"There is no line {line} in this list.", "Look at it again.")
    if row.state not in ("open", "fault", "conflict"):
        raise Refused(f"Line {line} is settled already.", "Change the idea itself.")
    if not tx.write("sheets.touch", id=sheet.id, version=version):
        raise _changed(sheet)
    return row


@in_transaction
def mend(
    tx: Tx, ctx: Ctx, number: int, line: int, cells: Mapping[int, str], raw: str | None, version: int
) -> None:
    """Mends cells of a line (by column, from 0), or the text of one that did not fit its head; as it came
    stays at hand. Raises InputFaults."""
    row = _line(tx, ctx, number, line, version)
    head = find_sheet(tx, ctx, number).head
    long = [at for at, text in cells.items() if len(text) > LONGEST_CELL]
    wrong = [at for at in cells if not 0 <= at < len(head["heads"])]
    if long or wrong:
        message = f"at most {LONGEST_CELL:,} characters" if long else "there is no such column"
        raise InputFaults([Fault(f"cells.{(long or wrong)[0]}", None, message)])
    mended, broken = list(row.cells), row.broken
    if raw is not None:
        mended, broken = _split_again(raw, head)
    mended += [""] * (len(head["heads"]) - len(mended))
    for at, text in cells.items():
        mended[at] = text
    came = row.came or {"cells": row.cells, "broken": row.broken}
    tx.write("sheets.mend_line", sheet=number, line=line, cells=mended, broken=broken, came=came)
    changed(tx, ctx, "sheets", number)


def _split_again(raw: str, head: FreeObject) -> tuple[list[str], FreeObject | None]:
    wanted = head.get("wanted") or len(head["heads"])
    cells = split_line(raw[: 20 * LONGEST_CELL], head.get("mark") or ",")
    if cells is None:
        raise InputFaults([Fault("raw", raw[:80], "still opens a quotation mark that is not closed")])
    why = sheet_lines.broken(len(cells), cells, wanted)
    if why:
        words = sheet_lines.BROKEN[why].format(there=len(cells), wanted=wanted)
        raise InputFaults([Fault("raw", raw[:80], f"{words}; it needs {wanted}")])
    return cells[: len(head["heads"])], None


@in_transaction
def choose(tx: Tx, ctx: Ctx, number: int, line: int, choice: str | None, version: int) -> None:
    """Says of a line that looks like another whether it is the same idea or another; None: open again."""
    if choice not in (None, "same", "another"):
        raise InputFaults([unknown_word("choice", choice, ("same", "another"))])
    _line(tx, ctx, number, line, version)
    tx.write("sheets.choose_line", sheet=number, line=line, choice=choice)
    changed(tx, ctx, "sheets", number)


@in_transaction
def as_it_came(tx: Tx, ctx: Ctx, number: int, line: int, version: int) -> None:
    """Takes back what was mended in a line."""
    row = _line(tx, ctx, number, line, version)
    came = row.came or {"cells": row.cells, "broken": row.broken}
    tx.write("sheets.line_as_it_came", sheet=number, line=line, **came)
    changed(tx, ctx, "sheets", number)


# ---- bringing it in ----------------------------------------------------------------------------------


@in_transaction
def begin(tx: Tx, ctx: Ctx, number: int, version: int) -> int:
    """Begins to bring a list in, or goes on with what stayed out or was cancelled; gives the errand.
    Raises InputFaults for what has to be said first."""
    sheet = find_sheet(tx, ctx, number)
    match = sheet.match
    sheets.check_match(match["columns"], len(sheet.head["heads"]))
    rows = tx.all(SheetsLines, "sheets.lines", sheet=number)
    found = sheet_view.shown(tx, sheet, rows)
    faults = [
        Fault("asked", words, "was told by what stands in the list; say whether it is right")
        for words in sheet_view.asks(sheet)
    ]
    if set(found.stages) - {"noted", "parked", "declined"} and not match["why"]:
        faults.append(Fault("why", "", "say why they skip the review; it is recorded"))
    if found.stages.get("parked") and not match.get("back_on"):
        faults.append(Fault("back_on", None, "say when those that are parked come back"))
    if found.stages.get("declined") and not match.get("declined_for"):
        faults.append(Fault("declined_for", "", "say for what those are declined that were so over there"))
    if faults:
        raise InputFaults(faults)
    if sheet.errand_state in ("waiting", "running"):
        return int(sheet.errand_id or 0)
    tx.write("sheets.reopen_faults", sheet=number)
    total = sum(row.line_count for row in tx.all(SheetsCounts, "sheets.counts", sheet=number))
    # Looked through once: how numbers and days are written does not change from piece to piece.
    columns = sheet_looks.columns_of(tx, sheet, rows).as_content()
    errand = errands.add(tx, ctx, ERRAND, total, {"sheet": number, "columns": columns})
    if not tx.write("sheets.set_errand", id=number, errand=errand, version=version):
        raise _changed(sheet)
    audit(tx, ctx, "list begun", f"sheet:{number}", f"Began to bring in {sheet.name}")
    return errand


def left_out(ctx: Ctx, number: int) -> bytes:
    """The lines that stay out as CSV, as they came and with what is wrong, to be mended and sent again."""
    found = view(ctx, number)
    out = {row.line: row for row in found.lines if row.state in ("fault", "conflict")}

    def work(tx: Tx) -> list[list[str]]:
        rows = tx.all(SheetsLines, "sheets.lines", sheet=number)
        return [[*row.cells, _wrong(out[row.line])] for row in rows if row.line in out]

    heads = [column.head for column in found.columns]
    return csv_file([*heads, "what is wrong"], ctx.db.transact(work))


def _wrong(row: SheetLine) -> str:
    said = [f"{fault.column} {fault.value!r} {fault.message}" for fault in row.faults]
    if row.state == "conflict":
        said += [
            *row.notes,
            *(f"{one.field}: {one.theirs!r} here, {one.ours!r} there" for one in row.differs),
        ]
    return "; ".join(said)


def mine(ctx: Ctx) -> list[SheetRow]:
    """The lists that the actor brought."""
    ctx.require(ENTER)
    return ctx.db.transact(lambda tx: tx.all(SheetRow, "sheets.of_person", person=ctx.actor.person_id))
