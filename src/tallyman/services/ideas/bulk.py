"""One act on many ideas: each in a step of its own, and what could not be done is named."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from tallyman.core.faults import unknown_word
from tallyman.errors import Fault, InputFaults, TallymanError
from tallyman.services.context import Ctx
from tallyman.services.ideas import helpers, moves, review, talk
from tallyman.services.ideas.answers import Acted, NotDone
from tallyman.services.ideas.base import ref

MOST = 200


@dataclass(frozen=True)
class Act:
    """What is to be done with each: its name and what it needs."""

    name: str
    words: str = ""
    reason: str = ""
    until: date | None = None
    area: int | None = None


def _park(ctx: Ctx, idea: int, act: Act) -> None:
    if act.until is None:
        raise InputFaults([Fault("until", None, "choose the day until which they are parked")])
    moves.park(ctx, idea, act.until, act.words)


def _place(ctx: Ctx, idea: int, act: Act) -> None:
    if act.area is None:
        raise InputFaults([Fault("area", None, "choose the area")])
    helpers.set_area(ctx, idea, act.area)


ACTS: dict[str, Callable[[Ctx, int, Act], None]] = {
    "follow": lambda ctx, idea, act: talk.follow(ctx, idea, True),
    "follow no more": lambda ctx, idea, act: talk.follow(ctx, idea, False),
    "park": _park,
    "decline": lambda ctx, idea, act: review.decline(ctx, idea, act.reason, act.words),
    "reopen": lambda ctx, idea, act: moves.reopen(ctx, idea, act.words),
    "place": _place,
}


def do(ctx: Ctx, ids: list[int], act: Act) -> Acted:
    """Does an act on each idea; gives which were done, and the reason of each that was not."""
    ctx.require_for_ideas()
    if act.name not in ACTS:
        raise InputFaults([unknown_word("act", act.name, ACTS)])
    if not 1 <= len(set(ids)) <= MOST:
        raise InputFaults([Fault("ids", len(ids), f"choose 1 to {MOST} ideas")])
    done: list[int] = []
    refused: list[NotDone] = []
    for idea in sorted(set(ids)):
        try:
            ACTS[act.name](ctx, idea, act)
            done.append(idea)
        except InputFaults as error:
            # What is wrong with the act itself is wrong for all; nothing was done yet.
            if not done and not refused:
                raise
            refused.append(NotDone(id=idea, ref=ref(idea), why=str(error)))
        except TallymanError as error:
            refused.append(NotDone(id=idea, ref=ref(idea), why=f"{error.message} {error.mend}".strip()))
    return Acted(done=done, refused=refused)
