"""Whether a page can be used this moment, why not and when again, for people who know nothing of robots."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from tallyman.core.runs import Need, Outcome, RunState, said_at
from tallyman.core.selfservice.words import PageState, Readiness

# What a need means for a colleague; in brackets stands the fact, where they can make use of it.
WAITS = {
    "limit": "It is at work for somebody else just now; yours begins when that is through",
    "lock": "It is at work for somebody else just now; yours begins when that is through",
    "robot": "All robots that do it are at work; yours begins when one is free",
    "seat": "All robots that do it are at work; yours begins when one is free",
    "together": "All robots that do it are at work; yours begins when one is free",
    "in use": "Its computer is in use by its owner; yours begins when they leave it",
    "host": "The computer that does it does not answer{since}; yours begins when it is back",
    "maintenance": "The computer that does it is being looked after ({fact}); yours begins after that",
    "hours": "It is done within set hours ({fact}); yours begins then",
    "window": "It is done within set hours ({fact}); yours begins then",
    "open day": "Today is a closed day; yours begins on the next open day",
    "computer": "It works on your own computer, which is not connected; connect it under My computer",
    "approved": "What it works with waits for a second person's yes; yours begins after that",
}
# Anything else somebody has to mend first.
MENDED_FIRST = "Something it needs is not there just now; yours begins when that is mended"
WITHDRAWN = "What it works with was withdrawn; whoever looks after it gives it another"
ELSEWHERE = "It is published to others, not to you"
RETIRED = "Nobody works with it any more"


@dataclass(frozen=True)
class Standing:
    """What comes of a start this moment, and why in a sentence; nothing to say where it is ready."""

    word: Readiness
    why: str = ""


def standing(
    state: PageState,
    why: str,
    needs: Iterable[Need],
    now: datetime,
    *,
    retired: bool = False,
    withdrawn: bool = False,
    reaches: bool = True,
) -> Standing:
    """How a page stands: its own state comes first, then what never passes by itself, then what does.

    `reaches`: whether it is published to whoever looks at it. `needs` are those of a start this moment;
    what is said about inputs is left to the form.
    """
    if state == "taken back":
        return Standing("not now", f"It was taken back: {why}")
    if not reaches:
        return Standing("not now", ELSEWHERE)
    if retired:
        return Standing("not now", RETIRED)
    if state == "paused":
        return Standing("not now", f"Paused: {why}")
    if withdrawn:
        return Standing("not now", WITHDRAWN)
    first = first_lacking(needs)
    return Standing("ready") if first is None else Standing("waits", _said(first, now))


_PASSES_SOON = ("limit", "lock", "robot", "seat", "together")
_ORDER = {key: at for at, key in enumerate(("host", "maintenance", "open day", "window", "hours"))} | {
    key: 10 + at for at, key in enumerate(_PASSES_SOON)
}


def _said(need: Need, now: datetime) -> str:
    words = WAITS.get(need.key, MENDED_FIRST)
    since = f" since {said_at(need.since, now)}" if need.since else ""
    return words.format(fact=need.fact, since=since)


def said_of_run(
    state: RunState, outcome: Outcome | None, reason: str, lacking: Need | None, keeper: str, now: datetime
) -> str:
    """How a run stands, in a sentence for whoever started it; `lacking`: what one that waits lacks first."""
    if state == "waiting":
        return "It begins in a moment" if lacking is None else _said(lacking, now)
    if state == "running":
        return "It is at work"
    if state == "held":
        return "It was stopped on its way and goes on once somebody lets it"
    if state == "done":
        return "Done: there was nothing to do" if outcome == "nothing" else "Done"
    if state == "cancelled":
        return "It was stopped"
    why = f": {reason}" if reason else ""
    said = {"lapsed": "It could not begin in time", "lost": "Its computer went silent while it worked"}
    return f"{said.get(state, 'It did not work')}{why}. {keeper} looks after it"


def first_lacking(needs: Iterable[Need]) -> Need | None:
    """What matters most of what is not met: what keeps longer says more than a robot that is at work."""
    lacking = [need for need in needs if not need.met and need.key not in ("inputs", "release", "due")]
    return min(lacking, key=lambda need: _ORDER.get(need.key, -1), default=None)
