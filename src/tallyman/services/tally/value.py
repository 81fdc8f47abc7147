"""The tally read: promised against delivered by idea, line and month, down to the entry."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import fields
from datetime import date
from decimal import Decimal
from fractions import Fraction

from tallyman.core.exact import exact, text_of
from tallyman.core.tally.entries import next_month
from tallyman.core.working import Part, Used, Working
from tallyman.services.context import Ctx, company_day, company_of
from tallyman.services.ideas import find as find_idea
from tallyman.services.ideas import ref as idea_ref
from tallyman.services.rates import rates
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
from tallyman.store.records.workshop import RoutinesCountingOfIdea

BENEFIT = ("time saved", "handed back")
COSTS = ("robot time", "support", "software", "running lines", "build", "unused seats")
# By line of the promise: the lines of entries that deliver it.
DELIVERS = {
    "saving": BENEFIT,
    "robots": ("robot time",),
    "support": ("support",),
    "software": ("software",),
    "running lines": ("running lines",),
}
ENTRIES_A_PAGE = 100


Summed = TallySumsByMonth | TallySumsOfIdea | TallySumsOfAll


def _month_range(first: str, last: str) -> list[str]:
    months: list[str] = []
    month = first
    while month <= last and len(months) < 600:
        months.append(month)
        month = next_month(month)
    return months


def _money(value: Fraction | Decimal | int) -> str:
    return text_of(Fraction(value), 2) or "0.00"


def _lines(rows: list[TallySumsByMonth | TallySumsOfIdea], key: str) -> dict[str, dict[str, Summed]]:
    found: dict[str, dict[str, Summed]] = defaultdict(dict)
    for row in rows:
        found[getattr(row, key)][row.line] = row
    return found


def _figures(lines: dict[str, Summed]) -> dict[str, Decimal]:
    zero = Decimal(0)
    benefit = [lines[name] for name in BENEFIT if name in lines]
    costs = [lines[name] for name in COSTS if name in lines]
    return {
        "costs": sum((row.money for row in costs), zero),
        "units": lines["time saved"].units if "time saved" in lines else zero,
        "hours": sum((row.hours for row in benefit), zero),
        "saved": sum((row.money for row in benefit), zero),
        "robot_time": lines["robot time"].money if "robot time" in lines else zero,
    }


def _shown(figures: dict[str, Decimal], promised: Fraction) -> dict[str, str]:
    return {
        "promised": _money(promised),
        "saved": _money(figures["saved"]),
        "difference": _money(Fraction(figures["saved"]) - promised),
        "robot_time": _money(figures["robot_time"]),
        "costs": _money(figures["costs"]),
        "net": _money(Fraction(figures["saved"]) + Fraction(figures["costs"])),
        "hours": text_of(Fraction(figures["hours"]), 1) or "0.0",
        "units": text_of(Fraction(figures["units"]), 0) or "0",
    }


def _sum_working(
    name: str, figures: dict[str, Decimal], lines: dict[str, Summed], promised: Fraction, said: str
) -> Working:
    parts = [
        Part(line, _money(row.money), "1 entry" if row.entries == 1 else f"{row.entries} entries")
        for line, row in lines.items()
        if line in BENEFIT
    ]
    costs = [
        Part(line, _money(row.money), "1 entry" if row.entries == 1 else f"{row.entries} entries")
        for line, row in lines.items()
        if line in COSTS
    ]
    apart = Working(
        "Costs, which stand apart",
        _money(figures["costs"]),
        "money",
        "sum of the entries: robot time at its standard price, and at month end what that does not hold",
        parts=tuple(costs),
    )
    delivered = Working(
        "Delivered",
        _money(figures["saved"]),
        "money",
        "sum of the entries: units × minutes by hand × what an hour costs",
        parts=tuple(parts),
        note="Each entry is reckoned at the rates in force when its run ended.",
    )
    return Working(
        name,
        _money(Fraction(figures["saved"]) - promised),
        "money",
        "delivered − promised",
        parts=(
            Part("Delivered", _money(figures["saved"])),
            Part("Promised", _money(-promised), said),
        ),
        steps=(delivered, apart),
    )


def _promises_seen(tx: Tx, ctx: Ctx) -> list[Promises]:
    rows = tx.all(TallyPromised, "tally.promised")
    return promises_of(tx, (row for row in rows if ctx.actor.may_at("value.see", row.area_id)))


def overview(ctx: Ctx) -> Overview:
    """Every promised idea: promised to date against delivered, and the company's months."""
    ctx.require("value.see")

    def work(tx: Tx) -> Overview:
        today = company_day(tx, ctx)
        this_month = today.strftime("%Y-%m")
        sums = _by_idea(tx.all(TallySumsOfAll, "tally.sums_of_all"))
        rows = []
        totals: dict[str, Fraction] = defaultdict(Fraction)
        for promises in _promises_seen(tx, ctx):
            promise = promises.row
            lines = sums.get(promise.idea_id, {})
            figures = _figures(lines)
            promised, said = promises.to(today), promises.said(today)
            name = f"{idea_ref(promise.idea_id)} {promise.title}: delivered − promised"
            rows.append(
                IdeaSum(
                    idea_id=promise.idea_id,
                    title=promise.title,
                    stage=promise.stage,
                    division=promise.division,
                    live_on=promise.live_on,
                    go_live_on=promise.go_live_on,
                    **_shown(figures, promised),
                    working=_sum_working(name, figures, lines, promised, said),
                )
            )
            totals["promised"] += promised
            for key in ("saved", "robot_time", "costs", "hours", "units"):
                totals[key] += Fraction(figures[key])
        rows.sort(key=lambda row: exact(row.difference))
        return Overview(
            rows=rows,
            total=Sum(
                promised=_money(totals["promised"]),
                saved=_money(totals["saved"]),
                difference=_money(totals["saved"] - totals["promised"]),
                robot_time=_money(totals["robot_time"]),
                costs=_money(totals["costs"]),
                net=_money(totals["saved"] + totals["costs"]),
                hours=text_of(totals["hours"], 1) or "0.0",
                units=text_of(totals["units"], 0) or "0",
            ),
            working=_total_workings(rows, totals),
            rest=_rest(sums.get(0, {})),
            months=_company_months(tx, ctx, this_month, today),
            currency=company_of(tx).currency,
            as_of=ctx.now,
        )

    return ctx.db.transact(work)


def _rest(lines: dict[str, Summed]) -> Rest | None:
    """What no idea bears: unused seats, and robot time of routines that count for none."""
    parts = tuple(Part(line, _money(row.money), f"{row.entries} entries") for line, row in lines.items())
    if not parts:
        return None
    money = sum((Fraction(row.money) for row in lines.values()), Fraction(0))
    working = Working("Borne by no idea", _money(money), "money", "sum of the entries", parts=parts)
    return Rest(lines=", ".join(lines), money=_money(money), working=working)


def _total_workings(rows: list[IdeaSum], totals: dict[str, Fraction]) -> dict[str, Working]:
    """The working of each total: what every idea brings to it, and what rounding leaves."""
    names = {
        "saved": ("Delivered to date", "sum of what the ideas delivered"),
        "promised": ("Promised to date", "sum of the promises, each by days from its promised go-live"),
        "difference": ("Difference", "delivered − promised"),
        "robot_time": ("Robot time", "− robot hours × standard price of a robot hour, over all runs"),
        "costs": ("Costs of ideas", "sum of robot time and month-end costs"),
        "net": ("Delivered less costs", "delivered + costs"),
    }
    amounts = {
        **totals,
        "difference": totals["saved"] - totals["promised"],
        "net": totals["saved"] + totals["costs"],
    }
    found = {}
    for key, (name, formula) in names.items():
        parts = [
            Part(f"{idea_ref(row.idea_id)} {row.title}", getattr(row, key))
            for row in rows
            if exact(getattr(row, key))
        ]
        left = exact(_money(amounts[key])) - sum((exact(part.value) for part in parts), Fraction(0))
        note = f"The parts are rounded one by one, which leaves {_money(left)}." if left else ""
        outcome = _money(amounts[key])
        found[key] = Working(name, outcome, "money", formula, parts=tuple(parts), note=note)
    return found


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
        figures = _figures(by_month.get(month, {}))
        promised = sum((one.of_month(month, today) for one in promises), Fraction(0))
        state = states.get(month)
        rows.append(
            CompanyMonth(
                month=month,
                state=state.state if state else "open",
                closed_by=state.closed_by if state else None,
                **_shown(figures, promised),
            )
        )
    return rows[-24:]


def _idea(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    idea = find_idea(tx, ctx, idea_id)
    ctx.require_at("value.see", idea.area_id)
    return idea


def of_idea(ctx: Ctx, idea_id: int) -> IdeaTally:
    """An idea's promised against delivered by month, with each sum's working."""
    ctx.require("value.see")

    def work(tx: Tx) -> IdeaTally:
        idea = _idea(tx, ctx, idea_id)
        promise = next(
            iter(promises_of(tx, tx.all(TallyPromised, "tally.promised_of_idea", idea=idea_id))), None
        )
        by_month = _lines(tx.all(TallySumsOfIdea, "tally.sums_of_idea", idea=idea_id), "month")
        today = company_day(tx, ctx)
        months: list[IdeaMonth] = []
        if promise is not None or by_month:
            firsts = list(by_month)
            if promise is not None:
                firsts.append(promise.first_month)
            states = {row.month: row.state for row in tx.all(TallyMonths, "tally.months")}
            for month in _month_range(min(firsts), today.strftime("%Y-%m")):
                lines = by_month.get(month, {})
                figures = _figures(lines)
                promised = promise.of_month(month, today) if promise else Fraction(0)
                said = "a year's promised saving by the days of the month from go-live on"
                name = f"{month}: delivered − promised"
                months.append(
                    IdeaMonth(
                        month=month,
                        state=states.get(month, "open"),
                        **_shown(figures, promised),
                        entries=int(sum(row.entries for row in lines.values())),
                        working=_sum_working(name, figures, lines, promised, said),
                    )
                )
        point = tx.one(RoutinesCountingOfIdea, "routines.counting_of_idea", idea=idea_id)
        return IdeaTally(
            months=months,
            total=_idea_total(months),
            working=_months_working(idea, months),
            lines=_line_rows(promise, by_month, today),
            currency=company_of(tx).currency,
            routine_id=point.routine_id if point else None,
            routine=point.name if point else None,
            live_on=idea.live_on,
            promised_from=promise.row.go_live_on if promise else None,
        )

    return ctx.db.transact(work)


def _line_rows(promise: Promises | None, by_month: dict[str, dict[str, Summed]], today: date) -> list[Line]:
    """Promised and delivered to date on the same lines, each with its working."""
    if promise is None:
        return []
    rows = []
    for line, names in DELIVERS.items():
        promised, said = promise.of_line(line, today)
        rows.append(_line_row(line, names, promised, by_month, said))
    live = promise.row.go_live_on <= today
    one_time = -exact(promise.row.result["one_time_cost"]) if live else Fraction(0)
    rows.append(_line_row("build", ("build",), one_time, by_month, "− one-time cost, at go-live"))
    return rows


def _line_row(
    line: str, names: tuple[str, ...], promised: Fraction, by_month: dict[str, dict[str, Summed]], said: str
) -> Line:
    found = [(month, lines[name]) for month, lines in by_month.items() for name in names if name in lines]
    delivered = sum((Fraction(row.money) for _, row in found), Fraction(0))
    parts = tuple(
        Part(f"{month}: {row.line}", _money(row.money), f"{row.entries} entries") for month, row in found
    )
    steps = (
        Working("Delivered", _money(delivered), "money", "sum of the entries of all months", parts=parts),
        Working("Promised to date", _money(promised), "money", said),
    )
    working = Working(
        f"{line}: delivered − promised",
        _money(delivered - promised),
        "money",
        "delivered − promised",
        parts=(Part("Delivered", _money(delivered)), Part("Promised", _money(-promised))),
        steps=steps,
    )
    return Line(
        line=line,
        promised=_money(promised),
        delivered=_money(delivered),
        difference=_money(delivered - promised),
        working=working,
    )


def _months_working(idea: Idea, months: list[IdeaMonth]) -> Working:
    """The working of the sum over an idea's months."""
    return Working(
        f"{idea_ref(idea.id)}: delivered − promised, all months",
        _idea_total(months).difference,
        "money",
        "sum of the months' differences",
        parts=tuple(Part(row.month, row.difference, f"{row.entries} entries") for row in months),
    )


def _idea_total(months: list[IdeaMonth]) -> Sum:
    """The sum of the months as shown; exact to the cent as each is rounded once."""

    def total(key: str) -> str:
        return text_of(sum((exact(getattr(row, key)) for row in months), Fraction(0)), _digits(key)) or "0"

    return Sum(**{one.name: total(one.name) for one in fields(Sum)})


def _digits(key: str) -> int:
    return {"hours": 1, "units": 0}.get(key, 2)


def entries(ctx: Ctx, idea_id: int, month: str, after: int) -> Entries:
    """The entries of an idea in a month, each with its run and working."""
    ctx.require("value.see")

    def work(tx: Tx) -> Entries:
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

    return ctx.db.transact(work)


def _entry_working(row: TallyEntriesOfMonth, known: dict[int, TallyRatesByIds]) -> Working:
    used = [
        Used(
            "Units",
            text_of(Fraction(row.units), 0),
            "",
            f"run R-{row.run_id}",
            row.at.date().isoformat(),
            f"/runs/{row.run_id}",
        )
    ]
    for rate_id in row.rates:
        rate = known.get(rate_id)
        if rate is not None:
            kind = rates.KINDS[rate.kind]
            value = text_of(Fraction(rate.value), 2)
            used.append(Used(kind.name, value, kind.unit, "rate", rate.since.isoformat(), "/value/rates"))
    formula = (
        "− robot hours × standard price of a robot hour"
        if row.line == "robot time"
        else "units × minutes each ÷ 60 × what an hour costs"
    )
    return Working(
        f"Entry of R-{row.run_id}: {row.line}{'' if row.kind == 'run' else ', ' + row.kind}",
        _money(row.money),
        "money",
        formula,
        inputs=tuple(used),
        note=f"Kept to six digits: {row.money}. It belongs to {row.belongs_to}. {row.why}".strip(),
    )
