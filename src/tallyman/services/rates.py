"""Dated rates: what an hour costs, what a robot hour costs, minutes by hand, and the house's own."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact, text_of
from tallyman.core.tally import Rate
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.context import Ctx, audit, changed, company_of, everyone_with, tell, unseen
from tallyman.services.known import Known
from tallyman.store.db import Tx

HOURS_A_YEAR = "person_hours_year"
MINUTES_BY_HAND = "minutes_by_hand"


@dataclass(frozen=True)
class Kind:
    """A kind of rate: its name, its unit, and the case input it feeds."""

    name: str
    unit: str
    feeds: str


KINDS = {
    "hour_cost": Kind("An hour costs", "money an hour", "cost_per_hour"),
    "robot_hour": Kind("A robot hour, standard price", "money an hour", "robot_hour"),
    "day_rate": Kind("A builder's day", "money a day", "day_rate"),
    "seat_year": Kind("A seat", "money a year", "seat_cost_per_year"),
    "support_share": Kind("Support, share of one-time cost", "share a year", "support_share"),
    "other_software": Kind("Other software", "money a year", "other_software_per_year"),
    "discount_rate": Kind("Discount rate", "share a year", "discount_rate"),
    HOURS_A_YEAR: Kind("A person works", "h a year", ""),
    "robot_hours_day": Kind("Robot hours a day", "h", "robot_hours_per_day"),
    "robot_days_year": Kind("Robot days a year", "days", "robot_days_per_year"),
    MINUTES_BY_HAND: Kind("Minutes by hand", "min a unit", ""),
}


def in_force(tx: Tx, kind: str, on: date, idea_id: int = 0) -> Rate | None:
    """The approved rate of a kind in force on a day, or None."""
    row = tx.one("tally.rate_in_force", kind=kind, idea=idea_id, day=on)
    if row is None:
        return None
    return Rate(
        row["id"],
        KINDS[kind].name,
        Fraction(row["value"]),
        KINDS[kind].unit,
        row["since"].isoformat(),
    )


def house_rates(tx: Tx, on: date) -> dict[str, Known]:
    """The house's rates in force on a day, by the case input that each feeds."""
    found: dict[str, Known] = {}
    for kind, meaning in KINDS.items():
        if not meaning.feeds:
            continue
        rate = in_force(tx, kind, on)
        if rate is not None:
            value = (text_of(rate.value, 6) or "").rstrip("0").rstrip(".")
            found[meaning.feeds] = Known(value, "house rate", rate.since)
    return found


def listed(ctx: Ctx) -> list[dict[str, Any]]:
    """All rates, the newest first within a kind."""
    ctx.require("rate.see")
    rows = ctx.db.transact(lambda tx: tx.all("tally.rates", **ctx.scope("rate.see")))
    for row in rows:
        row["name"] = KINDS[row["kind"]].name
        row["unit"] = KINDS[row["kind"]].unit
        row["may_approve"] = (
            row["state"] == "proposed"
            and ctx.actor.may_at("rate.decide", row["area_id"])
            and row["made_by"] != ctx.actor.person_id
        )
    return rows


def kinds(ctx: Ctx) -> list[dict[str, str]]:
    """The kinds of rates that the house sets, with their units, whether there is one or not."""
    ctx.require("rate.see")
    return [
        {"kind": kind, "name": one.name, "unit": one.unit}
        for kind, one in KINDS.items()
        if kind != MINUTES_BY_HAND
    ]


def propose(ctx: Ctx, kind: str, value: Any, since: date, source: str, idea_id: int = 0) -> int:
    """Proposes a rate from a day on; somebody else approves it."""
    ctx.require("rate.make")
    faults = []
    if kind not in KINDS:
        faults.append(Fault("kind", kind, f"allowed: {', '.join(KINDS)}"))
    try:
        number = exact(value)
        if number < 0 or number > 10_000_000:
            faults.append(Fault("value", value, "allowed: 0 to 10,000,000"))
    except ValueError:
        faults.append(Fault("value", value, "give a number such as 38.50"))
    if not source.strip():
        faults.append(Fault("source", source, "say where the figure comes from"))
    if (kind == MINUTES_BY_HAND) != bool(idea_id):
        faults.append(Fault("idea", idea_id, "minutes by hand belong to an idea, other rates do not"))
    if faults:
        raise InputFaults(faults)

    def work(tx: Tx) -> int:
        ctx.require_at("rate.make", _area_of(tx, idea_id))
        return add(tx, ctx, kind, number, since, source, idea_id)

    return ctx.db.transact(work)


def _area_of(tx: Tx, idea_id: int) -> int | None:
    """Where the idea of a rate belongs; rates of the house belong to the whole company."""
    idea = tx.one("ideas.by_id", id=idea_id) if idea_id else None
    return None if idea is None else idea["area_id"]


def add(tx: Tx, ctx: Ctx, kind: str, value: Fraction, since: date, source: str, idea_id: int) -> int:
    """Writes a proposed rate and tells those who can approve it."""
    rate_id = tx.insert(
        "tally.add_rate",
        kind=kind,
        idea=idea_id,
        value=value,
        since=since,
        state="proposed",
        source=source[:300],
        person=ctx.actor.person_id,
        now=ctx.now,
        approved_by=None,
        approved_at=None,
    )
    about = f" of I-{idea_id}" if idea_id else ""
    words = f"{KINDS[kind].name}{about}: {text_of(value, 2)} {KINDS[kind].unit} from {since}"
    audit(tx, ctx, "rate proposed", f"rate:{rate_id}", words)
    text = f"{ctx.actor.name} proposes {words}: please approve or refuse"
    people = everyone_with(tx, "rate.decide", _area_of(tx, idea_id))
    tell(tx, ctx, people, text, "/value/rates", f"rate:{rate_id}", "decision")
    changed(tx, ctx, "rates", rate_id)
    return rate_id


def settle(ctx: Ctx, rate_id: int, approved: bool) -> None:
    """Approves or refuses a proposed rate; not by whom it was proposed."""
    ctx.require("rate.decide")

    def work(tx: Tx) -> None:
        row = tx.one("tally.rate", id=rate_id)
        if row is None or not (row["idea_id"] == 0 or ctx.actor.may_at("rate.see", row["area_id"])):
            missing = NotFound("There is no such rate.", "Load the page again.")
            raise unseen(ctx, "rate.see", row is not None, missing)
        ctx.require_at("rate.decide", row["area_id"])
        if row["made_by"] == ctx.actor.person_id:
            raise Refused(
                "You proposed this rate yourself, so somebody else approves it.",
                "Ask another lead.",
            )
        state = "approved" if approved else "refused"
        if not tx.write(
            "tally.settle_rate", id=rate_id, state=state, person=ctx.actor.person_id, now=ctx.now
        ):
            raise Refused(f"This rate is {row['state']} already.", "Load the page again.")
        words = f"{KINDS[row['kind']].name} {row['value']} from {row['since']}: {state}"
        audit(tx, ctx, f"rate {state}", f"rate:{rate_id}", words)
        text = f"{ctx.actor.name} {state} the rate {words}"
        tell(tx, ctx, [row["made_by"]], text, "/value/rates", f"rate:{rate_id}")
        changed(tx, ctx, "rates", rate_id)

    ctx.db.transact(work)


def company_day(tx: Tx, ctx: Ctx) -> date:
    """Today in the company's zone."""
    return ctx.today(company_of(tx)["zone"])
