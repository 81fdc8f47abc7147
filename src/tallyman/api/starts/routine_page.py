"""A routine as its page shows it, with what starts it."""

from __future__ import annotations

from fastapi import Response

from tallyman.api.common import Done, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.answers import Retiring
from tallyman.services.starts import retiring, routine_page
from tallyman.services.starts.answers import Routine

router = Routes(tags=["routines"])


@router.get("/routines/{number}")
def one(number: Number, ctx: SignedIn, response: Response) -> Routine:
    """One routine."""
    found = routine_page.one(ctx, number)
    response.headers["ETag"] = f'"{found.version}"'
    return found


@router.get("/routines/{number}/retiring")
def look_at(number: Number, ctx: SignedIn) -> Retiring:
    """What hangs on a routine, before it is retired."""
    return retiring.look_at(ctx, number)


@router.post("/routines/{number}/retire")
def retire(number: Number, ctx: SignedIn) -> Done:
    """Takes a routine out of use with what starts it."""
    retiring.retire(ctx, number)
    return Done()
