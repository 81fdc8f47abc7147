"""The second factor: set up, asked for, used once, recovered from, and asked for by roles."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import pyotp
import pytest

from tallyman.errors import FactorMissing, InputFaults, NotSignedIn, Refused, SecondFactor, SlowDown
from tallyman.services import access, people
from tallyman.services.context import Actor, Ctx
from tallyman.services.people import second_factor
from tests.conftest import NOW
from tests.world import PASSWORD, World

ADA = "ada.pell@merrowdale.example"


def nobody(world: World, later: timedelta = timedelta()) -> Ctx:
    return Ctx(world.db, NOW + later, Actor(None, "nobody", address="10.0.0.9"))


def code_at(secret: str, when: datetime) -> str:
    return pyotp.TOTP(secret).at(when)


def set_up(world: World, name: str = "Ada Pell") -> tuple[str, list[str]]:
    ctx = world.ctx(name)
    secret = second_factor.begin(ctx).secret
    return secret, second_factor.confirm(ctx, code_at(secret, NOW))


def half(world: World, later: timedelta) -> str:
    """The step of a sign-in whose password was right."""
    with pytest.raises(SecondFactor) as caught:
        people.sign_in(nobody(world, later), ADA, PASSWORD)
    return str(caught.value.more["step"])


def test_nothing_is_asked_for_before_the_factor_is_proved(world: World) -> None:
    shown = second_factor.begin(world.ctx("Ada Pell"))
    assert shown.uri.startswith("otpauth://totp/Tallyman%20Merrowdale%20Water")
    assert shown.picture.startswith("data:image/svg+xml")
    token, _ = people.sign_in(nobody(world), ADA, PASSWORD)
    assert people.who_is(nobody(world), token).name == "Ada Pell"
    with pytest.raises(InputFaults):
        second_factor.confirm(world.ctx("Ada Pell"), "000000")


def test_a_code_opens_the_session_and_works_once(world: World) -> None:
    secret, _ = set_up(world)
    later = timedelta(minutes=5)
    code = code_at(secret, NOW + later)
    token, _ = people.sign_in_second(nobody(world, later), half(world, later), code)
    assert people.who_is(nobody(world, later), token).name == "Ada Pell"
    how = people.profile(world.ctx("Ada Pell", later), token).sessions[0].how
    assert how == "password, code"
    with pytest.raises(InputFaults):
        people.sign_in_second(nobody(world, later), half(world, later), code)


@pytest.mark.parametrize(
    ("seconds", "taken"), [(-90, False), (-30, True), (0, True), (30, True), (90, False)]
)
def test_a_clock_may_be_half_a_minute_off(world: World, seconds: int, taken: bool) -> None:
    secret, _ = set_up(world)
    later = timedelta(minutes=10)
    code, step = code_at(secret, NOW + later + timedelta(seconds=seconds)), half(world, later)
    if taken:
        people.sign_in_second(nobody(world, later), step, code)
    else:
        with pytest.raises(InputFaults):
            people.sign_in_second(nobody(world, later), step, code)


def test_a_recovery_code_works_once_and_its_owner_is_told(world: World) -> None:
    _, codes = set_up(world)
    assert len(set(codes)) == 10
    later = timedelta(minutes=5)
    people.sign_in_second(nobody(world, later), half(world, later), codes[3].lower())
    with pytest.raises(InputFaults):
        people.sign_in_second(nobody(world, later), half(world, later), codes[3])
    world.settle(later)
    assert "9 are left" in world.row("SELECT text FROM notification")["text"]
    assert codes[3] not in str(world.rows("SELECT * FROM recovery_code"))


def test_guessing_is_slowed_and_ends_the_sign_in(world: World) -> None:
    set_up(world)
    step = half(world, timedelta(minutes=5))
    seen: list[str] = []
    for second in range(300, 400):
        try:
            people.sign_in_second(nobody(world, timedelta(seconds=second)), step, "000000")
        except (InputFaults, SlowDown, NotSignedIn) as error:
            seen.append(type(error).__name__)
    assert "SlowDown" in seen
    assert seen.count("InputFaults") == 5
    assert seen[-1] == "NotSignedIn"


def test_a_step_ends_with_time(world: World) -> None:
    secret, _ = set_up(world)
    step = half(world, timedelta(minutes=5))
    late = timedelta(minutes=16)
    with pytest.raises(NotSignedIn):
        people.sign_in_second(nobody(world, late), step, code_at(secret, NOW + late))


def test_turning_it_off_and_new_recovery_codes_want_a_code(world: World) -> None:
    secret, codes = set_up(world)
    later = timedelta(minutes=5)
    ada = world.ctx("Ada Pell", later)
    with pytest.raises(InputFaults):
        second_factor.turn_off(ada, "123456")
    fresh = second_factor.fresh_codes(ada, code_at(secret, NOW + later))
    assert set(fresh).isdisjoint(codes)
    with pytest.raises(InputFaults):
        second_factor.turn_off(ada, codes[0])
    second_factor.turn_off(ada, fresh[0])
    people.sign_in(nobody(world, later), ADA, PASSWORD)
    assert world.rows("SELECT id FROM secret WHERE retired_at IS NULL") == []


def role_with_factor(world: World, name: str) -> None:
    lead = world.ctx("Ines Varga")
    role = access.add_role(lead, access.RoleGiven("Night desk", "", frozenset({"run.see"}), True))
    person = world.actors[name].person_id
    assert person is not None
    access.give(lead, role, person, None, None)


def test_a_role_that_asks_for_it_lets_nothing_else_pass_until_it_is_set_up(world: World) -> None:
    role_with_factor(world, "Ada Pell")
    token, _ = people.sign_in(nobody(world), ADA, PASSWORD)
    actor = people.who_is(nobody(world), token)
    assert actor.factor_for == ("Night desk",)
    with pytest.raises(FactorMissing, match="Night desk"):
        people.refuse_without_factor(actor)
    set_up(world)
    people.refuse_without_factor(people.who_is(nobody(world), token))
    with pytest.raises(Refused, match="Night desk"):
        second_factor.turn_off(world.ctx("Ada Pell", timedelta(minutes=5)), "123456")


def test_somebody_who_lost_it_gets_in_again_by_the_lead_and_is_told(world: World) -> None:
    set_up(world)
    ada: Any = world.actors["Ada Pell"].person_id
    second_factor.take_from(world.ctx("Ines Varga"), ada)
    people.sign_in(nobody(world), ADA, PASSWORD)
    world.settle()
    assert "took away your second factor" in world.row("SELECT text FROM notification")["text"]
    with pytest.raises(Refused):
        second_factor.take_from(world.ctx("Ines Varga"), ada)


def test_the_second_factors_secret_is_in_the_safe_and_on_no_list(world: World) -> None:
    from tallyman.services import safe

    secret, _ = set_up(world)
    assert secret not in str(world.rows("SELECT * FROM secret"))
    assert safe.listed(world.ctx("Ines Varga")).secrets == []
