"""A routine as its page shows it, with what starts it."""

from __future__ import annotations

from fastapi import APIRouter, Response

from tallyman.api.common import (
    Number,
    SignedIn,
)
from tallyman.api.starts.triggers import Trigger
from tallyman.api.workshop import RoutineParts
from tallyman.services.starts import routine_page

router = APIRouter(tags=["routines"])


class Routine(RoutineParts):
    """A routine with what it needs to start and to go live, and what starts it."""

    triggers: list[Trigger]


@router.get("/routines/{number}")
def one(number: Number, ctx: SignedIn, response: Response) -> Routine:
    """One routine."""
    found = Routine.model_validate(routine_page.one(ctx, number))
    response.headers["ETag"] = f'"{found.version}"'
    return found
