"""Areas: a tree that never closes to a circle, days on which they rest, and what a move changes."""

from __future__ import annotations

from datetime import date

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused
from tallyman.services import access, robots
from tallyman.services.house import areas
from tests.world import World


class Tree:
    """Merrowdale over Metering over Meter letters, and Street works beside them."""

    def __init__(self, world: World) -> None:
        self.world, self.sol = world, world.ctx("Sol Marin")
        self.top = areas.add_area(self.sol, "Merrowdale", None)
        self.metering = areas.add_area(self.sol, "Metering", self.top)
        self.letters = areas.add_area(self.sol, "Meter letters", self.metering)
        self.street = areas.add_area(self.sol, "Street works", None)

    def row(self, area: int) -> areas.AreaOut:
        return next(one for one in areas.tree(self.sol).areas if one.id == area)

    def above(self, area: int) -> list[int]:
        sql = "SELECT above_id FROM area_above WHERE area_id = %(area)s ORDER BY depth"
        return [int(row["above_id"]) for row in self.world.rows(sql, area=area)]


@pytest.fixture
def tree(world: World) -> Tree:
    return Tree(world)


def test_the_tree_says_what_lies_where(tree: Tree) -> None:
    found = {one.name: one.parent_id for one in areas.tree(tree.sol).areas}
    assert found == {
        "Merrowdale": None,
        "Metering": tree.top,
        "Meter letters": tree.metering,
        "Street works": None,
    }


def test_a_move_takes_everything_below_along(tree: Tree) -> None:
    areas.move(tree.sol, tree.metering, tree.street, tree.row(tree.metering).version)
    assert tree.row(tree.metering).parent_id == tree.street
    assert tree.above(tree.letters) == [tree.letters, tree.metering, tree.street]
    areas.move(tree.sol, tree.metering, None, tree.row(tree.metering).version)
    assert tree.above(tree.letters) == [tree.letters, tree.metering]


def test_no_area_lies_below_itself(tree: Tree) -> None:
    for below in (tree.top, tree.metering, tree.letters):
        with pytest.raises((InputFaults, Refused)):
            areas.move(tree.sol, tree.top, below, tree.row(tree.top).version)
    with pytest.raises(InputFaults, match="cannot lie below itself"):
        areas.before_move(tree.sol, tree.top, tree.letters)
    assert tree.row(tree.top).parent_id is None


def test_a_move_to_where_it_is_or_to_nowhere_is_refused(tree: Tree) -> None:
    with pytest.raises(Refused, match="is there already"):
        areas.before_move(tree.sol, tree.metering, tree.top)
    with pytest.raises(Refused, match="is at the top already"):
        areas.before_move(tree.sol, tree.street, None)
    with pytest.raises(InputFaults, match="no such area"):
        areas.before_move(tree.sol, tree.metering, 404_404)


def test_before_a_move_one_sees_who_and_which_robots_gain_and_lose(tree: Tree) -> None:
    world = tree.world
    ines = world.ctx("Ines Varga")
    role = next(row.id for row in access.listed(ines) if row.name == "operator")
    access.give(ines, role, world.actors["Ada Pell"].person_id, None, tree.street)
    access.give(ines, role, world.actors["Corin Dahl"].person_id, None, tree.top)
    host = robots.add_host(tree.sol, "Weir", 1).id
    robots.add_robot(tree.sol, robots.Given("Dipper", host, [], [tree.top]))
    robots.add_robot(tree.sol, robots.Given("Heron", host, [], [tree.street]))
    seen = areas.before_move(tree.sol, tree.metering, tree.street)
    assert [(one.person, one.by) for one in seen.gain] == [("Ada Pell", "operator for Street works")]
    assert [(one.person, one.by) for one in seen.lose] == [("Corin Dahl", "operator for Merrowdale")]
    assert (seen.robots, seen.robots_lost) == (["Heron"], ["Dipper"])
    assert seen.version is not None
    done = areas.move(tree.sol, tree.metering, tree.street, seen.version)
    assert (done.gain, done.lose) == (seen.gain, seen.lose)


def test_a_move_by_an_old_version_is_a_conflict_and_moves_nothing(tree: Tree) -> None:
    version = tree.row(tree.metering).version
    areas.rename(tree.sol, tree.metering, "Meters", version)
    with pytest.raises(Conflict) as told:
        areas.move(tree.sol, tree.metering, tree.street, version)
    assert told.value.more["theirs"] == {"name": "Meters", "parent": tree.top}
    assert tree.above(tree.metering) == [tree.metering, tree.top]


def test_names_are_kept_once_and_within_bounds(tree: Tree) -> None:
    version = tree.row(tree.metering).version
    for name in (" ", "x" * 200, "Street works"):
        with pytest.raises(InputFaults) as told:
            areas.rename(tree.sol, tree.metering, name, version)
        assert [one.field for one in told.value.faults] == ["name"]
    with pytest.raises(InputFaults, match="no such area"):
        areas.add_area(tree.sol, "Pumps", 404_404)
    with pytest.raises(NotFound):
        areas.rename(tree.sol, 404_404, "Pumps", 1)


def test_days_of_an_area_are_its_own_and_of_the_company_for_all(tree: Tree) -> None:
    ines = tree.world.ctx("Ines Varga")
    flood, fair = date(2026, 11, 2), date(2026, 12, 24)
    areas.close_day(ines, None, fair, " Fair day ")
    areas.close_day(tree.sol, tree.metering, flood, "Flood drill")
    areas.close_day(tree.sol, tree.metering, flood, "Flood drill, moved")
    seen = areas.tree(ines)
    assert [(one.day, one.name) for one in seen.closed_days] == [(fair, "Fair day")]
    assert [(one.day, one.name) for one in tree.row(tree.metering).days] == [(flood, "Flood drill, moved")]
    assert tree.row(tree.letters).days == []
    areas.open_day(tree.sol, tree.metering, flood)
    areas.open_day(ines, None, fair)
    assert tree.row(tree.metering).days == []
    assert areas.tree(ines).closed_days == []


def test_days_are_closed_by_a_name_and_by_who_may(tree: Tree) -> None:
    with pytest.raises(InputFaults, match="what day it is"):
        areas.close_day(tree.sol, tree.metering, date(2026, 11, 2), " ")
    with pytest.raises(Forbidden):
        areas.close_day(tree.world.ctx("Ada Pell"), tree.metering, date(2026, 11, 2), "Flood drill")
    with pytest.raises(Forbidden):
        areas.close_day(tree.world.ctx("Ada Pell"), None, date(2026, 11, 2), "Flood drill")


def test_who_has_a_role_in_one_area_sees_it_what_lies_below_and_the_way_there(tree: Tree) -> None:
    world, ines = tree.world, tree.world.ctx("Ines Varga")
    world.stranger("Nia Reyes")
    role = next(row.id for row in access.listed(ines) if row.name == "operator")
    access.give(ines, role, world.actors["Nia Reyes"].person_id, None, tree.metering)
    nia = world.again("Nia Reyes")
    seen = {one.name: one.may_change for one in areas.tree(nia).areas}
    assert seen == {"Merrowdale": False, "Metering": True, "Meter letters": True}
    assert not areas.tree(nia).may_make
    with pytest.raises((Forbidden, NotFound)):
        areas.rename(nia, tree.street, "Roads", tree.row(tree.street).version)
