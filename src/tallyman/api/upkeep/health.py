"""The health page, and the same figures for a monitoring system."""

from __future__ import annotations

import shutil
from typing import Annotated

from pydantic import Field

from tallyman.api.common import Done, In, Number, SignedIn
from tallyman.api.routing import Routes
from tallyman.config import VERSION, settings
from tallyman.services.upkeep import health
from tallyman.services.upkeep.answers import Disk, Health

router = Routes(tags=["health"])


class Why(In):
    """The reason for giving something up."""

    why: Annotated[str, Field(max_length=2000)]


def disk() -> Disk:
    """The disk of the data folder."""
    folder = settings().var
    used = shutil.disk_usage(folder if folder.exists() else folder.parent)
    return Disk(used.total, used.free)


@router.get("/health")
def page(ctx: SignedIn) -> Health:
    """The health of the installation."""
    return health.page(ctx, disk(), VERSION)


@router.post("/health/hitches/{number}/again")
def try_again(number: Number, ctx: SignedIn) -> Done:
    """Has what failed tried again at once."""
    health.try_again(ctx, number)
    return Done()


@router.post("/health/hitches/{number}/aside")
def set_aside(number: Number, given: Why, ctx: SignedIn) -> Done:
    """Gives up for good what failed."""
    health.set_aside(ctx, number, given.why)
    return Done()
