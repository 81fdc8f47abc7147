"""What would become of each line of a list: read, looked up, compared with what is here. Nothing comes in
by looking, and nothing comes in that was looked at otherwise."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from rapidfuzz import process

from tallyman.core.faults import Fault
from tallyman.core.free import Free, FreeObject
from tallyman.core.ideas import sheet_guess, sheet_lines
from tallyman.core.ideas.sheet_lines import FACTS, OUT, PEOPLE, Columns, Line, differing
from tallyman.core.ideas.sheets import FIELDS
from tallyman.core.ideas.way import StageRule
from tallyman.services.context import company_of
from tallyman.services.ideas import rules
from tallyman.services.ideas.answers_of_lists import Differs, LineFault, SheetLine
from tallyman.services.ideas.base import ref
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    IdeaSheet,
    SheetsLines,
    SheetsOneLine,
    SheetsOpenLines,
    SheetsOrigins,
    SheetsPeople,
)
from tallyman.store.records.people import PeopleDivisions

NEAR_NAME = 75
# Faults with which no line comes in, whatever the switches say.
NEVER = ("title", "what", "row", "line")
# What a fact is called where its column is matched.
FIELD_OF = {fact: name for name, fact in FACTS.items()}
AnyLine = SheetsLines | SheetsOpenLines | SheetsOneLine


class Known:
    """What lines may name: divisions and people; and what the house needs of a stage."""

    def __init__(self, tx: Tx) -> None:
        places = tx.all(PeopleDivisions, "people.divisions")
        own = Counter(row.own.lower() for row in places)
        self.divisions = {row.own.lower(): row.id for row in places if own[row.own.lower()] == 1}
        self.divisions |= {row.name.lower(): row.id for row in places}
        people = tx.all(SheetsPeople, "sheets.people")
        names = Counter(row.name.lower() for row in people)
        self.people = {row.name.lower(): row.id for row in people if names[row.name.lower()] == 1}
        self.people |= {row.email.lower(): row.id for row in people}
        self.named = {"person": {row.id: row.name for row in people}}
        self.named["division"] = {row.id: row.name for row in places}
        self.stages: Mapping[str, StageRule] = rules.stage_rules(tx)

    def names(self) -> sheet_guess.KnownNames:
        """Who and what is known by name."""
        return sheet_guess.KnownNames(self.people.keys(), self.divisions.keys())

    def table(self, of: str) -> dict[str, int]:
        """The numbers of divisions or people by name in small letters."""
        return self.divisions if of == "division" else self.people

    def near(self, of: str, text: str) -> str | None:
        """The name that is most like a text, if one is."""
        found = process.extractOne(text.lower(), list(self.table(of)), score_cutoff=NEAR_NAME)
        return found[0] if found else None

    def look_up(self, line: Line, columns: Columns) -> dict[str, int]:
        """The divisions and people that a line names; who is not known is a fault of the line."""
        found = {}
        for name, text in line.names.items():
            of = sheet_lines.WORDS_OF[name]
            said = columns.ours(name, text)
            number = said if said in self.named[of] else self.table(of).get(text.lower())
            if number is None:
                near = self.near(of, text)
                hint = f"did you mean {near!r}? " if near else ""
                what = "division" if of == "division" else "person"
                line.faults.append(Fault(name, text[:80], f"{hint}there is no such {what} here"))
            else:
                found[name] = number
        return found

    def lacking(self, stage: str, there: Collection[str]) -> list[Fault]:
        """What the house needs before an idea gets to a stage, and a line does not give."""
        rule = self.stages.get(stage)
        needs = [key for key in (rule.needs if rule else ()) if key not in there]
        words = {key: rules.CAN_NEED[key] for key in needs}
        return [Fault(key, "", f"is needed of what begins as {stage}: {words[key]}") for key in needs]


@dataclass
class Looked:
    """A line as read: whom it names, where it begins, what is wrong with it, and whether it can come in."""

    line: Line
    names: dict[str, int]
    stage: str
    faults: list[FreeObject]
    comes: bool
    # Left out on purpose, by what was said of its state.
    out: bool = False
    content: dict[str, str] = field(default_factory=dict)


def columns_of(tx: Tx, sheet: IdeaSheet, rows: list[SheetsLines]) -> Columns:
    """How the columns of a list are read: as somebody said, otherwise as their cells tell."""
    match = sheet.match
    return Columns.of(
        match["columns"],
        sheet.head["heads"],
        [row.cells for row in rows if not row.broken],
        match.get("ways"),
        match.get("words"),
        company_of(tx).currency,
    )


def switches(match: FreeObject) -> dict[str, bool]:
    """Whether lines come in without people that are not known, without what cannot be read, and whether
    rows that end early do."""
    before = bool(match.get("lenient"))
    return {
        "people": bool(match.get("without_people", before)),
        "values": bool(match.get("without_values", before)),
        "early": bool(match.get("ends_early")),
    }


def fault_row(sheet: IdeaSheet, fault: Fault, row: AnyLine | None = None) -> FreeObject:
    """A fault with its column, and the whole text of its cell."""
    at = sheet.match["columns"].get(FIELD_OF.get(fault.field, fault.field))
    heads = sheet.head["heads"]
    column = (heads[at] or f"column {at + 1}") if at is not None and at < len(heads) else ""
    cell = row.cells[at] if row is not None and at is not None and at < len(row.cells) else ""
    return {
        "field": fault.field,
        "column": column or fault.field,
        "value": str(fault.value or ""),
        "message": fault.message,
        "at": at,
        "cell": cell,
    }


def _broken(row: AnyLine, early: bool) -> Fault | None:
    """How a row does not fit its head; one that ends early is right where somebody said so."""
    said = row.broken
    if not said or (said["why"] == "short" and early):
        return None
    words = sheet_lines.BROKEN[said["why"]].format(there=said["there"], wanted=said["wanted"])
    return Fault("row", said["raw"][:80], words)


def looked_at(sheet: IdeaSheet, columns: Columns, known: Known, row: AnyLine) -> Looked:
    """Reads a line with all its faults."""
    allowed = switches(sheet.match)
    wrong = _broken(row, allowed["early"])
    if wrong is not None:
        # Where its cells end is not known, so nothing it seems to say is taken for said.
        return Looked(Line(), {}, "", [fault_row(sheet, wrong, row)], False)
    line = sheet_lines.read_line(row.cells, columns)
    line.another = row.choice == "another"
    names = known.look_up(line, columns)
    stage = line.state or sheet.match["stage"]
    if stage == OUT:
        said = Fault("state", _cell(sheet, row, "state"), "stays out: so you said of this state")
        return Looked(line, names, stage, [fault_row(sheet, said, row)], False, out=True)
    faults = list(line.faults)
    must = [fault for fault in faults if fault.field in NEVER]
    if stage == "in service" and not line.since:
        must.append(Fault("since", "", "say since when it runs: match the column that says it"))
    needed_at = "noted" if stage in ("parked", "declined") else stage
    must += known.lacking(needed_at, {*line.answers, *names, *line.facts})
    faults += [fault for fault in must if fault not in faults]
    people = any(fault.field in PEOPLE for fault in faults)
    values = any(fault.field not in PEOPLE for fault in faults)
    comes = not must and (not people or allowed["people"]) and (not values or allowed["values"])
    return Looked(
        line, names, stage, [fault_row(sheet, fault, row) for fault in faults], comes, content=line.content
    )


def _cell(sheet: IdeaSheet, row: AnyLine, name: str) -> str:
    at = sheet.match["columns"].get(name)
    return str(row.cells[at]) if at is not None and at < len(row.cells) else ""


def came_as(origin: SheetsOrigins) -> dict[str, str]:
    """What an idea said when it came in; of one from before that was kept, what it is called now."""
    kept: dict[str, str] | None = origin.content
    return kept if kept is not None else {"title": origin.title, "what": " ".join(origin.what.split())}


def differs_said(differing_fields: Mapping[str, tuple[str, str]]) -> list[Differs]:
    """Where two of one number say otherwise, in words."""
    return [
        Differs(field=_field_words(name), theirs=one, ours=other)
        for name, (one, other) in differing_fields.items()
    ]


def _field_words(name: str) -> str:
    return FIELDS[FIELD_OF.get(name, name)][0]


@dataclass
class _Seen:
    """The first line of a mark in this list: its number and what it says."""

    line: int
    content: dict[str, str]


def dry_run(
    tx: Tx, sheet: IdeaSheet, rows: list[SheetsLines], columns: Columns, known: Known
) -> list[SheetLine]:
    """What becomes of each line, or became."""
    read = [(row, looked_at(sheet, columns, known, row)) for row in rows]
    marks = tuple(looked.line.mark for _, looked in read) or ("",)
    origins = {row.mark: row for row in tx.all(SheetsOrigins, "sheets.origins", marks=marks)}
    first: dict[str, _Seen] = {}
    return [_becomes(row, looked, origins, first) for row, looked in read]


def _becomes(
    row: SheetsLines, looked: Looked, origins: Mapping[str, SheetsOrigins], first: dict[str, _Seen]
) -> SheetLine:
    line, mark = looked.line, looked.line.mark
    faults, notes, idea = looked.faults, list(line.notes), row.idea_id
    unlike: dict[str, tuple[str, str]] = {}
    # What stayed out is looked at by the match of now; what came in is not touched again.
    if row.state not in ("open", "fault", "conflict"):
        state = str(row.state)
        said = row.said or {}
        faults, notes = said.get("faults", faults), said.get("notes", notes)
    elif not looked.comes:
        state = "fault"
    elif row.state == "fault" and _refused(row):
        state, faults = "fault", row.said["faults"]
    elif mark in origins:
        state, idea, unlike = "here", origins[mark].idea_id, differing(looked.content, came_as(origins[mark]))
        notes.append(f"came in before as {ref(idea)} {origins[mark].title}")
    elif mark in first:
        state, unlike = "repeat", differing(looked.content, first[mark].content)
        notes.append(f"the same as line {first[mark].line}")
    else:
        state = "in"
    if unlike and row.choice != "same":
        state = "conflict"
        notes[-1] = notes[-1].replace("the same as", "the number or name of", 1)
    if looked.comes:
        first.setdefault(mark, _Seen(row.line, looked.content))
    open_now = row.state == "open" or (row.state in ("fault", "conflict") and looked.comes)
    return SheetLine(
        line=row.line,
        title=str(line.answers.get("title", ""))[:120],
        state=state,
        idea=idea,
        faults=[_as_fault(fault) for fault in faults],
        notes=notes,
        open=open_now and state != "conflict",
        raw=row.broken["raw"] if row.broken else "",
        mended=row.came is not None,
        choice=row.choice,
        differs=differs_said(unlike) if state == "conflict" or row.choice == "same" else [],
        stage=looked.stage,
    )


def _as_fault(given: Mapping[str, Free]) -> LineFault:
    """A fault as kept; those of the release before kept no cell."""
    return LineFault(**{"at": None, "cell": "", **given})


def _refused(row: SheetsLines) -> bool:
    """Whether a line stayed out for something that stands not in the line itself."""
    return any(fault["field"] == "line" for fault in (row.said or {}).get("faults", ()))
