"""What is known of robots and hosts, and what a routine asks of them, when a run is to start (rules §7)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import ClassVar
from zoneinfo import ZoneInfo

from tallyman.core.house import Calendar
from tallyman.core.runs.abilities import NOTHING_ASKED, NOTHING_KNOWN, Abilities, Asked
from tallyman.core.runs.attended import MeantFor
from tallyman.core.said import time_said
from tallyman.core.starts import Window
from tallyman.core.working import WHOLE

SILENT_AFTER = timedelta(seconds=30)
# A host whose clock is further off is given no work: times in logs and files would be wrong.
CLOCK_OFF = timedelta(minutes=30)
# With less room than that a package and its files may not fit.
LEAST_DISK_MB = 500


def is_silent(heard_at: datetime | None, now: datetime) -> bool:
    """Whether a host counts as silent: never heard, or not within 30 seconds."""
    return heard_at is None or now - heard_at > SILENT_AFTER


@dataclass(frozen=True)
class Hours:
    """Wall time in a zone within which something is allowed: from ≤ t < to, perhaps over midnight."""

    window: Window
    zone: str

    def hold(self, now: datetime) -> bool:
        """Whether that instant lies inside."""
        return self.window.holds(now.astimezone(ZoneInfo(self.zone)).time())

    def __str__(self) -> str:
        return f"{self.window.start:%H:%M} to {self.window.end:%H:%M} ({self.zone})"


def read_hours(start: str | None, end: str | None, zone: str | None) -> Hours | None:
    """Hours from their texts, as 08:30; None if there are none."""
    if not start or not end:
        return None
    return Hours(Window(time.fromisoformat(start), time.fromisoformat(end)), zone or "UTC")


def said_at(at: datetime, now: datetime) -> str:
    """A moment in words by the clock that `now` is told by, which is the reader's; UTC says that it is."""
    here = at.astimezone(now.tzinfo)
    return time_said(here) + (" UTC" if here.tzname() == "UTC" else "")


@dataclass(frozen=True)
class Maintenance:
    """A host is looked after: what runs goes on, nothing new is taken; without an end, until that is said."""

    since: datetime
    until: datetime | None
    why: str

    def holds(self, now: datetime) -> bool:
        """Whether that instant lies within it."""
        return self.since <= now and (self.until is None or now < self.until)

    def words(self, now: datetime) -> str:
        """Until when, and why."""
        end = f"until {said_at(self.until, now)}" if self.until else "until it is ended"
        return f"in maintenance {end}: {self.why}"


@dataclass(frozen=True)
class RobotFacts:
    """What is known of a robot when a run looks for one."""

    robot_id: int
    name: str
    host_id: int
    host: str
    heard_at: datetime | None
    area_ids: frozenset[int]
    tags: frozenset[str]
    busy_with: int | None
    seats: int
    seats_used: int
    account: str = ""
    account_fault: str = ""
    hours: Hours | None = None
    leaving: bool = False
    # Its packages work as the runner itself, which whoever started the runner allowed.
    as_runner: bool = False
    maintenance: Maintenance | None = None
    abilities: Abilities = NOTHING_KNOWN
    disk_free_mb: int | None = None
    clock_ahead_ms: int = 0
    # Seats of the host that only trial runs take.
    trial_seats: int = 1
    trial_used: int = 0
    # Of a person's own computer: whose, since when they use it, and their attended seats with those shared.
    owner_id: int | None = None
    owner: str = ""
    in_use_since: datetime | None = None
    owner_seats: int = 0
    owner_seats_used: int = 0

    def seats_for(self, wanted: Wanted) -> tuple[int, int]:
        """How many of the seats that such a run takes are in use, and how many there are."""
        if wanted.builder is not None:
            return wanted.builder.used, wanted.builder.number
        if wanted.meant_for is not None:
            return self.owner_seats_used, self.owner_seats
        return (self.trial_used, self.trial_seats) if wanted.trial_seat else (self.seats_used, self.seats)

    @property
    def clock_is_off(self) -> bool:
        """Whether its host's clock is too far from the server's."""
        return abs(self.clock_ahead_ms) > CLOCK_OFF / timedelta(milliseconds=1)

    @property
    def disk_is_full(self) -> bool:
        """Whether there is too little room on its host."""
        return self.disk_free_mb is not None and self.disk_free_mb < LEAST_DISK_MB

    def rests(self, now: datetime) -> bool:
        """Whether its host is in maintenance."""
        return self.maintenance is not None and self.maintenance.holds(now)

    def is_there(self, now: datetime) -> bool:
        """Whether its host is heard from, and stays."""
        return not self.leaving and not is_silent(self.heard_at, now)


@dataclass(frozen=True)
class LockFacts:
    """A named lock that a routine takes, such as the one login to a system, and who holds it now."""

    name: str
    held_by: int | None = None


@dataclass(frozen=True)
class Withdrawn:
    """A release that was withdrawn: what it is called, since when, and why."""

    release: str
    at: datetime
    why: str

    def __str__(self) -> str:
        return f"{self.release} is withdrawn: {self.why or 'no reason was given'}"


@dataclass(frozen=True)
class Unapproved:
    """A release to which nobody but who released it said yes yet, where its area asks for that."""

    id: int
    release: str


@dataclass(frozen=True)
class BuilderSeats:
    """The seats for try-outs that a builder has, with those that groups of theirs share."""

    name: str
    number: int
    used: int


@dataclass(frozen=True)
class Wanted:
    """What a routine asks of a robot; `area_path` holds its area and all areas above it.

    `only_robot`: nobody but this robot may take it. `trial_seat`: it is a robot's own trial run, on a trial
    seat. `builder`: it is a builder's try-out, on a seat of theirs.
    """

    area: str
    area_path: frozenset[int]
    tags: frozenset[str]
    run_limit: int
    active: int
    due: datetime
    locks: tuple[LockFacts, ...] = ()
    window: Hours | None = None
    calendar: Calendar | None = None
    calendar_zone: str = "UTC"
    asked: Asked = NOTHING_ASKED
    only_robot: int | None = None
    withdrawn: Withdrawn | None = None
    meant_for: MeantFor | None = None
    unapproved: Unapproved | None = None
    trial_seat: bool = False
    builder: BuilderSeats | None = None


@dataclass(frozen=True)
class Need:
    """One thing needed: met or not, the fact, what mends it, and since when it is lacking.

    `act` names what a page can offer in place of the mend, such as *seats*; empty where there is nothing.
    `bars`: it does not pass by itself, so that nothing starts before it is mended.
    """

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    key: str
    words: str
    met: bool
    fact: str
    mend: str = ""
    link: str = ""
    since: datetime | None = None
    act: str = ""
    bars: bool = False
