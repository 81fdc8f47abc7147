"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.core.uses import Kind
from tallyman.core.working import Working


@dataclass(frozen=True, slots=True)
class UsedThing:
    """Something of the house: its kind, key, name, and the way to it."""

    kind: Kind
    key: str
    name: str
    link: str


@dataclass(frozen=True, slots=True)
class UsedBy:
    """Something that hangs on what is looked at: in which way, how many steps from it (from 1), and the thing
    a step nearer that it hangs on."""

    thing: UsedThing
    how: str
    depth: int
    by_way_of: UsedThing | None


@dataclass(frozen=True, slots=True)
class UsesLine:
    """A line of the drawing: places in the list, where 0 is what is looked at."""

    upper: int
    lower: int


@dataclass(frozen=True, slots=True)
class WouldStop:
    """A routine that could not start, why, and how many of its starts of the next 24 hours would wait; the
    first of them."""

    number: int
    name: str
    why: str
    starts: int
    first_at: datetime | None


@dataclass(frozen=True, slots=True)
class Stops:
    """What would stop if it went.

    `unseen`: so many more routines that the reader may not see. `unread`: starts on the clock that cannot
    be read. `said`: what it means that no routine stops. `seat_waits`: for a host, how many starts would
    wait for a seat that do not now.
    """

    routines: list[WouldStop]
    unseen: int
    starts: int
    starts_working: Working
    unread: int
    seat_waits: int | None
    seat_waits_working: Working | None
    said: str


@dataclass(frozen=True, slots=True)
class Uses:
    """One thing: what it stands on, what hangs on it, and what would stop if it went.

    `unseen`: so many more hang on it that the reader may not see; `cut`: there is more than is shown.
    """

    thing: UsedThing
    stands_on: list[UsedBy]
    hanging: list[UsedBy]
    lines: list[UsesLine]
    unseen: int
    cut: bool
    stops: Stops
