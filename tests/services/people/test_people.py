from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, NotSignedIn, SlowDown
from tallyman.services import people
from tallyman.services.context import Actor, Ctx
from tallyman.services.people import sessions
from tests.conftest import NOW
from tests.world import PASSWORD, World

ADA = "ada.pell@merrowdale.example"


def anyone(world: World, later: timedelta = timedelta(), address: str = "10.0.0.1") -> Ctx:
    return Ctx(world.db, NOW + later, Actor(None, "nobody", address=address))


def fail(world: World, email: str = ADA, later: timedelta = timedelta(), address: str = "10.0.0.1") -> None:
    with pytest.raises(NotSignedIn):
        people.sign_in(anyone(world, later, address), email, "wrong")


def test_a_session_knows_its_person_and_permissions(world: World) -> None:
    token, _ = people.sign_in(anyone(world), f" {ADA.upper()} ", PASSWORD)
    actor = people.who_is(anyone(world), token)
    assert (actor.name, actor.roles, actor.permissions) == ("Ada Pell", ("proposer",), {"idea.make"})


def test_tokens_and_passwords_are_kept_only_as_digests(world: World) -> None:
    token, _ = people.sign_in(anyone(world), ADA, PASSWORD)
    kept = world.rows("SELECT token_hash FROM session") + world.rows("SELECT password_hash FROM person")
    assert all(token not in str(row) and PASSWORD not in str(row) for row in kept)


def test_wrong_passwords_are_slowed_down_more_and_more(world: World) -> None:
    for _ in range(3):
        fail(world)
    with pytest.raises(SlowDown) as refused:
        people.sign_in(anyone(world), ADA, PASSWORD)
    assert refused.value.more["seconds"] <= 3
    later = timedelta(seconds=3)
    fail(world, later=later)
    with pytest.raises(SlowDown) as again:
        people.sign_in(anyone(world, later), ADA, PASSWORD)
    assert again.value.more["seconds"] > refused.value.more["seconds"]


def test_both_answers_are_the_same_for_accounts_that_do_not_exist(world: World) -> None:
    messages = set()
    for email in (ADA, "nobody@merrowdale.example"):
        with pytest.raises(NotSignedIn) as refused:
            people.sign_in(anyone(world, address=email), email, "wrong")
        messages.add(refused.value.message)
    assert len(messages) == 1


def test_one_address_trying_many_accounts_is_slowed_down_too(world: World) -> None:
    for n in range(10):
        fail(world, email=f"guess{n}@merrowdale.example")
    with pytest.raises(SlowDown):
        people.sign_in(anyone(world), ADA, PASSWORD)


def test_failures_are_forgotten_after_a_while_and_after_success(world: World) -> None:
    for _ in range(3):
        fail(world)
    later = timedelta(minutes=16)
    people.sign_in(anyone(world, later), ADA, PASSWORD)
    fail(world, later=later)
    people.sign_in(anyone(world, later), ADA, PASSWORD)


@pytest.mark.parametrize("idle", [people.IDLE + timedelta(seconds=1), people.LONGEST])
def test_sessions_end(world: World, idle: timedelta) -> None:
    token, _ = people.sign_in(anyone(world), ADA, PASSWORD)
    with pytest.raises(NotSignedIn):
        people.who_is(anyone(world, idle), token)


def test_a_used_session_lives_on_but_not_for_ever(world: World) -> None:
    token, _ = people.sign_in(anyone(world), ADA, PASSWORD)
    for hours in range(1, 12):
        people.who_is(anyone(world, timedelta(hours=hours)), token)
    with pytest.raises(NotSignedIn):
        people.who_is(anyone(world, timedelta(hours=12)), token)


def test_signing_out_ends_the_session(world: World) -> None:
    token, _ = people.sign_in(anyone(world), ADA, PASSWORD)
    people.sign_out(anyone(world), token)
    with pytest.raises(NotSignedIn):
        people.who_is(anyone(world), token)


def test_a_refusal_names_the_permission_and_who_gives_it(world: World) -> None:
    with pytest.raises(Forbidden) as refused:
        world.ctx("Ada Pell").require("case.decide")
    assert "case.decide" in refused.value.message
    assert "lead" in refused.value.mend


def test_who_is_unknown_is_refused_by_as_long_a_check_as_a_wrong_password() -> None:
    assert not sessions.HASHER.check_needs_rehash(sessions.NOBODY)
    assert not sessions.matches(sessions.NOBODY, PASSWORD)
