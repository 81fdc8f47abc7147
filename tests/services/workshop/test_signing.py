"""A release is signed by a key of its builder's own, and says so; whoever runs it is told by which."""

from __future__ import annotations

import pytest

from tallyman import signed
from tallyman.errors import Clash, Forbidden, InputFaults, NotFound, Refused
from tallyman.services.people import signing_keys
from tallyman.services.workshop import packages
from tests.world import World, package

DATA = package()


@pytest.fixture
def key(world: World) -> str:
    private, public = signed.make_key()
    world.number = signing_keys.add(world.ctx("Jonas Lindqvist"), " My  desk ", public)
    return private


def test_a_signed_release_says_by_which_key_and_its_runner_is_told(world: World, key: str) -> None:
    ctx = world.ctx("Jonas Lindqvist")
    made = packages.release(ctx, DATA, packages.Given("First", signature=signed.sign(key, DATA)))
    public = signed.public_half(key)
    assert packages.one(ctx, made).signed_by == f"My desk, {signed.shown(public)}"
    host = world.machine()
    world.start(world.routine(release=made))
    told = world.take(host).signed
    assert told is not None
    assert (told.public, signed.fits(told.public, packages.one(ctx, made).digest, told.signature)) == (
        public,
        True,
    )


def test_one_that_is_not_signed_says_nothing(world: World) -> None:
    ctx = world.ctx("Jonas Lindqvist")
    assert packages.one(ctx, packages.release(ctx, DATA, packages.Given("First"))).signed_by is None


@pytest.mark.parametrize("whose", ["of another package", "of another key", "none"])
def test_a_signature_that_fits_no_key_of_ones_own_is_refused(world: World, key: str, whose: str) -> None:
    signature = {
        "of another package": signed.sign(key, b"other"),
        "of another key": signed.sign(signed.make_key()[0], DATA),
        "none": "AAAA",
    }[whose]
    with pytest.raises(InputFaults) as told:
        packages.release(world.ctx("Jonas Lindqvist"), DATA, packages.Given("First", signature=signature))
    assert [one.field for one in told.value.faults] == ["signature"]
    assert not world.rows("SELECT * FROM package_release")


def test_a_retired_key_signs_no_more_and_what_it_signed_stays_signed(world: World, key: str) -> None:
    ctx = world.ctx("Jonas Lindqvist")
    made = packages.release(ctx, DATA, packages.Given("First", signature=signed.sign(key, DATA)))
    signing_keys.retire(ctx, world.number)
    assert packages.one(ctx, made).signed_by is not None
    assert [one.retired_at for one in signing_keys.mine(ctx)] == [ctx.now]
    later = package("1.0.1")
    with pytest.raises(InputFaults):
        packages.release(ctx, later, packages.Given("Second", signature=signed.sign(key, later)))
    with pytest.raises(Refused):
        signing_keys.retire(ctx, world.number)


def test_keys_are_ones_own_each_once(world: World, key: str) -> None:
    public = signed.public_half(key)
    with pytest.raises(Clash):
        signing_keys.add(world.ctx("Jonas Lindqvist"), "The other desk", public)
    with pytest.raises(NotFound):
        signing_keys.retire(world.ctx("Ines Varga"), world.number)
    assert signing_keys.mine(world.ctx("Ines Varga")) == []
    with pytest.raises(InputFaults) as told:
        signing_keys.add(world.ctx("Jonas Lindqvist"), "", "not a key")
    assert [one.field for one in told.value.faults] == ["name", "public"]
    with pytest.raises(Forbidden):
        signing_keys.add(world.ctx("Ada Pell"), "Mine", signed.make_key()[1])
