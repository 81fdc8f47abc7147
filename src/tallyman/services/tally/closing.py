"""Closing a month: what it holds, what is open in it, and who signs it (rules §11)."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.exact import text_of
from tallyman.core.said import month_said
from tallyman.core.tally import next_month
from tallyman.errors import Refused
from tallyman.services.context import Ctx, audit, changed, company_day, company_of, in_transaction
from tallyman.services.tally.answers import MonthLook
from tallyman.services.tally.posting import open_months_before, post_month_end
from tallyman.store.db import Tx
from tallyman.store.records.tally import TallyMonths, TallySumOfMonth


def first_open(tx: Tx, ctx: Ctx, months: Sequence[str]) -> str | None:
    """The first of these months that is over and not closed, for whoever may close it."""
    if ctx.actor.areas("value.decide") is not None:
        return None
    closed = {row.month for row in tx.all(TallyMonths, "tally.months") if row.state == "closed"}
    this = company_day(tx, ctx).strftime("%Y-%m")
    # Before the first posting or the first idea in service there is nothing to sign.
    first = tx.value(str, "tally.first_month") or this
    return next((month for month in months if month not in closed and first <= month < this), None)


def _ends(tx: Tx, month: str) -> dict[str, datetime]:
    zone = ZoneInfo(company_of(tx).zone)

    def begins(one: str) -> datetime:
        return datetime.combine(date.fromisoformat(f"{one}-01"), time(), zone)

    return {"since": begins(month), "until": begins(next_month(month))}


def _several(count: int, one: str, many: str) -> str:
    return f"1 {one}" if count == 1 else f"{count:,} {many}"


def open_in(tx: Tx, month: str) -> list[str]:
    """What is open in a month, in words; what is settled later falls in a later month and names this one."""
    ends = _ends(tx, month)
    unended = tx.count("tally.runs_unended", **ends)
    unposted = tx.count("tally.runs_unposted", **ends)
    waiting = tx.count("tally.counts_waiting", **ends)
    cautions = tx.count("tally.cautions_in", **ends)
    proposed = tx.count("tally.rates_proposed", **ends)
    first = date.fromisoformat(f"{month}-01")
    by_hand = tx.count("counts.unposted_in", first=first, last=ends["until"].date() - timedelta(days=1))
    found = (
        (by_hand, "count by hand is not posted yet", "counts by hand are not posted yet"),
        (unended, "run that began in it has not ended", "runs that began in it have not ended"),
        (unposted, "ended run is not posted yet", "ended runs are not posted yet"),
        (waiting, "count waits for a yes", "counts wait for a yes"),
        (cautions, "run has a caution about its count", "runs have a caution about their count"),
        (proposed, "rate proposed from a day in it waits", "rates proposed from a day in it wait"),
    )
    return [_several(count, one, many) for count, one, many in found if count]


@in_transaction
def look(tx: Tx, ctx: Ctx, month: str) -> MonthLook:
    """A month as it would be signed, before it is."""
    ctx.require_at("value.decide", None)
    sums = tx.one(TallySumOfMonth, "tally.sum_of_month", month=month)
    assert sums is not None
    return MonthLook(
        month=month, entries=sums.entries, money=text_of(sums.money, 2) or "0.00", open=open_in(tx, month)
    )


@in_transaction
def close_month(tx: Tx, ctx: Ctx, month: str) -> None:
    """Signs a month off by name with its sums and what is open in it: nothing is posted to it afterwards."""
    ctx.require_at("value.decide", None)
    today = company_day(tx, ctx)
    if month >= today.strftime("%Y-%m"):
        raise Refused(f"{month_said(month)} is not over yet.", "Close it when it is.")
    open_months_before(tx, today.strftime("%Y-%m"))
    if tx.value(str, "tally.lock_month", month=month) == "open":
        post_month_end(tx, ctx, month)
    sums = tx.one(TallySumOfMonth, "tally.sum_of_month", month=month)
    assert sums is not None
    still_open = open_in(tx, month)
    if not tx.write(
        "tally.close_month",
        month=month,
        person=ctx.actor.person_id,
        now=ctx.now,
        open=still_open,
        **sums.as_dict(),
    ):
        raise Refused(
            f"{month_said(month)} is closed already, or nothing was in service yet.", "Load the page again."
        )
    words = f"Closed {month_said(month)}: {sums.entries} entries, {text_of(sums.money, 2)} in money"
    if still_open:
        words += f"; open then: {', '.join(still_open)}"
    audit(tx, ctx, "month closed", f"month:{month}", words, None, sums.as_dict())
    changed(tx, ctx, "tally")
