"""What a line of a list says: its answers, the names to look up, what goes beside them, and every fault."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.faults import Fault, InputFaults
from tallyman.core.ideas import sheet_cells
from tallyman.core.ideas.questions import LONGEST_TEXT, LONGEST_TITLE, check_answer
from tallyman.core.ideas.sheet_cells import Habits, Unreadable
from tallyman.core.ideas.sheets import FIELDS, plain_words
from tallyman.core.volume import RHYTHMS

PEOPLE = ("owner", "knows", "proposer")
# Which table of words a field's words are matched by; people are the same people in each column.
WORDS_OF = {
    **dict.fromkeys(PEOPLE, "person"),
    "division": "division",
    "arrives": "kind",
    "state": "state",
    "rhythm": "rhythm",
    "changed": "changed",
    "announced": "announced",
}
# What a state over there can be here: where an idea begins, or that its line stays out.
OUT = "out"
STATES = ("noted", "screened", "in service", "parked", "declined", OUT)
# What can be said of how a column is written.
WAYS: dict[str, tuple[str, ...]] = {
    "decimal": (".", ","),
    "rhythm": tuple(RHYTHMS),
    "unit": ("minutes", "hours"),
    "days": ("day first", "month first"),
}
WAYS_OF = {
    "volume": ("rhythm", "decimal"),
    "minutes": ("unit", "decimal"),
    "judge": ("decimal",),
    "off": ("decimal",),
    "rework": ("decimal",),
    "hour_cost": ("decimal",),
    "cost": ("decimal",),
    "noted": ("days",),
    "since": ("days",),
}
# Fields that become facts of sizing and case, with the fact they become.
FACTS = {"rework": "rework_share", "hour_cost": "cost_per_hour", "cost": "one_time_other"}
ANSWERS = ("volume", "minutes", "judge", "off", "arrives", "changed", "announced")
DAYS = ("noted", "since")
BROKEN = {
    "short": "has {there} cells where the head has {wanted}: cells may have slid",
    "long": "has {there} cells where the head has {wanted}: a mark that parts columns stands within a cell",
    "unclosed": "opens a quotation mark that is not closed: where its cells end cannot be told",
}

Words = Mapping[str, Mapping[str, Any]]


@dataclass(frozen=True)
class Columns:
    """A match, how each of its columns is written, and what words of theirs stand for."""

    at: Mapping[str, int]
    habits: Mapping[str, Habits]
    rhythm: str | None
    hours: bool
    words: Words = field(default_factory=dict)
    currency: str = "EUR"

    @staticmethod
    def of(
        match: Mapping[str, int],
        heads: Sequence[str],
        rows: Sequence[Sequence[str]],
        ways: Mapping[str, Mapping[str, str]] | None = None,
        words: Words | None = None,
        currency: str = "EUR",
    ) -> Columns:
        """Looks through the columns for how numbers and days are written in them; what somebody said of
        a column (`ways`) counts before."""
        ways = ways or {}
        habits = {}
        cells = {name: [row[at] for row in rows if at < len(row)] for name, at in match.items()}
        votes = [
            sheet_cells.decimal_votes(cells[name]) for name in match if "decimal" in WAYS_OF.get(name, ())
        ]
        # A column that leaves doubt is written as the others of its list are.
        usual = "," if sum(commas for _, commas in votes) > sum(points for points, _ in votes) else "."
        for name, values in cells.items():
            said = ways.get(name, {})
            decimal = said.get("decimal") or sheet_cells.decimal_mark(values, usual)
            days = said.get("days") or ("day first" if sheet_cells.day_first(values) else "month first")
            habits[name] = Habits(decimal, days == "day first")
        head = heads[match["volume"]] if "volume" in match else ""
        rhythm = ways.get("volume", {}).get("rhythm") or sheet_cells.rhythm_in(head)
        unit = ways.get("minutes", {}).get("unit")
        minutes = heads[match["minutes"]].lower() if "minutes" in match else ""
        hours = bool(re.search(r"\b(hours?|hrs?|h)\b", minutes)) and "min" not in minutes
        return Columns(match, habits, rhythm, unit == "hours" if unit else hours, words or {}, currency)

    def ways(self, name: str) -> dict[str, str | None]:
        """How a column is read."""
        habit = self.habits[name]
        all_ways = {
            "decimal": habit.decimal,
            "rhythm": self.rhythm,
            "unit": "hours" if self.hours else "minutes",
            "days": "day first" if habit.day_first else "month first",
        }
        return {way: all_ways[way] for way in WAYS_OF.get(name, ())}

    def as_content(self) -> dict[str, Any]:
        """In the form in which they are kept, so that a whole list need not be looked through again."""
        habits = {name: [one.decimal, one.day_first] for name, one in self.habits.items()}
        return {**asdict(replace(self, habits={})), "habits": habits}

    @staticmethod
    def from_content(content: Mapping[str, Any]) -> Columns:
        """From their kept form."""
        habits = {name: Habits(*one) for name, one in content["habits"].items()}
        # One that the release before began kept neither words nor currency.
        later = {name: content[name] for name in ("words", "currency") if name in content}
        return Columns(content["at"], habits, content["rhythm"], content["hours"], **later)

    def ours(self, field_name: str, text: str) -> Any:
        """What somebody said that a word of theirs stands for; None: nothing was said, "": left empty."""
        return self.words.get(WORDS_OF.get(field_name, ""), {}).get(sheet_cells.plain(text).lower())


@dataclass
class Line:
    """What a line says: the answers that can be read, the names to look up, facts beside the answers, its
    state here, faults by field, and notes."""

    answers: dict[str, Any] = field(default_factory=dict)
    names: dict[str, str] = field(default_factory=dict)
    facts: dict[str, str] = field(default_factory=dict)
    number: str = ""
    noted: str = ""
    since: str = ""
    state: str = ""
    faults: list[Fault] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    # Set for one that looks like another and is an idea of its own all the same.
    another: bool = False

    @property
    def mark(self) -> str:
        """What tells this idea from others, wherever it comes from again: its number over there, or else
        its title and description; with all it says where a person said that it is another one."""
        said = f"number {self.number.lower()}"
        if not self.number:
            said = "\n".join(plain_words(str(self.answers.get(key, ""))) for key in ("title", "what"))
        if self.another:
            said += "\nanother\n" + "\n".join(f"{key} {value}" for key, value in sorted(self.content.items()))
        return hashlib.sha256(said.encode()).hexdigest()

    @property
    def content(self) -> dict[str, str]:
        """What it says by field, in one form each, to be compared with another of the same number or name."""
        answers = {key: _said(value) for key, value in self.answers.items()}
        names = {key: value.lower() for key, value in self.names.items()}
        days = {"noted": self.noted, "since": self.since, "state": self.state}
        return {**answers, **names, **self.facts, **{key: value for key, value in days.items() if value}}


def _said(value: Any) -> str:
    if isinstance(value, dict):
        return f"{value['amount']} a {value['rhythm']}"
    if isinstance(value, list):
        return ", ".join(f"{row['kind']} {row['part']}" for row in value)
    return " ".join(str(value).split())


def differing(one: Mapping[str, str], other: Mapping[str, str]) -> dict[str, tuple[str, str]]:
    """The fields that both say and say otherwise, with what each says; case and blanks do not count."""
    both = [name for name in FIELDS if name in one and name in other]
    both += [name for name in FACTS.values() if name in one and name in other]
    return {
        name: (one[name], other[name])
        for name in both
        if " ".join(one[name].lower().split()) != " ".join(other[name].lower().split())
    }


def blank(row: Sequence[str]) -> bool:
    """Whether a row holds nothing."""
    return all(sheet_cells.is_empty(cell) for cell in row)


def broken(width: int, row: Sequence[str], wanted: int) -> str | None:
    """How a row of a text file does not fit its head: *short*, *long*, or None. `width`: how many cells
    the row had in the file; cells at its end that hold nothing do not make it long."""
    said = max((n for n, cell in enumerate(row, 1) if cell.strip()), default=0)
    if said > wanted:
        return "long"
    return "short" if width < wanted else None


def read_line(row: Sequence[str], columns: Columns) -> Line:
    """Reads a row; what cannot be read is a fault that names the field, its value and the mend."""
    line = Line()

    def cell(name: str) -> str:
        at = columns.at.get(name)
        text = "" if at is None or at >= len(row) or sheet_cells.is_empty(row[at]) else row[at]
        return "" if text and columns.ours(name, text) == "" else text

    _read_words(line, cell("title"), cell("what"))
    rhythm = _rhythm(line, cell("rhythm"), columns)
    for name in (*ANSWERS, *DAYS, *FACTS, "state"):
        text = cell(name)
        if text:
            _read_one(line, name, text, columns, rhythm)
    line.names = {name: sheet_cells.plain(cell(name))[:200] for name in ("division", *PEOPLE) if cell(name)}
    line.number = sheet_cells.plain(cell("number"))[:80]
    return line


def _rhythm(line: Line, text: str, columns: Columns) -> str | None:
    if not text:
        return None
    found = columns.ours("rhythm", text) or sheet_cells.rhythm_in(text)
    if found is None:
        message = "is no rhythm we know; write day, week, month, quarter or year"
        line.faults.append(Fault("rhythm", sheet_cells.plain(text)[:80], message))
    return found


def _read_one(line: Line, name: str, text: str, columns: Columns, rhythm: str | None) -> None:
    shown = sheet_cells.plain(text)[:80]
    try:
        value = read_value(name, text, columns, rhythm)
        if name in ANSWERS:
            # By the interview's own check, so that nothing is refused only when it comes in.
            line.answers[name] = check_answer(name, value)
        elif name in FACTS:
            line.facts[FACTS[name]] = value
        else:
            setattr(line, name, value)
    except Unreadable as error:
        line.faults.append(Fault(name, shown, str(error)))
    except InputFaults as error:
        line.faults += [Fault(name, shown, fault.message) for fault in error.faults]


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


def _share(text: str, decimal: str) -> str:
    return sheet_cells.as_text(exact(sheet_cells.read_of_ten(text, decimal)) / 10)


def _state(text: str, columns: Columns) -> str:
    return str(columns.ours("state", text) or sheet_cells.read_state(text))


def _kinds(text: str, columns: Columns) -> list[dict[str, str]]:
    return sheet_cells.read_arrives(text, columns.words.get("kind", {}))


def _choice(name: str) -> Callable[[str, Columns], str]:
    reader = {"changed": sheet_cells.read_changed, "announced": sheet_cells.read_announced}[name]

    def read(text: str, columns: Columns) -> str:
        return str(columns.ours(name, text) or reader(text))

    return read


WORDED: dict[str, Callable[[str, Columns], Any]] = {
    "state": _state,
    "arrives": _kinds,
    "changed": _choice("changed"),
    "announced": _choice("announced"),
}


def read_value(name: str, text: str, columns: Columns, rhythm: str | None = None) -> Any:
    """What a cell of a field's column means. Raises Unreadable."""
    habit = columns.habits[name]
    if name == "volume":
        said = columns.words.get("rhythm", {})
        return sheet_cells.read_volume(text, rhythm or columns.rhythm, habit.decimal, said)
    if name == "minutes":
        return sheet_cells.read_minutes(text, columns.hours, habit.decimal)
    if name in ("judge", "off"):
        return sheet_cells.read_of_ten(text, habit.decimal)
    if name == "rework":
        return _share(text, habit.decimal)
    if name in ("cost", "hour_cost"):
        return sheet_cells.read_money(text, habit.decimal, columns.currency)
    if name in DAYS:
        return sheet_cells.read_day(text, habit.day_first).isoformat()
    return WORDED[name](text, columns)


def said_as_read(name: str, text: str, columns: Columns, rhythm: str | None = None) -> str:
    """A cell as it is read, in words. Raises Unreadable."""
    if name not in columns.habits or name not in (*ANSWERS, *DAYS, *FACTS, "state"):
        return sheet_cells.plain(text)
    value = read_value(name, text, columns, rhythm)
    if name == "minutes":
        return f"{value} minutes"
    if name in ("judge", "off"):
        return f"{value} of ten"
    if name == "rework":
        return f"{sheet_cells.as_text(exact(value) * 10)} of ten"
    if name == "arrives" and len(value) == 1:
        return str(value[0]["kind"])
    return _said(value)
