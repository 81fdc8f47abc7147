"""Proving figures: what stands in two places agrees, and every working gives its figure."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from tallyman.core.proving import faults
from tallyman.core.working import Working
from tallyman.services import tally
from tallyman.services.cases import business_case, ranges, worths
from tallyman.services.context import Ctx
from tallyman.services.ideas import page, ref
from tallyman.services.portfolio import ranking


def verify(ctx: Ctx) -> list[str]:
    """Every idea: its worth in lists, portfolio and case, and the working of each of its figures."""
    wrong = worths.verify(ctx)
    ranked = {row.id: row for row in ranking.view(ctx).rows}
    for number in ctx.db.transact(lambda tx: tx.values(int, "worths.ideas")):
        case = business_case.view(ctx, number)
        worth = case.figures.npv_3y
        row = ranked.get(number)
        if row is not None and not row.waits and row.worth != worth:
            wrong.append(f"{ref(number)} is worth {row.worth} in the portfolio, {worth} in its case")
        wrong += [f"{ref(number)}, {fault}" for fault in _faults(ctx, number, case.working)]
    seen = tally.overview(ctx)
    company = [*seen.working.values(), *(row.working for row in seen.rows)]
    company += [row.working for row in ranked.values()]
    if seen.rest is not None:
        company.append(seen.rest.working)
    return [*wrong, *(fault for one in company for fault in faults(one))]


def _faults(ctx: Ctx, number: int, case: Mapping[str, Working]) -> Iterator[str]:
    """What does not follow on the pages of one idea: first look, sizing, case, tally, each of its entries."""
    found = tally.of_idea(ctx, number)
    shown = [page.one(ctx, number).look, found.working, *(line.working for line in found.lines)]
    shown += ranges.view(ctx, number).results.working.values()
    shown += case.values()
    shown += [month.working for month in found.months]
    yield from (fault for one in shown for fault in faults(one))
    for entry in _entries(ctx, number, [month.month for month in found.months]):
        # A month's end keeps its working as it was posted, perhaps in words of before.
        yield from faults(entry.working, in_words_of_before=entry.run_id is None)


def _entries(ctx: Ctx, number: int, months: list[str]) -> Iterator[tally.EntryOut]:
    for month in months:
        after: int | None = 0
        while after is not None:
            rows = tally.entries(ctx, number, month, after)
            yield from rows.rows
            after = rows.next
