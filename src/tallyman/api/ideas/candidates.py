"""Where do I begin? Typical work, each a start for an idea."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query

from tallyman.api.common import Made, SignedIn, StartKey
from tallyman.api.routing import Routes
from tallyman.services.ideas import candidates
from tallyman.services.ideas.answers import CandidatesOut

router = Routes(tags=["ideas"])
Key = Annotated[str, Path(pattern=r"^[a-z]{1,20}-[0-9]{1,3}$")]


@router.get("/candidates")
def listed(
    ctx: SignedIn,
    kind: Annotated[str | None, Query(max_length=20)] = None,
    touches: Annotated[str | None, Query(max_length=20)] = None,
) -> CandidatesOut:
    """Typical work of a kind that touches something."""
    return candidates.listed(ctx, kind, touches)


@router.post("/candidates/{key}/begin", status_code=201)
def begin(key: Key, ctx: SignedIn, start: StartKey) -> Made:
    """A draft that begins with a candidate's words."""
    return Made(id=candidates.begin(ctx, key, start))
