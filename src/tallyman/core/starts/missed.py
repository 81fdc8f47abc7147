"""What becomes of starts that came while the engine was away (rules §6)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from tallyman.core.starts.times import Fired

Missed = Literal["once", "all", "skip"]
# An engine that turns every second is never so late unless it was away.
ON_TIME = timedelta(seconds=60)


@dataclass(frozen=True)
class Settled:
    """A due start and its fate: started, merged into a later one, or missed; and why."""

    fired: Fired
    what: Literal["started", "merged", "missed"]
    why: str = ""


def settle(due: Sequence[Fired], now: datetime, missed: Missed, age: timedelta) -> list[Settled]:
    """The fate of every start up to now, in order.

    A start counts as missed if it is over a minute late. *once*: one start stands for all missed
    ones not older than `age`; *all*: each of those starts; *skip*: none does.
    """
    found = []
    late = [one for one in due if now - one.at > ON_TIME]
    young = [one for one in late if now - one.at <= age]
    on_time = [one for one in due if now - one.at <= ON_TIME]
    # The one that stands for the missed ones: the first in time, else the last missed one.
    stands = next(iter(on_time[:1] or young[-1:]), None)
    makes_up = missed == "once" and bool(young)
    for one in due:
        if one in on_time:
            found.append(
                Settled(one, "started", _stands_for(len(young)) if makes_up and one is stands else "")
            )
        elif missed == "skip":
            found.append(Settled(one, "missed", "the engine was away; missed starts are skipped"))
        elif one not in young:
            hours = age / timedelta(hours=1)
            why = f"the engine was away; starts older than {hours:g} h are not made up for"
            found.append(Settled(one, "missed", why))
        elif missed == "all":
            found.append(Settled(one, "started", "late, as the engine was away"))
        elif one is stands:
            found.append(Settled(one, "started", _stands_for(len(young) - 1)))
        else:
            at = f"{stands.at:%Y-%m-%d %H:%M}" if stands else ""
            found.append(Settled(one, "merged", f"the engine was away; the start of {at} UTC stands for it"))
    return found


def _stands_for(others: int) -> str:
    if not others:
        return "late, as the engine was away"
    starts = "1 earlier start" if others == 1 else f"{others} earlier starts"
    return f"stands for {starts} missed while the engine was away"
