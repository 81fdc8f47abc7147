"""What a robot needs before it can work at all: points that come true in whatever order (rules §7)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from tallyman.core.runs.facts import LEAST_DISK_MB, Need, RobotFacts, is_silent, said_at
from tallyman.core.runs.starting import ago, unsound

UNTIL_CONNECTED = "known once its host is connected"


@dataclass(frozen=True)
class HostFacts:
    """What is known of a robot's host beside what runs ask for.

    `connected`: its runner has a token; `code_until`: until when a one-time code is good, or was; `known`:
    the accounts that the runner reports, None if it does not; `as_root`: it may work under any of them.
    """

    name: str
    connected: bool
    connected_at: datetime | None = None
    code_until: datetime | None = None
    revoked_at: datetime | None = None
    known: tuple[str, ...] | None = None
    as_root: bool = False
    robots: int = 1


@dataclass(frozen=True)
class PasswordFacts:
    """The password of a run-as account on a host: whether one is kept, and how a sign-in with it went.

    `proved`: None while the host has not answered; `said`: how it went, in the host's words.
    """

    kept: bool = False
    over: bool = False
    asked_at: datetime | None = None
    answered_at: datetime | None = None
    proved: bool | None = None
    said: str = ""


NO_PASSWORD = PasswordFacts()


@dataclass(frozen=True)
class TrialFacts:
    """The latest trial run of a robot, or the latest run that it finished, and how it stands."""

    run_id: int
    state: str
    made_at: datetime
    ended_at: datetime | None = None
    reason: str = ""


@dataclass(frozen=True)
class Setup:
    """A robot as it is set up: `changed_at` is when its host or account changed last."""

    robot: RobotFacts
    host: HostFacts
    areas: tuple[str, ...]
    changed_at: datetime
    password: PasswordFacts = NO_PASSWORD
    trial: TrialFacts | None = None
    worked: TrialFacts | None = None


# What a start asks of some host, a robot has of its own.
SOUND = {
    "maintenance": "Its host is in no maintenance",
    "clock": "The clock of its host is right",
    "disk": f"Its host has {LEAST_DISK_MB} MB of disk free",
}


def points(setup: Setup, now: datetime) -> list[Need]:
    """Every point of bringing a robot to work, met or not, each with its fact and mend."""
    own = _is_own(setup)
    return [
        _areas(setup),
        _connected(setup, now),
        *(replace(need, words=SOUND[need.key], link="") for need in unsound([setup.robot], now)),
        _account(setup),
        *_password(setup),
        _own_seat(setup) if own else _seat(setup),
        _abilities(setup),
        # What asks its person first is tried by its first run.
        *([] if own else [_trial(setup, now)]),
    ]


def _is_own(setup: Setup) -> bool:
    """Whether it works on a person's own computer, for them alone."""
    return setup.robot.owner_id is not None and not setup.areas


def _areas(setup: Setup) -> Need:
    if _is_own(setup):
        words = f"Works for {setup.robot.owner} alone"
        return Need("areas", words, True, "on runs that are meant for them", act="change")
    fact = ", ".join(setup.areas) or "nowhere yet, so it would get no work"
    mend = "Choose the areas it works in"
    since = None if setup.areas else setup.changed_at
    return Need("areas", "Allowed in an area", bool(setup.areas), fact, mend, "", since, "change")


def _connected(setup: Setup, now: datetime) -> Need:
    host, robot = setup.host, setup.robot
    words = f"Its host {host.name} is connected"
    if host.connected and robot.leaving:
        fact, mend = "its runner is being stopped", f"Start the runner on {host.name} again"
        return Need("connected", words, False, fact, mend, "", robot.heard_at)
    if host.connected:
        met = not is_silent(robot.heard_at, now)
        mend = f"Start the runner on {host.name} again; its own page there says what is wrong"
        since = None if met else robot.heard_at
        return Need("connected", words, met, ago(robot.heard_at, now), mend, "", since)
    since = host.revoked_at or host.code_until
    mend = "Make a new code, and start the runner with it"
    if host.code_until is not None and host.code_until > now:
        fact = f"not yet; its one-time code is good until {said_at(host.code_until, now)}"
        mend = f"Start the runner on {host.name} with the code; a new code takes the place of a lost one"
        since = None
    elif host.revoked_at is not None:
        fact = "its token was revoked"
    else:
        fact = "not yet, and its one-time code has run out" if since else "not yet, and it has no code"
    return Need("connected", words, False, fact, mend, "", since, "code")


def _account(setup: Setup) -> Need:
    host, robot = setup.host, setup.robot
    words = f"The account {robot.account} is known there" if robot.account else "An account to work under"
    if not host.connected and robot.heard_at is None:
        return Need("account", words, False, UNTIL_CONNECTED)
    if robot.account_fault:
        known = f": {', '.join(host.known)}" if host.known else ""
        mend = f"Choose an account that {host.name} knows{known}"
        if not host.as_root:
            mend += "; or start its runner as root"
        return Need("account", words, False, robot.account_fault, mend, "", None, "change")
    if robot.account:
        return Need("account", words, True, f"{host.name} says so, and its runner can work under it")
    if robot.as_runner:
        fact = "the runner's own: its packages can read whatever the runner can"
    else:
        fact = "one that the runner makes for this robot alone; nothing else works under it"
    return Need("account", words, True, fact, act="change")


def _password(setup: Setup) -> list[Need]:
    """How the password of its account stands; nothing where there is no such account to begin with."""
    if setup.robot.account_fault and not setup.password.kept:
        return []
    return [_of_password(setup)]


def _of_password(setup: Setup) -> Need:
    robot, host, found = setup.robot, setup.host, setup.password
    words = "Its password is proved by a sign-in"
    if not robot.account:
        fact = "not needed: nobody can sign in with the account that the runner makes"
        return Need("password", words, True, fact)
    if not found.kept:
        if not host.connected and robot.heard_at is None:
            return Need("password", words, False, UNTIL_CONNECTED, act="password")
        if host.as_root:
            fact = f"none is kept, and none is needed: the runner changes to {robot.account} by itself"
            return Need("password", words, True, fact, act="password")
        fact, mend = "none is kept", f"Put in the password of {robot.account}"
        return Need("password", words, False, fact, mend, "", setup.changed_at, "password")
    if found.over:
        mend = "Put in the new password"
        return Need("password", words, False, "it has expired", mend, "", None, "password")
    if found.proved is None:
        fact = f"{host.name} tries it with one of its next heartbeats"
        mend = "Wait some seconds; where the host is silent, until it is back"
        return Need("password", words, False, fact, mend, "", found.asked_at, "password")
    mend = "Put in the right password, or change it on the host"
    since = None if found.proved else found.answered_at
    return Need("password", words, found.proved, found.said, mend, "", since, "password")


def _own_seat(setup: Setup) -> Need:
    robot = setup.robot
    words, mend = f"{robot.owner} has an attended seat", f"Give {robot.owner} an attended seat"
    fact = f"{robot.owner_seats_used} of {robot.owner_seats} in use now" if robot.owner_seats else "none"
    return Need("seat", words, robot.owner_seats > 0, fact, mend, "/robots/seats")


def _seat(setup: Setup) -> Need:
    robot, host = setup.robot, setup.host
    words = f"{host.name} has a seat for it"
    if not robot.trial_seats:
        fact, mend = "the host has none for its trial run", "Give the host a trial seat"
        return Need("seat", words, False, fact, mend, act="seats")
    if not robot.seats:
        return Need("seat", words, False, "the host has none", "Give the host a seat", act="seats")
    fact = f"{robot.seats_used} of {robot.seats} in use now"
    if host.robots > robot.seats:
        several = "1 works" if robot.seats == 1 else f"{robot.seats} work"
        fact += f"; {host.robots} robots share them, so at most {several} at once"
    return Need("seat", words, True, fact, act="seats")


def _abilities(setup: Setup) -> Need:
    robot = setup.robot
    known = robot.abilities.words
    tags = ", ".join(sorted(robot.tags))
    if not known:
        return Need("abilities", "What it can do is known", False, UNTIL_CONNECTED)
    fact = ", ".join(known) + (f"; own tags: {tags}" if tags else "; no tags of its own")
    return Need("abilities", "What it can do is known", True, fact, act="change")


def _trial(setup: Setup, now: datetime) -> Need:
    words = "A trial run there and back"
    trial = setup.trial
    worked = setup.worked and setup.worked.ended_at
    if setup.worked and worked and worked >= setup.changed_at and (trial is None or trial.state != "waiting"):
        # Whatever run it finished as it is set up now shows as much.
        number = setup.worked.run_id
        fact = f"R-{number} went there and came back on {said_at(worked, now)}"
        return Need("trial", words, True, fact, link=f"/runs/{number}", act="trial")
    if trial is None:
        return Need("trial", words, False, "none yet", "Start it, and see it come back", act="trial")
    link, ref = f"/runs/{trial.run_id}", f"R-{trial.run_id}"
    if trial.state in ("waiting", "running", "held"):
        return Need("trial", words, False, f"{ref} is {trial.state}", f"See {ref}", link, trial.made_at)
    if trial.state != "done":
        fact = f"{ref} {trial.state}" + (f": {trial.reason}" if trial.reason else "")
        mend = "Mend what it says, and start it again"
        return Need("trial", words, False, fact, mend, link, trial.ended_at, "trial")
    fact = f"{ref} passed before its host or account changed"
    return Need("trial", words, False, fact, "Start it once more", link, setup.changed_at, "trial")
