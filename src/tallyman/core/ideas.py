"""An idea's way: its stages, who moves it on, and what comes next."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from tallyman.core.workdays import Calendar

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
    "draft": ("noted", "withdrawn"),
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
    "in service": ("Its runs are tallied against the promise", None),
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


def next_of(stage: str, since: date, calendar: Calendar) -> Next:
    """What happens next, counted in working days since the stage was reached."""
    words, permission = NEXT_WORDS.get(stage, ("Nothing more happens to it", None))
    limit = AGE_LIMITS.get(stage)
    due = None
    if limit is not None:
        due = calendar.shifted(calendar.on_or_after(since + timedelta(days=1)), limit - 1)
    return Next(words, permission, due)
