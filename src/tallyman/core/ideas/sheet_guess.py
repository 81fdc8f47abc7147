"""Which column of a list is which answer where its head does not say: told by what stands in it, and then
asked of a person before anything comes in."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from statistics import mean

from tallyman.core.ideas import sheet_cells, sheets
from tallyman.core.ideas.sheet_cells import Unreadable

HEAD_ROWS = 12
# Of a column's cells, how many have to be of a kind before the column is taken for it.
MOSTLY = 0.7
LOOKED_AT = 200
# Whether the first row is a head or an idea already.
HEAD = "head"
LONGEST_HEAD = 40
LONG_WORDS = 45
LONGEST_RHYTHM = 20


@dataclass(frozen=True)
class Guess:
    """Where the head is (None: there is none; counted from 0), which column is what, and which of these a
    person has to be asked about: fields told by content, and `head`."""

    head: int | None
    at: Mapping[str, int]
    asked: tuple[str, ...]


@dataclass(frozen=True)
class KnownNames:
    """Who and what the house knows by name, in small letters."""

    people: Collection[str] = frozenset()
    divisions: Collection[str] = frozenset()


Rows = Sequence[Sequence[str]]


def _column(rows: Rows, at: int) -> list[str]:
    cells = (row[at] for row in rows if at < len(row))
    return [sheet_cells.plain(cell) for cell in cells if not sheet_cells.is_empty(cell)][:LOOKED_AT]


def _reads(reader: Callable[[str], object]) -> Callable[[str], bool]:
    def can(cell: str) -> bool:
        try:
            reader(cell)
        except Unreadable:
            return False
        return True

    return can


def _volume(cell: str) -> object:
    """How many with some words for per what, which may be of another language."""
    words = sheet_cells.rhythm_words(cell)
    if not 0 < len(words) <= LONGEST_RHYTHM or sheet_cells.MONEY.search(cell) or _is_duration(cell):
        raise Unreadable("")
    mark = sheet_cells.decimal_mark([cell])
    return sheet_cells.read_volume(cell, None, mark, {words.lower(): "week"})


def _is_duration(cell: str) -> bool:
    return bool(re.search(r"\d\s*(?:h|hrs?|hours?|m|mins?|minutes?|minuten|s|secs?|%)\.?$", cell.lower()))


def _number(cell: str) -> object:
    return sheet_cells.read_number(cell, sheet_cells.decimal_mark([cell]))


def _minutes(cell: str) -> object:
    """Minutes that say their unit; a bare number could be anything."""
    if not any(mark in cell.lower() for mark in (":", "min", "h", "sec")):
        raise Unreadable("")
    return sheet_cells.read_minutes(cell, False, sheet_cells.decimal_mark([cell]))


def _day(cell: str) -> object:
    if cell.isdigit():
        raise Unreadable("")
    return sheet_cells.read_day(cell)


is_number, is_day = _reads(_number), _reads(_day)


def _typed(cell: str) -> str:
    if is_day(cell):
        return "day"
    if is_number(cell):
        return "number"
    return "mail" if "@" in cell and " " not in cell else "words"


def _is_head(row: Sequence[str], below: Rows) -> bool:
    """Whether a row heads those below it: its cells are words where theirs are numbers, days or mail
    addresses; where no column tells, whether they are short and none comes again below."""
    votes = 0
    for at, cell in enumerate(row):
        cells = _column(below, at)
        if sheet_cells.is_empty(cell) or not cells:
            continue
        kinds = [_typed(one) for one in cells]
        usual = max(set(kinds), key=kinds.count)
        if usual != "words" and kinds.count(usual) >= MOSTLY * len(kinds):
            votes += 1 if _typed(sheet_cells.plain(cell)) == "words" else -1
    if votes:
        return votes > 0
    return all(
        len(cell) <= LONGEST_HEAD and sheet_cells.plain(cell) not in _column(below, at)
        for at, cell in enumerate(row)
    )


def find_head(rows: Rows) -> tuple[int | None, bool]:
    """Which of the first rows is the head, None if there is none; and whether that is beyond doubt."""
    scores = [len(sheets.suggest(row)) for row in rows[:HEAD_ROWS]]
    best = max(scores, default=0)
    if best > 1:
        return scores.index(best), True
    first = next((n for n, row in enumerate(rows) if sum(bool(cell.strip()) for cell in row) > 1), 0)
    for at in (first, *([scores.index(best)] if best else [])):
        if at < len(rows) and _is_head(rows[at], rows[at + 1 :]):
            return at, False
    return None, False


def _tests(known: KnownNames) -> list[tuple[str, Callable[[str], bool]]]:
    """What tells a field by one of its cells, the surest first."""
    return [
        ("noted", is_day),
        ("owner", lambda cell: cell.lower() in known.people or ("@" in cell and " " not in cell)),
        ("division", lambda cell: cell.lower() in known.divisions),
        ("volume", _reads(_volume)),
        ("rhythm", lambda cell: bool(sheet_cells.rhythm_in(cell)) and not is_number(cell[:1])),
        ("minutes", _reads(_minutes)),
        ("state", _reads(sheet_cells.read_state)),
        ("arrives", lambda cell: not is_number(cell) and _reads(sheet_cells.read_arrives)(cell)),
    ]


def _by_kind(columns: Mapping[int, list[str]], known: KnownNames, taken: Collection[str]) -> dict[str, int]:
    found: dict[str, int] = {}
    for name, can in _tests(known):
        if name in taken:
            continue
        shares = {
            at: sum(map(can, cells)) / len(cells)
            for at, cells in columns.items()
            if cells and at not in found.values()
        }
        best = max(shares, key=lambda at: shares[at], default=None)
        if best is not None and shares[best] >= MOSTLY:
            found[name] = best
    return found


def _number_of_theirs(cells: Sequence[str], lines: int) -> bool:
    """Whether a column numbers the lines: short, of one form, and hardly any of them twice."""
    short = all(len(cell) <= 20 and " " not in cell and any(map(str.isdigit, cell)) for cell in cells)
    return short and len(cells) >= MOSTLY * lines and len(set(cells)) >= 0.9 * len(cells)


def by_content(heads: int, rows: Rows, known: KnownNames, there: Mapping[str, int]) -> dict[str, int]:
    """Which columns that no head explains are what, by what stands in them. `heads`: how many columns;
    `there`: what the heads said."""
    free = {at: _column(rows, at) for at in range(heads) if at not in there.values()}
    found = _by_kind(free, known, there)
    rest = {at: cells for at, cells in free.items() if cells and at not in found.values()}
    numbering = next((at for at, cells in rest.items() if _number_of_theirs(cells, len(rows))), None)
    if "number" not in there and numbering is not None:
        found["number"] = numbering
        del rest[numbering]
    worded = [at for at, cells in rest.items() if mean(map(_is_wordy, cells)) >= MOSTLY]
    by_length = sorted(worded, key=lambda at: mean(map(len, rest[at])))
    if by_length and "what" not in there and mean(map(len, rest[by_length[-1]])) > LONG_WORDS:
        found["what"] = by_length.pop()
    if "title" not in there:
        # A name is different in nearly every line, other words come again.
        distinct = [at for at in by_length if len(set(rest[at])) >= MOSTLY * len(rest[at])]
        if distinct:
            found["title"] = max(distinct, key=lambda at: mean(map(len, rest[at])))
        elif "what" in found:
            found["title"] = found.pop("what")
    return found


def _is_wordy(cell: str) -> bool:
    return " " in cell or (cell.isalpha() and len(cell) > 3)


def guess(rows: Rows, known: KnownNames, head: int | None = None, chosen: bool = False) -> Guess:
    """Looks at a page's rows. `head` and `chosen`: where a person said the head is."""
    sure = True
    if not chosen:
        head, sure = find_head(rows)
    below = [row for row in (rows if head is None else rows[head + 1 :]) if any(cell.strip() for cell in row)]
    width = max((len(row) for row in rows), default=0)
    named = {} if head is None else sheets.suggest(rows[head])
    told = by_content(width, below, known, named)
    # A description that only looks like one is of no use to be asked about where the heads said enough.
    if len(named) > 1 and "title" in named:
        told = {name: at for name, at in told.items() if name not in ("number", "state", "arrives", "owner")}
    return Guess(head, {**named, **told}, (*([] if sure else [HEAD]), *told))
