"""A release takes another's place in one or many routines: looked at, at once, on trial, in stages, and back."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import runs
from tallyman.services.house import areas
from tallyman.services.starts import by_hand
from tallyman.services.workshop import over_time, packages, rolling, rollouts, routines, withdrawing
from tallyman.services.workshop.rollouts import Chosen, Given
from tallyman.store.records.robots import HostByToken
from tests.world import MANIFEST, World, package

SOL, JONAS = "Sol Marin", "Jonas Lindqvist"
HOUR = timedelta(hours=1)
# A second release that takes a further input, which needs not be given; and one where it does.
MORE = MANIFEST + '\n[inputs.place]\ntype = "string"\ntitle = "Place"\ndefault = "Weir Lane"\n'
NEEDED = MANIFEST + '\n[inputs.place]\ntype = "string"\ntitle = "Place"\nrequired = true\n'
NO_MORE = Given(why="It counts empty rows as well")


def release(world: World, version: str, manifest: str) -> int:
    data = package(version, manifest=manifest)
    return packages.release(world.ctx(JONAS), data, packages.Given("Counts more"))


class Three:
    """Three routines with the first release: two in Metering, one in Street works; and later releases."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.host: HostByToken = world.machine(places := 2, places)
        self.first = world.release()
        self.works = areas.add_area(world.ctx(SOL), "Street works", None)
        self.routines = [
            world.routine("Count meters", self.first),
            world.routine("Count rows", self.first),
            world.routine("Count valves", self.first, area_id=self.works),
        ]
        world.db.transact(lambda tx: tx.execute("UPDATE routine SET on_trial = FALSE, live_at = made_at"))
        world.db.transact(
            lambda tx: tx.execute(
                "INSERT IGNORE INTO robot_area SELECT id, %(a)s FROM robot", {"a": self.works}
            )
        )

    def out(self, release_id: int, how: str = "at once", **more: object) -> int:
        chosen = [Chosen(one) for one in self.routines]
        return rollouts.roll_out(
            self.world.ctx(SOL), release_id, replace(NO_MORE, routines=chosen, how=how, **more)
        )

    def has(self) -> list[str]:
        rows = self.world.rows(
            "SELECT r.version FROM routine o JOIN package_release r ON r.id = o.release_id ORDER BY o.name"
        )
        return [row["version"] for row in rows]

    def run(self, routine: int, state: str, n: int) -> None:
        """One run of a routine from start to end."""
        later = HOUR + timedelta(minutes=5 * n)
        self.world.start(routine, f"{state}-{n}", later)
        self.world.finish(self.host, self.world.take(self.host, later), state, later)

    def settle(self, later: timedelta = 9 * HOUR) -> int:
        return rolling.carry_on(self.world.program(later))

    def view(self, number: int) -> rollouts.RollingOut:
        return rollouts.view(self.world.ctx(SOL), number)


@pytest.fixture
def three(world: World) -> Three:
    return Three(world)


def faults(act: object) -> dict[str, str]:
    assert callable(act)
    with pytest.raises(InputFaults) as refused:
        act()
    return {one.field: one.message for one in refused.value.faults}


# ---- looked at first


def test_each_routine_says_what_differs_and_what_its_start_would_need(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    found = rollouts.look(three.world.ctx(SOL), later, [])
    assert [row.name for row in found.rows] == ["Count meters", "Count rows", "Count valves"]
    row = found.rows[0]
    assert row.release_version == "1.0.0" and row.against == []
    assert row.changes[0].weight == "addition" and row.changes[0].name == "place"
    assert {need.key for need in row.needs if not need.met} <= {"heard", "host"}
    assert [robot.name for robot in found.robots] == ["Dipper 1", "Dipper 2"]


def test_inputs_that_do_not_fit_are_against_it_until_they_are_given(three: Three) -> None:
    breaking = release(three.world, "2.0.0", NEEDED)
    row = rollouts.look(three.world.ctx(SOL), breaking, []).rows[0]
    assert row.against == ["Inputs fit the release: Place is needed"]
    given = [Chosen(row.id, {"place": "Alder Street"})]
    row = rollouts.look(three.world.ctx(SOL), breaking, given).rows[0]
    assert row.against == [] and row.inputs == {"place": "Alder Street"}


def test_all_that_is_wrong_is_said_at_once_and_nothing_changes(three: Three) -> None:
    breaking = release(three.world, "2.0.0", NEEDED)
    wrong = Given([Chosen(one) for one in three.routines], "staged", "", good_wanted=0, bad_allowed=99)
    found = faults(lambda: rollouts.roll_out(three.world.ctx(SOL), breaking, wrong))
    assert set(found) == {
        "why",
        *(f"routines.{one}" for one in three.routines),
        "good_wanted",
        "bad_allowed",
        "first",
    }
    assert three.has() == ["1.0.0"] * 3


def test_no_other_package_nor_one_that_has_it_already(three: Three) -> None:
    again = faults(lambda: three.out(three.first))
    assert again[f"routines.{three.routines[0]}"] == "has count-rows 1.0.0; leave it out"
    assert (
        "choose" in faults(lambda: rollouts.roll_out(three.world.ctx(SOL), three.first, NO_MORE))["routines"]
    )


def test_who_may_not_change_a_routine_neither_looks_nor_rolls_out(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    for who in ("Ada Pell", "Ruth Abernathy"):
        with pytest.raises(Forbidden):
            rollouts.look(three.world.ctx(who), later, [])
        with pytest.raises(Forbidden):
            rollouts.roll_out(three.world.ctx(who), later, NO_MORE)


# ---- at once, on trial, and back


def test_three_routines_take_it_at_once_and_go_back_as_they_were(three: Three) -> None:
    breaking = release(three.world, "2.0.0", NEEDED)
    chosen = [Chosen(one, {"place": f"Street {n}"}) for n, one in enumerate(three.routines)]
    number = rollouts.roll_out(three.world.ctx(SOL), breaking, replace(NO_MORE, routines=chosen))
    assert three.has() == ["2.0.0"] * 3
    view = three.view(number)
    assert (view.state, view.still, view.may) == ("done", 3, True)
    rollouts.back(three.world.ctx(SOL, HOUR), number)
    assert three.has() == ["1.0.0"] * 3
    rows = three.world.rows("SELECT inputs_json, on_trial FROM routine")
    assert [(row["inputs_json"], row["on_trial"]) for row in rows] == [("{}", 0)] * 3
    with pytest.raises(Refused, match="None of its routines has this release"):
        rollouts.back(three.world.ctx(SOL, HOUR), number)


def test_on_trial_what_was_in_service_waits_to_go_live_and_back_it_is_in_service(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE), "on trial")
    assert {row["on_trial"] for row in three.world.rows("SELECT on_trial FROM routine")} == {1}
    rollouts.back(three.world.ctx(SOL, HOUR), number)
    assert {row["on_trial"] for row in three.world.rows("SELECT on_trial FROM routine")} == {0}


def test_what_was_changed_by_hand_since_is_left_and_says_so(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE))
    third = release(three.world, "1.1.1", MORE)
    given = routines.Given("Count rows", three.world.area, third, {}, [], release_why="A fix for it alone")
    routines.change(three.world.ctx(SOL), three.routines[1], given, 2)
    rollouts.back(three.world.ctx(SOL, HOUR), number)
    assert three.has() == ["1.0.0", "1.1.1", "1.0.0"]
    left = next(part for part in three.view(number).parts if part.routine == "Count rows")
    assert left.state == "left" and "another release meanwhile" in left.words


def test_what_waits_goes_back_as_well_unless_its_own_inputs_do_not_fit(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE))
    plain = three.world.start(three.routines[0], "plain")
    own = by_hand.Given({"place": "Quay"}, None, None, 1)
    by_hand.start(three.world.ctx(SOL), three.routines[0], own, "own")
    rollouts.back(three.world.ctx(SOL, HOUR), number)
    rows = three.world.rows("SELECT id, release_id, inputs_json FROM run ORDER BY id")
    assert (rows[0]["id"], rows[0]["release_id"], rows[0]["inputs_json"]) == (plain, three.first, "{}")
    assert rows[1]["release_id"] != three.first and "Quay" in rows[1]["inputs_json"]
    part = next(one for one in three.view(number).parts if one.routine == "Count meters")
    assert "1 run that waits keeps 1.1.0" in part.words


# ---- in stages


def test_the_area_goes_first_and_the_rest_follows_by_itself(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE), "staged", first_area=three.works, good_wanted=2)
    assert three.has() == ["1.0.0", "1.0.0", "1.1.0"]
    for n in range(2):
        assert three.settle() == 0
        three.run(three.routines[2], "done", n)
    view = three.view(number)
    assert (view.good, view.bad, view.said) == (
        2,
        0,
        "2 of 2 runs ended well, 0 failed or lost; it goes back at 1",
    )
    assert three.settle() == 1
    assert three.settle() == 0
    assert three.has() == ["1.1.0"] * 3
    assert three.view(number).ended_words == view.said


def test_a_failed_run_takes_it_back_by_itself_and_says_so_to_who_rolled_it_out(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE), "staged", first_area=three.works)
    three.run(three.routines[2], "failed", 1)
    assert three.settle() == 1
    assert three.has() == ["1.0.0"] * 3
    view = three.view(number)
    assert view.state == "gone back" and "1 failed or lost" in view.ended_words
    three.world.settle(9 * HOUR)
    told = three.world.rows("SELECT text FROM notification WHERE text LIKE '%%roll-out%%'")
    assert len(told) == 1 and "went back" in told[0]["text"]


def test_runs_of_elsewhere_or_of_before_do_not_count(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    three.run(three.routines[2], "failed", 0)
    number = three.out(later, "staged", first_area=three.works, good_wanted=1)
    three.run(three.routines[0], "done", 1)
    assert three.settle() == 0
    assert (three.view(number).good, three.view(number).bad) == (0, 0)


def test_one_robot_tries_it_and_the_others_keep_what_they_have(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    robot = rollouts.look(three.world.ctx(SOL), later, []).robots[1]
    number = three.out(later, "staged", first_robot=robot.id, good_wanted=1)
    assert three.has() == ["1.0.0"] * 3
    given = [three.world.start(one) for one in three.routines[:2]]
    works = [three.world.take(three.host) for _ in given]
    assert {work.robot: work.version for work in works} == {"Dipper 1": "1.0.0", robot.name: "1.1.0"}
    tried = next(work for work in works if work.robot == robot.name)
    assert tried.inputs == {"place": "Weir Lane"}
    for work in works:
        three.world.finish(three.host, work, "done")
    assert three.settle() == 1
    assert three.has() == ["1.1.0"] * 3
    assert three.view(number).state == "done"


def test_a_run_that_the_first_robot_gave_back_is_tried_by_no_other(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    robots = rollouts.look(three.world.ctx(SOL), later, []).robots
    first = robots[0].id
    three.out(later, "staged", first_robot=first)
    run = three.world.start(three.routines[0])
    three.world.db.transact(lambda tx: rolling.try_on(tx, run, first))
    assert three.world.row("SELECT inputs_json FROM run")["inputs_json"] == '{"place": "Weir Lane"}'
    three.world.db.transact(lambda tx: rolling.try_on(tx, run, robots[1].id))
    kept = three.world.row("SELECT release_id, inputs_json FROM run")
    assert kept == {"release_id": three.first, "inputs_json": "{}"}


def test_a_run_given_what_the_new_one_does_not_take_keeps_the_old_on_that_robot(three: Three) -> None:
    fewer = release(three.world, "2.0.0", MANIFEST.replace("inputs.rows", "inputs.lines"))
    robot = rollouts.look(three.world.ctx(SOL), fewer, []).robots[0]
    three.out(fewer, "staged", first_robot=robot.id)
    own = by_hand.Given({"rows": 5}, robot.id, None, 1)
    by_hand.start(three.world.ctx(SOL), three.routines[0], own, "own")
    assert three.world.take(three.host).version == "1.0.0"


def test_a_robot_cannot_go_first_where_inputs_change(three: Three) -> None:
    breaking = release(three.world, "2.0.0", NEEDED)
    robot = rollouts.look(three.world.ctx(SOL), breaking, []).robots[0]
    chosen = [Chosen(three.routines[0], {"place": "Quay"})]
    given = replace(NO_MORE, routines=chosen, how="staged", first_robot=robot.id)
    found = faults(lambda: rollouts.roll_out(three.world.ctx(SOL), breaking, given))
    assert "let an area go first" in found[f"routines.{three.routines[0]}"]


def test_an_area_goes_first_only_where_some_lie_in_it(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    quay = areas.add_area(three.world.ctx(SOL), "Quay", None)
    assert "none of them lies" in faults(lambda: three.out(later, "staged", first_area=quay))["first"]
    above = areas.add_area(three.world.ctx(SOL), "All", None)
    three.world.db.transact(
        lambda tx: tx.execute(
            "INSERT IGNORE INTO area_above (area_id, above_id) SELECT id, %(a)s FROM area", {"a": above}
        )
    )
    assert "all of them lie" in faults(lambda: three.out(later, "staged", first_area=above))["first"]


def test_somebody_lets_the_rest_follow_or_takes_it_back(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    number = three.out(later, "staged", first_area=three.works)
    rollouts.go_on(three.world.ctx(SOL), number)
    assert three.has() == ["1.1.0"] * 3
    assert "Sol Marin let the rest follow: 0 of 3" in three.view(number).ended_words
    with pytest.raises(Refused, match="over"):
        rollouts.go_on(three.world.ctx(SOL), number)
    rollouts.back(three.world.ctx(SOL), number)
    assert three.has() == ["1.0.0"] * 3


def test_a_release_withdrawn_meanwhile_goes_back(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    number = three.out(later, "staged", first_area=three.works)
    withdrawing.withdraw(three.world.ctx(JONAS), later, "It counts twice")
    assert three.settle() == 1
    assert three.view(number).ended_words == "the release was withdrawn: It counts twice"
    assert three.has() == ["1.0.0"] * 3


def test_while_it_is_under_way_no_other_release_is_given(three: Three) -> None:
    later = release(three.world, "1.1.0", MORE)
    number = three.out(later, "staged", first_area=three.works)
    third = release(three.world, "1.1.1", MORE)
    assert "another roll-out changes it now" in str(faults(lambda: three.out(third)))
    given = routines.Given("Count rows", three.world.area, third, {}, [], release_why="At once")
    said = faults(lambda: routines.change(three.world.ctx(SOL), three.routines[1], given, 1))
    assert f"/workshop/rollouts/{number}" in said["release"]


def test_nobody_sees_one_of_an_area_that_is_none_of_theirs(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE))
    with pytest.raises((Forbidden, NotFound)):
        rollouts.view(three.world.stranger("Nils Berg"), number)
    with pytest.raises(NotFound):
        rollouts.view(three.world.ctx(SOL), number + 1)
    assert [row.id for row in rollouts.listed(three.world.ctx(SOL))] == [number]


# ---- over time


def test_which_release_ran_when_stays_known(three: Three) -> None:
    number = three.out(release(three.world, "1.1.0", MORE))
    three.run(three.routines[0], "done", 1)
    three.run(three.routines[0], "failed", 2)
    runs.start(three.world.ctx(SOL, 2 * HOUR), three.routines[0], "waits")
    rollouts.back(three.world.ctx(SOL, 3 * HOUR), number)
    found = over_time.of_routine(three.world.ctx(SOL, 4 * HOUR), three.routines[0])
    assert [(one.version, one.why) for one in found.releases] == [
        ("1.0.0", ""),
        ("1.1.0", NO_MORE.why),
        ("1.0.0", "the roll-out went back"),
    ]
    last = found.days[-1]
    assert len(found.days) == 60
    assert (last.day, last.done, last.failed, last.other) == (three.world.now.date(), 1, 1, 0)
