"""Lines of a list come in, one by one and each in a transaction of its own, so that it can stop, go on,
and never comes in twice."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from functools import partial

from tallyman.core.faults import InputFaults
from tallyman.core.free import Free, FreeObject
from tallyman.core.ideas.sheet_lines import Columns, differing
from tallyman.core.ideas.words import LineState
from tallyman.core.said import day_said
from tallyman.errors import Clash, NotFound, Refused, TallymanError
from tallyman.services.context import Ctx, changed
from tallyman.services.ideas.base import find, ref
from tallyman.services.ideas.sheet_looks import Known, Looked, came_as, columns_of, fault_row, looked_at
from tallyman.services.ideas.team_entry import ENTER, Entry, enter_in
from tallyman.services.upkeep import Piece, Rows, Work
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    Idea,
    IdeaSheet,
    SheetsCounts,
    SheetsLines,
    SheetsOpenLines,
    SheetsOrigins,
)
from tallyman.store.records.upkeep import Errand

SHEET_LINES = Work("sheet lines", "a line of a list of ideas", most_tries=3)
ERRAND = "idea import"
LINES_A_PIECE = 20
# Keeps facts of an idea, with their source, in the transaction in which it comes in.
KeepFacts = Callable[[Tx, Ctx, Idea, Mapping[str, Free], str], None]
COUNTED: dict[LineState, str] = {
    "in": "came in",
    "here": "were here already",
    "repeat": "stood twice",
    "conflict": "wait for a word on another of the same number or name",
    "fault": "stayed out",
}


def find_sheet(tx: Tx, ctx: Ctx, number: int) -> IdeaSheet:
    """A list that the actor brought."""
    ctx.require(ENTER)
    row = tx.one(IdeaSheet, "sheets.one", id=number)
    if row is None or row.person_id != ctx.actor.person_id:
        raise NotFound("There is no such list of yours.", "Bring the file once more.")
    return row


def carry_on(ctx: Ctx, errand: Errand, keep_facts: KeepFacts) -> Piece:
    """Brings in the next lines of a list."""
    number = errand.input["sheet"]

    def ready(tx: Tx) -> tuple[IdeaSheet, Columns, Known, list[SheetsOpenLines]]:
        sheet = find_sheet(tx, ctx, number)
        kept = errand.input.get("columns")
        # One that the release before began kept none.
        columns = (
            Columns.from_content(kept)
            if kept
            else columns_of(tx, sheet, tx.all(SheetsLines, "sheets.lines", sheet=number))
        )
        waiting = tx.all(SheetsOpenLines, "sheets.open_lines", sheet=number, most=LINES_A_PIECE, now=ctx.now)
        return sheet, columns, Known(tx), waiting

    sheet, columns, known, waiting = ctx.db.transact(ready)
    turn = Rows(ctx, SHEET_LINES)
    for row in waiting:
        key = f"{number}:{row.line}"
        act = partial(
            _bring_in, ctx=ctx, sheet=sheet, columns=columns, known=known, row=row, keep_facts=keep_facts
        )
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


def _fault(message: str) -> FreeObject:
    return {"field": "line", "column": "", "value": "", "message": message, "at": None, "cell": ""}


def _leave_out(tx: Tx, ctx: Ctx, sheet: int, line: int, key: str, why: str) -> None:
    """A line at which Tallyman itself failed again and again stays out, and says so beside the others."""
    if tx.value(str, "sheets.lock_line", sheet=sheet, line=line) == "open":
        message = f"Tallyman failed at this line {SHEET_LINES.most_tries} times ({why}). Enter it by hand."
        said = {"faults": [_fault(message)], "notes": []}
        tx.write("sheets.set_line", sheet=sheet, line=line, state="fault", idea=None, said=said)
        changed(tx, ctx, "sheets", sheet)
    tx.write("hitches.clear", work=SHEET_LINES.name, key=key)


def _bring_in(
    tx: Tx,
    ctx: Ctx,
    sheet: IdeaSheet,
    columns: Columns,
    known: Known,
    row: SheetsOpenLines,
    keep_facts: KeepFacts,
) -> None:
    """One line: comes in, is here already, stands twice, is in conflict, or stays out with its reasons."""
    at = {"sheet": sheet.id, "line": row.line}
    if tx.value(str, "sheets.lock_line", **at) != "open":
        return
    looked = looked_at(sheet, columns, known, row)
    faults, notes = list(looked.faults), list(looked.line.notes)
    state, idea = "fault", None
    if looked.comes:
        there = tx.one(SheetsOrigins, "sheets.origins", marks=(looked.line.mark,))
        if there is not None:
            same = tx.value(int, "sheets.line_of", sheet=sheet.id, idea=there.idea_id)
            state, idea = ("repeat" if same else "here"), there.idea_id
            notes.append(f"the same as line {same}" if same else f"came in before as {ref(idea)}")
            if row.choice != "same" and differing(looked.content, came_as(there)):
                state = "conflict"
        else:
            try:
                idea = _enter(tx, ctx, sheet, looked, row.line, keep_facts)
                state = "in"
            except (InputFaults, TallymanError) as error:
                # What was written for this line goes; the line itself is noted in its place.
                tx.write("sheets.back_to_line")
                faults += _said(sheet, error)
    said = {"faults": faults, "notes": notes}
    tx.write("sheets.set_line", **at, state=state, idea=idea, said=said)
    changed(tx, ctx, "sheets", sheet.id)


def _said(sheet: IdeaSheet, error: Exception) -> list[FreeObject]:
    if isinstance(error, InputFaults):
        return [fault_row(sheet, fault) for fault in error.faults]
    assert isinstance(error, TallymanError)
    return [_fault(f"{error.message} {error.mend}".strip())]


def _why(sheet: IdeaSheet, looked: Looked) -> str:
    line, match = looked.line, sheet.match
    why = f"from the spreadsheet {sheet.name}"
    why += f", number {line.number} there" if line.number else ""
    why += f", handed in on {day_said(date.fromisoformat(line.noted))}" if line.noted else ""
    return why + (f". {match['why']}" if match["why"] else "")


def _enter(tx: Tx, ctx: Ctx, sheet: IdeaSheet, looked: Looked, number: int, keep_facts: KeepFacts) -> int:
    tx.write("sheets.mark_line")
    line, match, names = looked.line, sheet.match, looked.names
    answers = line.answers | {name: names[name] for name in ("division", "owner", "knows") if name in names}
    entry = Entry(
        answers,
        stage="noted" if looked.stage in ("parked", "declined") else looked.stage,
        why=_why(sheet, looked),
        source="spreadsheet",
        proposer_id=names.get("proposer"),
        since=date.fromisoformat(line.since) if looked.stage == "in service" else None,
        handed_in_on=date.fromisoformat(line.noted) if line.noted else None,
        off=looked.stage if looked.stage in ("parked", "declined") else "",
        back_on=date.fromisoformat(match["back_on"]) if match.get("back_on") else None,
        declined_for=match.get("declined_for", ""),
    )
    idea = enter_in(tx, ctx, entry, f"sheet-{line.mark[:40]}")
    if line.facts:
        keep_facts(tx, ctx, find(tx, ctx, idea), line.facts, f"spreadsheet {sheet.name}, line {number}")
    try:
        tx.write("sheets.add_origin", mark=line.mark, idea=idea, content=looked.content, now=ctx.now)
    except Clash:
        raise Refused("Another list brings the same idea in just now.", "Go on once more.") from None
    return idea
