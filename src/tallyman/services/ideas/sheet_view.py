"""A list as its page shows it: columns with what is read in them, words of theirs with ours, its lines."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence

from tallyman.core.ideas import READINESS, sheet_cells, sheet_lines
from tallyman.core.ideas.factors import ANNOUNCED, CHANGED
from tallyman.core.ideas.sheet_cells import Unreadable
from tallyman.core.ideas.sheet_guess import HEAD
from tallyman.core.ideas.sheet_lines import WORDS_OF, Columns, said_as_read
from tallyman.core.ideas.sheets import FIELDS, NEEDED
from tallyman.core.ideas.way import DECLINE_REASONS
from tallyman.core.volume import RHYTHMS
from tallyman.services.ideas import sheet_looks
from tallyman.services.ideas.answers_of_lists import (
    ReadCell,
    SheetColumn,
    SheetField,
    SheetLine,
    SheetOut,
    SheetWord,
    Way,
)
from tallyman.services.ideas.sheet_looks import Known
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeaSheet, SheetsLines

# What words of theirs can be matched to, where it is one of a few.
OURS: Mapping[str, Sequence[str]] = {
    "kind": tuple(READINESS),
    "state": sheet_lines.STATES,
    "rhythm": tuple(RHYTHMS),
    "changed": tuple(CHANGED),
    "announced": tuple(ANNOUNCED),
}
# What a line comes to.
STATES = ("in", "here", "repeat", "conflict", "fault")
SHOWN_CELLS = 4
MOST_WORDS = 300
# Words that are shown with what they are read as; of whole cells, so that a long text is none of them.
LONGEST_WORD = 120


def shown(tx: Tx, sheet: IdeaSheet, rows: list[SheetsLines]) -> SheetOut:
    """A list with its columns and what would become of each line; nothing has come in by looking."""
    match, head = sheet.match, sheet.head
    known, columns = Known(tx), sheet_looks.columns_of(tx, sheet, rows)
    looked = "title" in match["columns"]
    lines = sheet_looks.dry_run(tx, sheet, rows, columns, known) if looked else []
    states = [row.state for row in lines]
    allowed = sheet_looks.switches(match)
    words = list(_words(rows, columns, known))
    return SheetOut(
        id=sheet.id,
        name=sheet.name,
        page=sheet.page,
        pages=head["pages"],
        head_row=head["row"],
        above=head.get("above", []),
        columns=[_column(sheet, rows, lines, columns, at) for at in range(len(head["heads"]))],
        match=match["columns"],
        asked=match.get("asked", []),
        fields=[SheetField(value=key, words=said, needed=key in NEEDED) for key, (said, _) in FIELDS.items()],
        words=words[:MOST_WORDS],
        more_words=max(0, len(words) - MOST_WORDS),
        ours={of: list(names) for of, names in OURS.items()},
        stage=match["stage"],
        why=match["why"],
        back_on=match.get("back_on") or None,
        declined_for=match.get("declined_for", ""),
        decline_reasons=list(DECLINE_REASONS),
        without_people=allowed["people"],
        without_values=allowed["values"],
        ends_early=allowed["early"],
        lines=lines,
        counts={state: states.count(state) for state in STATES},
        stages=dict(Counter(line.stage for line in lines if line.open and line.state == "in")),
        total=len(rows),
        limits=head.get("limits", []),
        version=sheet.version,
        errand=sheet.errand_id,
        errand_state=sheet.errand_state,
        errand_done=sheet.errand_done or 0,
        errand_words=sheet.errand_words or "",
    )


def _cells(rows: list[SheetsLines], at: int) -> Iterator[str]:
    for row in rows:
        if not row.broken and at < len(row.cells) and not sheet_cells.is_empty(row.cells[at]):
            yield row.cells[at]


def _column(
    sheet: IdeaSheet, rows: list[SheetsLines], lines: list[SheetLine], columns: Columns, at: int
) -> SheetColumn:
    name = next((key for key, column in sheet.match["columns"].items() if column == at), "")
    cells = list(_cells(rows, at))
    distinct = list(dict.fromkeys(cells))
    unread = [fault for line in lines for fault in line.faults if fault.at == at and fault.cell]
    # One that cannot be read is worth more than a fourth that can.
    samples = [*distinct[: SHOWN_CELLS - bool(unread)], *[fault.cell for fault in unread[:1]]]
    return SheetColumn(
        head=sheet.head["heads"][at],
        field=name,
        read=list(_apart(_read(name, cell, columns) for cell in dict.fromkeys(samples))),
        filled=len(cells),
        unread=len(unread),
        ways=_ways(sheet, columns, name),
    )


def _apart(cells: Iterable[ReadCell]) -> Iterator[ReadCell]:
    """Cells that show something each: one of those that fail for the same reason is enough."""
    said = set()
    for cell in cells:
        if cell.fault not in said:
            yield cell
        said.add(cell.fault or None)


def _read(name: str, cell: str, columns: Columns) -> ReadCell:
    theirs = sheet_cells.plain(cell)[:LONGEST_WORD]
    if not name:
        return ReadCell(theirs=theirs, ours="", fault="")
    try:
        said = said_as_read(name, cell, columns)
    except Unreadable as error:
        return ReadCell(theirs=theirs, ours="", fault=str(error))
    return ReadCell(theirs=theirs, ours=said[:LONGEST_WORD], fault="")


def _ways(sheet: IdeaSheet, columns: Columns, name: str) -> list[Way]:
    said = sheet.match.get("ways", {}).get(name, {})
    return [
        Way(name=way, value=value, choices=list(sheet_lines.WAYS[way]), chosen=way in said)
        for way, value in (columns.ways(name) if name else {}).items()
    ]


def _said_in(field: str, cell: str) -> list[str]:
    """The words in a cell that have to be matched to ours: of kinds and volumes the parts that are words."""
    if field == "arrives":
        return [words for words, _ in sheet_cells.kinds_in(cell)]
    if field == "volume":
        return [words for words in [sheet_cells.rhythm_words(cell)] if words]
    return [sheet_cells.plain(cell)]


def _words(rows: list[SheetsLines], columns: Columns, known: Known) -> Iterator[SheetWord]:
    """Every word of theirs that stands for one of ours, those that say nothing yet first."""
    counts: dict[tuple[str, str], int] = {}
    written: dict[tuple[str, str], str] = {}
    for field, at in columns.at.items():
        of = "rhythm" if field == "volume" else WORDS_OF.get(field)
        if of is None:
            continue
        for cell in _cells(rows, at):
            for word in _said_in(field, cell):
                key = (of, word.lower())
                counts[key] = counts.get(key, 0) + 1
                written.setdefault(key, word)
    found = [_word(of, written[of, low], counts[of, low], columns, known) for of, low in counts]
    yield from sorted(found, key=lambda one: (one.how != "", one.of, -one.lines, one.theirs.lower()))


def _word(of: str, theirs: str, lines: int, columns: Columns, known: Known) -> SheetWord:
    said = columns.words.get(of, {}).get(theirs.lower())
    if said is not None:
        return SheetWord(of, theirs[:LONGEST_WORD], lines, str(said), _ours(of, said, known), "said", "")
    if of in ("person", "division"):
        number = known.table(of).get(theirs.lower())
        if number is not None:
            return SheetWord(
                of, theirs[:LONGEST_WORD], lines, str(number), known.named[of][number], "read", ""
            )
        near = known.near(of, theirs)
        hint = str(known.table(of)[near]) if near else ""
        return SheetWord(
            of, theirs[:LONGEST_WORD], lines, None, known.named[of].get(int(hint or 0), ""), "", hint
        )
    read = _read_word(of, theirs)
    return SheetWord(of, theirs[:LONGEST_WORD], lines, read, read or "", "read" if read else "", "")


def _ours(of: str, said: str | int, known: Known) -> str:
    if said == "":
        return "left empty"
    if of in known.named:
        return known.named[of].get(int(said), "")
    return "stays out" if said == sheet_lines.OUT else str(said)


def _read_word(of: str, theirs: str) -> str | None:
    reader = {
        "kind": sheet_cells.kind_of,
        "state": sheet_cells.read_state,
        "changed": sheet_cells.read_changed,
        "announced": sheet_cells.read_announced,
        "rhythm": sheet_cells.rhythm_in,
    }[of]
    try:
        return reader(theirs)
    except Unreadable:
        return None


def asks(sheet: IdeaSheet) -> list[str]:
    """What was told by the contents and still has to be said right, in words."""
    words = {HEAD: "where the head is"} | {key: said for key, (said, _) in FIELDS.items()}
    return [words.get(name, name) for name in sheet.match.get("asked", [])]
