"""The audit trail: filtered, exported, its chain checked."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from fastapi import Depends, Query, Response

from tallyman.api.common import MOST, SignedIn
from tallyman.api.routing import Routes
from tallyman.services.house import trail
from tallyman.services.house.answers import Checked, SealOut, TrailPage

router = Routes(prefix="/trail", tags=["trail"])
Who = Annotated[int | None, Query(ge=1, le=MOST)]
Word = Annotated[str | None, Query(max_length=100)]


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
    return trail.page(ctx, wanted, after, limit)


@router.get("/export.csv", response_class=Response)
def export(ctx: SignedIn, wanted: Wanted) -> Response:
    """What is filtered, as CSV."""
    heads = {"Content-Disposition": 'attachment; filename="audit-trail.csv"'}
    return Response(trail.as_csv(ctx, wanted), media_type="text/csv; charset=utf-8", headers=heads)


@router.get("/check")
def check(ctx: SignedIn) -> Checked:
    """Checks the chain now."""
    return trail.check(ctx)


@router.get("/seals")
def seals(ctx: SignedIn) -> list[SealOut]:
    """All seals."""
    return trail.exported_seals(ctx)
