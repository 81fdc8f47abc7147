"""Where do I begin? Typical work, each a start for an idea."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path, Query

from tallyman.api.common import Choice, Made, Model, SignedIn, StartKey
from tallyman.services.ideas import candidates

router = APIRouter(tags=["ideas"])
Key = Annotated[str, Path(pattern=r"^[a-z]{1,20}-[0-9]{1,3}$")]


class CandidateOut(Model):
    """Typical work: how many a month and minutes each, low and high, and the hours a year they make."""

    key: str
    kind: str
    title: str
    what: str
    touches: list[str]
    a_month: list[int]
    minutes: list[int]
    hours_low: int
    hours_high: int


class CandidatesOut(Model):
    """Typical work to begin with."""

    kinds: list[Choice]
    touches: list[Choice]
    rows: list[CandidateOut]


@router.get("/candidates")
def listed(
    ctx: SignedIn,
    kind: Annotated[str | None, Query(max_length=20)] = None,
    touches: Annotated[str | None, Query(max_length=20)] = None,
) -> CandidatesOut:
    """Typical work of a kind that touches something."""
    return CandidatesOut.model_validate(candidates.listed(ctx, kind, touches))


@router.post("/candidates/{key}/begin", status_code=201)
def begin(key: Key, ctx: SignedIn, start: StartKey) -> Made:
    """A draft that begins with a candidate's words."""
    return Made(id=candidates.begin(ctx, key, start))
