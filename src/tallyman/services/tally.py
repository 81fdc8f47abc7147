"""The tally: posting ended runs, promised against delivered, down to the entry; proving it."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, datetime, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any
from zoneinfo import ZoneInfo

from tallyman.core import tally
from tallyman.core.exact import exact, rounded, text_of
from tallyman.core.promise import promised_for_month
from tallyman.core.working import Part, Used, Working
from tallyman.errors import Refused
from tallyman.services import rates
from tallyman.services.context import Ctx, audit, changed, company_of
from tallyman.services.ideas.base import find as find_idea
from tallyman.services.ideas.base import ref as idea_ref
from tallyman.store.db import Row, Tx

BENEFIT = ("time saved", "handed back")
ENTRIES_A_PAGE = 100


def facts_of(row: Row) -> tally.RunFacts:
    """A run's row as the rules want it."""
    counts = {name: exact(value) for name, value in (row["counts"] or {}).items()}
    minutes = Fraction(0)
    if row["started_at"] is not None and row["ended_at"] is not None:
        seconds = (row["ended_at"] - row["started_at"]) / timedelta(microseconds=1)
        minutes = Fraction(int(max(0, seconds)), 60_000_000)
    case = row["input"] or {}
    return tally.RunFacts(
        row["id"],
        row["state"],
        row["outcome"],
        counts,
        minutes,
        bool(row["trial"]),
        row["idea_id"] is not None,
        row["basis"] or "run",
        row["count_name"] or "",
        exact(case.get("robot_exception_minutes") or 0),
    )


def post_run(tx: Tx, ctx: Ctx, run_id: int) -> int:
    """Posts the entries of an ended run at the rates in force at its finish; asked again, nothing.

    Gives how many entries are new. Locks the month's row first. Raises Refused when a house rate
    that every run needs is not in force.
    """
    row = tx.one("runs.for_posting", id=run_id)
    if row is None or row["trial"] or row["started_at"] is None:
        return 0
    zone = company_of(tx)["zone"]
    at: datetime = row["ended_at"]
    day = at.astimezone(ZoneInfo(zone)).date()
    hour, robot_hour = (rates.in_force(tx, kind, day) for kind in ("hour_cost", "robot_hour"))
    if hour is None or robot_hour is None:
        raise Refused(f"No rate for an hour was in force on {day}.", "Approve one under Value, Rates.")
    minutes = None
    if row["idea_id"] is not None:
        minutes = rates.in_force(tx, rates.MINUTES_BY_HAND, day, row["idea_id"])
    posting = tally.post(facts_of(row), minutes, hour, robot_hour)
    if posting.caution:
        tx.write("tally.add_caution", run=run_id, words=posting.caution, now=ctx.now)
    belongs = tally.month_of(at, zone)
    month = _open_month(tx, belongs)
    new = sum(_post(tx, ctx, row, entry, month, belongs) for entry in posting.entries)
    if new:
        changed(tx, ctx, "tally", row["idea_id"])
    return new


def _open_month(tx: Tx, belongs: str) -> str:
    """The month to post to: its own, or the first open one after a closed one. Locked."""
    month = belongs
    for _ in range(600):
        tx.write("tally.open_month", month=month)
        if tx.value("tally.lock_month", month=month) == "open":
            return month
        year, number = int(month[:4]), int(month[5:])
        month = f"{year + number // 12}-{number % 12 + 1:02}"
    raise Refused("Every month is closed.", "Open a new one.")


def _post(tx: Tx, ctx: Ctx, row: Row, entry: tally.Entry, month: str, belongs: str) -> int:
    source = f"run:{row['id']}"
    if tx.one("tally.posted", source=source, line=entry.line, correction=0) is not None:
        return 0
    amounts = {name: rounded(getattr(entry, name), tally.DIGITS) for name in ("units", "hours", "money")}
    tx.write(
        "tally.post",
        source=source,
        line=entry.line,
        correction=0,
        month=month,
        belongs_to=belongs,
        idea=row["idea_id"],
        routine=row["routine_id"],
        run=row["id"],
        area=row["area_id"],
        rates=list(entry.rate_ids),
        at=row["ended_at"],
        now=ctx.now,
        **amounts,
    )
    idea = row["idea_id"] or 0
    tx.write("tally.add_to_sum", month=month, idea=idea, line=entry.line, **amounts)
    return 1


def _month_range(first: str, last: str) -> list[str]:
    months: list[str] = []
    year, number = int(first[:4]), int(first[5:])
    while f"{year}-{number:02}" <= last and len(months) < 600:
        months.append(f"{year}-{number:02}")
        year, number = year + number // 12, number % 12 + 1
    return months


def _promised(promise: Row, month: str) -> Fraction:
    yearly = exact(promise["result"]["saving_per_year"])
    return promised_for_month(yearly, promise["go_live_on"], int(month[:4]), int(month[5:]))


def _money(value: Fraction | Decimal | int) -> str:
    return text_of(Fraction(value), 2) or "0.00"


def _lines(rows: list[Row], key: str) -> dict[str, dict[str, Row]]:
    found: dict[str, dict[str, Row]] = defaultdict(dict)
    for row in rows:
        found[row[key]][row["line"]] = row
    return found


def _figures(lines: dict[str, Row]) -> dict[str, Decimal]:
    zero = Decimal(0)
    benefit = [lines[name] for name in BENEFIT if name in lines]
    return {
        "units": lines["time saved"]["units"] if "time saved" in lines else zero,
        "hours": sum((row["hours"] for row in benefit), zero),
        "saved": sum((row["money"] for row in benefit), zero),
        "robot_time": lines["robot time"]["money"] if "robot time" in lines else zero,
    }


def _shown(figures: dict[str, Decimal], promised: Fraction) -> dict[str, str]:
    return {
        "promised": _money(promised),
        "saved": _money(figures["saved"]),
        "difference": _money(Fraction(figures["saved"]) - promised),
        "robot_time": _money(figures["robot_time"]),
        "hours": text_of(Fraction(figures["hours"]), 1) or "0.0",
        "units": text_of(Fraction(figures["units"]), 0) or "0",
    }


def _sum_working(
    name: str, figures: dict[str, Decimal], lines: dict[str, Row], promised: Fraction, said: str
) -> dict[str, Any]:
    parts = [
        Part(line, _money(row["money"]), "1 entry" if row["entries"] == 1 else f"{row['entries']} entries")
        for line, row in lines.items()
        if line in BENEFIT
    ]
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
        steps=(delivered,),
        note="Robot time stands apart, at its standard price: " + _money(figures["robot_time"]),
    ).as_dict()


def overview(ctx: Ctx) -> dict[str, Any]:
    """Every promised idea: promised to date against delivered, and the company's months."""
    ctx.require("value.see")

    def work(tx: Tx) -> dict[str, Any]:
        today = rates.company_day(tx, ctx)
        this_month = today.strftime("%Y-%m")
        sums = _by_idea(tx.all("tally.sums_of_all"))
        rows = []
        totals: dict[str, Fraction] = defaultdict(Fraction)
        for promise in tx.all("tally.promised"):
            lines = sums.get(promise["idea_id"], {})
            figures = _figures(lines)
            promised = _promised_to(promise, today)
            said = f"from its promised go-live {promise['go_live_on']} to {today}"
            name = f"{idea_ref(promise['idea_id'])} {promise['title']}: delivered − promised"
            rows.append(
                {
                    "idea_id": promise["idea_id"],
                    "title": promise["title"],
                    "stage": promise["stage"],
                    "division": promise["division"],
                    "live_on": promise["live_on"],
                    "go_live_on": promise["go_live_on"],
                    **_shown(figures, promised),
                    "working": _sum_working(name, figures, lines, promised, said),
                }
            )
            totals["promised"] += promised
            for key in ("saved", "robot_time", "hours", "units"):
                totals[key] += Fraction(figures[key])
        rows.sort(key=lambda row: exact(row["difference"]))
        return {
            "rows": rows,
            "total": {
                "promised": _money(totals["promised"]),
                "saved": _money(totals["saved"]),
                "difference": _money(totals["saved"] - totals["promised"]),
                "robot_time": _money(totals["robot_time"]),
                "hours": text_of(totals["hours"], 1),
                "units": text_of(totals["units"], 0),
            },
            "working": _total_workings(rows, totals),
            "months": _company_months(tx, this_month, today),
            "currency": company_of(tx)["currency"],
            "as_of": ctx.now,
        }

    return ctx.db.transact(work)


def _total_workings(rows: list[dict[str, Any]], totals: dict[str, Fraction]) -> dict[str, Any]:
    """The working of each total: what every idea brings to it, and what rounding leaves."""
    names = {
        "saved": ("Delivered to date", "sum of what the ideas delivered"),
        "promised": ("Promised to date", "sum of the promises, each by days from its promised go-live"),
        "difference": ("Difference", "delivered − promised"),
        "robot_time": ("Robot time", "− robot hours × standard price of a robot hour, over all runs"),
    }
    amounts = {**totals, "difference": totals["saved"] - totals["promised"]}
    found = {}
    for key, (name, formula) in names.items():
        parts = [
            Part(f"{idea_ref(row['idea_id'])} {row['title']}", row[key]) for row in rows if exact(row[key])
        ]
        left = exact(_money(amounts[key])) - sum((exact(part.value) for part in parts), Fraction(0))
        note = f"The parts are rounded one by one, which leaves {_money(left)}." if left else ""
        outcome = _money(amounts[key])
        found[key] = Working(name, outcome, "money", formula, parts=tuple(parts), note=note).as_dict()
    return found


def _by_idea(rows: list[Row]) -> dict[int, dict[str, Row]]:
    found: dict[int, dict[str, Row]] = defaultdict(dict)
    for row in rows:
        found[row["idea_id"]][row["line"]] = row
    return found


def _promised_to(promise: Row, today: date) -> Fraction:
    """Promised up to today: a year's saving by days since the promised go-live."""
    days = max(0, (today - promise["go_live_on"]).days + 1)
    yearly = exact(promise["result"]["saving_per_year"])
    return yearly * Fraction(days, 365)


def _to_date(promise: Row, month: str, today: date) -> Fraction:
    """The month's promise; of the running month only up to today."""
    if month != today.strftime("%Y-%m"):
        return _promised(promise, month)
    first = today.replace(day=1)
    return _promised_to(promise, today) - _promised_to(promise, first - timedelta(days=1))


def _company_months(tx: Tx, this_month: str, today: date) -> list[dict[str, Any]]:
    by_month = _lines(tx.all("tally.sums_by_month"), "month")
    states = {row["month"]: row for row in tx.all("tally.months")}
    promises = tx.all("tally.promised")
    firsts = [one["go_live_on"].strftime("%Y-%m") for one in promises]
    first = min([*by_month, *firsts, this_month])
    rows = []
    for month in _month_range(first, this_month):
        figures = _figures(by_month.get(month, {}))
        promised = sum((_to_date(one, month, today) for one in promises), Fraction(0))
        state = states.get(month, {})
        rows.append(
            {
                "month": month,
                "state": state.get("state", "open"),
                "closed_by": state.get("closed_by"),
                **_shown(figures, promised),
            }
        )
    return rows[-24:]


def of_idea(ctx: Ctx, idea_id: int) -> dict[str, Any]:
    """An idea's promised against delivered by month, with each sum's working."""
    ctx.require("value.see")

    def work(tx: Tx) -> dict[str, Any]:
        idea = find_idea(tx, ctx, idea_id)
        promise = next((one for one in tx.all("tally.promised") if one["idea_id"] == idea_id), None)
        by_month = _lines(tx.all("tally.sums_of_idea", idea=idea_id), "month")
        today = rates.company_day(tx, ctx)
        months: list[dict[str, Any]] = []
        if promise is not None or by_month:
            firsts = list(by_month)
            if promise is not None:
                firsts.append(promise["go_live_on"].strftime("%Y-%m"))
            states = {row["month"]: row["state"] for row in tx.all("tally.months")}
            for month in _month_range(min(firsts), today.strftime("%Y-%m")):
                lines = by_month.get(month, {})
                figures = _figures(lines)
                promised = _to_date(promise, month, today) if promise else Fraction(0)
                said = "a year's promised saving by the days of the month from go-live on"
                name = f"{month}: delivered − promised"
                months.append(
                    {
                        "month": month,
                        "state": states.get(month, "open"),
                        **_shown(figures, promised),
                        "entries": sum(row["entries"] for row in lines.values()),
                        "working": _sum_working(name, figures, lines, promised, said),
                    }
                )
        point = tx.one("routines.counting_of_idea", idea=idea_id)
        return {
            "months": months,
            "total": _idea_total(months),
            "working": _months_working(idea, months),
            "currency": company_of(tx)["currency"],
            "routine_id": point["routine_id"] if point else None,
            "routine": point["name"] if point else None,
            "live_on": idea["live_on"],
            "promised_from": promise["go_live_on"] if promise else None,
        }

    return ctx.db.transact(work)


def _months_working(idea: Row, months: list[dict[str, Any]]) -> dict[str, Any]:
    """The working of the sum over an idea's months."""
    return Working(
        f"{idea_ref(idea['id'])}: delivered − promised, all months",
        _idea_total(months)["difference"],
        "money",
        "sum of the months' differences",
        parts=tuple(Part(row["month"], row["difference"], f"{row['entries']} entries") for row in months),
    ).as_dict()


def _idea_total(months: list[dict[str, Any]]) -> dict[str, str]:
    """The sum of the months as shown; exact to the cent as each is rounded once."""
    keys = ("promised", "saved", "difference", "robot_time", "hours", "units")
    return {
        key: text_of(sum((exact(row[key]) for row in months), Fraction(0)), _digits(key)) or "0"
        for key in keys
    }


def _digits(key: str) -> int:
    return {"hours": 1, "units": 0}.get(key, 2)


def entries(ctx: Ctx, idea_id: int, month: str, after: int) -> dict[str, Any]:
    """The entries of an idea in a month, each with its run and working."""
    ctx.require("value.see")

    def work(tx: Tx) -> dict[str, Any]:
        find_idea(tx, ctx, idea_id)
        rows = tx.all(
            "tally.entries_of_month",
            idea=idea_id,
            month=month,
            after=after,
            limit=ENTRIES_A_PAGE + 1,
        )
        more = len(rows) > ENTRIES_A_PAGE
        rows = rows[:ENTRIES_A_PAGE]
        ids = sorted({rate for row in rows for rate in row["rates"]})
        known = {row["id"]: row for row in tx.all("tally.rates_by_ids", ids=tuple(ids) or (0,))}
        for row in rows:
            row["working"] = _entry_working(row, known).as_dict()
            row["money"], row["hours"] = f"{row['money']:f}", f"{row['hours']:f}"
            row["units"] = text_of(Fraction(row["units"]), 0)
        return {"rows": rows, "next": rows[-1]["id"] if more else None}

    return ctx.db.transact(work)


def _entry_working(row: Row, known: dict[int, Row]) -> Working:
    used = [
        Used(
            "Units",
            text_of(Fraction(row["units"]), 0),
            "",
            f"run R-{row['run_id']}",
            row["at"].date().isoformat(),
            f"/runs/{row['run_id']}",
        )
    ]
    for rate_id in row["rates"]:
        rate = known.get(rate_id)
        if rate is not None:
            kind = rates.KINDS[rate["kind"]]
            value = text_of(Fraction(rate["value"]), 2)
            used.append(Used(kind.name, value, kind.unit, "rate", rate["since"].isoformat(), "/value/rates"))
    formula = (
        "− robot hours × standard price of a robot hour"
        if row["line"] == "robot time"
        else "units × minutes each ÷ 60 × what an hour costs"
    )
    return Working(
        f"Entry of R-{row['run_id']}: {row['line']}",
        _money(row["money"]),
        "money",
        formula,
        inputs=tuple(used),
        note=f"Kept to six digits: {row['money']}. It belongs to {row['belongs_to']}.",
    )


def close_month(ctx: Ctx, month: str) -> None:
    """Signs a month off by name: nothing is posted to it afterwards."""
    ctx.require("rate.approve")

    def work(tx: Tx) -> None:
        today = rates.company_day(tx, ctx)
        if month >= today.strftime("%Y-%m"):
            raise Refused(f"{month} is not over yet.", "Close it when it is.")
        tx.write("tally.lock_month", month=month)
        if not tx.write("tally.close_month", month=month, person=ctx.actor.person_id, now=ctx.now):
            raise Refused(f"{month} is closed already, or has no entries.", "Load the page again.")
        audit(tx, ctx, "month closed", f"month:{month}", f"Closed {month}")
        changed(tx, ctx, "tally")

    ctx.db.transact(work)


def verify(ctx: Ctx) -> list[str]:
    """Proves sums, places and postings; every line names one thing that is wrong."""

    def work(tx: Tx) -> list[str]:
        wrong = [
            f"sum of {row['month']} idea {row['idea_id']} {row['line']} differs from its entries"
            for row in tx.all("tally.check_sums")
        ]
        wrong += [
            f"{row['entries']} entries of {row['month']} {row['line']} are in no sum"
            for row in tx.all("tally.check_entries")
        ]
        wrong += [f"run {row['id']} ended and posted nothing" for row in tx.all("tally.check_unposted")]
        wrong += [
            f"place {row['kind']} {row['owner_id']}/{row['n']} is held by run {row['run_id']}, "
            "which does not run"
            for row in tx.all("runs.check_slots")
        ]
        wrong += [f"run {row['id']} runs without a place" for row in tx.all("runs.check_running")]
        return wrong

    return ctx.db.transact(work)
