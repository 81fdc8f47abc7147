"""A list of ideas from a spreadsheet: where its head is, and which column is which answer by its head."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from rapidfuzz import fuzz

from tallyman.core.faults import Fault, InputFaults, unknown_word

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
    "state": ("Its state over there", ("state", "status", "stage", "decision", "progress", "outcome")),
    "since": (
        "Runs since",
        ("runs since", "live since", "in service since", "in use since", "go live", "live on", "started on"),
    ),
    "rework": (
        "Of ten, done again",
        ("rework", "rework rate", "done again", "redone", "corrections", "repeated", "error rate"),
    ),
    "hour_cost": (
        "What an hour of it costs",
        ("cost per hour", "hourly cost", "hourly rate", "rate per hour", "an hour costs", "wage"),
    ),
    "cost": (
        "Other cost, once",
        ("cost", "costs", "budget", "price", "investment", "one time cost", "cost once", "expense"),
    ),
}
CLOSE_HEAD = 86
HOLDS = 88
# Words that say little in a head of several words.
GENERIC = frozenset(
    {"name", "no", "id", "from", "when", "what", "idea", "work", "per", "key", "date", "off", "area"}
    | {"cost", "costs", "price", "progress"}
)
FILLING = frozenset(
    {"in", "per", "a", "an", "the", "of", "each", "hour", "hours", "min", "mins", "h", "day", "week"}
    | {"month", "year", "quarter", "mail", "short"}
)
HEAD_ROWS = 12
NEEDED = ("title",)


def plain_words(head: str) -> str:
    """A text's letters and digits in small letters, words parted by one blank."""
    return " ".join(re.findall(r"[a-z0-9#]+", head.lower()))


def _likeness(head: str, words: Iterable[str]) -> float:
    """How alike a head and the words for a field are, 0–100; one that holds the words among others is
    nearly as good as one that is the same."""
    text = plain_words(head)
    if not text:
        return 0
    kept = [word for word in text.split() if word not in FILLING]
    short = " ".join(kept) or text
    best = 0.0
    for word in (plain_words(one) for one in words):
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
