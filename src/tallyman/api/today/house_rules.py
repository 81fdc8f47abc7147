"""House rules gathered: what is set where."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.common import (
    BySelf,
)
from tallyman.services.today import house_rules
from tallyman.services.today.answers import RuleOut

router = APIRouter(tags=["house"])


@router.get("/house")
def gathered(ctx: BySelf) -> list[RuleOut]:
    """The house rules that one may see, each with how it stands."""
    return house_rules.gathered(ctx)
