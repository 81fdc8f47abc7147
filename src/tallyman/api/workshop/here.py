"""Where something is, and moving it to another area."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query

from tallyman.api.common import Done, In, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.workshop import here
from tallyman.services.workshop.answers import Found

router = Routes(tags=["areas"])


class MovedIn(In):
    """What is moved to an area."""

    what: here.What
    id: Number


@router.get("/areas/{number}/here")
def find(number: Number, ctx: SignedIn, text: Annotated[str, Query(max_length=200)] = "") -> Found:
    """Routines and robots by any part of their name, wherever they lie: where, and whether they may be moved
    to this area."""
    return here.find(ctx, number, text)


@router.post("/areas/{number}/here")
def move(number: Number, given: MovedIn, ctx: SignedIn) -> Done:
    """Moves a routine or a robot to this area."""
    here.move(ctx, number, given.what, given.id)
    return Done()
