"""The audit trail: filtered, exported, its chain checked."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Response

from tallyman.api.common import MOST, Model, SignedIn
from tallyman.services.house import trail

router = APIRouter(prefix="/trail", tags=["trail"])
Who = Annotated[int | None, Query(ge=1, le=MOST)]
Word = Annotated[str | None, Query(max_length=100)]


class Entry(Model):
    """One line of the trail, with what was before and after."""

    id: int
    at: datetime
    who: str
    address: str
    action: str
    object: str
    words: str
    before: Any
    after: Any
    erased_at: datetime | None
    sealed: bool


class Sealed(Model):
    """How much of the trail is sealed, and by when."""

    seals: int = 0
    entries: int = 0
    last_id: int | None = None
    at: datetime | None = None


class TrailPage(Model):
    """A page of the trail."""

    rows: list[Entry]
    next: str | None
    summary: Sealed
    actions: list[str]


class Checked(Model):
    """What of the chain does not hold."""

    faults: list[str]
    seals: int
    entries: int


class SealOut(Model):
    """A seal, to be kept elsewhere."""

    seal: str
    previous: str
    first: int
    last: int
    entries: int
    root: str
    at: datetime


def _utc(at: datetime | None) -> datetime | None:
    """A time without a zone is UTC."""
    return at if at is None or at.tzinfo else at.replace(tzinfo=UTC)


def asked(
    who: Who = None,
    action: Word = None,
    object: Word = None,
    text: Word = None,
    since: datetime | None = None,
) -> trail.Asked:
    """What of the trail is wanted."""
    return trail.Asked(who, action, object, text, _utc(since))


Wanted = Annotated[trail.Asked, Depends(asked)]


@router.get("")
def page(
    ctx: SignedIn,
    wanted: Wanted,
    after: Annotated[str | None, Query(max_length=200)] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> TrailPage:
    """What was changed by whom, the newest first."""
    return TrailPage.model_validate(trail.page(ctx, wanted, after, limit))


@router.get("/export.csv", response_class=Response)
def export(ctx: SignedIn, wanted: Wanted) -> Response:
    """What is filtered, as CSV."""
    heads = {"Content-Disposition": 'attachment; filename="audit-trail.csv"'}
    return Response(trail.as_csv(ctx, wanted), media_type="text/csv; charset=utf-8", headers=heads)


@router.get("/check")
def check(ctx: SignedIn) -> Checked:
    """Checks the chain now."""
    return Checked.model_validate(trail.check(ctx))


@router.get("/seals")
def seals(ctx: SignedIn) -> list[SealOut]:
    """All seals."""
    return [SealOut.model_validate(one) for one in trail.exported_seals(ctx)]
