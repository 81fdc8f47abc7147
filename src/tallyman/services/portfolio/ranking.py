"""The decision: ideas ranked by worth and effort, each with the working of its place."""

from __future__ import annotations

from decimal import Decimal
from fractions import Fraction

from tallyman.core.cases import band_of
from tallyman.core.exact import exact, text_of
from tallyman.core.portfolio import Rank, rank
from tallyman.errors import Forbidden
from tallyman.services.context import Ctx, company_of, in_transaction
from tallyman.services.holding import scope
from tallyman.services.portfolio.answers import Portfolio, RankedIdea
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasRanked


def _exact(value: Decimal | None) -> Fraction | None:
    return None if value is None else exact(value)


def _scope(ctx: Ctx) -> dict[str, object]:
    """Ideas are seen here by who may back them or sees their tally, where either holds."""
    back, value = ctx.actor.areas("case.decide"), ctx.actor.areas("value.see")
    return scope(None if back is None or value is None else back | value)


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Portfolio:
    """All ideas that were sized, the best first; those lacking a figure last, saying which."""
    if not (ctx.actor.may("case.decide") or ctx.actor.may("value.see")):
        raise Forbidden(
            "You may not see the portfolio: the permission value.see is missing.",
            "It comes with the role lead, analyst, operator or backer.",
        )
    ranked: list[tuple[Rank, RankedIdea]] = []
    for row in tx.all(IdeasRanked, "ideas.ranked", **_scope(ctx)):
        place = rank(row.id, _exact(row.worth), _exact(row.effort_days))
        idea = RankedIdea(
            id=row.id,
            title=row.title,
            stage=row.stage,
            sizing_state=row.sizing_state,
            division=row.division,
            hours_low=row.hours_low,
            hours_high=row.hours_high,
            worth=text_of(row.worth, 2),
            effort_days=text_of(row.effort_days, 1),
            per_day=text_of(place.per_day, 2),
            band=None if row.effort_days is None else band_of(Fraction(row.effort_days)),
            working=place.working,
            may_back=ctx.actor.may_at("case.decide", row.area_id)
            and row.stage == "sized"
            and row.sizing_state == "agreed",
        )
        ranked.append((place, idea))
    ranked.sort(key=lambda one: one[0].order)
    return Portfolio(rows=[idea for _, idea in ranked], currency=company_of(tx).currency)
