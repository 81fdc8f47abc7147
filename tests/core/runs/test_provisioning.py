"""The points of bringing a robot to work, each met or not, with its fact and mend."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.runs import Maintenance, Need, RobotFacts, read_abilities
from tallyman.core.runs.provisioning import HostFacts, PasswordFacts, Setup, TrialFacts, points

NOW = datetime(2026, 3, 10, 9, 0, tzinfo=UTC)
ROBOT = RobotFacts(1, "Dipper 1", 1, "Weir", NOW, frozenset({5}), frozenset({"letters"}), None, 2, 1)
ROBOT = replace(ROBOT, abilities=read_abilities({"system_name": "Debian 12", "processors": "2"}))
HOST = HostFacts("Weir", True, NOW - timedelta(days=1), None, None, ("clerk",), True)
PASSED = TrialFacts(10001, "done", NOW - timedelta(minutes=5), NOW - timedelta(minutes=4))
READY = Setup(ROBOT, HOST, ("Customers",), NOW - timedelta(days=1), trial=PASSED, worked=PASSED)
NEW = replace(READY, trial=None, worked=None)


def point(setup: Setup, key: str) -> Need:
    return next(need for need in points(setup, NOW) if need.key == key)


def robot(**but: object) -> Setup:
    return replace(READY, robot=replace(ROBOT, **but))  # type: ignore[arg-type]


def host(**but: object) -> Setup:
    return replace(READY, host=replace(HOST, **but))  # type: ignore[arg-type]


def test_a_robot_that_can_work_has_every_point_met() -> None:
    found = points(READY, NOW)
    assert all(need.met for need in found)
    assert [need.key for need in found] == [
        "areas",
        "connected",
        "account",
        "password",
        "seat",
        "abilities",
        "trial",
    ]


def test_nowhere_allowed_since_it_was_set_up() -> None:
    found = point(replace(READY, areas=()), "areas")
    assert (found.met, found.since, found.act) == (False, READY.changed_at, "change")


def test_a_host_that_never_came_says_what_became_of_its_code() -> None:
    fresh = {"connected": False, "connected_at": None}
    good = point(host(**fresh, code_until=NOW + timedelta(minutes=30)), "connected")
    assert good.fact == "not yet; its one-time code is good until 10 Mar, 09:30 UTC"
    # By the clock of whoever reads it.
    here = points(
        host(**fresh, code_until=NOW + timedelta(minutes=30)), NOW.astimezone(ZoneInfo("Asia/Kolkata"))
    )
    assert next(one.fact for one in here if one.key == "connected").endswith("good until 10 Mar, 15:00")
    over = point(host(**fresh, code_until=NOW - timedelta(minutes=30)), "connected")
    assert over.fact == "not yet, and its one-time code has run out"
    assert (over.since, over.act) == (NOW - timedelta(minutes=30), "code")
    none = point(host(**fresh), "connected")
    assert none.fact == "not yet, and it has no code"
    revoked = point(host(connected=False, revoked_at=NOW), "connected")
    assert (revoked.fact, revoked.since) == ("its token was revoked", NOW)


def test_a_silent_host_is_silent_since_it_was_heard() -> None:
    at = NOW - timedelta(hours=2)
    found = point(robot(heard_at=at), "connected")
    assert (found.met, found.since) == (False, at)
    assert "Start the runner on Weir again" in found.mend
    leaving = point(robot(leaving=True), "connected")
    assert leaving.fact == "its runner is being stopped"


def test_maintenance_clock_and_disk_are_points_only_where_they_are_wrong() -> None:
    resting = point(robot(maintenance=Maintenance(NOW, None, "new disk")), "maintenance")
    assert (resting.met, resting.since) == (False, NOW)
    ahead = point(robot(clock_ahead_ms=3_600_000), "clock")
    assert ahead.fact == "the clock of Weir is 60 min ahead"
    full = point(robot(disk_free_mb=499), "disk")
    assert full.fact == "Weir has 499 MB"


def test_an_account_without_a_password_is_a_case_of_its_own() -> None:
    made = point(READY, "password")
    assert "not needed" in made.fact
    assert point(READY, "account").fact.startswith("one that the runner makes")
    named = point(robot(account="clerk"), "password")
    assert (named.met, named.fact) == (
        True,
        "none is kept, and none is needed: the runner changes to clerk by itself",
    )
    without_root = replace(robot(account="clerk"), host=replace(HOST, as_root=False))
    assert not point(without_root, "password").met


def test_a_password_is_proved_refused_or_being_tried() -> None:
    named = robot(account="clerk")

    def with_(**facts: object) -> Need:
        return point(replace(named, password=PasswordFacts(kept=True, **facts)), "password")  # type: ignore[arg-type]

    tried = with_(asked_at=NOW)
    assert (tried.met, tried.since) == (False, NOW)
    refused = with_(asked_at=NOW, answered_at=NOW, proved=False, said="Weir refused it")
    assert (refused.met, refused.fact, refused.since) == (False, "Weir refused it", NOW)
    proved = with_(asked_at=NOW, answered_at=NOW, proved=True, said="signed in")
    assert (proved.met, proved.since) == (True, None)
    assert with_(over=True).fact == "it has expired"


def test_an_account_that_the_host_does_not_know_names_those_it_does() -> None:
    found = point(robot(account="clark", account_fault="there is no account clark on this host"), "account")
    assert found.mend == "Choose an account that Weir knows: clerk"
    wrong = robot(account="clark", account_fault="there is no account clark on this host")
    without = replace(wrong, host=replace(HOST, as_root=False))
    assert point(without, "account").mend.endswith("; or start its runner as root")
    # Of an account that is not there, nothing is said of its password.
    assert "password" not in {need.key for need in points(wrong, NOW)}
    own = point(robot(as_runner=True), "account")
    assert "the runner's own" in own.fact


def test_what_is_known_once_the_host_is_there_waits_for_that() -> None:
    new = replace(
        robot(heard_at=None, abilities=read_abilities({})), host=replace(HOST, connected=False, as_root=False)
    )
    assert point(new, "account").fact == "known once its host is connected"
    assert point(new, "abilities").fact == "known once its host is connected"
    named = replace(new, robot=replace(new.robot, account="clerk"))
    assert point(named, "password").fact == "known once its host is connected"


def test_seats_that_robots_share_say_so() -> None:
    assert point(robot(seats=0), "seat").mend == "Give the host a seat"
    shared = point(replace(robot(seats=1), host=replace(HOST, robots=3)), "seat")
    assert shared.fact == "1 of 1 in use now; 3 robots share them, so at most 1 works at once"


def test_a_trial_run_counts_for_the_robot_as_it_is_now() -> None:
    assert point(NEW, "trial").act == "trial"
    running = replace(PASSED, state="running", ended_at=None)
    assert point(replace(NEW, trial=running), "trial").link == "/runs/10001"
    failed = replace(PASSED, state="failed", reason="no room")
    assert point(replace(NEW, trial=failed), "trial").fact == "R-10001 failed: no room"
    moved = replace(READY, changed_at=NOW)
    assert not point(moved, "trial").met
    assert point(moved, "trial").since == NOW


def test_a_robot_that_works_needs_no_trial_run() -> None:
    other = replace(PASSED, run_id=10044)
    found = point(replace(NEW, worked=other), "trial")
    assert (found.met, found.link) == (True, "/runs/10044")
    again = replace(NEW, worked=other, trial=replace(PASSED, state="waiting", ended_at=None))
    assert point(again, "trial").fact == "R-10001 is waiting"
