"""The interview: its questions, in order, and how an answer is checked (rules §1)."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.faults import Fault, InputFaults, is_one_of, unknown_word
from tallyman.core.ideas.factors import ANNOUNCED, CHANGED, READINESS
from tallyman.core.volume import RHYTHMS, yearly_volume

LONGEST_TITLE = 120
LONGEST_LINE = 300
LONGEST_TEXT = 4000
LONGEST_REMARK = 2000


@dataclass(frozen=True)
class Question:
    """One question: its key, the question itself, a line of help, and how it is answered."""

    key: str
    text: str
    help: str
    kind: str
    needed: bool = False
    choices: tuple[tuple[str, str], ...] = ()


# Every question that something is reckoned from, in the order of the whole interview.
QUESTIONS = (
    Question("title", "What is the work called?", "As you would say it to a colleague.", "line", needed=True),
    Question(
        "what",
        "What happens in it, and what comes out?",
        "Two or three sentences are enough.",
        "text",
        needed=True,
    ),
    Question("volume", "How often does it come?", "Your best guess is fine; it can be mended.", "volume"),
    Question(
        "minutes",
        "How many minutes does one take?",
        "With everything that belongs to it, without waiting.",
        "number",
    ),
    Question(
        "judge",
        "Of ten, how many need somebody to stop and judge?",
        "Cases where the written way does not say what to do.",
        "of ten",
    ),
    Question(
        "off",
        "Of ten, how many go off the usual way?",
        "Something is missing, wrong, or has to be asked back.",
        "of ten",
    ),
    Question(
        "arrives",
        "What does the work arrive as?",
        "Put a number beside each kind, such as 3 and 1 when there is three times as much of one.",
        "arrives",
    ),
    Question(
        "changed",
        "How much has the work changed in the last year?",
        "Its steps, forms or systems.",
        "choice",
        choices=(("nothing", "Not at all"), ("small", "A little"), ("large", "A lot")),
    ),
    Question(
        "announced",
        "Is a change announced?",
        "To its steps, forms or systems.",
        "choice",
        choices=(("nothing", "None"), ("small", "A small one"), ("replacement", "It will be replaced")),
    ),
    Question(
        "division",
        "Where does it belong?",
        "The division that answers for the work; leave it open if you do not know.",
        "division",
    ),
    Question("owner", "Who answers for this work?", "Somebody we can ask about it.", "person"),
    Question("knows", "Who else knows it well?", "Somebody who could show how it is done.", "person"),
    Question(
        "files",
        "Have you something to show?",
        "A how-to, a drawing, an example of what comes in or goes out. Each narrows the range.",
        "files",
    ),
)
BY_KEY = {question.key: question for question in QUESTIONS}


def _text(most: int) -> Callable[[str, Any], Any]:
    def check(key: str, value: Any) -> str:
        text = value.strip() if isinstance(value, str) else ""
        if not text:
            raise InputFaults([Fault(key, value, "write at least a word")])
        if len(text) > most:
            raise InputFaults([Fault(key, text[:40] + "…", f"{len(text)} characters; up to {most}")])
        return text

    return check


def _number(low: int, high: int) -> Callable[[str, Any], str]:
    def check(key: str, value: Any) -> str:
        try:
            number = exact(value)
        except ValueError as error:
            message = f"{error}; give a number such as 12.5"
            raise InputFaults([Fault(key, value, message)]) from None
        if not low <= number <= high:
            raise InputFaults([Fault(key, value, f"out of range; allowed: {low} to {high:,}")])
        return str(value).strip()

    return check


def _volume(key: str, value: Any) -> dict[str, str]:
    given = value if isinstance(value, dict) else {}
    amount = _number(0, 1_000_000_000)(key, given.get("amount"))
    if not is_one_of(given.get("rhythm"), RHYTHMS):
        raise InputFaults([unknown_word(f"{key}.rhythm", given.get("rhythm"), RHYTHMS)])
    return {"amount": amount, "rhythm": given["rhythm"]}


def _arrives(key: str, value: Any) -> list[dict[str, Any]]:
    if not isinstance(value, list) or not value or len(value) > len(READINESS):
        raise InputFaults([Fault(key, value, "choose at least one kind")])
    rows = []
    for row in value:
        kind = row.get("kind") if isinstance(row, dict) else row
        if not isinstance(row, dict) or not is_one_of(kind, READINESS):
            raise InputFaults([unknown_word(f"{key}.kind", kind, READINESS)])
        rows.append({"kind": kind, "part": _number(0, 1000)(f"{key}.{kind}", row.get("part"))})
    if all(exact(row["part"]) == 0 for row in rows):
        raise InputFaults([Fault(key, value, "the parts add up to 0; give at least one")])
    return rows


def _choice(words: dict[str, Any]) -> Callable[[str, Any], str]:
    def check(key: str, value: Any) -> str:
        if not is_one_of(value, words):
            raise InputFaults([unknown_word(key, value, words)])
        return str(value)

    return check


def _id(key: str, value: Any) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or value < 1:
        raise InputFaults([Fault(key, value, "choose one from the list")])
    return value


CHECKS: dict[str, Callable[[str, Any], Any]] = {
    "title": _text(LONGEST_TITLE),
    "what": _text(LONGEST_TEXT),
    "division": _id,
    "volume": _volume,
    "minutes": _number(0, 100_000),
    "judge": _number(0, 10),
    "off": _number(0, 10),
    "arrives": _arrives,
    "changed": _choice(CHANGED),
    "announced": _choice(ANNOUNCED),
    "owner": _id,
    "knows": _id,
}


def _own_choice(question: Question) -> Callable[[str, Any], str]:
    return _choice(dict(question.choices))


OWN_KINDS: dict[str, Callable[[Question], Callable[[str, Any], Any]]] = {
    "line": lambda _: _text(LONGEST_LINE),
    "text": lambda _: _text(LONGEST_TEXT),
    "figure": lambda _: _number(-1_000_000_000, 1_000_000_000),
    "choice": _own_choice,
}


def check_answer(key: str, value: Any, own: Question | None = None) -> Any:
    """The answer in its kept form; None stays None (not known). `own` is the lead's own question, if it
    is one. Raises InputFaults."""
    if own is not None and key not in CHECKS:
        return None if value is None else OWN_KINDS[own.kind](own)(key, value)
    if key not in CHECKS:
        raise InputFaults([unknown_word("question", key, CHECKS)])
    return None if value is None else CHECKS[key](key, value)


def volume_a_year(volume: dict[str, str], working_days: int) -> Fraction:
    """A volume with its rhythm as items a year."""
    return yearly_volume(exact(volume["amount"]), volume["rhythm"], working_days)


def check_volume(key: str, value: Any) -> dict[str, str] | None:
    """A volume in its kept form, or None. Raises InputFaults naming the field by `key`."""
    return None if value is None else _volume(key, value)


def look_input(
    answers: dict[str, Any],
    evidence: list[str],
    working_days: int,
    joined: Sequence[dict[str, str]] = (),
) -> dict[str, Any]:
    """Answers as the input of the first look; `joined` are the volumes of those who joined the idea."""
    volume = answers.get("volume")
    yearly = None
    if volume:
        yearly = sum((volume_a_year(one, working_days) for one in (volume, *joined)), Fraction(0))
    return {
        "volume_per_year": yearly,
        "minutes": answers.get("minutes"),
        "judge": answers.get("judge"),
        "off": answers.get("off"),
        "arrives": answers.get("arrives"),
        "changed": answers.get("changed"),
        "announced": answers.get("announced"),
        "evidence": evidence,
    }
