"""Bringing in lists of ideas from spreadsheets: read apart, columns matched, every line looked at before
anything comes in; then line by line by the engine, so that it can stop, go on, and never comes in twice."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Mapping
from functools import partial

from rapidfuzz import process

from tallyman.core.faults import Fault, InputFaults
from tallyman.core.free import Free, FreeObject
from tallyman.core.ideas import sheets
from tallyman.core.ideas.words import LineState
from tallyman.errors import Clash, Conflict, NotFound, Refused, TallymanError
from tallyman.formats import apart
from tallyman.formats.csv_file import csv_file
from tallyman.formats.uploads import clean_name
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas.answers import LineFault, SheetColumn, SheetField, SheetLine, SheetOut, SheetRow
from tallyman.services.ideas.base import ref
from tallyman.services.ideas.team_entry import ENTER, Entry, enter_in
from tallyman.services.upkeep import Piece, Rows, Work, errands
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    IdeaSheet,
    SheetsCounts,
    SheetsLines,
    SheetsOpenLines,
    SheetsOrigins,
    SheetsPeople,
)
from tallyman.store.records.people import PeopleDivisions
from tallyman.store.records.upkeep import Errand

SHEET_LINES = Work("sheet lines", "a line of a list of ideas", most_tries=3)

ERRAND = "idea import"
LARGEST = 10_000_000
MOST_LINES = 5_000
LINES_A_PIECE = 20
STAGES = ("noted", "screened")
NEAR_NAME = 75
# What a line comes to, for people.
SAID = {
    "in": "comes in",
    "here": "is here already",
    "repeat": "stands twice in the list",
    "fault": "stays out",
}


@in_transaction
def upload(tx: Tx, ctx: Ctx, name: str, data: bytes, page: str | None = None) -> int:
    """Reads a spreadsheet and keeps it, with a first guess at its columns; gives its number."""
    ctx.require(ENTER)
    shown = clean_name(name)
    if not data:
        raise InputFaults([Fault("file", shown, "is empty; choose another")])
    if len(data) > LARGEST:
        size = f"{len(data) / 1_000_000:.1f} MB"
        raise InputFaults([Fault("file", size, f"too large; at most {LARGEST // 1_000_000} MB")])
    pages = apart.run("sheet", data, shown)["pages"]
    chosen = _page(pages, page)
    rows = chosen["rows"]
    at = sheets.head_row(rows)
    lines = [(n, row) for n, row in enumerate(rows[at + 1 :], at + 2) if not sheets.blank(row)]
    if not lines:
        raise InputFaults([Fault("file", shown, "has a head and no lines below it")])
    if len(lines) > MOST_LINES:
        message = f"too many lines; at most {MOST_LINES:,} at once, so send it in parts"
        raise InputFaults([Fault("file", f"{len(lines):,}", message)])
    head = {"row": at + 1, "heads": rows[at], "pages": [one["name"] for one in pages]}
    number = tx.insert(
        "sheets.add",
        person=ctx.actor.person_id,
        name=shown,
        digest=hashlib.sha256(data).hexdigest(),
        page=chosen["name"],
        head=head,
        match={"columns": sheets.suggest(rows[at]), "stage": "noted", "lenient": False, "why": ""},
        now=ctx.now,
    )
    for line, row in lines:
        tx.write("sheets.add_line", sheet=number, line=line, cells=row)
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
    return max(
        pages,
        key=lambda page: (
            len(sheets.suggest(page["rows"][sheets.head_row(page["rows"])])),
            len(page["rows"]),
        ),
    )


def _find(tx: Tx, ctx: Ctx, number: int) -> IdeaSheet:
    ctx.require(ENTER)
    row = tx.one(IdeaSheet, "sheets.one", id=number)
    if row is None or row.person_id != ctx.actor.person_id:
        raise NotFound("There is no such list of yours.", "Bring the file once more.")
    return row


class _Known:
    """What lines may name: divisions and people."""

    def __init__(self, tx: Tx) -> None:
        places = tx.all(PeopleDivisions, "people.divisions")
        own = Counter(row.own.lower() for row in places)
        self.divisions = {row.own.lower(): row.id for row in places if own[row.own.lower()] == 1}
        self.divisions |= {row.name.lower(): row.id for row in places}
        people = tx.all(SheetsPeople, "sheets.people")
        names = Counter(row.name.lower() for row in people)
        self.people = {row.name.lower(): row.id for row in people if names[row.name.lower()] == 1}
        self.people |= {row.email.lower(): row.id for row in people}

    def look_up(self, line: sheets.Line) -> dict[str, int]:
        """The divisions and people that a line names; who is not known is a fault of the line."""
        found = {}
        for name, text in line.names.items():
            table, what = (self.divisions, "division") if name == "division" else (self.people, "person")
            number = table.get(text.lower())
            if number is None:
                near = process.extractOne(text.lower(), list(table), score_cutoff=NEAR_NAME)
                hint = f"did you mean {near[0]!r}? " if near else ""
                line.faults.append(Fault(name, text[:80], f"{hint}there is no such {what} here"))
            else:
                found[name] = number
        return found


def _columns(sheet: IdeaSheet, lines: list[SheetsLines]) -> sheets.Columns:
    match = sheet.match["columns"]
    return sheets.Columns.of(match, sheet.head["heads"], [row.cells for row in lines])


def _fault_row(sheet: IdeaSheet, fault: Fault) -> dict[str, str]:
    at = sheet.match["columns"].get(fault.field)
    column = sheet.head["heads"][at] if at is not None and at < len(sheet.head["heads"]) else fault.field
    return {"field": fault.field, "column": column, "value": str(fault.value or ""), "message": fault.message}


def _looked_at(
    sheet: IdeaSheet, columns: sheets.Columns, known: _Known, row: SheetsLines | SheetsOpenLines
) -> tuple[sheets.Line, dict[str, int], list[dict[str, str]], bool]:
    """A line as read, whom it names, what is wrong, and whether it can come in."""
    line = sheets.read_line(row.cells, columns)
    found = known.look_up(line)
    faults = [_fault_row(sheet, fault) for fault in line.faults]
    without_name = any(fault.field in ("title", "what") for fault in line.faults)
    comes = not faults or (sheet.match["lenient"] and not without_name)
    return line, found, faults, comes


@in_transaction
def view(tx: Tx, ctx: Ctx, number: int) -> SheetOut:
    """A list with its columns and what would become of each line; nothing has come in by looking."""
    sheet = _find(tx, ctx, number)
    rows = tx.all(SheetsLines, "sheets.lines", sheet=number)
    shown = _dry_run(tx, sheet, rows) if "title" in sheet.match["columns"] else []
    head = sheet.head
    samples = [
        SheetColumn(
            head=name, sample=[row.cells[n] for row in rows if n < len(row.cells) and row.cells[n]][:3]
        )
        for n, name in enumerate(head["heads"])
    ]
    states = [row.state for row in shown]
    return SheetOut(
        id=number,
        name=sheet.name,
        page=sheet.page,
        pages=head["pages"],
        head_row=head["row"],
        columns=samples,
        match=sheet.match["columns"],
        fields=[
            SheetField(value=key, words=words, needed=key in sheets.NEEDED)
            for key, (words, _) in sheets.FIELDS.items()
        ],
        stage=sheet.match["stage"],
        why=sheet.match["why"],
        lenient=sheet.match["lenient"],
        lines=shown,
        counts={state: states.count(state) for state in SAID},
        total=len(rows),
        version=sheet.version,
        errand=sheet.errand_id,
        errand_state=sheet.errand_state,
        errand_done=sheet.errand_done or 0,
        errand_words=sheet.errand_words or "",
    )


def _dry_run(tx: Tx, sheet: IdeaSheet, rows: list[SheetsLines]) -> list[SheetLine]:
    """What becomes of each line, or became."""
    columns, known = _columns(sheet, rows), _Known(tx)
    read = [(row, *_looked_at(sheet, columns, known, row)) for row in rows]
    marks = tuple(line.mark for _, line, *_ in read) or ("",)
    origins = {row.mark: row for row in tx.all(SheetsOrigins, "sheets.origins", marks=marks)}
    first: dict[str, int] = {}
    shown = []
    for row, line, _, found, comes in read:
        faults, notes, idea = found, list(line.notes), row.idea_id
        # What stayed out is looked at by the match of now; what came in is not touched again.
        if row.state not in ("open", "fault"):
            state = row.state
            said = row.said or {}
            faults, notes = said.get("faults", faults), said.get("notes", notes)
        elif line.mark in origins and comes:
            state, idea = "here", origins[line.mark].idea_id
            notes.append(f"came in before as {ref(idea)} {origins[line.mark].title}")
        elif not comes:
            state = "fault"
        elif row.state == "fault" and _refused(row):
            state, faults = "fault", row.said["faults"]
        elif line.mark in first:
            state = "repeat"
            notes.append(f"the same as line {first[line.mark]}")
        else:
            state = "in"
        if comes:
            first.setdefault(line.mark, row.line)
        shown.append(
            SheetLine(
                line=row.line,
                title=str(line.answers.get("title", ""))[:120],
                state=state,
                idea=idea,
                faults=[LineFault(**fault) for fault in faults],
                notes=notes,
                open=row.state == "open" or (row.state == "fault" and comes),
            )
        )
    return shown


def _refused(row: SheetsLines) -> bool:
    """Whether a line stayed out for something that stands not in the line itself."""
    return any(fault["field"] == "line" for fault in (row.said or {}).get("faults", ()))


@in_transaction
def set_match(tx: Tx, ctx: Ctx, number: int, given: Mapping[str, Free], version: int) -> None:
    """Says which column is what, where the ideas begin, and whether lines come in without what cannot be
    read. Raises InputFaults; Conflict when the list was changed meanwhile."""
    sheet = _find(tx, ctx, number)
    columns = sheets.check_match(given["columns"], len(sheet.head["heads"]))
    if given["stage"] not in STAGES:
        raise InputFaults([Fault("stage", given["stage"], f"allowed: {', '.join(STAGES)}")])
    match = {
        "columns": columns,
        "stage": given["stage"],
        "why": str(given["why"]).strip()[:500],
        "lenient": bool(given["lenient"]),
    }
    if sheet.errand_state in ("waiting", "running"):
        raise Refused("This list is being brought in just now.", "Stop it first, or wait.")
    if not tx.write("sheets.set_match", id=number, match=match, version=version):
        raise Conflict("The list was changed meanwhile.", "Look at it again.", version=sheet.version)


@in_transaction
def begin(tx: Tx, ctx: Ctx, number: int, version: int) -> int:
    """Begins to bring a list in, or goes on with what stayed out or was cancelled; gives the errand."""
    sheet = _find(tx, ctx, number)
    match = sheet.match
    sheets.check_match(match["columns"], len(sheet.head["heads"]))
    if match["stage"] != "noted" and not match["why"]:
        raise InputFaults([Fault("why", "", "say why they skip the review; it is recorded")])
    if sheet.errand_state in ("waiting", "running"):
        return int(sheet.errand_id or 0)
    tx.write("sheets.reopen_faults", sheet=number)
    total = sum(row.line_count for row in tx.all(SheetsCounts, "sheets.counts", sheet=number))
    # Looked through once: how numbers and days are written does not change from piece to piece.
    columns = _columns(sheet, tx.all(SheetsLines, "sheets.lines", sheet=number)).as_content()
    errand = errands.add(tx, ctx, ERRAND, total, {"sheet": number, "columns": columns})
    if not tx.write("sheets.set_errand", id=number, errand=errand, version=version):
        raise Conflict("The list was changed meanwhile.", "Look at it again.", version=sheet.version)
    audit(tx, ctx, "list begun", f"sheet:{number}", f"Began to bring in {sheet.name}")
    return errand


def carry_on(ctx: Ctx, errand: Errand) -> Piece:
    """Brings in the next lines of a list, each in a transaction of its own."""
    number = errand.input["sheet"]

    def ready(tx: Tx) -> tuple[IdeaSheet, sheets.Columns, _Known, list[SheetsOpenLines]]:
        sheet = _find(tx, ctx, number)
        kept = errand.input.get("columns")
        # One that the release before began kept none.
        columns = (
            sheets.Columns.from_content(kept)
            if kept
            else _columns(sheet, tx.all(SheetsLines, "sheets.lines", sheet=number))
        )
        waiting = tx.all(SheetsOpenLines, "sheets.open_lines", sheet=number, most=LINES_A_PIECE, now=ctx.now)
        return sheet, columns, _Known(tx), waiting

    sheet, columns, known, waiting = ctx.db.transact(ready)
    turn = Rows(ctx, SHEET_LINES)
    for row in waiting:
        key = f"{number}:{row.line}"
        act = partial(_bring_in, ctx=ctx, sheet=sheet, columns=columns, known=known, row=row)
        tried = turn.go(key, partial(ctx.db.transact, act), about=f"line {row.line} of {sheet.name}")
        if tried.stuck:
            leave = partial(_leave_out, ctx=ctx, sheet=number, line=row.line, key=key, why=tried.why)
            ctx.db.transact(leave)
    counts = ctx.db.transact(
        lambda tx: {one.state: one.line_count for one in tx.all(SheetsCounts, "sheets.counts", sheet=number)}
    )
    done = sum(counts.values()) - counts.get("open", 0)
    words = "; ".join(f"{counts[state]:,} {said}" for state, said in COUNTED.items() if counts.get(state))
    return Piece(done, words, not counts.get("open"))


COUNTED: dict[LineState, str] = {
    "in": "came in",
    "here": "were here already",
    "repeat": "stood twice",
    "fault": "stayed out",
}


def _leave_out(tx: Tx, ctx: Ctx, sheet: int, line: int, key: str, why: str) -> None:
    """A line at which Tallyman itself failed again and again stays out, and says so beside the others."""
    if tx.value(str, "sheets.lock_line", sheet=sheet, line=line) == "open":
        message = f"Tallyman failed at this line {SHEET_LINES.most_tries} times ({why}). Enter it by hand."
        said = {"faults": [{"field": "line", "column": "", "value": "", "message": message}], "notes": []}
        tx.write("sheets.set_line", sheet=sheet, line=line, state="fault", idea=None, said=said)
        changed(tx, ctx, "sheets", sheet)
    tx.write("hitches.clear", work=SHEET_LINES.name, key=key)


def _bring_in(
    tx: Tx, ctx: Ctx, sheet: IdeaSheet, columns: sheets.Columns, known: _Known, row: SheetsOpenLines
) -> None:
    """One line: comes in, is here already, stands twice, or stays out with its reasons."""
    at = {"sheet": sheet.id, "line": row.line}
    if tx.value(str, "sheets.lock_line", **at) != "open":
        return
    line, found, faults, comes = _looked_at(sheet, columns, known, row)
    state, idea, notes = "fault", None, list(line.notes)
    if comes:
        there = tx.one(SheetsOrigins, "sheets.origins", marks=(line.mark,))
        if there is not None:
            same = tx.value(int, "sheets.line_of", sheet=sheet.id, idea=there.idea_id)
            state, idea = ("repeat" if same else "here"), there.idea_id
            notes.append(f"the same as line {same}" if same else f"came in before as {ref(idea)}")
        else:
            try:
                idea = _enter(tx, ctx, sheet, line, found)
                state = "in"
            except (InputFaults, TallymanError) as error:
                # What was written for this line goes; the line itself is noted in its place.
                tx.write("sheets.back_to_line")
                faults += _said(sheet, error)
    said = {"faults": faults, "notes": notes}
    tx.write("sheets.set_line", **at, state=state, idea=idea, said=said)
    changed(tx, ctx, "sheets", sheet.id)


def _said(sheet: IdeaSheet, error: Exception) -> list[dict[str, str]]:
    if isinstance(error, InputFaults):
        return [_fault_row(sheet, fault) for fault in error.faults]
    assert isinstance(error, TallymanError)
    message = f"{error.message} {error.mend}".strip()
    return [{"field": "line", "column": "", "value": "", "message": message}]


def _enter(tx: Tx, ctx: Ctx, sheet: IdeaSheet, line: sheets.Line, found: dict[str, int]) -> int:
    tx.write("sheets.mark_line")
    answers = {**line.answers}
    answers |= {name: found[name] for name in ("division", "owner", "knows") if name in found}
    match = sheet.match
    why = f"from the spreadsheet {sheet.name}"
    why += f", number {line.number} there" if line.number else ""
    why += f", handed in on {line.noted}" if line.noted else ""
    why += f". {match['why']}" if match["why"] else ""
    entry = Entry(
        answers, stage=match["stage"], why=why, source="spreadsheet", proposer_id=found.get("proposer")
    )
    number = enter_in(tx, ctx, entry, f"sheet-{line.mark[:40]}")
    try:
        tx.write("sheets.add_origin", mark=line.mark, idea=number, now=ctx.now)
    except Clash:
        raise Refused("Another list brings the same idea in just now.", "Go on once more.") from None
    return number


def left_out(ctx: Ctx, number: int) -> bytes:
    """The lines that stay out as CSV, as they came and with what is wrong, to be mended and sent again."""
    found = view(ctx, number)
    out = {row.line: row for row in found.lines if row.state == "fault"}

    def work(tx: Tx) -> list[list[str]]:
        rows = tx.all(SheetsLines, "sheets.lines", sheet=number)
        return [[*row.cells, _wrong(out[row.line])] for row in rows if row.line in out]

    heads = [column.head for column in found.columns]
    return csv_file([*heads, "what is wrong"], ctx.db.transact(work))


def _wrong(row: SheetLine) -> str:
    return "; ".join(f"{fault.column} {fault.value!r} {fault.message}" for fault in row.faults)


def mine(ctx: Ctx) -> list[SheetRow]:
    """The lists that the actor brought."""
    ctx.require(ENTER)
    return ctx.db.transact(lambda tx: tx.all(SheetRow, "sheets.of_person", person=ctx.actor.person_id))
