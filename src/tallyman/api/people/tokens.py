"""Tokens for programs: one's own, everybody's, made and revoked."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from tallyman.api.common import (
    BySelf,
    Done,
    In,
    Made,
    Number,
    SignedIn,
)
from tallyman.api.routing import Routes
from tallyman.services.people import signing_keys, tokens
from tallyman.services.people.answers import MyTokens, SigningKeyRow, TokenMade, TokenRow

Short = Annotated[str, Field(max_length=400)]

router = Routes(tags=["house"])


class TokenIn(In):
    """A token to make: for which program, what it may do, until which day."""

    name: Short
    scope: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=200)]
    ends_on: date


class SigningKeyIn(In):
    """The public half of a key, and on which computer it is."""

    name: Short
    public: Short


@router.get("/house/tokens")
def everybodys_tokens(ctx: SignedIn) -> list[TokenRow]:
    """Everybody's tokens for programs."""
    return tokens.everybodys(ctx)


@router.get("/profile/tokens")
def my_tokens(ctx: BySelf) -> MyTokens:
    """One's own tokens for programs."""
    return tokens.mine(ctx)


@router.post("/profile/tokens", status_code=201)
def make_token(given: TokenIn, ctx: BySelf) -> TokenMade:
    """A token for a program, shown this once."""
    return tokens.make(ctx, given.name, given.scope, given.ends_on)


@router.delete("/tokens/{number}")
def revoke_token(number: Number, ctx: BySelf) -> Done:
    """A token works no more."""
    tokens.revoke(ctx, number)
    return Done()


@router.get("/profile/keys")
def my_keys(ctx: BySelf) -> list[SigningKeyRow]:
    """The keys by which one signs packages."""
    return signing_keys.mine(ctx)


@router.post("/profile/keys", status_code=201)
def add_key(given: SigningKeyIn, ctx: SignedIn) -> Made:
    """Keeps the public half of a key of one's own."""
    return Made(id=signing_keys.add(ctx, given.name, given.public))


@router.delete("/profile/keys/{number}")
def retire_key(number: Number, ctx: BySelf) -> Done:
    """A key signs no more; what it signed stays signed."""
    signing_keys.retire(ctx, number)
    return Done()
