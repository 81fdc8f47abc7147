"""A routine as its page shows it, with what starts it."""

from __future__ import annotations

from fastapi import Response

from tallyman.api.common import (
    Number,
    SignedIn,
)
from tallyman.api.routing import Routes
from tallyman.services.starts import routine_page
from tallyman.services.starts.answers import Routine

router = Routes(tags=["routines"])


@router.get("/routines/{number}")
def one(number: Number, ctx: SignedIn, response: Response) -> Routine:
    """One routine."""
    found = routine_page.one(ctx, number)
    response.headers["ETag"] = f'"{found.version}"'
    return found
