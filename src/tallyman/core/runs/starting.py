"""Starting and running: states, order, and what a run needs before it starts (rules §7)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import ClassVar
from zoneinfo import ZoneInfo

from tallyman.core.house import Calendar
from tallyman.core.starts import Window
from tallyman.core.working import WHOLE

CHANGES: dict[str, tuple[str, ...]] = {
    "waiting": ("running", "cancelled", "lapsed"),
    "running": ("done", "failed", "held", "cancelled", "lost"),
    "held": ("waiting", "cancelled"),
    "lost": ("done", "failed"),
}
STATES = ("waiting", "running", "held", "done", "failed", "cancelled", "lapsed", "lost")
SILENT_AFTER = timedelta(seconds=30)
PRIORITY_STEP = timedelta(minutes=30)
FIRST_PAUSE = timedelta(minutes=1)
LONGEST_PAUSE = timedelta(hours=1)


def may_become(state: str, to: str) -> bool:
    """Whether a run in that state can change to the other."""
    return to in CHANGES.get(state, ())


def order_key(due: datetime, priority: int) -> datetime:
    """The instant a waiting run is ordered by: half an hour later for each priority below 1."""
    if not 1 <= priority <= 5:
        raise ValueError(f"priority {priority}: allowed 1 (highest) to 5")
    return due + PRIORITY_STEP * (priority - 1)


def pause_before(attempt: int) -> timedelta:
    """How long a lost run waits before its next attempt: a minute, then four times as long each time."""
    times: int = 4 ** max(0, min(attempt - 2, 6))
    return min(FIRST_PAUSE * times, LONGEST_PAUSE)


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


@dataclass(frozen=True)
class Maintenance:
    """A host is looked after: what runs goes on, nothing new is taken; without an end, until that is said."""

    since: datetime
    until: datetime | None
    why: str

    def holds(self, now: datetime) -> bool:
        """Whether that instant lies within it."""
        return self.since <= now and (self.until is None or now < self.until)

    def __str__(self) -> str:
        end = f"until {self.until:%d %b %H:%M} UTC" if self.until else "until it is ended"
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
class Wanted:
    """What a routine asks of a robot; `area_path` holds its area and all areas above it."""

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


@dataclass(frozen=True)
class Need:
    """One thing needed for a start: met or not, the fact, and what mends it."""

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    key: str
    words: str
    met: bool
    fact: str
    mend: str = ""
    link: str = ""


def _names(robots: Sequence[RobotFacts]) -> str:
    return ", ".join(robot.name for robot in robots)


def _ago(heard_at: datetime | None, now: datetime) -> str:
    if heard_at is None:
        return "never heard from"
    seconds = int((now - heard_at).total_seconds())
    if seconds < 120:
        return f"last heard from {seconds} s ago"
    return f"not heard from since {heard_at:%d %b %H:%M} UTC"


def needs(wanted: Wanted, robots: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """Everything a start needs, in the order in which it is looked at (rules §7).

    What cannot be met only because of one before it is no need of its own and is left out: where no robot may
    work at all, nothing is said of hosts and seats.
    """
    rows = [_due(wanted, now)]
    allowed = [robot for robot in robots if robot.area_ids & wanted.area_path]
    rows.append(
        Need(
            "area",
            f"A robot allowed in {wanted.area}",
            bool(allowed),
            _names(allowed) or "no robot may work there",
            "Allow a robot in this area",
            "/robots",
        )
    )
    able = [robot for robot in allowed if wanted.tags <= robot.tags]
    if wanted.tags and allowed:
        rows.append(
            Need(
                "tags",
                f"with the tags {', '.join(sorted(wanted.tags))}",
                bool(able),
                _names(able) or f"none of {_names(allowed) or 'them'} has them all",
                "Give a robot these tags",
                "/robots",
            )
        )
    if able:
        rows += _on_hosts(wanted, able, now)
    return [*rows, _limit(wanted), *_when(wanted, now)]


def _on_hosts(wanted: Wanted, able: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """What is needed of the robots in question, their hosts and seats."""
    live = [robot for robot in able if robot.is_there(now)]
    hosts = sorted({(robot.host, robot.leaving, robot.heard_at) for robot in able}, key=lambda one: one[0])
    heard = ", ".join(
        f"{host} {'is leaving: its runner is being stopped' if leaving else _ago(at, now)}"
        for host, leaving, at in hosts
    )
    mend = "Start the runner on the host"
    rows = [Need("host", "on a host that is heard from", bool(live), heard, mend, "/robots")]
    # Without a host that is heard from, the rest is still judged on those robots that could.
    rows += _host_needs(live or able, now)
    return rows + _places([robot for robot in live or able if _may_work(robot, now)] or live or able)


def _limit(wanted: Wanted) -> Need:
    return Need(
        "limit",
        f"At most {wanted.run_limit} at once",
        wanted.active < wanted.run_limit,
        f"{wanted.active} running now",
        "Wait for one to end, or raise the routine's limit",
    )


def _host_needs(could: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """Maintenance and hours of the hosts, and run-as accounts; shown only where one is set."""
    rows = []
    resting = [robot for robot in could if robot.rests(now)]
    if resting:
        fact = ", ".join(sorted({f"{robot.host} is {robot.maintenance}" for robot in resting}))
        working = len(resting) < len(could)
        mend = "Wait until then, or end the maintenance of the host"
        words = "on a host that is not in maintenance"
        rows.append(Need("maintenance", words, working, fact, mend, "/robots"))
    if any(robot.hours for robot in could):
        open_now = [robot for robot in could if robot.hours is None or robot.hours.hold(now)]
        fact = ", ".join(sorted({f"{robot.host} works {robot.hours}" for robot in could if robot.hours}))
        mend = "Wait until then, or change the host's hours"
        rows.append(Need("hours", "within the hours of its host", bool(open_now), fact, mend, "/robots"))
    exposed = [robot for robot in could if robot.as_runner]
    if any(robot.account or robot.account_fault for robot in could) or exposed:
        usable = [robot for robot in could if not robot.account_fault]
        faults = ", ".join(sorted({f"{robot.name}: {robot.account_fault}" for robot in could} - {""}))
        fact = _names(usable) or faults
        if exposed:
            fact = f"{fact}; packages on {_names(exposed)} work as the runner itself and can read its token"
        mend = "Make the account on the host, or start its runner as root"
        rows.append(Need("account", "whose run-as account is usable", bool(usable), fact, mend, "/robots"))
    return rows


def _may_work(robot: RobotFacts, now: datetime) -> bool:
    open_now = robot.hours is None or robot.hours.hold(now)
    return not robot.account_fault and open_now and not robot.rests(now)


def _open_day(wanted: Wanted, now: datetime) -> bool:
    if wanted.calendar is None:
        return True
    return wanted.calendar.is_open(now.astimezone(ZoneInfo(wanted.calendar_zone)).date())


def _when(wanted: Wanted, now: datetime) -> list[Need]:
    """Locks, window and closed days; shown only where one is set."""
    rows = []
    for lock in wanted.locks:
        fact = "free" if lock.held_by is None else f"held by R-{lock.held_by}"
        words = f"The lock {lock.name}"
        mend = "Wait for that run to end"
        link = "" if lock.held_by is None else f"/runs/{lock.held_by}"
        rows.append(Need("lock", words, lock.held_by is None, fact, mend, link))
    if wanted.window is not None:
        met = wanted.window.hold(now)
        rows.append(Need("window", "Within its window", met, str(wanted.window), "Wait until it opens"))
    if wanted.calendar is not None:
        met = _open_day(wanted, now)
        fact = "today is an open day" if met else "today is a closed day"
        rows.append(Need("open day", "On an open day", met, fact, "Wait for the next open day"))
    return rows


def _due(wanted: Wanted, now: datetime) -> Need:
    met = now >= wanted.due
    fact = f"due since {wanted.due:%d %b %H:%M} UTC" if met else f"due {wanted.due:%d %b %H:%M} UTC"
    return Need("due", "Its time has come", met, fact, "Wait until then")


def _places(could: Sequence[RobotFacts]) -> list[Need]:
    free = [robot for robot in could if robot.busy_with is None]
    seated = [robot for robot in free if robot.seats_used < robot.seats]
    busy = ", ".join(f"{robot.name} works on R-{robot.busy_with}" for robot in could if robot not in free)
    seats = ", ".join(
        f"{host}: {used} of {total} in use"
        for host, used, total in sorted({(r.host, r.seats_used, r.seats) for r in could})
    )
    return [
        Need(
            "robot",
            "that is free",
            bool(free),
            _names(free) or busy or "no robot in question",
            "Wait for it, or allow another robot in this area",
            "/robots",
        ),
        Need(
            "seat",
            "with a free seat on its host",
            bool(seated),
            seats or "no host in question",
            "Give the host another seat",
            "/robots",
        ),
    ]


def eligible(wanted: Wanted, robots: Sequence[RobotFacts], now: datetime) -> list[RobotFacts]:
    """The robots that could take the run this moment."""
    if now < wanted.due or wanted.active >= wanted.run_limit:
        return []
    if any(need for need in _when(wanted, now) if not need.met):
        return []
    return [
        robot
        for robot in robots
        if robot.area_ids & wanted.area_path
        and wanted.tags <= robot.tags
        and robot.is_there(now)
        and robot.busy_with is None
        and robot.seats_used < robot.seats
        and _may_work(robot, now)
    ]


def first_unmet(found: Sequence[Need]) -> str:
    """Why a run waits, in one line; empty if nothing is lacking."""
    for need in found:
        if not need.met:
            return f"{need.words}: {need.fact}"
    return ""
