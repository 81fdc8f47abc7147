"""Colleagues without a role in the team browse ideas and join them, as far as the house decides."""

from __future__ import annotations

import pytest

from tallyman.errors import Conflict, Forbidden, InputFaults, NotFound
from tallyman.services import access
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.ideas import browsing, exports, helpers, page, talk
from tests.world import World


@pytest.fixture
def bela(world: World) -> Ctx:
    """A colleague of Networks who proposes ideas and holds no other role."""
    world.stranger("Bela Kiss")
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE person SET division_id = %(d)s WHERE id = %(p)s",
            {"d": world.divisions["Networks"], "p": world.number("Bela Kiss")},
        )
    )
    return world.again("Bela Kiss")


def seen(ctx: Ctx) -> list[int]:
    return [row.id for row in page.page_of_ideas(ctx, page.Wanted()).rows]


def far(world: World, reach: str) -> None:
    _, version = world.db.transact(lambda tx: browsing.rule_sets.newest(tx, browsing.RULE))
    browsing.keep(world.ctx("Ines Varga"), reach, "as agreed", version)


def test_the_house_decides_how_far_colleagues_browse(world: World, bela: Ctx) -> None:
    mine = world.noted("Valve list")
    other = world.noted("Meter note", division=world.divisions["Customers & Metering"])
    below = world.noted("Depot book", division=_below(world))
    assert seen(bela) == []
    with pytest.raises(NotFound):
        page.one(bela, mine)
    far(world, browsing.OWN)
    assert seen(bela) == [below, mine]
    far(world, browsing.COMPANY)
    assert seen(bela) == [below, other, mine]
    far(world, browsing.NOBODY)
    assert seen(bela) == []


def _below(world: World) -> int:
    return int(
        world.db.transact(
            lambda tx: tx.insert("people.add_division", name="Depot", parent=world.divisions["Networks"])
        )
    )


def test_the_whole_branch_is_seen_from_below(world: World, bela: Ctx) -> None:
    depot = _below(world)
    top = world.noted("Valve list")
    world.db.transact(
        lambda tx: tx.execute(
            "UPDATE person SET division_id = %(d)s WHERE id = %(p)s",
            {"d": depot, "p": world.number("Bela Kiss")},
        )
    )
    far(world, browsing.OWN)
    assert seen(bela) == []
    far(world, browsing.BRANCH)
    assert seen(bela) == [top]


def test_who_browses_talks_and_joins_and_sees_no_figures_of_a_case(world: World, bela: Ctx) -> None:
    idea = world.backed()
    far(world, browsing.OWN)
    whole = page.one(bela, idea)
    assert (whole.worth, whole.may.see_case, whole.may.see_tally) == (None, False, False)
    [row] = page.page_of_ideas(bela, page.Wanted()).rows
    assert (row.worth, row.effort_days) == (None, None)
    lead = page.page_of_ideas(world.ctx("Ines Varga"), page.Wanted()).rows[0]
    assert lead.worth is not None
    assert str(lead.worth).split(".")[0] not in exports.as_csv(bela, page.Wanted()).decode()
    talk.say(bela, idea, "We do the same at our end", [])
    talk.join(bela, idea, {"amount": "12", "rhythm": "week"}, "at our end as well")
    assert [voice.name for voice in page.one(bela, idea).voices] == ["Bela Kiss"]
    # Whoever joined keeps seeing it.
    far(world, browsing.NOBODY)
    assert seen(bela) == [idea]


def test_no_order_and_no_filter_tells_a_worth_that_is_not_shown(world: World, bela: Ctx) -> None:
    world.backed()
    far(world, browsing.OWN)
    for wanted, sort in (
        (page.Wanted(), "worth"),
        (page.Wanted(worth_from=1), "newest"),
        (page.Wanted(worth_to=1), "newest"),
    ):
        with pytest.raises(Forbidden, match="see the ideas"):
            page.page_of_ideas(bela, wanted, sort=sort)
        with pytest.raises(Forbidden, match="see the ideas"):
            exports.as_csv(bela, wanted, sort)


def test_a_role_for_one_area_shows_the_worth_of_what_lies_there_alone(world: World, bela: Ctx) -> None:
    lead = world.ctx("Ines Varga")
    here = world.backed("Valve list")
    browsed = world.backed("Meter note")
    area = areas.add_area(lead, "Depots", None)
    helpers.set_area(lead, here, area)
    role = next(row.id for row in access.listed(lead) if row.name == "work owner")
    access.give(lead, role, world.number("Bela Kiss"), None, area)
    far(world, browsing.OWN)
    nia = world.again("Bela Kiss")
    shown = page.page_of_ideas(nia, page.Wanted())
    assert {row.id: row.worth is None for row in shown.rows} == {here: False, browsed: True}
    assert shown.figures_only is False
    by_worth = page.page_of_ideas(nia, page.Wanted(), sort="worth")
    assert ([row.id for row in by_worth.rows], by_worth.figures_only) == ([here], True)
    assert page.page_of_ideas(lead, page.Wanted(), sort="worth").figures_only is False


def test_what_was_let_go_and_drafts_are_nobodys_to_browse(world: World, bela: Ctx) -> None:
    idea = world.noted()
    far(world, browsing.COMPANY)
    world.db.transact(
        lambda tx: tx.execute("UPDATE idea SET stage = 'declined' WHERE id = %(i)s", {"i": idea})
    )
    assert seen(bela) == []
    with pytest.raises(NotFound):
        page.one(bela, idea)


def test_how_far_is_set_by_who_sets_house_rules(world: World, bela: Ctx) -> None:
    lead = world.ctx("Ines Varga")
    assert [one.value for one in browsing.view(lead).choices] == ["nobody", "own", "branch", "company"]
    with pytest.raises(InputFaults, match="did you mean"):
        browsing.keep(lead, "compny", "x", 1)
    with pytest.raises(Conflict):
        browsing.keep(lead, "own", "x", 0)
    with pytest.raises(Forbidden):
        browsing.keep(bela, "company", "x", 1)
    with pytest.raises(Forbidden):
        browsing.view(bela)
