"""What waits is one's own, or the duty of people who were given just that."""

from __future__ import annotations

from tallyman.services.cases import sizing
from tallyman.services.today import desk
from tests.world import World


def waits(world: World, name: str) -> dict[str, tuple[str, tuple[str, ...]]]:
    rows = desk.view(world.ctx(name)).waits
    return {one.kind: (one.duty_of, one.people) for one in rows}


def test_a_review_is_the_reviewer_s_own_and_only_then_the_lead_s(world: World) -> None:
    world.noted("Leak allowance claims")
    assert waits(world, "Tom Okafor")["review"] == ("", ())
    role, people = waits(world, "Ines Varga")["review"]
    assert role == "reviewer"
    assert "Tom Okafor" in people


def test_what_nobody_else_was_given_is_the_lead_s_own(world: World) -> None:
    world.noted("Leak allowance claims")
    world.db.transact(
        lambda tx: tx.execute(
            "DELETE FROM held_role WHERE role_id IN (SELECT id FROM role WHERE name = 'reviewer')"
        )
    )
    assert waits(world, "Ines Varga")["review"] == ("", ())


def test_a_decision_to_back_is_the_lead_s(world: World) -> None:
    idea = world.offered("Leak allowance claims")
    sizing.settle(world.ctx("Ines Varga"), idea, True, "")
    assert waits(world, "Ines Varga")["decide"] == ("", ())
