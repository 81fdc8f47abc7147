"""What ideas are worth, kept for lists and rankings: the case's own figure, reckoned anew whenever it moves.

Statements that move a worth say so where they stand, and mark it in their transaction. What one person
changes about one idea is reckoned at once; the rest, such as a rate, a calendar, or another day, by the
engine within seconds.
"""

from __future__ import annotations

from tallyman.core.cases import business_case
from tallyman.core.exact import text_of
from tallyman.services.cases.business_case import figures_of
from tallyman.services.cases.inputs import Inputs, case_input
from tallyman.services.context import Ctx, changed, company_day, in_transaction
from tallyman.services.ideas import ref, worth_keys
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.cases import WorthsKept
from tallyman.store.records.ideas import Idea, IdeasLock

WORTHS = Work("worths", "what an idea is worth, reckoned anew")
AT_ONCE = 50


def by_of(inputs: Inputs) -> dict[str, object]:
    """What a worth was reckoned by: versions of the rules, the rows of the cost tables and their day."""
    return {
        "rules": business_case.RULES_VERSION,
        "factors": inputs.factors.name,
        "cases": inputs.sheet["seats"].source.removeprefix("house rule, "),
        "go_live": inputs.given["go_live"],
        "costs_on": inputs.day.isoformat(),
        "costs_why": inputs.sheet["costs_on"].source,
        "rows": {kind: row.id for kind, row in inputs.rows.items()},
    }


def keep_worth(tx: Tx, ctx: Ctx, idea_id: int) -> bool:
    """Reckons what a locked idea is worth (NPV) and the effort it takes; gives whether one of them moved."""
    today = company_day(tx, ctx)
    # Read before what it stands for: what moves meanwhile makes the key an old one.
    key = worth_keys.key_of(tx, today)
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    assert idea is not None
    inputs = case_input(tx, ctx, idea)
    _, figures = figures_of(inputs)
    before = (text_of(idea.worth, 2), text_of(idea.effort_days, 1))
    after = (text_of(figures.npv, 2), text_of(inputs.sized.effort_days, 1))
    by = by_of(inputs)
    tx.write("worths.set", id=idea_id, worth=after[0], effort=after[1], key=key, on=today, by=by)
    return before != after


def carry_on(ctx: Ctx) -> int:
    """Reckons the next worths that something moved, or that are of another day. Gives how many."""

    def waiting(tx: Tx) -> list[int]:
        key = worth_keys.key_of(tx, company_day(tx, ctx))
        return tx.values(int, "worths.waiting", key=key, now=ctx.now, most=AT_ONCE)

    return each(ctx, WORTHS, ctx.db.transact(waiting), lambda tx, row: _anew(tx, ctx, row), "idea")


def _anew(tx: Tx, ctx: Ctx, idea_id: int) -> int:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    if keep_worth(tx, ctx, idea_id):
        changed(tx, ctx, "ideas", idea_id)
    return 1


@in_transaction
def verify(tx: Tx, ctx: Ctx) -> list[str]:
    """Proves that every worth kept is that of its case; those that wait to be reckoned anew are left."""
    key = worth_keys.key_of(tx, company_day(tx, ctx))
    wrong = []
    for row in tx.all(WorthsKept, "worths.kept"):
        if row.worth_key != key:
            continue
        idea = tx.one(Idea, "ideas.by_id", id=row.id)
        assert idea is not None
        inputs = case_input(tx, ctx, idea)
        npv, effort = figures_of(inputs)[1].npv, inputs.sized.effort_days
        for name, kept, found, digits in (
            ("worth", row.worth, npv, 2),
            ("build effort", row.effort_days, effort, 1),
        ):
            if text_of(kept, digits) != text_of(found, digits):
                said = f"{text_of(kept, digits)} in lists, {text_of(found, digits)} in its case"
                wrong.append(f"{name} of {ref(row.id)} is {said}")
    return wrong
