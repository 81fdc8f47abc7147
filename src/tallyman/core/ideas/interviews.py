"""Interviews: which questions are asked, in which steps; data that the lead edits, version by version."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.ideas.questions import BY_KEY, OWN_KINDS, QUESTIONS, Question

MOST_QUESTIONS = 40
MOST_STEPS = 12
MOST_CHOICES = 12
LONGEST = 200
OWN_KEY = re.compile(r"own-[a-z0-9-]{1,40}")
# Without a name and a description nothing can be found, compared or talked about.
ALWAYS = ("title", "what")


@dataclass(frozen=True)
class Step:
    """A part of an interview: a heading and its questions."""

    title: str
    questions: tuple[Question, ...]


@dataclass(frozen=True)
class Interview:
    """One version of an interview; `offered`: whether new ideas can begin with it."""

    kind: str
    version: int
    title: str
    about: str
    offered: bool
    steps: tuple[Step, ...]

    @property
    def questions(self) -> tuple[Question, ...]:
        """All questions in their order."""
        return tuple(question for step in self.steps for question in step.questions)

    def question(self, key: str) -> Question | None:
        """A question by its key, None if this interview does not ask it."""
        return next((one for one in self.questions if one.key == key), None)


def _step(title: str, *keys: str) -> Step:
    return Step(title, tuple(BY_KEY[key] for key in keys))


_WORK = _step("The work", "title", "what")
_HOW_MUCH = _step("How much of it", "volume", "minutes")
_HOW_CLEAR = _step("How clear it is", "arrives", "judge", "off", "changed", "announced")
_WHOSE = _step("Whose it is", "division", "owner", "knows", "files")
_OWN = Step(
    "How it goes",
    (
        Question("own-steps", "Which steps has it, in their order?", "One to a line.", "text"),
        Question(
            "own-wrong",
            "What goes wrong most often, and what do you do then?",
            "The three usual ones.",
            "text",
        ),
    ),
)
STANDARD: dict[str, Interview] = {
    "full": Interview(
        "full",
        0,
        "The whole interview",
        "One thing at a time, about five minutes.",
        True,
        (_WORK, _HOW_MUCH, _HOW_CLEAR, _WHOSE),
    ),
    "short": Interview(
        "short",
        0,
        "The short one",
        "Five questions, for when you have two minutes.",
        True,
        (_WORK, _HOW_MUCH, _step("Whose it is", "division")),
    ),
    "expert": Interview(
        "expert",
        0,
        "For those who do the work",
        "Everything, and how it goes step by step; about ten minutes.",
        True,
        (_WORK, _HOW_MUCH, _HOW_CLEAR, _OWN, _WHOSE),
    ),
}
KIND = re.compile(r"[a-z][a-z0-9-]{1,18}")


def as_content(interview: Interview) -> dict[str, Any]:
    """An interview in the form in which a version is kept."""
    return {
        "title": interview.title,
        "about": interview.about,
        "offered": interview.offered,
        "steps": [
            {"title": step.title, "questions": [_kept(question) for question in step.questions]}
            for step in interview.steps
        ],
    }


def _kept(question: Question) -> dict[str, Any]:
    kept: dict[str, Any] = {
        "key": question.key,
        "text": question.text,
        "help": question.help,
        "needed": question.needed,
    }
    if question.key not in BY_KEY:
        kept["kind"] = question.kind
        kept["choices"] = [words for _, words in question.choices]
    return kept


def read_content(kind: str, content: Mapping[str, Any], version: int) -> Interview:
    """An interview from its kept form. Raises InputFaults with every fault at once."""
    faults: list[Fault] = []
    title = _said("title", content.get("title"), faults)
    about = _said("about", content.get("about"), faults, needed=False)
    steps = content.get("steps")
    read: list[Step] = []
    if not isinstance(steps, list) or not 1 <= len(steps) <= MOST_STEPS:
        faults.append(Fault("steps", None, f"give 1 to {MOST_STEPS} steps"))
        steps = []
    for n, step in enumerate(steps):
        rows = step.get("questions") if isinstance(step, dict) else None
        if not isinstance(rows, list) or not rows:
            faults.append(Fault(f"steps[{n}]", None, "has no question; add one or take the step out"))
            continue
        heading = _said(f"steps[{n}].title", step.get("title"), faults)
        read.append(
            Step(
                heading,
                tuple(_question(f"steps[{n}].questions[{m}]", row, faults) for m, row in enumerate(rows)),
            )
        )
    found = Interview(kind, version, title, about, bool(content.get("offered", True)), tuple(read))
    faults += _whole(found)
    if faults:
        raise InputFaults(faults)
    return found


def _whole(interview: Interview) -> list[Fault]:
    """What is wrong with the questions taken together."""
    keys = [question.key for question in interview.questions]
    faults = [
        Fault("steps", key, "is asked twice; take one out")
        for key in sorted(set(keys))
        if keys.count(key) > 1
    ]
    faults += [
        Fault("steps", key, f"“{BY_KEY[key].text}” is always asked; put it back")
        for key in ALWAYS
        if key not in keys
    ]
    if len(keys) > MOST_QUESTIONS:
        faults.append(Fault("steps", len(keys), f"too many questions; at most {MOST_QUESTIONS}"))
    return faults


def _said(field: str, value: Any, faults: list[Fault], needed: bool = True) -> str:
    text = " ".join(str(value or "").split())
    if needed and not text:
        faults.append(Fault(field, value, "write at least a word"))
    if len(text) > LONGEST:
        faults.append(Fault(field, text[:40] + "…", f"{len(text)} characters; up to {LONGEST}"))
    return text


def _question(field: str, row: Any, faults: list[Fault]) -> Question:
    given = row if isinstance(row, dict) else {}
    key = str(given.get("key") or "")
    text = _said(f"{field}.text", given.get("text"), faults)
    help_ = _said(f"{field}.help", given.get("help"), faults, needed=False)
    if key in BY_KEY:
        # What can be handed in without stays the lead's choice, but for a name and a description; files
        # and people may not be there.
        can = BY_KEY[key].kind != "files"
        needed = key in ALWAYS or (can and bool(given.get("needed")))
        return replace(BY_KEY[key], text=text, help=help_, needed=needed)
    if not OWN_KEY.fullmatch(key):
        message = "a question of your own needs a key such as own-forms"
        faults.append(Fault(f"{field}.key", key, message))
    kind = given.get("kind")
    if kind not in OWN_KINDS:
        faults.append(unknown_word(f"{field}.kind", kind, OWN_KINDS))
    choices = _choices(f"{field}.choices", given.get("choices"), faults) if kind == "choice" else ()
    return Question(key, text, help_, str(kind), bool(given.get("needed")), choices)


def _choices(field: str, given: Any, faults: list[Fault]) -> tuple[tuple[str, str], ...]:
    rows = given if isinstance(given, list) else []
    words = [_said(field, row, faults) for row in rows]
    if not 2 <= len(words) <= MOST_CHOICES or len(set(words)) < len(words):
        faults.append(Fault(field, ", ".join(words)[:80], f"give 2 to {MOST_CHOICES} different choices"))
    return tuple((word, word) for word in words)


def left_out(interview: Interview) -> tuple[Question, ...]:
    """The standard questions that an interview does not ask."""
    asked = {question.key for question in interview.questions}
    return tuple(question for question in QUESTIONS if question.key not in asked)
