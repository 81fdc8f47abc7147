"""The decision: ideas ranked by worth and effort, each with the working of its place."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from fractions import Fraction

from tallyman.core.exact import exact, text_of
from tallyman.core.portfolio import Rank, rank
from tallyman.core.said import day_said
from tallyman.errors import Forbidden
from tallyman.services.context import Ctx, company_day, company_of, in_transaction
from tallyman.services.holding import scope
from tallyman.services.ideas import bands, worth_keys
from tallyman.services.portfolio.answers import Portfolio, RankedIdea
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasRanked


def _exact(value: Decimal | None) -> Fraction | None:
    return None if value is None else exact(value)


def _scope(ctx: Ctx) -> dict[str, object]:
    """Ideas are seen here by who may back them or sees their tally, where either holds."""
    back, value = ctx.actor.areas("case.decide"), ctx.actor.areas("value.see")
    return scope(None if back is None or value is None else back | value)


def _by(row: IdeasRanked) -> str:
    """By what a worth was reckoned, in words."""
    by = row.worth_by
    if not by:
        return ""
    costs = day_said(date.fromisoformat(by["costs_on"]))
    return (
        f"Reckoned by {by['factors']} and {by['cases']}, at the cost tables of {costs} ({by['costs_why']})."
    )


def _go_live(row: IdeasRanked) -> date | None:
    given = (row.worth_by or {}).get("go_live")
    return None if given is None else date.fromisoformat(given)


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Portfolio:
    """All ideas that were sized, the best first; those lacking a figure last, saying which."""
    if not (ctx.actor.may("case.decide") or ctx.actor.may("value.see")):
        raise Forbidden(
            "You may not see the portfolio: the permission value.see is missing.",
            "It comes with the role lead, analyst, operator or backer.",
        )
    ranked: list[tuple[Rank, RankedIdea]] = []
    band = bands(tx)
    key = worth_keys.key_of(tx, company_day(tx, ctx))
    for row in tx.all(IdeasRanked, "ideas.ranked", **_scope(ctx)):
        place = rank(row.id, _exact(row.worth), _exact(row.effort_days), str(row.worth_on or ""), _by(row))
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
            band=None if row.effort_days is None else band(row.factors_version, Fraction(row.effort_days)),
            worth_on=row.worth_on,
            waits=worth_keys.waits(row.worth_key, key),
            building=row.building,
            promised_worth=row.promised_worth,
            promised_go_live=row.promised_go_live,
            go_live=_go_live(row),
            live_on=row.live_on,
            working=place.working,
            may_back=ctx.actor.may_at("case.decide", row.area_id)
            and row.stage == "sized"
            and row.sizing_state == "agreed",
        )
        ranked.append((place, idea))
    ranked.sort(key=lambda one: one[0].order)
    return Portfolio(rows=[idea for _, idea in ranked], currency=company_of(tx).currency)
