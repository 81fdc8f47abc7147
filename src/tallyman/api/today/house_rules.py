"""House rules gathered: what is set where."""

from __future__ import annotations

from tallyman.api.common import (
    BySelf,
)
from tallyman.api.routing import Routes
from tallyman.services.today import house_rules
from tallyman.services.today.answers import RuleOut

router = Routes(tags=["house"])


@router.get("/house")
def gathered(ctx: BySelf) -> list[RuleOut]:
    """The house rules that one may see, each with how it stands."""
    return house_rules.gathered(ctx)
