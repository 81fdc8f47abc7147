"""The decision: ideas ranked by worth and effort, each with the working of its place."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from tallyman.core.cases import band_of
from tallyman.core.exact import text_of
from tallyman.core.working import Used, Working
from tallyman.errors import Forbidden
from tallyman.services.context import Ctx, company_of
from tallyman.services.holding import scope
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasRanked


def _rank(row: IdeasRanked) -> tuple[Fraction | None, Working]:
    """Worth for each person-day of building; None without both."""
    worth, effort = row.worth, row.effort_days
    per_day = None
    if worth is not None and effort:
        per_day = Fraction(worth) / Fraction(effort)
    missing = [name for name, value in (("worth", worth), ("build effort", effort)) if value is None]
    working = Working(
        "Worth for each person-day",
        text_of(per_day, 2),
        "money",
        "worth over three years (NPV) ÷ build effort",
        inputs=(
            Used(
                "Worth over three years",
                text_of(worth, 2),
                "money",
                "business case",
                link="case",
            ),
            Used(
                "Build effort",
                text_of(effort, 1),
                "person-days",
                "sizing",
                link="sizing",
            ),
        ),
        missing=tuple(missing),
    )
    return per_day, working


def _scope(ctx: Ctx) -> dict[str, Any]:
    """Ideas are seen here by who may back them or sees their tally, where either holds."""
    back, value = ctx.actor.areas("case.decide"), ctx.actor.areas("value.see")
    return scope(None if back is None or value is None else back | value)


def view(ctx: Ctx) -> dict[str, Any]:
    """All ideas that were sized, the best first; those lacking a figure last, saying which."""
    if not (ctx.actor.may("case.decide") or ctx.actor.may("value.see")):
        raise Forbidden(
            "You may not see the portfolio: the permission value.see is missing.",
            "It comes with the role lead, analyst, operator or backer.",
        )

    def work(tx: Tx) -> dict[str, Any]:
        rows = []
        for row in tx.all(IdeasRanked, "ideas.ranked", **_scope(ctx)):
            per_day, working = _rank(row)
            rows.append(
                {
                    **row.as_dict(),
                    "worth": text_of(row.worth, 2),
                    "effort_days": text_of(row.effort_days, 1),
                    "per_day": text_of(per_day, 2),
                    "band": None if row.effort_days is None else band_of(Fraction(row.effort_days)),
                    "working": working.as_dict(),
                    "may_back": ctx.actor.may_at("case.decide", row.area_id)
                    and row.stage == "sized"
                    and row.sizing_state == "agreed",
                    "order": (per_day is None, -(per_day or 0), row.id),
                }
            )
        rows.sort(key=lambda row: row.pop("order"))
        return {"rows": rows, "currency": company_of(tx).currency}

    return ctx.db.transact(work)
