"""Secrets: put in, replaced, taken out, and who used them; their values never come out here."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import Done, In, Made, Model, Number, SignedIn, VersionSeen
from tallyman.services import safe

router = APIRouter(prefix="/secrets", tags=["secrets"])
Value = Annotated[str, Field(max_length=20_000)]
About = Annotated[str, Field(max_length=2000)]


class SecretRow(Model):
    """A secret, without its value."""

    id: int
    name: str
    kind: str
    kind_words: str
    of_people: bool
    area_id: int | None
    area: str | None
    about: str
    expires_on: date | None
    ends: str
    changed_at: datetime
    used_at: datetime | None
    made_by: str | None
    version: int
    may_change: bool
    may_retire: bool


class KindOut(Model):
    """What a secret can be for."""

    kind: str
    words: str


class KeyOut(Model):
    """A key outside the database, and how many secrets it wraps."""

    key_id: str
    secrets: int
    current: bool


class SecretsOut(Model):
    """What is in the safe."""

    secrets: list[SecretRow]
    kinds: list[KindOut]
    keys: list[KeyOut]
    may_make: bool
    early_days: int


class SecretIn(In):
    """A secret to put in."""

    name: Annotated[str, Field(max_length=200, examples=["billing-login"])]
    kind: Annotated[str, Field(max_length=20)]
    value: Value
    area: Number | None = None
    about: About = ""
    expires_on: date | None = None


class SecretChange(In):
    """What a secret is changed to; without a value it keeps the one it has."""

    value: Value | None = None
    about: About = ""
    expires_on: date | None = None


class UseOut(Model):
    """Who used a secret for what; the same within an hour stands once."""

    id: int
    at: datetime
    who: str
    what: str


class RoutineOut(Model):
    """A routine that would miss the secret."""

    id: int
    name: str


class SecretOut(Model):
    """The uses of a secret, and which routines ask for it."""

    uses: list[UseOut]
    routines: list[RoutineOut]
    unseen: int


@router.get("")
def listed(ctx: SignedIn) -> SecretsOut:
    """What is in the safe, without the values."""
    return SecretsOut.model_validate(safe.listed(ctx))


@router.post("", status_code=201)
def make(given: SecretIn, ctx: SignedIn) -> Made:
    """Puts a secret into the safe."""
    wanted = safe.Given(given.name, given.kind, given.value, given.area, given.about, given.expires_on)
    return Made(id=safe.make(ctx, wanted))


@router.get("/{number}")
def one(number: Number, ctx: SignedIn) -> SecretOut:
    """Who used a secret when for what."""
    return SecretOut.model_validate(safe.one(ctx, number))


@router.put("/{number}")
def change(number: Number, given: SecretChange, version: VersionSeen, ctx: SignedIn) -> Done:
    """Another value, purpose or end."""
    safe.change(ctx, number, given.value, given.about, given.expires_on, version)
    return Done()


@router.delete("/{number}")
def retire(number: Number, ctx: SignedIn) -> Done:
    """Takes a secret out of the safe."""
    safe.retire(ctx, number)
    return Done()
