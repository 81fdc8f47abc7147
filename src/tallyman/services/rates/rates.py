"""Dated rates: what an hour costs, what a robot hour costs, minutes by hand, and the house's own."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, time
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.alerts import RATE_PROPOSED, RATE_SETTLED
from tallyman.core.exact import exact, text_of
from tallyman.core.said import day_said
from tallyman.core.tally import Rate
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import (
    Ctx,
    audit,
    changed,
    company_day,
    company_of,
    effect,
    in_transaction,
    unseen,
)
from tallyman.services.holding import people_with
from tallyman.services.rates.answers import RateKind, RateRow
from tallyman.store.db import Tx
from tallyman.store.records.house import Area, RuleSetsNewest
from tallyman.store.records.ideas import Idea
from tallyman.store.records.tally import RateInForce, TallyRate, TallyRates

HOURS_A_YEAR = "person_hours_year"
MINUTES_BY_HAND = "minutes_by_hand"
# The kinds that ended runs are posted at, and the effect of one that is approved from a day that has begun:
# what ended since then is posted anew, at the rates in force on the day it ended.
OF_RUNS = ("hour_cost", "robot_hour", MINUTES_BY_HAND)
FROM_BEFORE = "rate from before"
LONGEST_WHAT = 60
# The rule set of what becomes of such rates, and its choices.
RULE = "rates"
ANEW, REFUSED = "anew", "refused"
EXCHANGE = "exchange"


@dataclass(frozen=True)
class Kind:
    """A kind of rate: its name, its unit, the case input it feeds, what its rows may be for (`by`), and
    whether `by` is needed; `divided`: whether rows may be for one division; `group`: among which others."""

    name: str
    unit: str
    feeds: str
    by: str = ""
    needs_by: bool = False
    divided: bool = False
    group: str = "Money"


KINDS = {
    "hour_cost": Kind(
        "An hour costs", "money an hour", "cost_per_hour", "role", divided=True, group="People"
    ),
    "robot_hour": Kind("A robot hour, standard price", "money an hour", "robot_hour", group="Robots"),
    "day_rate": Kind("A builder's day", "money a day", "day_rate", "role", divided=True, group="Building"),
    "seat_year": Kind("A seat", "money a year", "seat_cost_per_year", "kind of seat", group="Robots"),
    "hosting": Kind("Hosting of a robot", "money a year", "hosting_per_robot", group="Robots"),
    "support_share": Kind(
        "Support, share of one-time cost", "share a year", "support_share", group="Support and software"
    ),
    "support_day": Kind(
        "A day of support people", "money a day", "", "role", divided=True, group="Support and software"
    ),
    "other_software": Kind(
        "Other software", "money a year", "other_software_per_year", "software", group="Support and software"
    ),
    EXCHANGE: Kind("Exchange rate", "money for 1", "", "currency", needs_by=True),
    "discount_rate": Kind("Discount rate", "share a year", "discount_rate"),
    HOURS_A_YEAR: Kind("A person works", "h a year", "", group="People"),
    "robot_hours_day": Kind("Robot hours a day", "h", "robot_hours_per_day", group="Robots"),
    "robot_days_year": Kind("Robot days a year", "days", "robot_days_per_year", group="Robots"),
    MINUTES_BY_HAND: Kind("Minutes by hand", "min a unit", "", group="People"),
}


def in_force(tx: Tx, kind: str, on: date, idea_id: int = 0) -> Rate | None:
    """The approved rate of a kind in force on a day, or None."""
    row = tx.one(RateInForce, "tally.rate_in_force", kind=kind, idea=idea_id, day=on)
    if row is None:
        return None
    return Rate(
        row.id,
        KINDS[kind].name,
        Fraction(row.value),
        KINDS[kind].unit,
        row.since.isoformat(),
    )


def in_force_for(tx: Tx, kind: str, what: str, on: date) -> Fraction | None:
    """The approved value of a kind for one thing on a day, else the one for all; None if there is none."""
    row = tx.one(RateInForce, "tally.rate_in_force_for", kind=kind, what=what, day=on)
    return None if row is None else Fraction(row.value)


def since_day(tx: Tx, since: date) -> datetime:
    """When a day begins in the company's zone."""
    return datetime.combine(since, time(), ZoneInfo(company_of(tx).zone))


def from_before(tx: Tx) -> str:
    """What the house chose for rates from a day that has begun."""
    rows = tx.kept(RuleSetsNewest, "rule_sets.newest", kind=RULE)
    return str(rows[0].content["from_before"]) if rows else ANEW


def _touches(tx: Tx, ctx: Ctx, row: TallyRates | TallyRate) -> tuple[int, int]:
    """How many ended runs, and counts by hand, a proposed rate from before would have posted anew."""
    if row.state != "proposed" or row.kind not in OF_RUNS or row.since > company_day(tx, ctx):
        return 0, 0
    counts = 0
    if row.kind != "robot_hour":
        counts = tx.count("counts.posted_since", since=row.since, idea=row.idea_id)
    return tx.count("tally.runs_since", since=since_day(tx, row.since), idea=row.idea_id), counts


def _against(tx: Tx, row: TallyRates | TallyRate, touched: tuple[int, int]) -> str:
    """Why a rate from before is not taken; empty where it is, or where nothing was posted by another."""
    if not any(touched) or from_before(tx) != REFUSED:
        return ""
    if in_force(tx, row.kind, row.since, row.idea_id) is None:
        return ""
    return (
        f"something is posted since {day_said(row.since)}, and the house takes no rates from before; "
        "refuse it, and have it proposed from a day ahead"
    )


def _approvers(tx: Tx, row: TallyRates) -> list[str]:
    """Who may approve a proposed rate: whoever holds the permission there, but for who proposed it."""
    if row.state != "proposed":
        return []
    return [one.name for one in people_with(tx, "rate.decide", row.area_id) if one.id != row.made_by]


@in_transaction
def listed(tx: Tx, ctx: Ctx) -> list[RateRow]:
    """All rates, the newest first within a kind; of a proposed one who may approve it."""
    ctx.require("rate.see")
    rows = tx.all(TallyRates, "tally.rates", **ctx.scope("rate.see"))
    touched = {row.id: _touches(tx, ctx, row) for row in rows}
    return [
        RateRow(
            id=row.id,
            kind=row.kind,
            name=KINDS[row.kind].name,
            unit=_unit(row.kind, row.what),
            idea_id=row.idea_id,
            idea=row.idea,
            group=KINDS[row.kind].group,
            what=row.what,
            division_id=row.division_id,
            division=row.division,
            value=row.value,
            since=row.since,
            state=row.state,
            source=row.source,
            proposer=row.proposer,
            approver=row.approver,
            approved_at=row.approved_at,
            may_approve=row.state == "proposed"
            and ctx.actor.may_at("rate.decide", row.area_id)
            and row.made_by != ctx.actor.person_id,
            approvers=_approvers(tx, row),
            touches=touched[row.id][0],
            touches_counts=touched[row.id][1],
            against=_against(tx, row, touched[row.id]),
        )
        for row in rows
    ]


def _unit(kind: str, what: str) -> str:
    unit = KINDS[kind].unit
    return f"{unit} {what}" if kind == EXCHANGE and what else unit


def kinds(ctx: Ctx) -> list[RateKind]:
    """The kinds of rates that the house sets, with their units, whether there is one or not."""
    ctx.require("rate.see")
    return [
        RateKind(
            kind=kind,
            name=one.name,
            unit=one.unit,
            by=one.by,
            needs_by=one.needs_by,
            divided=one.divided,
            needed=kind in OF_CASES,
            group=one.group,
        )
        for kind, one in KINDS.items()
        if kind != MINUTES_BY_HAND
    ]


# The rates without which no case is whole: a robot's hours and days come from hosts and calendar, and
# minutes by hand belong to each idea.
OF_CASES = (
    "hour_cost",
    "robot_hour",
    "day_rate",
    "seat_year",
    "support_share",
    "other_software",
    "discount_rate",
)


@dataclass(frozen=True)
class Wanted:
    """Whom a proposed rate is for; all by default."""

    idea_id: int = 0
    what: str = ""
    division_id: int = 0


def _whom_faults(kind: str, wanted: Wanted) -> list[Fault]:
    one, what = KINDS[kind], wanted.what
    faults = []
    if what and not one.by:
        faults.append(Fault("what", what, f"{one.name} is for all; leave this empty"))
    if one.needs_by and not what:
        faults.append(Fault("what", what, f"say which {one.by}"))
    if kind == EXCHANGE and what and not (len(what) == 3 and what.isalpha() and what.isupper()):
        faults.append(Fault("what", what, "give a three-letter code such as USD"))
    if len(what) > LONGEST_WHAT:
        faults.append(Fault("what", what[:20] + "…", f"at most {LONGEST_WHAT} characters"))
    if wanted.division_id and not one.divided:
        faults.append(Fault("division_id", wanted.division_id, f"{one.name} is the same in all divisions"))
    if (kind == MINUTES_BY_HAND) != bool(wanted.idea_id):
        message = "minutes by hand belong to an idea, other rates do not"
        faults.append(Fault("idea", wanted.idea_id, message))
    return faults


@in_transaction
def propose(
    tx: Tx, ctx: Ctx, kind: str, value: object, since: date, source: str, wanted: Wanted | None = None
) -> int:
    """Proposes a rate from a day on; somebody else approves it."""
    ctx.require("rate.make")
    wanted = wanted or Wanted()
    wanted = Wanted(wanted.idea_id, " ".join(wanted.what.split()), wanted.division_id)
    faults = []
    if kind not in KINDS:
        faults.append(Fault("kind", kind, f"allowed: {', '.join(KINDS)}"))
    else:
        faults += _whom_faults(kind, wanted)
    try:
        number = exact(value)
        if number < 0 or number > 10_000_000:
            faults.append(Fault("value", value, "allowed: 0 to 10,000,000"))
    except ValueError:
        faults.append(Fault("value", value, "give a number such as 38.50"))
    if not source.strip():
        faults.append(Fault("source", source, "say where the figure comes from"))
    if faults:
        raise InputFaults(faults)
    ctx.require_at("rate.make", _area_of(tx, wanted.idea_id))
    if wanted.division_id and tx.one(Area, "house.division", id=wanted.division_id) is None:
        raise InputFaults([Fault("division_id", wanted.division_id, "there is no such division")])
    return add(tx, ctx, kind, number, since, source, wanted)


def _area_of(tx: Tx, idea_id: int) -> int | None:
    """Where the idea of a rate belongs; rates of the house belong to the whole company."""
    idea = tx.one(Idea, "ideas.by_id", id=idea_id) if idea_id else None
    return None if idea is None else idea.area_id


def add(tx: Tx, ctx: Ctx, kind: str, value: Fraction, since: date, source: str, wanted: Wanted) -> int:
    """Writes a proposed rate and tells those who can approve it."""
    idea_id = wanted.idea_id
    rate_id = tx.insert(
        "tally.add_rate",
        kind=kind,
        idea=idea_id,
        what=wanted.what,
        division=wanted.division_id,
        value=value,
        since=since,
        state="proposed",
        source=source[:300],
        person=ctx.actor.person_id,
        now=ctx.now,
        approved_by=None,
        approved_at=None,
    )
    about = f" of I-{idea_id}" if idea_id else (f", {wanted.what}" if wanted.what else "")
    digits = 6 if kind == EXCHANGE else 2
    amount = f"{text_of(value, digits)} {_unit(kind, wanted.what)}"
    words = f"{KINDS[kind].name}{about}: {amount} from {day_said(since)}"
    audit(tx, ctx, "rate proposed", f"rate:{rate_id}", words)
    tell(tx, ctx, RATE_PROPOSED, {"id": rate_id, "area_id": _area_of(tx, idea_id)}, rate=words)
    changed(tx, ctx, "rates", rate_id)
    return rate_id


def withdraw(tx: Tx, ctx: Ctx, rate_id: int, why: str) -> None:
    """Takes back a rate that is proposed, as another takes its place; what was settled stays."""
    if tx.write("tally.settle_rate", id=rate_id, state="withdrawn", person=ctx.actor.person_id, now=ctx.now):
        audit(tx, ctx, "rate withdrawn", f"rate:{rate_id}", f"Withdrawn: {why}")
        changed(tx, ctx, "rates", rate_id)


@in_transaction
def settle(tx: Tx, ctx: Ctx, rate_id: int, approved: bool) -> None:
    """Approves or refuses a proposed rate; not by whom it was proposed."""
    ctx.require("rate.decide")
    row = tx.one(TallyRate, "tally.rate", id=rate_id)
    if row is None or not (row.idea_id == 0 or ctx.actor.may_at("rate.see", row.area_id)):
        missing = NotFound("There is no such rate.", "Load the page again.")
        raise unseen(ctx, "rate.see", row is not None, missing)
    ctx.require_at("rate.decide", row.area_id)
    if row.made_by == ctx.actor.person_id:
        raise Refused(
            "You proposed this rate yourself, so somebody else approves it.",
            "Ask another lead.",
        )
    against = _against(tx, row, _touches(tx, ctx, row)) if approved else ""
    if against:
        raise Refused(f"This rate cannot be approved: {against}.", "The choice is under House rules, Rates.")
    state = "approved" if approved else "refused"
    if not tx.write("tally.settle_rate", id=rate_id, state=state, person=ctx.actor.person_id, now=ctx.now):
        raise Refused(f"This rate is {row.state} already.", "Load the page again.")
    words = f"{KINDS[row.kind].name} {row.value} from {day_said(row.since)}: {state}"
    audit(tx, ctx, f"rate {state}", f"rate:{rate_id}", words)
    if approved and row.kind in OF_RUNS and row.since <= company_day(tx, ctx):
        effect(tx, ctx, FROM_BEFORE, f"rate:{rate_id}", rate=rate_id, why=f"{words} afterwards")
    tell(tx, ctx, RATE_SETTLED, row, state=state, rate=words)
    changed(tx, ctx, "rates", rate_id)
