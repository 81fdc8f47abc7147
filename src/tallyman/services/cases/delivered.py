"""What was delivered: days spent, items that came, what robots did; and what it says of estimates."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from decimal import Decimal
from fractions import Fraction

from tallyman.core.cases import delivered
from tallyman.core.cases.delivered import Actual, Correction, Months, Record
from tallyman.core.exact import exact, plain, text_of
from tallyman.core.free import Free
from tallyman.core.ideas import AFTER_BACKING
from tallyman.core.said import day_said, figure_said, month_said
from tallyman.core.tally import sums as tally_sums
from tallyman.errors import Conflict, Fault, InputFaults, Refused
from tallyman.services.cases.answers import DeliveredMonth, SpentOut
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.ideas import find_to, obj, ref
from tallyman.store.db import Tx
from tallyman.store.records.cases import (
    DeliveredAllDemand,
    DeliveredDemand,
    DeliveredDemandOf,
    DeliveredFunctions,
    DeliveredMinutes,
    DeliveredPromised,
    DeliveredSpent,
    DeliveredSpentOf,
    DeliveredSpentWhole,
    DeliveredUnits,
)
from tallyman.store.records.ideas import Idea, IdeasLock, Promise
from tallyman.store.records.tally import TallySumsOfIdea

LINES_SAVED = tally_sums.BENEFIT
LINE_BUILD = "build"
MOST_DAYS = 10_000
MOST_ITEMS = 1_000_000_000


def by_month(tx: Tx, idea_id: int) -> list[DeliveredMonth]:
    """Items by month: those that came as somebody counted them, and what robots did and handed back."""
    found: dict[str, DeliveredMonth] = {}

    def month(name: str) -> DeliveredMonth:
        return found.get(name) or DeliveredMonth(name, None, "", "", 0, None, None)

    for row in tx.all(DeliveredDemand, "delivered.demand", idea=idea_id):
        found[row.month] = replace(
            month(row.month),
            came=_plain(row.items),
            source=row.source,
            by=row.person,
            version=row.version,
        )
    for line in tx.all(TallySumsOfIdea, "tally.sums_of_idea", idea=idea_id):
        if line.line == "time saved":
            found[line.month] = replace(month(line.month), robots=_plain(line.units))
        elif line.line == "handed back":
            found[line.month] = replace(month(line.month), handed_back=_plain(line.units))
    return [found[name] for name in sorted(found)][-24:]


def _plain(value: Decimal | Fraction) -> str:
    return plain(Fraction(value), 2)


def so_far(tx: Tx, idea: Idea) -> dict[str, dict[str, str]]:
    """What was delivered, by the figure of the case that it stands beside, each with a note."""
    found: dict[str, dict[str, str]] = {}
    sums: dict[str, Fraction] = {}
    for row in tx.all(TallySumsOfIdea, "tally.sums_of_idea", idea=idea.id):
        sums[row.line] = sums.get(row.line, Fraction(0)) + Fraction(row.money)
    saved = [sums[line] for line in LINES_SAVED if line in sums]
    if saved:
        found["saving_per_year"] = {"value": text_of(sum(saved, Fraction(0)), 2) or "", "note": "to date"}
    costs = [money for line, money in sums.items() if line not in (*LINES_SAVED, LINE_BUILD)]
    if costs:
        found["running_cost_per_year"] = {
            "value": text_of(-sum(costs, Fraction(0)), 2) or "",
            "note": "to date",
        }
    spent = tx.all(DeliveredSpent, "delivered.spent", idea=idea.id)
    if spent:
        days = sum((Fraction(row.person_days) for row in spent), Fraction(0))
        rates = _day_rates(tx, idea.id)
        known = all(row.phase in rates for row in spent)
        money = sum(
            (Fraction(row.person_days) * rates.get(row.phase, Fraction(0)) for row in spent),
            Fraction(0),
        )
        note = f"{_plain(days)} person-days"
        found["one_time_cost"] = {"value": (text_of(money, 2) or "") if known else "", "note": note}
    return found


def spent_of(tx: Tx, idea_id: int) -> list[SpentOut]:
    """Person-days by phase, as recorded."""
    return [
        SpentOut(row.phase, _plain(row.person_days), row.ended_on, row.version, row.person)
        for row in tx.all(DeliveredSpent, "delivered.spent", idea=idea_id)
    ]


def _day_rates(tx: Tx, idea_id: int) -> dict[str, Fraction]:
    promise = tx.one(Promise, "ideas.promise", idea=idea_id)
    rows = promise.input.get("phases") or [] if promise else []
    return {row["name"]: exact(row["day_rate"]) for row in rows if row.get("day_rate") not in (None, "")}


def _number(field: str, value: Free, most: int) -> Fraction:
    try:
        number = exact(value)
    except ValueError as error:
        raise InputFaults([Fault(field, value, f"{error}; give a number such as 12.5")]) from None
    if not 0 <= number <= most:
        raise InputFaults([Fault(field, value, f"out of range; allowed: 0 to {most:,}")])
    return number


def _promised_idea(tx: Tx, ctx: Ctx, idea_id: int, permission: str = "sizing.make") -> Idea:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, permission)
    if idea.stage not in AFTER_BACKING:
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; nothing was delivered of it yet.",
            "What happened is recorded once an idea is backed.",
        )
    return idea


def _unchanged(
    old: DeliveredDemandOf | DeliveredSpentOf | None, seen: int, what: str, value: str, yours: Free
) -> None:
    if old is not None and old.version != seen:
        raise Conflict(
            f"{old.person} changed {what} meanwhile.",
            "Look at both, then save yours again or keep theirs.",
            theirs=str(getattr(old, value)),
            yours=yours,
            version=old.version,
        )


@in_transaction
def spend(tx: Tx, ctx: Ctx, idea_id: int, phase: str, days: object, ended_on: date | None, seen: int) -> None:
    """Records the person-days that a phase took, and when it ended; `seen` is the version that was shown."""
    # Who builds it knows best; who sizes may enter it as well.
    permission = "build.make" if ctx.actor.may("build.make") else "sizing.make"
    ctx.require(permission)
    number = _number("person_days", days, MOST_DAYS)
    _promised_idea(tx, ctx, idea_id, permission)
    promise = tx.one(Promise, "ideas.promise", idea=idea_id)
    names = [row["name"] for row in (promise.plan["phases"] if promise else [])]
    if phase not in names:
        raise InputFaults([Fault("phase", phase, f"the promised plan has {', '.join(names) or 'none'}")])
    today = company_day(tx, ctx)
    if ended_on is not None and ended_on > today:
        raise InputFaults([Fault("ended_on", ended_on.isoformat(), "this day has not come yet")])
    old = tx.one(DeliveredSpentOf, "delivered.spent_of", idea=idea_id, phase=phase)
    _unchanged(old, seen, f"“{phase}”", "person_days", str(days))
    tx.write(
        "delivered.put_spent",
        idea=idea_id,
        phase=phase,
        days=number,
        ended=ended_on,
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    ended = f", ended on {day_said(ended_on)}" if ended_on else ""
    audit(tx, ctx, "days recorded", obj(idea_id), f"{phase} took {_plain(number)} person-days{ended}")
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def count_month(tx: Tx, ctx: Ctx, idea_id: int, month: str, items: object, source: str, seen: int) -> None:
    """Records how many items came in a month, whoever did them; `seen` is the version that was shown."""
    ctx.require("sizing.make")
    number = _number("items", items, MOST_ITEMS)
    source = source.strip()[:200]
    _promised_idea(tx, ctx, idea_id)
    if month > company_day(tx, ctx).strftime("%Y-%m"):
        raise InputFaults([Fault("month", month, "this month has not come yet")])
    old = tx.one(DeliveredDemandOf, "delivered.demand_of", idea=idea_id, month=month)
    _unchanged(old, seen, f"the items of {month}", "items", str(items))
    tx.write(
        "delivered.put_demand",
        idea=idea_id,
        month=month,
        items=number,
        source=source,
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    audit(
        tx,
        ctx,
        "items of a month recorded",
        obj(idea_id),
        f"{figure_said(number)} items came in {month_said(month)}",
    )
    changed(tx, ctx, "ideas", idea_id)


NOWHERE = "no division"


def _functions(tx: Tx) -> dict[int | None, str]:
    return {row.id: row.top for row in tx.all(DeliveredFunctions, "delivered.functions")}


def records(tx: Tx, functions: dict[int | None, str]) -> list[Record]:
    """Every idea in service with what is known of actual against estimated."""
    spent, demand, units, minutes = _actuals(tx)
    found = []
    for row in tx.all(DeliveredPromised, "delivered.promised"):
        number, given, sizing = row.idea_id, row.input, row.sizing
        actual = Actual(spent.get(number), minutes.get(number), demand.get(number, {}), units.get(number, {}))
        ratios = delivered.ratios(actual, given, sizing)
        if ratios:
            found.append(Record(number, functions.get(row.division_id, NOWHERE), row.sizer or "", ratios))
    return found


def _actuals(
    tx: Tx,
) -> tuple[dict[int, Fraction], dict[int, Months], dict[int, Months], dict[int, Fraction]]:
    spent = {row.idea_id: Fraction(row.days) for row in tx.all(DeliveredSpentWhole, "delivered.spent_whole")}
    demand: dict[int, Months] = {}
    for row in tx.all(DeliveredAllDemand, "delivered.all_demand"):
        demand.setdefault(row.idea_id, {})[row.month] = Fraction(row.items)
    units: dict[int, Months] = {}
    for one in tx.all(DeliveredUnits, "delivered.units"):
        units.setdefault(one.idea_id, {})[one.month] = Fraction(one.units)
    minutes = {row.idea_id: Fraction(row.value) for row in tx.all(DeliveredMinutes, "delivered.minutes")}
    return spent, demand, units, minutes


def corrections_for(tx: Tx, idea: Idea, estimator: str) -> list[Correction]:
    """What delivered ideas say of estimates like this one's."""
    functions = _functions(tx)
    function = functions.get(idea.division_id, NOWHERE)
    return delivered.corrections(records(tx, functions), function, estimator)
