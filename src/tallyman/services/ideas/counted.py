"""What no routine counts is measured and counted by people: which ideas that is, and by whom."""

from __future__ import annotations

from tallyman.core.ideas import ROBOT
from tallyman.services.context import Ctx
from tallyman.store.records.ideas import Idea


def by_hand(idea: Idea) -> bool:
    """Whether before and after are of use: a measure that is no robot, or what ran already."""
    return idea.route != ROBOT or (idea.live_on is not None and idea.source == "runs already")


def may_measure(ctx: Ctx, idea: Idea) -> bool:
    """Whoever answers for the work or its measure, and whoever sizes or enters ideas where it belongs."""
    mine = ctx.actor.is_or_stands_in_for(idea.owner_id, idea.measure_owner_id, idea.builder_id)
    return mine or any(ctx.actor.may_at(one, idea.area_id) for one in ("sizing.make", "entry.make"))


def may_count(ctx: Ctx, idea: Idea) -> bool:
    """Whoever answers for the work or its measure, or changes what is counted where it belongs; of what no
    routine counts, whoever enters ideas there too."""
    mine = ctx.actor.is_or_stands_in_for(idea.owner_id, idea.measure_owner_id)
    entered = by_hand(idea) and ctx.actor.may_at("entry.make", idea.area_id)
    return mine or entered or ctx.actor.may_at("value.change", idea.area_id)
