"""Answers about lists of ideas that somebody brings: their columns, words and lines."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

__all__ = [
    "Differs",
    "LineFault",
    "ReadCell",
    "SheetColumn",
    "SheetField",
    "SheetLine",
    "SheetOut",
    "SheetWord",
    "Way",
]


@dataclass(frozen=True, slots=True)
class ReadCell:
    """A cell of a column as it came, and as it is read; or why it cannot be."""

    theirs: str
    ours: str
    fault: str


@dataclass(frozen=True, slots=True)
class Way:
    """How a column is read: its decimal mark, rhythm, unit or order of days; `chosen`: somebody said so."""

    name: str
    value: str | None
    choices: list[str]
    chosen: bool


@dataclass(frozen=True, slots=True)
class SheetColumn:
    """A column of a list: its head, what it stands for, what is read in it, how many cells say something,
    and in how many lines it cannot be read."""

    head: str
    field: str
    read: list[ReadCell]
    filled: int
    unread: int
    ways: list[Way]


@dataclass(frozen=True, slots=True)
class SheetField:
    """What a column can be."""

    value: str
    words: str
    needed: bool


@dataclass(frozen=True, slots=True)
class SheetWord:
    """A word of theirs, in how many lines it stands, and what it stands for here: `how` is *said* by
    somebody, *read* by its likeness, or empty where nothing is known; then `near` may be meant."""

    of: str
    theirs: str
    lines: int
    ours: str | None
    words: str
    how: str
    near: str


@dataclass(frozen=True, slots=True)
class LineFault:
    """What is wrong with a line: the column (`at`, from 0) and the whole text of its cell, to be mended."""

    field: str
    column: str
    value: str
    message: str
    at: int | None
    cell: str


@dataclass(frozen=True, slots=True)
class Differs:
    """Where a line says otherwise than another of its number or name."""

    field: str
    theirs: str
    ours: str


@dataclass(frozen=True, slots=True)
class SheetLine:
    """A line of a list, and what becomes of it: in, here, repeat, conflict or fault. `raw` is the text of
    one that does not fit its head; `stage` is where it begins."""

    line: int
    title: str
    state: str
    idea: int | None
    faults: list[LineFault]
    notes: list[str]
    open: bool
    raw: str
    mended: bool
    choice: str | None
    differs: list[Differs]
    stage: str


@dataclass(frozen=True, slots=True)
class SheetOut:
    """A list that was brought: its columns, the match, and what would become of each line. `asked` names
    what was told by the contents and nobody has said right yet; `above` are the rows down to the head."""

    id: int
    name: str
    page: str
    pages: list[str]
    head_row: int
    above: list[list[str]]
    columns: list[SheetColumn]
    match: dict[str, int]
    asked: list[str]
    fields: list[SheetField]
    words: list[SheetWord]
    more_words: int
    # What words can stand for, by what they are of; people and divisions are chosen among all.
    ours: dict[str, list[str]]
    stage: str
    why: str
    back_on: date | None
    declined_for: str
    decline_reasons: list[str]
    without_people: bool
    without_values: bool
    ends_early: bool
    lines: list[SheetLine]
    counts: dict[str, int]
    stages: dict[str, int]
    total: int
    limits: list[str]
    version: int
    errand: int | None
    errand_state: str | None
    errand_done: int
    errand_words: str
