"""An idea's way: its stages, who moves it on, and what comes next."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.house import Calendar

PATH = ("draft", "noted", "screened", "sized", "backed", "building", "in service", "retired")
# Where a reviewer can still take an idea off its way.
OPEN = ("noted", "screened", "sized")
OFF_THE_WAY = ("parked", "declined", "merged", "withdrawn")
# An idea takes in others while it is alive.
TAKES_IN = ("noted", "screened", "sized", "backed", "building", "in service")
ROBOT = "robot"
# Other remedies than a robot.
ROUTES = ("changed procedure", "training", "change in a system", "something else")
# Another route goes from an open stage straight to its measure.
MOVES = {
    # The team's own entry skips the first review, and what runs already is in service at once.
    "draft": ("noted", "withdrawn", "screened", "in service"),
    "noted": ("screened", "building", *OFF_THE_WAY),
    "screened": ("sized", "building", *OFF_THE_WAY),
    "sized": ("backed", "screened", "building", *OFF_THE_WAY),
    "backed": ("building", "parked", "declined"),
    "building": ("in service",),
    "in service": ("retired",),
    "parked": ("noted", "screened", "sized", "backed"),
    "declined": ("noted", "screened", "sized", "backed"),
    "withdrawn": ("draft", "noted", "screened", "sized"),
}
# Working days within which the next move of a stage is due.
AGE_LIMITS = {"noted": 5, "screened": 15, "sized": 20, "backed": 10}
# How an idea came in.
SOURCES = ("interview", "the team", "spreadsheet", "a program", "runs already", "a study")
DECLINE_REASONS = (
    "too little volume",
    "about to change or end",
    "needs too much judgement",
    "already done elsewhere",
    "better mended another way",
)


@dataclass(frozen=True)
class Next:
    """What happens next to an idea, who does it (a permission), and by when."""

    words: str
    permission: str | None
    due: date | None


NEXT_WORDS = {
    "draft": ("The proposer finishes the interview", None),
    "noted": ("A reviewer reads the answers and decides", "idea.decide"),
    "screened": ("An analyst sizes it, and somebody else agrees", "sizing.make"),
    "sized": ("The lead decides whether to back it", "case.decide"),
    "backed": ("A builder takes it up", "build.make"),
    "building": ("A routine is released, tried and put in service", "package.make"),
    "in service": ("What it brings is tallied against the promise", None),
}


def may_move(stage: str, to: str) -> bool:
    """Whether an idea in that stage can move to the other."""
    return to in MOVES.get(stage, ())


def reopened(stage: str, came_from: str | None) -> str | None:
    """The stage that an idea off its way goes back to: the one it came from; None if it cannot."""
    if stage not in OFF_THE_WAY or came_from is None:
        return None
    return came_from if may_move(stage, came_from) else None


def resumed(due: date | None, asked_on: date, today: date, calendar: Calendar) -> date | None:
    """The due date after a time in which the proposer was asked back: later by its working days."""
    if due is None:
        return None
    passed = sum(calendar.is_open(asked_on + timedelta(days=n)) for n in range((today - asked_on).days))
    return calendar.shifted(calendar.on_or_after(due), passed) if passed else due


@dataclass(frozen=True)
class StageRule:
    """What the lead sets for a stage: working days within which it is left (None: no limit), and the
    answers and facts that an idea needs before it gets there."""

    days: int | None
    needs: tuple[str, ...] = ()


STAGE_RULES = {
    stage: StageRule(AGE_LIMITS.get(stage))
    for stage in ("noted", "screened", "sized", "backed", "building", "in service")
}
# Where facts may still be given, where a promise stands, and where something was delivered.
OPEN_STAGES = ("screened", "sized", "backed", "building", "in service")
PROMISED_STAGES = ("backed", "building", "in service")
AFTER_BACKING = ("backed", "building", "in service", "retired")
LONGEST_AGE = 250


def rules_as_content(rules: Mapping[str, StageRule]) -> dict[str, Any]:
    """Stage rules in the form in which a version is kept."""
    return {stage: {"days": rule.days, "needs": list(rule.needs)} for stage, rule in rules.items()}


def read_stage_rules(content: Any, known: Collection[str]) -> dict[str, StageRule]:
    """Stage rules from their kept form; `known` are the fields that can be needed. Raises InputFaults."""
    given = content if isinstance(content, dict) else {}
    faults = [unknown_word("stages", stage, STAGE_RULES) for stage in given if stage not in STAGE_RULES]
    rules = {}
    for stage, standard in STAGE_RULES.items():
        row = given.get(stage, {"days": standard.days, "needs": standard.needs})
        days, needs = row.get("days"), row.get("needs") or []
        if days is not None and (not isinstance(days, int) or not 1 <= days <= LONGEST_AGE):
            faults.append(
                Fault(f"{stage}.days", days, f"give 1 to {LONGEST_AGE} working days, or nothing for no limit")
            )
        faults += [unknown_word(f"{stage}.needs", need, known) for need in needs if need not in known]
        rules[stage] = StageRule(days, tuple(needs))
    if faults:
        raise InputFaults(faults)
    return rules


def next_words(stage: str) -> tuple[str, str | None]:
    """What happens next to an idea in a stage, and the permission of those who do it."""
    return NEXT_WORDS.get(stage, ("Nothing more happens to it", None))


def next_of(
    stage: str, since: date, calendar: Calendar, rules: Mapping[str, StageRule] = STAGE_RULES
) -> Next:
    """What happens next, counted in working days since the stage was reached."""
    words, permission = next_words(stage)
    limit = rules[stage].days if stage in rules else None
    due = None
    if limit is not None:
        due = calendar.shifted(calendar.on_or_after(since + timedelta(days=1)), limit - 1)
    return Next(words, permission, due)
