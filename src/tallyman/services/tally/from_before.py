"""Rates from a day that has begun: the house posts what ended since then anew, or takes none."""

from __future__ import annotations

from tallyman.core.faults import InputFaults, unknown_word
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.rates import rates
from tallyman.services.tally.answers import BeforeRule
from tallyman.store.db import Tx

WORDS = {
    rates.ANEW: "they are taken: what ended since that day is posted anew, by corrections in the open month",
    rates.REFUSED: "they are refused where something is posted since that day: a new one holds from then on",
}


@in_transaction
def view(tx: Tx, ctx: Ctx) -> BeforeRule:
    """What becomes of rates from before, the choices, and the versions."""
    ctx.require_at("house.change", None)
    _, version = rule_sets.newest(tx, rates.RULE)
    return BeforeRule(
        version=version,
        from_before=rates.from_before(tx),
        choices=[Choice(value=one, words=words) for one, words in WORDS.items()],
        versions=rule_sets.shown(tx, rates.RULE),
    )


@in_transaction
def keep(tx: Tx, ctx: Ctx, from_before: str, note: str, seen: int) -> int:
    """A new version of it. Raises InputFaults, Conflict."""
    if from_before not in WORDS:
        raise InputFaults([unknown_word("from_before", from_before, WORDS)])
    return rule_sets.keep(tx, ctx, rates.RULE, {"from_before": from_before}, note, seen)
