"""Tokens for programs: one's own, everybody's, made and revoked."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from tallyman.api.common import (
    BySelf,
    Done,
    In,
    Model,
    Number,
    SignedIn,
)
from tallyman.services.people import tokens

Short = Annotated[str, Field(max_length=400)]

router = APIRouter(tags=["house"])


class TokenRow(Model):
    """A token for a program, never itself."""

    id: int
    person: str
    name: str
    words: list[str]
    made_at: datetime
    ends_at: datetime
    used_at: datetime | None
    used_from: str | None
    state: str
    may_revoke: bool


class PermissionOut(Model):
    """What one could allow a program."""

    permission: str
    words: str
    about: str


class MyTokens(Model):
    """One's own tokens, and what one could allow another."""

    tokens: list[TokenRow]
    choices: list[PermissionOut]
    may_make: bool


class TokenIn(In):
    """A token to make: for which program, what it may do, until which day."""

    name: Short
    scope: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=200)]
    ends_on: date


class TokenMade(Model):
    """The token, shown this once."""

    id: int
    token: str


@router.get("/house/tokens")
def everybodys_tokens(ctx: SignedIn) -> list[TokenRow]:
    """Everybody's tokens for programs."""
    return [TokenRow.model_validate(row) for row in tokens.everybodys(ctx)]


@router.get("/profile/tokens")
def my_tokens(ctx: BySelf) -> MyTokens:
    """One's own tokens for programs."""
    return MyTokens.model_validate(tokens.mine(ctx))


@router.post("/profile/tokens", status_code=201)
def make_token(given: TokenIn, ctx: BySelf) -> TokenMade:
    """A token for a program, shown this once."""
    return TokenMade.model_validate(tokens.make(ctx, given.name, given.scope, given.ends_on))


@router.delete("/tokens/{number}")
def revoke_token(number: Number, ctx: BySelf) -> Done:
    """A token works no more."""
    tokens.revoke(ctx, number)
    return Done()
