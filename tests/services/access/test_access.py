"""Roles by area, groups, requests, and what is seen by whom."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any

import pytest

from tallyman.core.access.permissions import ROLES
from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound, Refused, TallymanError
from tallyman.services import access, alerts, people, robots, runs, tally
from tallyman.services.access.answers import GrantedOut
from tallyman.services.access.roles import RoleGiven
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.ideas import helpers, page, review
from tallyman.services.starts import routine_page, triggers
from tallyman.services.today import desk
from tallyman.services.workshop import routines
from tests.world import World


class Tree:
    """Two areas side by side below one, a routine and a run in each."""

    def __init__(self, world: World) -> None:
        self.world = world
        sol = world.ctx("Sol Marin")
        self.top = areas.add_area(sol, "Merrowdale", None)
        self.metering = areas.add_area(sol, "Metering", self.top)
        self.meters = areas.add_area(sol, "Meter letters", self.metering)
        self.street = areas.add_area(sol, "Street works", self.top)
        release = world.release()
        world.area = self.metering
        self.routine = world.routine("Check readings", release)
        self.other = world.routine("Permit list", release, area_id=self.street)
        self.run = runs.start(sol, self.routine, "one")
        self.other_run = runs.start(sol, self.other, "two")
        host = robots.add_host(sol, "Weir", 1).id
        self.dipper = robots.add_robot(sol, robots.Given("Dipper", host, [], [self.metering]))
        far = robots.add_host(sol, "Sluice", 1).id
        self.heron = robots.add_robot(sol, robots.Given("Heron", far, [], [self.street]))
        self.hosts = (host, far)

    def set_up(self, name: str, area: int, *tags: str) -> robots.Given:
        """One of the two robots, allowed in an area."""
        host = self.hosts[0] if name == "Dipper" else self.hosts[1]
        return robots.Given(name, host, list(tags), [area])

    def role(self, name: str) -> int:
        return next(row.id for row in access.listed(self.world.ctx("Ines Varga")) if row.name == name)

    def give(self, who: str, role: str, area: int | None) -> None:
        person = self.world.actors[who].person_id
        access.give(self.world.ctx("Ines Varga"), self.role(role), person, None, area)

    def seen(self, who: str) -> Ctx:
        return self.world.again(who)


@pytest.fixture
def tree(world: World) -> Tree:
    return Tree(world)


@pytest.fixture
def ada(tree: Tree) -> Ctx:
    """Ada Pell, an operator of Metering and nothing else."""
    tree.give("Ada Pell", "operator", tree.metering)
    return tree.seen("Ada Pell")


def test_lists_hold_only_what_lies_in_ones_areas(tree: Tree, ada: Ctx) -> None:
    assert [row.name for row in routines.listed(ada)] == ["Check readings"]
    found = runs.page_of_runs(ada, state=None, routine=None, robot=None, after=None, limit=50)
    assert [row.id for row in found.rows] == [tree.run]
    assert found.open == {"waiting": 1}
    view = robots.view(ada)
    assert [row.name for row in view.robots] == ["Dipper"]
    assert [row.name for row in view.hosts] == ["Weir"]
    assert {row.name for row in view.areas} == {"Merrowdale", "Metering", "Meter letters"}


REFUSED: list[tuple[str, Callable[[Ctx, Tree], Any]]] = [
    ("routine.see", lambda ctx, t: routine_page.one(ctx, t.other)),
    ("run.see", lambda ctx, t: runs.one(ctx, t.other_run)),
    ("run.see", lambda ctx, t: runs.log(ctx, t.other_run, 0)),
    ("run.see", lambda ctx, t: runs.cancel(ctx, t.other_run)),
    ("run.see", lambda ctx, t: runs.pause(ctx, t.other_run)),
    ("routine.see", lambda ctx, t: runs.start(ctx, t.other, "mine")),
    ("routine.see", lambda ctx, t: triggers.retire(ctx, t.other, 1)),
    ("routine.see", lambda ctx, t: triggers.as_calendar(ctx, t.other)),
    ("robot.see", lambda ctx, t: robots.set_seats(ctx, t.hosts[1], 3)),
    ("robot.see", lambda ctx, t: robots.change_robot(ctx, t.heron, t.set_up("Heron", t.metering), 1)),
    ("robot.change", lambda ctx, t: robots.change_robot(ctx, t.dipper, t.set_up("Dipper", t.street), 1)),
    ("robot.make", lambda ctx, t: robots.add_host(ctx, "Penstock", 1)),
    ("area.make", lambda ctx, t: areas.add_area(ctx, "Elsewhere", None)),
    ("area.change", lambda ctx, t: areas.rename(ctx, t.top, "All", 1)),
]


@pytest.mark.parametrize(("permission", "call"), REFUSED)
def test_what_lies_in_another_area_is_refused_with_the_permission(
    tree: Tree, ada: Ctx, permission: str, call: Callable[[Ctx, Tree], Any]
) -> None:
    with pytest.raises(Forbidden) as refused:
        call(ada, tree)
    assert refused.value.more["permission"] == permission


@pytest.mark.parametrize("number", [999, None])
def test_what_is_not_there_and_what_may_not_be_seen_sound_alike(
    tree: Tree, ada: Ctx, number: int | None
) -> None:
    with pytest.raises(Forbidden) as refused:
        routine_page.one(ada, number or tree.other)
    assert "or it does not exist" in refused.value.message
    assert "Permit list" not in refused.value.message + refused.value.mend


def test_in_ones_own_area_everything_goes_on(tree: Tree, ada: Ctx) -> None:
    robots.change_robot(ada, tree.dipper, tree.set_up("Dipper", tree.meters, "letters"), 1)
    assert runs.start(ada, tree.routine, "again") > tree.other_run
    assert areas.add_area(ada, "Meter swaps", tree.metering)
    areas.rename(ada, tree.meters, "Letters of meters", 1)
    assert "Check readings" in str(desk.view(ada).coming) or desk.view(ada).sees_runs


def test_the_company_is_seen_whole_by_who_holds_it_whole(tree: Tree) -> None:
    assert len(routines.listed(tree.seen("Sol Marin"))) == 2
    with pytest.raises(NotFound):
        routine_page.one(tree.seen("Sol Marin"), 999)


def test_groups_give_their_roles_to_everyone_in_them(tree: Tree) -> None:
    lead, ada_id = tree.world.ctx("Ines Varga"), tree.world.actors["Ada Pell"].person_id
    assert ada_id is not None
    group = access.add_group(lead, "Meter desk", "", "", [ada_id])
    access.give(lead, tree.role("operator"), None, group, tree.metering)
    assert [row.name for row in routines.listed(tree.seen("Ada Pell"))] == ["Check readings"]
    one = access.one_group(lead, group)
    access.change_group(lead, group, "Meter desk", "", "", [], one.version)
    with pytest.raises(Forbidden):
        routines.listed(tree.seen("Ada Pell"))
    with pytest.raises(Refused, match="holds operator"):
        access.retire_group(lead, group)


def test_a_role_is_held_once_for_the_same(tree: Tree, ada: Ctx) -> None:
    with pytest.raises(InputFaults, match="already"):
        tree.give("Ada Pell", "operator", tree.metering)
    tree.give("Ada Pell", "operator", tree.street)
    assert len(routines.listed(tree.seen("Ada Pell"))) == 2


def test_a_role_without_anything_in_areas_is_not_given_for_one(tree: Tree) -> None:
    lead = tree.world.ctx("Ines Varga")
    role = access.add_role(lead, RoleGiven("Letter writer", "", frozenset({"mail.see"})))
    with pytest.raises(InputFaults, match="lies in an area"):
        access.give(lead, role, tree.world.actors["Ada Pell"].person_id, None, tree.metering)


def test_the_last_who_gives_roles_keeps_theirs(tree: Tree) -> None:
    lead = tree.world.ctx("Ines Varga")
    held = next(row for row in access.holders(lead) if row.role == "lead")
    with pytest.raises(Refused, match="nobody could give roles"):
        access.take_away(lead, held.id)
    tree.give("Ruth Abernathy", "lead", None)
    access.take_away(lead, held.id)
    with pytest.raises(Forbidden):
        access.holders(tree.seen("Ines Varga"))


def test_own_roles_are_made_by_copying_and_say_what_they_allow(tree: Tree) -> None:
    lead = tree.world.ctx("Ines Varga")
    wanted = frozenset(ROLES["analyst"] | {"case.decide"})
    number = access.add_role(lead, RoleGiven("Chooser", "Sizes and backs", wanted), "analyst")
    role = next(row for row in access.listed(lead) if row.id == number)
    assert role.breaches == ["who sizes an idea should not alone back it"]
    assert "Backing: back ideas" in role.words
    assert role.copied_from == "analyst"
    access.change_role(lead, number, RoleGiven("Chooser", "", ROLES["analyst"]), role.version)
    with pytest.raises(Conflict):
        access.change_role(lead, number, RoleGiven("Chooser", "", wanted), role.version)
    access.retire_role(lead, number)
    assert number not in {row.id for row in access.listed(lead)}


@pytest.mark.parametrize(
    ("given", "field"),
    [
        (RoleGiven("", "", frozenset()), "name"),
        (RoleGiven("x" * 61, "", frozenset()), "name"),
        (RoleGiven("Fine", "x" * 301, frozenset()), "about"),
        (RoleGiven("Fine", "", frozenset({"moon.see"})), "permissions"),
        (RoleGiven("lead", "", frozenset()), "name"),
    ],
)
def test_a_role_that_does_not_fit_is_refused(tree: Tree, given: RoleGiven, field: str) -> None:
    with pytest.raises(InputFaults) as refused:
        access.add_role(tree.world.ctx("Ines Varga"), given)
    assert refused.value.faults[0].field == field


def test_built_in_roles_stay_but_may_ask_for_a_second_factor(tree: Tree) -> None:
    lead, number = tree.world.ctx("Ines Varga"), tree.role("lead")
    with pytest.raises(Refused, match="built in"):
        access.change_role(lead, number, RoleGiven("lead", "", frozenset({"idea.see"})), 1)
    with pytest.raises(Refused, match="built in"):
        access.retire_role(lead, number)
    version = next(row.version for row in access.listed(lead) if row.id == number)
    access.change_role(lead, number, RoleGiven("lead", "", ROLES["lead"], True), version)
    assert next(row.second_factor for row in access.listed(lead) if row.id == number)
    version = next(row.version for row in access.listed(lead) if row.id == number)
    access.change_role(lead, number, RoleGiven("lead", "", ROLES["lead"], False), version)


def test_who_gives_roles_in_an_area_gives_no_more_than_they_hold_there(tree: Tree) -> None:
    lead = tree.world.ctx("Ines Varga")
    keeper = access.add_role(
        lead, RoleGiven("Desk keeper", "", frozenset({"role.see", "role.decide", "run.see"}))
    )
    access.give(lead, keeper, tree.world.actors["Ada Pell"].person_id, None, tree.metering)
    ada, tom = tree.seen("Ada Pell"), tree.world.actors["Tom Okafor"].person_id
    with pytest.raises(Forbidden, match="do not hold there"):
        access.give(ada, tree.role("operator"), tom, None, tree.metering)
    with pytest.raises(Forbidden):
        access.give(ada, keeper, tom, None, tree.street)
    with pytest.raises(Forbidden):
        access.give(ada, keeper, tom, None, None)
    access.give(ada, keeper, tom, None, tree.meters)
    assert {row.person for row in access.holders(ada)} == {"Ada Pell", "Tom Okafor"}


def test_a_request_is_asked_once_answered_once_and_told(tree: Tree) -> None:
    ada, lead = tree.world.ctx("Ada Pell"), tree.world.ctx("Ines Varga")
    first = access.ask(ada, "run.see", tree.metering, "I look after the letters")
    assert access.ask(ada, "run.see", tree.metering, "again") == first
    assert [row.words for row in access.waiting(lead)] == ["I look after the letters"]
    assert any(row.kind == "access" for row in desk.view(lead).waits)
    access.decide(lead, first, tree.role("operator"), tree.metering, "welcome")
    with pytest.raises(Refused, match="granted already"):
        access.decide(lead, first, None, None, "no")
    assert access.mine(ada)[0].state == "granted"
    tree.world.settle()
    texts = [row.text for row in alerts.notifications(ada)]
    assert any("granted your request" in text for text in texts)
    assert [row.name for row in routines.listed(tree.seen("Ada Pell"))] == ["Check readings"]


def test_nobody_answers_their_own_request_and_a_refusal_says_why(tree: Tree) -> None:
    lead, ada = tree.world.ctx("Ines Varga"), tree.world.ctx("Ada Pell")
    mine = access.ask(lead, "sizing.make", None, "to see how it works")
    with pytest.raises(Refused, match="your own request"):
        access.decide(lead, mine, tree.role("analyst"), None, "")
    other = access.ask(ada, "", None, "I see nothing")
    with pytest.raises(InputFaults, match="say why"):
        access.decide(lead, other, None, None, " ")
    access.decide(lead, other, None, None, "Ask Sol first")
    assert access.mine(ada)[0].answer == "Ask Sol first"


def test_may_they_and_why(tree: Tree, ada: Ctx) -> None:
    lead, person = tree.world.ctx("Ines Varga"), tree.world.actors["Ada Pell"].person_id
    assert person is not None
    yes = access.why(lead, person, "run.see", "run", tree.run)
    assert yes.may
    assert yes.granted == [
        GrantedOut(role="operator", group=None, where="the area Metering and those below it")
    ]
    no = access.why(lead, person, "run.see", "run", tree.other_run)
    assert not no.may
    assert no.elsewhere == yes.granted
    assert "Ines Varga" in no.givers
    assert "operator" in no.roles_with
    with pytest.raises(Forbidden):
        access.why(ada, person, "run.see")


def test_whoever_has_a_part_in_an_idea_sees_it(tree: Tree) -> None:
    world = tree.world
    idea = world.noted()
    assert page.one(tree.seen("Ada Pell"), idea).id == idea
    stranger = world.stranger("Bela Kiss")
    with pytest.raises(NotFound):
        page.one(stranger, idea)
    helper = stranger.actor.person_id
    assert helper is not None
    with pytest.raises(NotFound):
        helpers.add_helper(stranger, idea, helper, "let me in")
    helpers.add_helper(world.ctx("Ada Pell"), idea, helper, "look at the letters")
    assert page.one(stranger, idea).id == idea
    rows = page.page_of_ideas(stranger, page.Wanted(), sort="newest", after=None, limit=9)
    assert [row.id for row in rows.rows] == [idea]
    why = access.why(world.ctx("Ines Varga"), stranger.actor.person_id or 0, "idea.see", "idea", idea)
    assert why.parts == ["helps with it"]
    with pytest.raises(Forbidden):
        helpers.add_helper(stranger, idea, helper, "and me")
    helpers.drop_helper(stranger, idea, helper)
    with pytest.raises(NotFound):
        page.one(stranger, idea)


def test_ideas_and_value_follow_the_area_of_the_idea(tree: Tree) -> None:
    world = tree.world
    idea = world.noted()
    tree.give("Corin Dahl", "analyst", tree.street)
    with pytest.raises(Forbidden):
        helpers.set_area(world.ctx("Ada Pell"), idea, tree.street)
    helpers.set_area(world.ctx("Tom Okafor"), idea, tree.street)
    stranger = world.stranger("Bela Kiss")
    lead = world.ctx("Ines Varga")
    access.give(lead, tree.role("analyst"), stranger.actor.person_id, None, tree.metering)
    far = world.again("Bela Kiss")
    with pytest.raises(NotFound):
        page.one(far, idea)
    with pytest.raises(TallymanError):
        tally.of_idea(far, idea)
    access.give(lead, tree.role("analyst"), stranger.actor.person_id, None, tree.street)
    assert page.one(world.again("Bela Kiss"), idea).may.see_tally


def test_moving_an_area_shows_first_who_gains_and_loses(tree: Tree, ada: Ctx) -> None:
    lead = tree.world.ctx("Ines Varga")
    before = areas.before_move(lead, tree.meters, tree.street)
    assert [row.person for row in before.lose] == ["Ada Pell"]
    assert before.gain == []
    assert before.robots == ["Heron"]
    assert before.robots_lost == ["Dipper"]
    areas.move(lead, tree.meters, tree.street, before.version)
    with pytest.raises(Conflict):
        areas.move(lead, tree.meters, tree.metering, before.version)
    assert {row.name for row in robots.view(tree.seen("Ada Pell")).areas} == {"Merrowdale", "Metering"}
    rows = tree.world.rows("SELECT above_id, depth FROM area_above WHERE area_id = %(a)s", a=tree.meters)
    assert {(row["above_id"], row["depth"]) for row in rows} == {
        (tree.meters, 0),
        (tree.street, 1),
        (tree.top, 2),
    }


def test_an_area_is_not_put_below_itself(tree: Tree) -> None:
    lead = tree.world.ctx("Ines Varga")
    with pytest.raises(InputFaults, match="below itself"):
        areas.before_move(lead, tree.metering, tree.meters)
    with pytest.raises(Refused, match="already"):
        areas.before_move(lead, tree.metering, tree.top)


def test_an_area_keeps_its_own_closed_days(tree: Tree, ada: Ctx) -> None:
    areas.close_day(ada, tree.metering, date(2026, 3, 16), "Meter count")
    with pytest.raises(Forbidden):
        areas.close_day(ada, tree.street, date(2026, 3, 16), "Not mine")
    with pytest.raises(Forbidden):
        areas.close_day(ada, None, date(2026, 3, 16), "Nor this")
    given = triggers.Given({"expr": "0 6 * * *"}, "UTC", "skip")
    days = [f"{one.at:%d}" for one in triggers.preview(ada, given, tree.routine).times]
    sol = tree.world.ctx("Sol Marin")
    others = [f"{one.at:%d}" for one in triggers.preview(sol, given, tree.other).times]
    assert "16" not in days
    assert "16" in others
    areas.open_day(ada, tree.metering, date(2026, 3, 16))
    assert "16" in [f"{one.at:%d}" for one in triggers.preview(ada, given, tree.routine).times]


def test_a_lead_sees_as_a_person_or_a_role_and_changes_nothing(tree: Tree, ada: Ctx) -> None:
    lead = tree.seen("Ines Varga")
    as_ada = people.seen_as(lead, f"person:{ada.actor.person_id}")
    assert as_ada.reach == ada.actor.reach
    assert as_ada.read_only == "Ines Varga"
    with pytest.raises(Forbidden, match="nothing can be changed"):
        people.refuse_changes(as_ada)
    role = people.seen_as(lead, f"role:{tree.role('operator')}:{tree.street}")
    seen = Ctx(lead.db, lead.now, role)
    assert [row.name for row in routines.listed(seen)] == ["Permit list"]
    rows = page.page_of_ideas(seen, page.Wanted(mine=True), sort="newest", after=None, limit=9)
    assert rows.rows == []
    with pytest.raises(Forbidden):
        people.seen_as(ada, f"person:{lead.actor.person_id}")


@pytest.mark.parametrize(
    "spec", ["", "moon:1", "person:", "person:x", "role:1:x", "role:999", "person:99999"]
)
def test_whom_to_see_as_is_checked(tree: Tree, spec: str) -> None:
    with pytest.raises((TallymanError, InputFaults)):
        people.seen_as(tree.seen("Ines Varga"), spec)


def test_a_reviewer_chooses_among_those_who_size_where_the_idea_belongs(tree: Tree) -> None:
    world = tree.world
    idea = world.noted()
    helpers.set_area(world.ctx("Tom Okafor"), idea, tree.street)
    tree.give("Corin Dahl", "expert", tree.street)
    tree.give("Ada Pell", "expert", tree.metering)
    experts = page.one(world.ctx("Tom Okafor"), idea).experts
    assert {one.name for one in experts} == {"Mei Tanaka", "Corin Dahl"}
    assert page.one(world.ctx("Mei Tanaka"), idea).experts == []


def test_a_reviewer_of_an_area_settles_what_they_may_see_and_screens(tree: Tree) -> None:
    world = tree.world
    mine, near = world.noted("Leak allowance claims"), world.noted("Leak allowance letters")
    far = world.noted("Leak allowance claims again")
    for idea, area in ((mine, tree.metering), (near, tree.meters), (far, tree.street)):
        helpers.set_area(world.ctx("Tom Okafor"), idea, area)
    world.stranger("Jaro Senn")
    tree.give("Jaro Senn", "reviewer", tree.metering)
    jaro = tree.seen("Jaro Senn")
    assert [one.id for one in page.one(jaro, mine).matches] == [near]
    with pytest.raises(Refused, match="cannot be screened yet") as refused:
        review.screen(jaro, mine, None)
    assert refused.value.more["open"] == [f"settle I-{near} Leak allowance letters"]
    review.settle(jaro, mine, near, "other")
    review.screen(jaro, mine, None)
    assert world.row("SELECT stage FROM idea WHERE id = %(i)s", i=mine)["stage"] == "screened"
