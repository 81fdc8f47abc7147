"""House rules gathered: what is set where."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.common import (
    BySelf,
    Model,
)
from tallyman.services.today import house_rules

router = APIRouter(tags=["house"])


class RuleOut(Model):
    """A house rule: what it is for and how it stands."""

    title: str
    words: str
    fact: str
    link: str


@router.get("/house")
def gathered(ctx: BySelf) -> list[RuleOut]:
    """The house rules that one may see, each with how it stands."""
    return [RuleOut.model_validate(row) for row in house_rules.gathered(ctx)]
