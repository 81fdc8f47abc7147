"""Tokens for programs: shown once, bounded by scope, reach and time, revoked by owner or lead."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.api.edge.pace import CALLS_A_MINUTE, Pace
from tallyman.errors import Forbidden, InputFaults, NotSignedIn, Refused, SlowDown
from tallyman.services import access, people
from tallyman.services.people import tokens
from tallyman.services.people.answers import TokenMade
from tests.conftest import NOW
from tests.world import World

SOON = (NOW + timedelta(days=30)).date()


def make(world: World, name: str = "Sol Marin", scope: tuple[str, ...] = ("run.see",)) -> TokenMade:
    return tokens.make(world.again(name), "Meter sync", list(scope), SOON)


def test_a_token_is_kept_by_its_digest_and_never_shown_again(world: World) -> None:
    token = make(world).token
    assert token.startswith("tally_")
    assert token not in str(world.rows("SELECT * FROM program_token")) + str(
        world.rows("SELECT * FROM audit")
    )
    assert token not in str(tokens.mine(world.again("Sol Marin")))


def test_a_program_may_no_more_than_its_scope(world: World) -> None:
    actor = tokens.who_is(world.program(), make(world, scope=("run.see", "robot.see")).token)
    assert actor.permissions == {"run.see", "robot.see"}
    assert actor.name == "Sol Marin by Meter sync"
    with pytest.raises(Forbidden):
        tokens.refuse_programs(actor)


def test_a_program_loses_what_its_person_loses(world: World) -> None:
    token = make(world).token
    lead = world.ctx("Ines Varga")
    held = next(row for row in access.holders(lead) if row.person == "Sol Marin")
    access.take_away(lead, held.id)
    assert tokens.who_is(world.program(), token).permissions == frozenset()
    sol = world.actors["Sol Marin"].person_id
    assert sol is not None
    people.deactivate(lead, sol, None)
    with pytest.raises(NotSignedIn):
        tokens.who_is(world.program(), token)


@pytest.mark.parametrize(
    ("field", "name", "scope", "days"),
    [
        ("name", " ", ["run.see"], 30),
        ("scope", "Sync", [], 30),
        ("scope", "Sync", ["case.decide"], 30),
        ("scope", "Sync", ["token.make"], 30),
        ("scope", "Sync", ["nothing.known"], 30),
        ("ends_on", "Sync", ["run.see"], 0),
        ("ends_on", "Sync", ["run.see"], 500),
    ],
)
def test_what_does_not_fit_is_named(world: World, field: str, name: str, scope: list[str], days: int) -> None:
    with pytest.raises(InputFaults) as caught:
        tokens.make(world.again("Sol Marin"), name, scope, (NOW + timedelta(days=days)).date())
    assert [fault.field for fault in caught.value.faults] == [field]


def test_a_token_ends_with_its_day_and_when_revoked(world: World) -> None:
    one, other = make(world), make(world)
    with pytest.raises(NotSignedIn):
        tokens.who_is(world.program(timedelta(days=32)), one.token)
    tokens.revoke(world.again("Sol Marin"), other.id)
    with pytest.raises(NotSignedIn):
        tokens.who_is(world.program(), other.token)
    with pytest.raises(Refused):
        tokens.revoke(world.again("Sol Marin"), other.id)


def test_the_lead_revokes_anybodys_and_its_owner_is_told(world: World) -> None:
    made = make(world)
    with pytest.raises(Forbidden):
        tokens.revoke(world.ctx("Mei Tanaka"), made.id)
    tokens.revoke(world.ctx("Ines Varga"), made.id)
    world.settle()
    assert "revoked your token Meter sync" in world.row("SELECT text FROM notification")["text"]


def test_the_last_use_is_noted_with_its_address(world: World) -> None:
    token = make(world).token
    tokens.who_is(world.program(timedelta(hours=1)), token)
    row = tokens.mine(world.again("Sol Marin")).tokens[0]
    assert row.used_at == NOW + timedelta(hours=1)


def test_a_program_in_a_loop_is_slowed() -> None:
    pace = Pace()
    for _ in range(CALLS_A_MINUTE):
        pace.check("one", NOW)
    pace.check("other", NOW)
    with pytest.raises(SlowDown):
        pace.check("one", NOW)
    pace.check("one", NOW + timedelta(minutes=1))
