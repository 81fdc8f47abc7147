"""A list of ideas from a spreadsheet: which column is which answer, and what each line says."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import astuple, dataclass, field
from typing import Any

from rapidfuzz import fuzz

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.ideas import sheet_cells
from tallyman.core.ideas.questions import LONGEST_TEXT, LONGEST_TITLE
from tallyman.core.ideas.sheet_cells import Unreadable

# What a column can be: its words for people, and how such columns are headed.
FIELDS: dict[str, tuple[str, tuple[str, ...]]] = {
    "title": (
        "What the work is called",
        (
            "title",
            "name",
            "idea",
            "work",
            "process",
            "process name",
            "name of the work",
            "what is the work called",
            "subject",
            "task",
        ),
    ),
    "what": (
        "What happens in it",
        ("description", "what happens", "details", "what", "summary", "explanation"),
    ),
    "volume": (
        "How often it comes",
        ("volume", "how often", "how many", "vol", "number of cases", "items", "quantity", "count", "cases"),
    ),
    "rhythm": ("Per day, week, month …", ("rhythm", "per", "frequency", "period", "interval", "volume per")),
    "minutes": (
        "Minutes each",
        (
            "minutes",
            "minutes each",
            "handling time",
            "time",
            "time each",
            "duration",
            "effort per case",
            "hours each",
        ),
    ),
    "judge": ("Of ten, need judging", ("judge", "judgement", "need judging", "decisions needed")),
    "off": ("Of ten, off the usual way", ("off", "exceptions", "off the usual way", "errors")),
    "arrives": (
        "What it arrives as",
        ("arrives as", "input", "inputs", "kind of input", "comes as", "format"),
    ),
    "changed": ("Changed in the last year", ("changed", "changed last year", "changes")),
    "announced": ("Announced change", ("announced", "announced change", "planned change")),
    "division": (
        "Where it belongs",
        ("division", "department", "dept", "unit", "team", "belongs to", "area"),
    ),
    "owner": (
        "Who answers for it",
        ("owner", "work owner", "process owner", "responsible", "contact", "answers for it"),
    ),
    "knows": ("Who else knows it", ("expert", "who else knows", "knows it", "second contact")),
    "proposer": (
        "Who proposed it",
        ("proposer", "proposed by", "submitted by", "from", "author", "handed in by", "raised by"),
    ),
    "number": ("Its number over there", ("number", "no", "nr", "id", "reference", "ref", "key", "#")),
    "noted": (
        "Handed in on",
        ("date", "handed in", "submitted", "created", "submitted on", "date raised", "when"),
    ),
}
CLOSE_HEAD = 86
HOLDS = 88
# Words that say little in a head of several words.
GENERIC = frozenset(
    {"name", "no", "id", "from", "when", "what", "idea", "work", "per", "key", "date", "off", "area"}
)
FILLING = frozenset(
    {"in", "per", "a", "an", "the", "of", "each", "hour", "hours", "min", "mins", "h", "day", "week"}
    | {"month", "year", "quarter", "mail", "short"}
)
HEAD_ROWS = 12
NEEDED = ("title",)


def _plain(head: str) -> str:
    return " ".join(re.findall(r"[a-z0-9#]+", head.lower()))


def _likeness(head: str, words: Iterable[str]) -> float:
    """How alike a head and the words for a field are, 0–100; one that holds the words among others is
    nearly as good as one that is the same."""
    text = _plain(head)
    if not text:
        return 0
    kept = [word for word in text.split() if word not in FILLING]
    short = " ".join(kept) or text
    best = 0.0
    for word in (_plain(one) for one in words):
        best = max(best, fuzz.ratio(text, word), fuzz.token_sort_ratio(short, word))
        if word not in GENERIC and set(word.split()) <= set(text.split()):
            best = max(best, HOLDS + len(word) / 10)
    return best


def suggest(heads: Sequence[str]) -> dict[str, int]:
    """Which column is which field, by its head; each column and field at most once, the likest first."""
    found = sorted(
        (
            (-_likeness(head, (words, *names)), column, name)
            for column, head in enumerate(heads)
            for name, (words, names) in FIELDS.items()
        ),
    )
    match: dict[str, int] = {}
    for score, column, name in found:
        if -score < CLOSE_HEAD:
            break
        if name not in match and column not in match.values():
            match[name] = column
    return match


def head_row(rows: Sequence[Sequence[str]]) -> int:
    """Which of the first rows is the head: the one that names the most fields, the first row if none does."""
    scores = [len(suggest(row)) for row in rows[:HEAD_ROWS]]
    best = max(scores, default=0)
    return scores.index(best) if best else 0


def check_match(match: Mapping[str, Any], columns: int) -> dict[str, int]:
    """A match as somebody chose it. Raises InputFaults."""
    faults = [unknown_word("match", name, FIELDS) for name in match if name not in FIELDS]
    kept = {name: column for name, column in match.items() if column is not None and name in FIELDS}
    for name, column in kept.items():
        if not isinstance(column, int) or not 0 <= column < columns:
            faults.append(Fault(name, column, f"there is no such column; choose one of {columns}"))
        elif list(kept.values()).count(column) > 1:
            faults.append(Fault(name, column, "this column is taken for something else as well; choose one"))
    faults += [
        Fault(name, None, f"choose the column for “{FIELDS[name][0]}”") for name in NEEDED if name not in kept
    ]
    if faults:
        raise InputFaults(faults)
    return kept


@dataclass(frozen=True)
class Columns:
    """A match with how each of its columns is written."""

    at: Mapping[str, int]
    habits: Mapping[str, sheet_cells.Habits]
    rhythm: str | None
    hours: bool

    @staticmethod
    def of(match: Mapping[str, int], heads: Sequence[str], rows: Sequence[Sequence[str]]) -> Columns:
        """Looks through the columns for how numbers and days are written in them."""
        habits = {}
        for name, column in match.items():
            values = [row[column] for row in rows if column < len(row)]
            habits[name] = sheet_cells.Habits(sheet_cells.decimal_mark(values), sheet_cells.day_first(values))
        head = heads[match["volume"]] if "volume" in match else ""
        minutes = heads[match["minutes"]] if "minutes" in match else ""
        hours = bool(re.search(r"\b(hours?|hrs?|h)\b", minutes.lower())) and "min" not in minutes.lower()
        return Columns(match, habits, sheet_cells.rhythm_in(head), hours)

    def as_content(self) -> dict[str, Any]:
        """In the form in which they are kept, so that a whole list need not be looked through again."""
        habits = {name: list(astuple(one)) for name, one in self.habits.items()}
        return {"at": dict(self.at), "habits": habits, "rhythm": self.rhythm, "hours": self.hours}

    @staticmethod
    def from_content(content: Mapping[str, Any]) -> Columns:
        """From their kept form."""
        habits = {name: sheet_cells.Habits(*one) for name, one in content["habits"].items()}
        return Columns(content["at"], habits, content["rhythm"], content["hours"])


@dataclass
class Line:
    """What a line says: the answers that can be read, the names to look up, faults by field, and notes."""

    answers: dict[str, Any] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    number: str = ""
    noted: str = ""
    faults: list[Fault] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    @property
    def mark(self) -> str:
        """What tells this idea from others, wherever it comes from again: its number over there, or else
        its title and description."""
        said = f"number {self.number.lower()}"
        if not self.number:
            said = "\n".join(_plain(str(self.answers.get(key, ""))) for key in ("title", "what"))
        return hashlib.sha256(said.encode()).hexdigest()


def blank(row: Sequence[str]) -> bool:
    """Whether a row holds nothing."""
    return all(sheet_cells.is_empty(cell) for cell in row)


def read_line(row: Sequence[str], columns: Columns) -> Line:
    """Reads a row; what cannot be read is a fault that names the field, its value and the mend."""
    line = Line()

    def cell(name: str) -> str:
        at = columns.at.get(name)
        return "" if at is None or at >= len(row) or sheet_cells.is_empty(row[at]) else row[at]

    _read_words(line, cell("title"), cell("what"))
    rhythm = None
    if cell("rhythm"):
        rhythm = sheet_cells.rhythm_in(cell("rhythm"))
        if rhythm is None:
            message = "is no rhythm we know; write day, week, month, quarter or year"
            line.faults.append(Fault("rhythm", sheet_cells.plain(cell("rhythm"))[:80], message))
    for name in ("volume", "minutes", "judge", "off", "arrives", "changed", "announced", "noted"):
        text = cell(name)
        if not text:
            continue
        try:
            value = _value(name, text, columns, rhythm)
        except Unreadable as error:
            line.faults.append(Fault(name, sheet_cells.plain(text)[:80], str(error)))
            continue
        if name == "noted":
            line.noted = value
        else:
            line.answers[name] = value
    line.names = {
        name: sheet_cells.plain(cell(name))[:200]
        for name in ("division", "owner", "knows", "proposer")
        if cell(name)
    }
    line.number = sheet_cells.plain(cell("number"))[:80]
    return line


def _read_words(line: Line, title: str, what: str) -> None:
    name = sheet_cells.plain(title)
    if not name:
        line.faults.append(Fault("title", "", "is empty; an idea needs a name"))
    elif len(name) > LONGEST_TITLE:
        line.notes.append(
            f"the name has {len(name)} characters; it is cut after {LONGEST_TITLE}, and stands whole in "
            "the description"
        )
        what = f"{name}. {what}"
        name = name[: LONGEST_TITLE - 1].rstrip() + "…"
    said = "\n".join(sheet_cells.plain(part) for part in what.splitlines() if part.strip())
    if len(said) > LONGEST_TEXT:
        line.faults.append(
            Fault("what", said[:40] + "…", f"has {len(said)} characters; up to {LONGEST_TEXT}")
        )
    if name and not said:
        line.notes.append("no description; the name stands for it")
    if name:
        line.answers["title"] = name
        line.answers["what"] = said[:LONGEST_TEXT] or name


def _value(name: str, text: str, columns: Columns, rhythm: str | None) -> Any:
    habit = columns.habits[name]
    if name == "volume":
        return sheet_cells.read_volume(text, rhythm or columns.rhythm, habit.decimal)
    if name == "minutes":
        return sheet_cells.read_minutes(text, columns.hours, habit.decimal)
    if name in ("judge", "off"):
        return sheet_cells.read_of_ten(text, habit.decimal)
    if name == "noted":
        return sheet_cells.read_day(text, habit.day_first).isoformat()
    return sheet_cells.READERS[name](text)
