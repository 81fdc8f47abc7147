"""Try-outs of releases that nobody else sees yet."""

from __future__ import annotations

from tallyman.api.common import In, Made, Number, SignedIn, StartKey
from tallyman.api.routing import Routes
from tallyman.services.starts import tryouts
from tallyman.services.starts.answers import TryoutView


class TryoutIn(In):
    """Where a release is tried out, on which robot (none: any that may work there), and with which inputs."""

    area_id: int
    robot_id: int | None = None
    inputs: dict[str, object] = {}


class TryoutLookIn(In):
    """The same, as far as it is chosen."""

    area_id: int | None = None
    robot_id: int | None = None
    inputs: dict[str, object] = {}


router = Routes(tags=["packages"])


@router.post("/releases/{number}/tryouts/look")
def look(number: Number, given: TryoutLookIn, ctx: SignedIn) -> TryoutView:
    """Where a release can be tried out, what it needs there, and what was tried."""
    return tryouts.view(ctx, number, given.area_id, given.robot_id, given.inputs)


@router.post("/releases/{number}/tryouts", status_code=201)
def start(number: Number, given: TryoutIn, ctx: SignedIn, key: StartKey) -> Made:
    """Tries a release out on a builder's seat."""
    return Made(id=tryouts.start(ctx, number, given.area_id, given.robot_id, given.inputs, key))
