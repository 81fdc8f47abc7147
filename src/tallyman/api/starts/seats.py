"""What is to start, against the seats there are."""

from __future__ import annotations

from tallyman.api.common import SignedIn
from tallyman.api.routing import Routes
from tallyman.services.starts import seats_coming
from tallyman.services.starts.answers import SeatsComing

router = Routes(tags=["robots"])


@router.get("/seats/coming")
def coming(ctx: SignedIn) -> SeatsComing:
    """The starts of the next 24 hours against the seats of all hosts."""
    return seats_coming.view(ctx)
