"""What other factors would do to today's sizings: effort, share and worth of each, before and after.

Each sizing is reckoned twice, so it is long work: begun here, done by the engine in pieces.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from decimal import Decimal
from fractions import Fraction

from tallyman.core.exact import exact, text_of
from tallyman.core.ideas import Factors, read_factors
from tallyman.errors import NotFound
from tallyman.services.cases.answers_of_rules import MovedSizing, MovedSizings
from tallyman.services.cases.business_case import figures_of
from tallyman.services.cases.inputs import case_input
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.upkeep import Piece, errands
from tallyman.store.db import Tx
from tallyman.store.records.cases import WorthsOpen
from tallyman.store.records.ideas import Idea
from tallyman.store.records.upkeep import Errand

MOST_SHOWN = 200
A_PIECE = 25
ERRAND = "other factors"


@in_transaction
def begin(tx: Tx, ctx: Ctx, content: Mapping[str, object]) -> int:
    """Begins to reckon the open sizings by other factors; gives the errand.

    Raises InputFaults for factors out of bounds.
    """
    ctx.require_at("house.change", None)
    read_factors(content, 0)
    return errands.add(tx, ctx, ERRAND, tx.count("worths.count_open"), {"content": dict(content)})


def carry_on(ctx: Ctx, errand: Errand) -> Piece:
    """Reckons the next sizings; what moved so far, and how far it came, is its result."""
    ctx.require_at("house.change", None)
    proposed = read_factors(errand.input["content"], 0)
    so_far = errand.result or {"after": 0, "sizings": 0, "moved": 0, "rows": []}

    def work(tx: Tx) -> tuple[list[WorthsOpen], list[MovedSizing]]:
        found = tx.all(WorthsOpen, "worths.open", after=so_far["after"], most=A_PIECE)
        return found, [one for row in found if (one := _moved(tx, ctx, row, proposed))]

    found, moved = ctx.db.transact(work)
    rows = [MovedSizing(**one) for one in so_far["rows"]] + moved
    rows.sort(key=lambda one: (-_by(one.worth_now, one.worth_then), one.id))
    sizings = so_far["sizings"] + len(found)
    result = {
        "after": found[-1].id if found else so_far["after"],
        "sizings": sizings,
        "moved": so_far["moved"] + len(moved),
        "rows": [asdict(one) for one in rows[:MOST_SHOWN]],
    }
    words = f"{sizings:,} of {max(errand.total, sizings):,} sizings reckoned"
    return Piece(sizings, words, len(found) < A_PIECE, result)


def _moved(tx: Tx, ctx: Ctx, row: WorthsOpen, proposed: Factors) -> MovedSizing | None:
    """What other factors would make of a sizing; None where nothing moves."""
    idea = tx.one(Idea, "ideas.by_id", id=row.id)
    assert idea is not None
    inputs = case_input(tx, ctx, idea, factors=proposed)
    one = MovedSizing(
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
    now = (one.effort_now, one.share_now, one.worth_now)
    return None if now == (one.effort_then, one.share_then, one.worth_then) else one


def found(ctx: Ctx, number: int) -> MovedSizings:
    """What an errand of the actor's own has found so far. Raises NotFound."""
    ctx.require_at("house.change", None)
    errand = errands.one(ctx, number)
    if errand.kind != ERRAND:
        raise NotFound("There is no such work of yours.", "Load the page again.")
    seen = errand.result or {"sizings": 0, "moved": 0, "rows": []}
    rows = [MovedSizing(**one) for one in seen["rows"]]
    return MovedSizings(sizings=seen["sizings"], moved=seen["moved"], rows=rows)


def _by(now: str | None, then: str | None) -> Fraction:
    return abs(exact(Decimal(then or 0)) - exact(Decimal(now or 0)))
