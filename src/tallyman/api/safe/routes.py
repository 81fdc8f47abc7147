"""Secrets: put in, replaced, taken out, and who used them; their values never come out here."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services import safe
from tallyman.services.safe.answers import (
    Moving,
    SecretOut,
    SecretsOut,
)
from tallyman.services.safe.own_values import Whose

router = Routes(prefix="/secrets", tags=["secrets"])
Value = Annotated[str, Field(max_length=20_000)]
About = Annotated[str, Field(max_length=2000)]


class SecretIn(In):
    """A secret to put in."""

    name: Annotated[str, Field(max_length=200, examples=["billing-login"])]
    kind: Annotated[str, Field(max_length=20)]
    value: Value
    area: Number | None = None
    about: About = ""
    expires_on: date | None = None


class SecretChange(In):
    """What a secret is changed to; without a value it keeps the one it has. Its area is always said: null is
    the whole company."""

    area: Number | None
    value: Value | None = None
    about: About = ""
    expires_on: date | None = None


class OwnValueIn(In):
    """A value for one host or robot."""

    whose: Whose
    id: Number
    value: Value
    expires_on: date | None = None


@router.get("")
def listed(ctx: SignedIn) -> SecretsOut:
    """What is in the safe, without the values."""
    return safe.listed(ctx)


@router.post("", status_code=201)
def make(given: SecretIn, ctx: SignedIn) -> Made:
    """Puts a secret into the safe."""
    wanted = safe.Given(given.name, given.kind, given.value, given.area, given.about, given.expires_on)
    return Made(id=safe.make(ctx, wanted))


@router.get("/{number}")
def one(number: Number, ctx: SignedIn) -> SecretOut:
    """Who used a secret when for what."""
    return safe.one(ctx, number)


@router.get("/{number}/moving")
def look_at_move(number: Number, ctx: SignedIn, area: Number | None = None) -> Moving:
    """Which routines would lose a secret, and which would find it, in another area."""
    return safe.look_at_move(ctx, number, area)


@router.put("/{number}")
def change(number: Number, given: SecretChange, version: VersionSeen, ctx: SignedIn) -> Done:
    """Another value, purpose, end or area."""
    wanted = safe.Change(given.value, given.about, given.expires_on, given.area)
    safe.change(ctx, number, wanted, version)
    return Done()


@router.put("/{number}/own")
def put_own(number: Number, given: OwnValueIn, ctx: SignedIn) -> Done:
    """Puts in the value that a host or a robot gets in place of the one for all."""
    wanted = safe.own_values.GivenOwn(given.whose, given.id, given.value, given.expires_on)
    safe.own_values.put(ctx, number, wanted)
    return Done()


@router.delete("/{number}/own/{own}")
def take_own_out(number: Number, own: Number, ctx: SignedIn) -> Done:
    """From now on that host or robot gets the value that is for all."""
    safe.own_values.take_out(ctx, number, own)
    return Done()


@router.delete("/{number}")
def retire(number: Number, ctx: SignedIn) -> Done:
    """Takes a secret out of the safe."""
    safe.retire(ctx, number)
    return Done()
