"""Seats as pages show them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.core.free import FreeObject
from tallyman.core.runs import SeatKind


@dataclass(frozen=True, slots=True)
class LotOfSeats:
    """Seats bought together; `a_year` is what one of them costs a year, and `from_rates` whether that is the
    cost table's price because none was given. `state`: *coming*, *there*, *ends soon* or *ended*."""

    id: int
    kind: SeatKind
    number: int
    first_on: date
    last_on: date | None
    price: str | None
    a_year: str | None
    from_rates: bool
    note: str
    state: str
    days_left: int | None
    version: int
    made_by: str
    made_at: datetime


@dataclass(frozen=True, slots=True)
class SeatHolder:
    """Who has seats of a kind: a host, a person, or a group whose members share them.

    `used`: in use now, `peak`: the most at once in the days shown; None where nothing uses them yet.
    `gone`: who has left, or a group out of use; the seats are to be taken away.
    """

    what: str
    id: int
    name: str
    number: int
    used: int | None
    peak: int | None
    may_change: bool
    gone: bool


@dataclass(frozen=True, slots=True)
class SeatPeak:
    """The most seats used at once on a day; `most` is None for a day of which nothing was noted."""

    day: date
    most: int | None


@dataclass(frozen=True, slots=True)
class SeatsOfKind:
    """The seats of one kind: bought, given, used, at peak, and each figure's working.

    `counted`: whether it was ever entered how many are bought; without that, as many as are given count as
    there. `unseen`: how many are given to hosts that the reader may not see. `short`: what points to seats
    running short, in sentences.
    """

    kind: SeatKind
    what_for: str
    counted: bool
    bought: int
    bought_working: FreeObject
    given: int
    given_working: FreeObject
    unseen: int
    used: int | None
    used_working: FreeObject | None
    peak_working: FreeObject | None
    days: list[SeatPeak]
    a_year: str | None
    a_year_working: FreeObject | None
    lots: list[LotOfSeats]
    holders: list[SeatHolder]
    trend_working: FreeObject | None
    trend_when: str
    short: list[str]


@dataclass(frozen=True, slots=True)
class SeatsPage:
    """All seats of the company, by kind; `since`: the first of the days shown."""

    kinds: list[SeatsOfKind]
    since: date
    today: date
    may_buy: bool
