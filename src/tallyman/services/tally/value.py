"""The tally read: promised against delivered by idea, line and month, down to the entry."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import fields
from datetime import date
from fractions import Fraction

from tallyman.core.exact import exact, text_of
from tallyman.core.tally import Kept, Rate, next_month, sums, working_of
from tallyman.core.working import Part, Working
from tallyman.services.context import Ctx, company_day, company_of, in_transaction
from tallyman.services.ideas import find as find_idea
from tallyman.services.ideas import ref as idea_ref
from tallyman.services.rates import rates
from tallyman.services.tally import attended, closing
from tallyman.services.tally.answers import (
    CompanyMonth,
    Entries,
    EntryOut,
    IdeaMonth,
    IdeaSum,
    IdeaTally,
    Line,
    Overview,
    Rest,
    Sum,
)
from tallyman.services.tally.promised import Promises, promises_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea
from tallyman.store.records.tally import (
    TallyEntriesOfMonth,
    TallyMonths,
    TallyPromised,
    TallyRatesByIds,
    TallySumsByMonth,
    TallySumsOfAll,
    TallySumsOfIdea,
)
from tallyman.store.records.workshop import RoutinesCountedLast

ENTRIES_A_PAGE = 100


Summed = TallySumsByMonth | TallySumsOfIdea | TallySumsOfAll


def _month_range(first: str, last: str) -> list[str]:
    months: list[str] = []
    month = first
    while month <= last and len(months) < 600:
        months.append(month)
        month = next_month(month)
    return months


def _lines(rows: list[TallySumsByMonth | TallySumsOfIdea], key: str) -> dict[str, dict[str, Summed]]:
    found: dict[str, dict[str, Summed]] = defaultdict(dict)
    for row in rows:
        found[getattr(row, key)][row.line] = row
    return found


def _promises_seen(tx: Tx, ctx: Ctx) -> list[Promises]:
    rows = tx.all(TallyPromised, "tally.promised")
    return promises_of(tx, (row for row in rows if ctx.actor.may_at("value.see", row.area_id)))


@in_transaction
def overview(tx: Tx, ctx: Ctx) -> Overview:
    """Every promised idea: promised to date against delivered, and the company's months."""
    ctx.require("value.see")
    today = company_day(tx, ctx)
    this_month = today.strftime("%Y-%m")
    entered = _by_idea(tx.all(TallySumsOfAll, "tally.sums_of_all"))
    found: list[tuple[str, sums.Sums]] = []
    rows = []
    for promises in _promises_seen(tx, ctx):
        promise = promises.row
        lines = entered.get(promise.idea_id, {})
        mine = sums.sums_of(lines, promises.to(today))
        name = f"{idea_ref(promise.idea_id)} {promise.title}"
        rows.append(
            IdeaSum(
                idea_id=promise.idea_id,
                title=promise.title,
                stage=promise.stage,
                division=promise.division,
                live_on=promise.live_on,
                go_live_on=promise.go_live_on,
                **mine.shown(),
                working=sums.difference_working(
                    f"{name}: delivered − promised", mine, lines, promises.said(today)
                ),
            )
        )
        found.append((name, mine))
    rows.sort(key=lambda row: exact(row.difference))
    found.sort(key=lambda one: exact(sums.money_of(one[1].difference)))
    total = sum((one for _, one in found), sums.Sums())
    # What no idea bears is the company's, and shown to whoever sees all of it.
    everything = ctx.actor.areas("value.see") is None
    rest = _rest(entered.get(0, {}) if everything else {})
    working = sums.total_workings(found, total, exact(rest.money) if rest else None)
    whole = {**total.shown(), "net": working["net"].outcome or ""}
    months = _company_months(tx, ctx, this_month, today)
    return Overview(
        rows=rows,
        total=Sum(**whole),
        rounding=_rounding(rows, total),
        working=working,
        rest=rest,
        attended=attended.of_all(tx, ctx),
        months=months,
        to_close=closing.first_open(tx, ctx, [row.month for row in months]),
        currency=company_of(tx).currency,
        as_of=ctx.now,
    )


def _rounding(rows: Sequence[Sum], total: sums.Sums) -> Sum | None:
    """What rounding leaves beside the rows as they are shown."""
    names = [one.name for one in fields(Sum)]
    shown = [{name: getattr(row, name) for name in names} for row in rows]
    left = sums.roundings(shown, total.shown())
    return None if left is None else Sum(**left)


def _rest(lines: dict[str, Summed]) -> Rest | None:
    """What no idea bears: unused seats, and robot time of routines that count for none."""
    if not lines:
        return None
    working = sums.rest_working(lines)
    return Rest(lines=", ".join(lines), money=working.outcome or "", working=working)


def _by_idea(rows: list[TallySumsOfAll]) -> dict[int, dict[str, Summed]]:
    found: dict[int, dict[str, Summed]] = defaultdict(dict)
    for row in rows:
        found[row.idea_id][row.line] = row
    return found


def _company_months(tx: Tx, ctx: Ctx, this_month: str, today: date) -> list[CompanyMonth]:
    by_month = _lines(tx.all(TallySumsByMonth, "tally.sums_by_month", **ctx.scope("value.see")), "month")
    states = {row.month: row for row in tx.all(TallyMonths, "tally.months")}
    promises = _promises_seen(tx, ctx)
    firsts = [one.first_month for one in promises]
    first = min([*by_month, *firsts, this_month])
    rows = []
    for month in _month_range(first, this_month):
        promised = sum((one.of_month(month, today) for one in promises), Fraction(0))
        state = states.get(month)
        rows.append(
            CompanyMonth(
                month=month,
                state=state.state if state else "open",
                closed_by=state.closed_by if state else None,
                closed_at=state.closed_at if state else None,
                open_then=list(state.open) if state and state.open else [],
                **sums.sums_of(by_month.get(month, {}), promised).shown(),
            )
        )
    return rows[-24:]


def _idea(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    idea = find_idea(tx, ctx, idea_id)
    ctx.require_at("value.see", idea.area_id)
    return idea


@in_transaction
def of_idea(tx: Tx, ctx: Ctx, idea_id: int) -> IdeaTally:
    """An idea's promised against delivered by month, with each sum's working."""
    ctx.require("value.see")
    idea = _idea(tx, ctx, idea_id)
    promise = next(iter(promises_of(tx, tx.all(TallyPromised, "tally.promised_of_idea", idea=idea_id))), None)
    by_month = _lines(tx.all(TallySumsOfIdea, "tally.sums_of_idea", idea=idea_id), "month")
    today = company_day(tx, ctx)
    months: list[IdeaMonth] = []
    total = sums.Sums()
    if promise is not None or by_month:
        firsts = list(by_month)
        if promise is not None:
            firsts.append(promise.first_month)
        states = {row.month: row.state for row in tx.all(TallyMonths, "tally.months")}
        for month in _month_range(min(firsts), today.strftime("%Y-%m")):
            lines = by_month.get(month, {})
            promised = promise.of_month(month, today) if promise else Fraction(0)
            of_month = sums.sums_of(lines, promised)
            total += of_month
            said = "a year's promised saving by the days of the month from go-live on"
            name = f"{month}: delivered − promised"
            months.append(
                IdeaMonth(
                    month=month,
                    state=states.get(month, "open"),
                    **of_month.shown(),
                    entries=int(sum(row.entries for row in lines.values())),
                    working=sums.difference_working(name, of_month, lines, said),
                )
            )
    point = tx.one(RoutinesCountedLast, "routines.counted_last", idea=idea_id)
    return IdeaTally(
        months=months,
        total=Sum(**total.shown()),
        rounding=_rounding(months, total),
        working=sums.months_working(
            f"{idea_ref(idea.id)}: delivered − promised, all months",
            total.shown()["difference"],
            [(row.month, row.difference, row.entries) for row in months],
        ),
        lines=_line_rows(promise, by_month, today),
        currency=company_of(tx).currency,
        routine_id=point.routine_id if point else None,
        routine=point.name if point else None,
        counted_until=point.ended_at if point else None,
        live_on=idea.live_on,
        promised_from=promise.row.go_live_on if promise else None,
    )


def _line_rows(promise: Promises | None, by_month: dict[str, dict[str, Summed]], today: date) -> list[Line]:
    """Promised and delivered to date on the same lines, each with its working."""
    if promise is None:
        return []
    rows = []
    for line, names in sums.DELIVERS.items():
        promised, how = promise.of_line(line, today)
        rows.append(_line_row(line, names, promised, by_month, how))
    live = promise.row.go_live_on <= today
    one_time = -exact(promise.row.result["one_time_cost"]) if live else Fraction(0)
    once = (Part("One-time cost", sums.money_of(one_time), "at go-live"),) if live else ()
    how = Working("Promised to date", sums.money_of(one_time), "money", "sum of what was due", parts=once)
    rows.append(_line_row("build", ("build",), one_time, by_month, how))
    return rows


def _line_row(
    line: str,
    names: tuple[str, ...],
    promised: Fraction,
    by_month: dict[str, dict[str, Summed]],
    how: Working,
) -> Line:
    found = [(month, lines[name]) for month, lines in by_month.items() for name in names if name in lines]
    delivered, working = sums.line_working(line, promised, found, how)
    return Line(
        line=line,
        promised=sums.money_of(promised),
        delivered=sums.money_of(delivered),
        difference=working.outcome or "",
        working=working,
    )


@in_transaction
def entries(tx: Tx, ctx: Ctx, idea_id: int, month: str, after: int) -> Entries:
    """The entries of an idea in a month, each with its run and working."""
    ctx.require("value.see")
    _idea(tx, ctx, idea_id)
    rows = tx.all(
        TallyEntriesOfMonth,
        "tally.entries_of_month",
        idea=idea_id,
        month=month,
        after=after,
        limit=ENTRIES_A_PAGE + 1,
    )
    more = len(rows) > ENTRIES_A_PAGE
    rows = rows[:ENTRIES_A_PAGE]
    ids = sorted({rate for row in rows for rate in row.rates})
    known = {row.id: row for row in tx.all(TallyRatesByIds, "tally.rates_by_ids", ids=tuple(ids) or (0,))}
    shown = [
        EntryOut(
            id=row.id,
            run_id=row.run_id,
            routine_id=row.routine_id,
            routine=row.routine,
            kind=row.kind,
            why=row.why,
            person=row.person,
            line=row.line,
            units=text_of(Fraction(row.units), 0) or "0",
            hours=f"{row.hours:f}",
            money=f"{row.money:f}",
            at=row.at,
            belongs_to=row.belongs_to,
            working=Working.of(row.facts) if row.facts else _entry_working(row, known),
        )
        for row in rows
    ]
    return Entries(rows=shown, next=rows[-1].id if more else None)


def _entry_working(row: TallyEntriesOfMonth, known: dict[int, TallyRatesByIds]) -> Working:
    kept = Kept(
        row.line,
        Fraction(row.units),
        Fraction(row.hours),
        Fraction(row.money),
        row.run_id or 0,
        row.at.date(),
    )
    used = [known[number] for number in row.rates if number in known]
    return working_of(
        kept,
        [_rate(one) for one in used],
        f"Entry of R-{row.run_id}: {row.line}{'' if row.kind == 'run' else ', ' + row.kind}",
        f"Kept to six digits: {row.money}. It belongs to {row.belongs_to}. {row.why}".strip(),
    )


def _rate(row: TallyRatesByIds) -> Rate:
    kind = rates.KINDS[row.kind]
    return Rate(row.id, kind.name, Fraction(row.value), kind.unit, row.since.isoformat())
