"""What other factors would do to today's sizings: effort, share and worth of each, before and after."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from fractions import Fraction

from tallyman.core.exact import exact, text_of
from tallyman.core.ideas import read_factors
from tallyman.services.cases.answers_of_rules import MovedSizing, MovedSizings
from tallyman.services.cases.business_case import figures_of
from tallyman.services.cases.inputs import case_input
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.cases import WorthsOpen
from tallyman.store.records.ideas import Idea

MOST_SHOWN = 200


def preview(ctx: Ctx, content: Mapping[str, object]) -> MovedSizings:
    """The open sizings that other factors would move, those whose worth moves most first.

    Raises InputFaults for factors out of bounds.
    """
    ctx.require_at("house.change", None)
    proposed = read_factors(content, 0)

    def work(tx: Tx) -> MovedSizings:
        found = tx.all(WorthsOpen, "worths.open")
        rows = []
        for row in found:
            idea = tx.one(Idea, "ideas.by_id", id=row.id)
            assert idea is not None
            inputs = case_input(tx, ctx, idea, factors=proposed)
            moved = MovedSizing(
                id=row.id,
                title=row.title,
                stage=row.stage,
                effort_now=text_of(row.effort_days, 1),
                effort_then=text_of(inputs.sized.effort_days, 1),
                share_now=text_of(case_input(tx, ctx, idea).sized.share, 4),
                share_then=text_of(inputs.sized.share, 4),
                worth_now=text_of(row.worth, 2),
                worth_then=text_of(figures_of(inputs)[1].npv, 2),
            )
            now = (moved.effort_now, moved.share_now, moved.worth_now)
            if now != (moved.effort_then, moved.share_then, moved.worth_then):
                rows.append(moved)
        rows.sort(key=lambda one: (-_by(one.worth_now, one.worth_then), one.id))
        return MovedSizings(sizings=len(found), moved=len(rows), rows=rows[:MOST_SHOWN])

    return ctx.db.transact(work)


def _by(now: str | None, then: str | None) -> Fraction:
    return abs(exact(Decimal(then or 0)) - exact(Decimal(now or 0)))
