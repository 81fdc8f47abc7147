"""Starting and running: states, order, and what a run needs before it starts (rules §7)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.runs.abilities import lacking
from tallyman.core.runs.facts import LEAST_DISK_MB, Need, RobotFacts, Wanted, said_at

CHANGES: dict[str, tuple[str, ...]] = {
    "waiting": ("running", "cancelled", "lapsed"),
    "running": ("done", "failed", "held", "cancelled", "lost"),
    "held": ("waiting", "cancelled"),
    "lost": ("done", "failed"),
}
STATES = ("waiting", "running", "held", "done", "failed", "cancelled", "lapsed", "lost")
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


def _host_page(robots: Sequence[RobotFacts]) -> str:
    """Where something of the hosts in question is mended: the one's own page, else the list of them."""
    hosts = {robot.host_id for robot in robots}
    return f"/robots/hosts/{hosts.pop()}" if len(hosts) == 1 else "/robots"


def _robot_page(robots: Sequence[RobotFacts]) -> str:
    return f"/robots/{robots[0].robot_id}" if len(robots) == 1 else "/robots"


def _names(robots: Sequence[RobotFacts]) -> str:
    return ", ".join(robot.name for robot in robots)


def ago(heard_at: datetime | None, now: datetime) -> str:
    """When a host was heard from, in words."""
    if heard_at is None:
        return "never heard from"
    seconds = int((now - heard_at).total_seconds())
    if seconds < 120:
        return f"last heard from {seconds} s ago"
    return f"not heard from since {said_at(heard_at, now)}"


def needs(wanted: Wanted, robots: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """Everything a start needs, in the order in which it is looked at (rules §7).

    What cannot be met only because of one before it is no need of its own and is left out: where no robot may
    work at all, nothing is said of hosts and seats.
    """
    rows = [_due(wanted, now), *_release(wanted)]
    found, allowed = _where(wanted, robots, now)
    rows += found
    if wanted.only_robot is not None:
        allowed = [robot for robot in allowed if robot.robot_id == wanted.only_robot]
        if not (wanted.trial_seat and allowed):
            fact = _names(allowed) or f"it is retired, or not allowed in {wanted.area} any more"
            mend = "Cancel it, and start it on another robot"
            rows.append(Need("chosen", "The robot that was chosen for it", bool(allowed), fact, mend))
    able = [robot for robot in allowed if wanted.tags <= robot.tags]
    if wanted.tags and allowed:
        rows.append(
            Need(
                "tags",
                f"with the tags {', '.join(sorted(wanted.tags))}",
                bool(able),
                _names(able) or f"none of {_names(allowed) or 'them'} has them all",
                "Give a robot these tags",
                _robot_page(allowed),
            )
        )
    if wanted.asked and able:
        row, able = _abilities(wanted, able)
        rows.append(row)
    if able:
        rows += _on_hosts(wanted, able, now)
    return [*rows, _limit(wanted), *_when(wanted, now)]


def _abilities(wanted: Wanted, could: Sequence[RobotFacts]) -> tuple[Need, list[RobotFacts]]:
    """What is asked of the host beside tags, and the robots whose host has it."""
    lacks = {robot.robot_id: lacking(wanted.asked, robot.abilities) for robot in could}
    able = [robot for robot in could if not lacks[robot.robot_id]]
    facts = sorted({f"{robot.host} {', '.join(lacks[robot.robot_id])}" for robot in could} - {""})
    words = f"on a host with {', '.join(wanted.asked.words)}"
    fact = _names(able) or "; ".join(facts)
    mend = "Use a host that has it, or ask for less"
    return Need("abilities", words, bool(able), fact, mend, _host_page(could)), able


def _on_hosts(wanted: Wanted, able: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """What is needed of the robots in question, their hosts and seats."""
    live = [robot for robot in able if robot.is_there(now)]
    hosts = sorted({(robot.host, robot.leaving, robot.heard_at) for robot in able}, key=lambda one: one[0])
    heard = ", ".join(
        f"{host} {'is leaving: its runner is being stopped' if leaving else ago(at, now)}"
        for host, leaving, at in hosts
    )
    mend = "Start the runner on the host"
    since = None if live else max((robot.heard_at for robot in able if robot.heard_at), default=None)
    rows = [Need("host", "on a host that is heard from", bool(live), heard, mend, _host_page(able), since)]
    # Without a host that is heard from, the rest is still judged on those robots that could.
    rows += _host_needs(live or able, now)
    if wanted.meant_for is None:
        rows += _used(live or able)
    could = [robot for robot in live or able if _may_work(wanted, robot, now)] or live or able
    rows += _places(could, wanted)
    return rows + ([] if len(able) == 1 else _together(wanted, able, rows, now))


def _together(wanted: Wanted, able: Sequence[RobotFacts], rows: Sequence[Need], now: datetime) -> list[Need]:
    """That one robot has all of it at once; shown only where each is met by some robot, and all by none."""
    if any(not row.met for row in rows):
        return []
    lacks = [next((one for one in _on_hosts(wanted, [robot], now) if not one.met), None) for robot in able]
    if None in lacks:
        return []
    said = [(robot.name, one.fact) for robot, one in zip(able, lacks, strict=True) if one]
    # Some facts begin with the robot's name themselves.
    fact = "; ".join(f"{name}: {why.removeprefix(name).lstrip(': ')}" for name, why in said)
    mend = "Mend what one of them lacks, or wait for it"
    return [Need("together", "One robot that meets all of this at once", False, fact, mend, "/robots")]


def _used(could: Sequence[RobotFacts]) -> list[Need]:
    """That a person's own computer is not in use by its owner; shown only where one is."""
    used = [robot for robot in could if robot.in_use_since is not None]
    if not used:
        return []
    words = "on a computer that its owner does not use"
    fact = ", ".join(sorted({f"{one.host} is in use by its owner, {one.owner}" for one in used}))
    met = len(used) < len(could)
    since = None if met else max(one.in_use_since for one in used if one.in_use_since)
    mend = "Wait until they leave it, or allow a robot on another host"
    return [Need("in use", words, met, fact, mend, _host_page(used), since)]


def _where(
    wanted: Wanted, robots: Sequence[RobotFacts], now: datetime
) -> tuple[list[Need], list[RobotFacts]]:
    """That there is a robot for it at all: one allowed there, or the computer of whom it is for."""
    allowed = [robot for robot in robots if _is_for(wanted, robot)]
    meant = wanted.meant_for
    if meant is None:
        fact, mend = _names(allowed) or "no robot may work there", "Allow a robot in this area"
        page = _robot_page(robots)
        return [Need("area", f"A robot allowed in {wanted.area}", bool(allowed), fact, mend, page)], allowed
    rows = []
    if meant.person_id is not None:
        fact = "asked, and not answered yet"
        if meant.agreed_at is not None:
            fact = f"may begin from {said_at(meant.agreed_at, now)} on"
        words, mend = f"{meant.name} says that it may begin", f"{meant.name} answers under My computer"
        rows.append(Need("answer", words, meant.agrees(now), fact, mend, "/my-computer"))
    whose = f"{meant.name}'s own computer" if meant.name else "The computer of whoever starts it"
    fact = ", ".join(sorted({robot.host for robot in allowed})) or "none is connected"
    mend = "It is connected under My computer"
    return [*rows, Need("computer", whose, bool(allowed), fact, mend, "/my-computer")], allowed


def _is_for(wanted: Wanted, robot: RobotFacts) -> bool:
    """Whether a robot is one of those that may work there, or works on the computer that a run is for."""
    meant = wanted.meant_for
    if meant is None:
        return bool(robot.area_ids & wanted.area_path)
    return robot.owner_id is not None and meant.person_id in (None, robot.owner_id)


def _release(wanted: Wanted) -> list[Need]:
    """That its release is not withdrawn, and approved; shown only where something is lacking."""
    rows = []
    if gone := wanted.withdrawn:
        mend = "Choose another release, and start it anew"
        rows.append(Need("release", "Its release is not withdrawn", False, str(gone), mend, since=gone.at))
    if wanted.unapproved:
        fact = f"nobody but who released {wanted.unapproved.release} said yes to it"
        mend = "Have somebody who may approve releases look at it"
        words = f"A second person's yes to its release, as {wanted.area} asks for"
        rows.append(Need("approved", words, False, fact, mend, f"/workshop/releases/{wanted.unapproved.id}"))
    return rows


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
    rows = unsound(could, now)
    if any(robot.hours for robot in could):
        open_now = [robot for robot in could if robot.hours is None or robot.hours.hold(now)]
        fact = ", ".join(sorted({f"{robot.host} works {robot.hours}" for robot in could if robot.hours}))
        mend = "Wait until then, or change the host's hours"
        where = _host_page(could)
        rows.append(Need("hours", "within the hours of its host", bool(open_now), fact, mend, where))
    exposed = [robot for robot in could if robot.as_runner]
    if any(robot.account or robot.account_fault for robot in could) or exposed:
        usable = [robot for robot in could if not robot.account_fault]
        faults = ", ".join(sorted({f"{robot.name}: {robot.account_fault}" for robot in could} - {""}))
        fact = _names(usable) or faults
        if exposed:
            fact = f"{fact}; packages on {_names(exposed)} work as the runner itself and can read its token"
        mend = "Make the account on the host, or start its runner as root"
        where = _robot_page(could)
        rows.append(Need("account", "whose run-as account is usable", bool(usable), fact, mend, where))
    return rows


def _minutes_off(robot: RobotFacts) -> str:
    minutes = round(abs(robot.clock_ahead_ms) / 60_000)
    return f"the clock of {robot.host} is {minutes:,} min {'ahead' if robot.clock_ahead_ms > 0 else 'behind'}"


def unsound(could: Sequence[RobotFacts], now: datetime) -> list[Need]:
    """Maintenance, clock and disk of the hosts; shown only where one is in it, or one is wrong."""
    rows = []
    resting = [robot for robot in could if robot.rests(now)]
    if resting:
        looked_after = {(one.host, one.maintenance) for one in resting if one.maintenance}
        fact = ", ".join(sorted(f"{host} is {one.words(now)}" for host, one in looked_after))
        working = len(resting) < len(could)
        mend = "Wait until then, or end the maintenance of the host"
        since = None if working else min(one.maintenance.since for one in resting if one.maintenance)
        words = "on a host that is not in maintenance"
        rows.append(Need("maintenance", words, working, fact, mend, _host_page(resting), since))
    off = [robot for robot in could if robot.clock_is_off]
    if off:
        words, fact = "on a host whose clock is right", ", ".join(sorted({_minutes_off(one) for one in off}))
        mend = "Set the clock of the host right"
        rows.append(Need("clock", words, len(off) < len(could), fact, mend, _host_page(off)))
    full = [robot for robot in could if robot.disk_is_full]
    if full:
        words = f"on a host with {LEAST_DISK_MB} MB of disk free"
        fact = ", ".join(sorted({f"{one.host} has {one.disk_free_mb} MB" for one in full}))
        mend = "Make room on the disk of the host"
        rows.append(Need("disk", words, len(full) < len(could), fact, mend, _host_page(full)))
    return rows


def _may_work(wanted: Wanted, robot: RobotFacts, now: datetime) -> bool:
    used = wanted.meant_for is None and robot.in_use_since is not None
    open_now = robot.hours is None or robot.hours.hold(now)
    sound = not robot.clock_is_off and not robot.disk_is_full
    return not robot.account_fault and open_now and sound and not robot.rests(now) and not used


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
    fact = f"due since {said_at(wanted.due, now)}" if met else f"due {said_at(wanted.due, now)}"
    return Need("due", "Its time has come", met, fact, "Wait until then")


def _has_seat(robot: RobotFacts, wanted: Wanted) -> bool:
    used, there = robot.seats_for(wanted)
    return used < there


def _places(could: Sequence[RobotFacts], wanted: Wanted) -> list[Need]:
    free = [robot for robot in could if robot.busy_with is None]
    free_next = could[0].busy_with if len(could) == 1 else None
    seated = [robot for robot in free if _has_seat(robot, wanted)]
    meant = wanted.meant_for
    busy = ", ".join(f"{robot.name} works on R-{robot.busy_with}" for robot in could if robot not in free)
    return [
        Need(
            "robot",
            "that is free",
            bool(free),
            _names(free) or busy or "no robot in question",
            "Wait for it" if meant else "Wait for it, or allow another robot in this area",
            f"/runs/{free_next}" if free_next else "/robots",
        ),
        _seat(wanted, could, bool(seated)),
    ]


def _seat(wanted: Wanted, could: Sequence[RobotFacts], met: bool) -> Need:
    """That a seat is free: of the host, of whose computer it is, or of the builder who tries it."""
    meant, builder = wanted.meant_for, wanted.builder
    kind = "trial seat" if wanted.trial_seat else "seat"
    words, mend, link = f"with a free {kind} on its host", f"Give the host another {kind}", _host_page(could)
    if builder is not None:
        words, mend = "with a free builder seat of who tries it", "Give them a builder seat"
    elif meant is not None:
        words, mend = "with a free attended seat of its owner's", "Give them an attended seat"
    if builder is not None or meant is not None:
        link = "/robots/seats"

    def whose(robot: RobotFacts) -> str:
        return builder.name if builder else robot.owner if meant else robot.host

    found = sorted({(whose(robot), *robot.seats_for(wanted)) for robot in could})
    fact = ", ".join(f"{name}: {used} of {total} in use" for name, used, total in found)
    return Need("seat", words, met, fact or "no host in question", mend, link)


def eligible(wanted: Wanted, robots: Sequence[RobotFacts], now: datetime) -> list[RobotFacts]:
    """The robots that could take the run this moment."""
    if now < wanted.due or wanted.active >= wanted.run_limit or wanted.withdrawn or wanted.unapproved:
        return []
    if any(need for need in _when(wanted, now) if not need.met):
        return []
    meant = wanted.meant_for
    if meant is not None and meant.person_id is not None and not meant.agrees(now):
        return []
    return [
        robot
        for robot in robots
        if _is_for(wanted, robot)
        and wanted.tags <= robot.tags
        and wanted.only_robot in (None, robot.robot_id)
        and not lacking(wanted.asked, robot.abilities)
        and robot.is_there(now)
        and robot.busy_with is None
        and _has_seat(robot, wanted)
        and _may_work(wanted, robot, now)
    ]


def first_unmet(found: Sequence[Need]) -> str:
    """Why a run waits, in one line; empty if nothing is lacking."""
    for need in found:
        if not need.met:
            return f"{need.words}: {need.fact}"
    return ""
