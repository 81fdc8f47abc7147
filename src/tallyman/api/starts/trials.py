"""Trial runs of robots."""

from __future__ import annotations

from tallyman.api.common import Made, NothingIn, Number, SignedIn, StartKey
from tallyman.api.routing import Routes
from tallyman.services.starts import trials

router = Routes(tags=["robots"])


@router.post("/robots/{number}/trial", status_code=201)
def start(number: Number, ctx: SignedIn, key: StartKey, given: NothingIn | None = None) -> Made:
    """Starts a robot's trial run there and back."""
    return Made(id=trials.start(ctx, number, key))
