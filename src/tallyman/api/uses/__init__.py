"""The routes about what uses what."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path

from tallyman.api.common import SignedIn
from tallyman.api.routing import Routes
from tallyman.core.uses import Kind
from tallyman.services.uses import view
from tallyman.services.uses.answers import Uses

router = Routes(tags=["uses"])


@router.get("/uses/{kind}/{key}")
def of(ctx: SignedIn, kind: Kind, key: Annotated[str, Path(max_length=100)]) -> Uses:
    """What hangs on something, what it stands on, and what would stop if it went; `key` is its number, for an
    account HOST:NAME, for the closed days of the company 0."""
    return view.of(ctx, kind, key)


__all__ = ["router"]
