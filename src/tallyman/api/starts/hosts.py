"""What is to start, against the hosts and seats there are."""

from __future__ import annotations

from tallyman.api.common import Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.starts import host_work, seats_coming
from tallyman.services.starts.answers import HostWork, SeatsComing

router = Routes(tags=["robots"])


@router.get("/seats/coming")
def coming(ctx: SignedIn) -> SeatsComing:
    """The starts of the next 24 hours against the seats of all hosts."""
    return seats_coming.view(ctx)


@router.get("/hosts/{number}/work")
def work(number: Number, ctx: SignedIn) -> HostWork:
    """What a host did of late, and what comes that its robots may take."""
    return host_work.view(ctx, number)
