"""All seats of the company by kind: bought, given, used, and what points to their running short."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from fractions import Fraction
from zoneinfo import ZoneInfo

from tallyman.core.exact import text_of
from tallyman.core.free import FreeObject
from tallyman.core.runs import SeatKind, seats
from tallyman.core.said import day_said
from tallyman.core.working import Part, Working
from tallyman.services.answers import AreaName
from tallyman.services.context import Ctx, company_day, in_transaction
from tallyman.services.rates import rates
from tallyman.services.robots import seat_lots, seat_peaks
from tallyman.services.robots.answers_of_seats import LotOfSeats, SeatHolder, SeatPeak, SeatsOfKind, SeatsPage
from tallyman.services.robots.seats import PLACES
from tallyman.services.robots.seen import areas_allowed, hosts_seen, may_at_all, robots_seen
from tallyman.store.db import Tx
from tallyman.store.records.robots import (
    HostSeen,
    SeatGiven,
    SeatLot,
    SeatsInUse,
    SeatsPeaks,
    SeatsPeaksOfHosts,
)

DAYS_SHOWN = 30
SOON = timedelta(days=max(seats.TOLD_BEFORE))
# So long before fewer seats are there than are given, it is said.
WARNED = timedelta(days=90)


@dataclass(frozen=True)
class _Known:
    """What is read once for all kinds."""

    today: date
    since: date
    rows: Sequence[SeatLot]
    lots: Sequence[seats.Lot]
    prices: dict[SeatKind, Fraction]
    peaks: dict[tuple[SeatKind, date], tuple[int, datetime | None]]
    of_hosts: dict[tuple[SeatKind, int], int]
    used: dict[SeatKind, int]
    hosts: Sequence[HostSeen]
    all_given: dict[SeatKind, int]
    people: Sequence[SeatGiven]
    changeable: frozenset[int]
    may_buy: bool
    zone: ZoneInfo


def _peaks_by_day(
    tx: Tx, ctx: Ctx, today: date
) -> tuple[dict[tuple[SeatKind, date], tuple[int, datetime | None]], dict[tuple[SeatKind, int], int]]:
    """Peaks of all hosts by kind and day, today included, and each host's highest of the days shown."""
    since = today - timedelta(weeks=seats.WEEKS + 1)
    by_day = {
        (row.kind, row.day): (row.most, row.at) for row in tx.all(SeatsPeaks, "seats.peaks", since=since)
    }
    shown = today - timedelta(days=DAYS_SHOWN - 1)
    of_hosts = {
        (row.kind, row.host_id): row.most
        for row in tx.all(SeatsPeaksOfHosts, "seats.peaks_of_hosts", since=shown)
    }
    for (kind, host), most in seat_peaks.of_today(tx, ctx).items():
        if host == seat_peaks.ALL_HOSTS:
            by_day[kind, today] = (most.number, most.at)
        else:
            of_hosts[kind, host] = max(of_hosts.get((kind, host), 0), most.number)
    return by_day, of_hosts


def _changeable(tx: Tx, ctx: Ctx, hosts: Sequence[HostSeen]) -> frozenset[int]:
    """The hosts whose seats the reader may change."""
    robots = robots_seen(tx, ctx)
    allowed = areas_allowed(tx, robots)
    on: dict[int, list[list[AreaName]]] = defaultdict(list)
    for one in robots:
        on[one.host_id].append(allowed[one.id])
    return frozenset(host.id for host in hosts if may_at_all(ctx, seat_lots.MAY, on[host.id]))


def _read(tx: Tx, ctx: Ctx) -> _Known:
    today = company_day(tx, ctx)
    by_day, of_hosts = _peaks_by_day(tx, ctx, today)
    hosts = hosts_seen(tx, ctx)
    rows = tx.all(SeatLot, "seats.lots")
    kinds: dict[str, SeatKind] = {place: kind for kind, place in PLACES.items()}
    kinds |= {kind: kind for kind in seats.OF_PEOPLE}
    return _Known(
        today=today,
        since=today - timedelta(days=DAYS_SHOWN - 1),
        rows=rows,
        lots=seat_lots.as_lots(rows),
        prices=_prices(tx, today),
        peaks=by_day,
        of_hosts=of_hosts,
        used={kinds[row.kind]: row.used for row in tx.all(SeatsInUse, "seats.in_use")},
        hosts=hosts,
        all_given={kind: seat_lots.given_now(tx, kind) for kind in seats.KINDS},
        people=tx.all(SeatGiven, "seats.given"),
        changeable=_changeable(tx, ctx, hosts),
        may_buy=ctx.actor.may_at(seat_lots.MAY, None),
        zone=ZoneInfo(ctx.actor.zone),
    )


def _prices(tx: Tx, today: date) -> dict[SeatKind, Fraction]:
    """What a seat of each kind costs a year by the cost tables: the price of that kind, else of any seat."""
    found = {}
    for kind in seats.KINDS:
        rate = rates.in_force_for(tx, "seat_year", kind, today)
        if rate is not None:
            found[kind] = rate
    return found


def _lot(known: _Known, row: SeatLot) -> LotOfSeats:
    left = None if row.last_on is None else (row.last_on - known.today).days
    state = "there"
    if row.first_on > known.today:
        state = "coming"
    elif left is not None and left < 0:
        state = "ended"
    elif left is not None and left <= SOON.days:
        state = "ends soon"
    own = None if row.price is None else Fraction(row.price)
    return LotOfSeats(
        id=row.id,
        kind=row.kind,
        number=row.number,
        first_on=row.first_on,
        last_on=row.last_on,
        price=text_of(row.price, 2),
        a_year=text_of(known.prices.get(row.kind) if own is None else own, 2),
        from_rates=own is None and row.kind in known.prices,
        note=row.note,
        state=state,
        days_left=left,
        version=row.version,
        made_by=row.made_by,
        made_at=row.made_at,
    )


def _holders(known: _Known, kind: SeatKind) -> list[SeatHolder]:
    if kind in seats.OF_HOSTS:
        return [
            SeatHolder(
                what="host",
                id=host.id,
                name=host.name,
                number=host.seats if kind == "unattended" else host.trial_seats,
                used=host.seats_used if kind == "unattended" else host.trial_used,
                peak=known.of_hosts.get((kind, host.id), 0),
                may_change=host.id in known.changeable,
                gone=False,
            )
            for host in known.hosts
        ]
    return [
        SeatHolder(
            what="group" if row.group_id else "person",
            id=row.group_id or row.person_id or 0,
            name=row.group_name or row.person or "",
            number=row.number,
            used=row.used if kind in seat_peaks.USED else None,
            peak=None,
            may_change=known.may_buy,
            gone=bool(row.gone),
        )
        for row in known.people
        if row.kind == kind
    ]


def _given_working(kind: SeatKind, given: int, holders: Sequence[SeatHolder], unseen: int) -> Working:
    parts = [Part(one.name, str(one.number)) for one in holders if one.number]
    if unseen:
        parts.append(Part("Hosts that you may not see", str(unseen)))
    name = f"{kind} seats given"
    return Working(name, str(given), "seats", "what each has of them", tuple(parts) or seats.NONE)


def _used_working(kind: SeatKind, used: int, holders: Sequence[SeatHolder]) -> Working:
    parts = [Part(one.name, str(one.used)) for one in holders if one.used]
    unseen = used - sum(one.used or 0 for one in holders)
    if unseen:
        parts.append(Part("Hosts that you may not see", str(unseen)))
    name = f"{kind} seats in use now"
    return Working(name, str(used), "seats", "what runs of each hold", tuple(parts) or seats.NONE)


def _peak(known: _Known, kind: SeatKind, days: Sequence[date]) -> FreeObject | None:
    """The highest of some days, with its day and moment; None where nothing was noted of any."""
    noted = [(known.peaks[kind, day], day) for day in days if (kind, day) in known.peaks]
    if not noted:
        return None
    (most, at), day = max(noted, key=lambda one: (one[0][0], one[1]))
    clock = f"{at.astimezone(known.zone):%H:%M}" if at else ""
    working = replace(seats.working_of_peak(most, day, clock), name=f"{kind} seats at peak")
    return working.as_dict()


def _cost(known: _Known, lots: Sequence[LotOfSeats]) -> Working | None:
    """What the seats that are there cost a year, lot by lot; None where the price of one is not known."""
    there = [lot for lot in lots if lot.state in ("there", "ends soon")]
    if not there or any(lot.a_year is None for lot in there):
        return None
    parts, total = [], Fraction(0)
    for lot in there:
        cost = Fraction(lot.a_year or 0) * lot.number
        total += cost
        whose = "cost tables" if lot.from_rates else "its own price"
        note = f"{lot.number} × {lot.a_year}, {whose}"
        parts.append(Part(f"Lot of {day_said(lot.first_on)}", text_of(cost, 2) or "", note))
    return Working("seats a year", text_of(total, 2), "money a year", "the lots there today", tuple(parts))


def _weeks(known: _Known, kind: SeatKind) -> list[tuple[date, int]]:
    """The peaks of the last whole weeks, Monday to Sunday, the oldest first; only those wholly noted."""
    monday = known.today - timedelta(days=known.today.weekday())
    found = []
    for n in range(seats.WEEKS, 0, -1):
        first = monday - timedelta(weeks=n)
        days = [known.peaks.get((kind, first + timedelta(days=day))) for day in range(7)]
        if all(day is not None for day in days):
            found.append((first, max(day[0] for day in days if day)))
    return found


def _are(count: int) -> str:
    return "is 1" if count == 1 else f"are {count}"


def _short(known: _Known, kind: SeatKind, there: int, given: int, line: seats.Trend | None) -> list[str]:
    """What points to seats running short, the nearest first."""
    said = []
    counted = any(lot.kind == kind for lot in known.lots)
    if counted and given > there:
        said.append(f"{given} given and {there} there: {given - there} too many")
    change = seats.first_short(known.lots, kind, known.today, given)
    if change is not None and change.day - known.today <= WARNED:
        said.append(
            f"From {day_said(change.day)} on there {_are(change.after)}, and {given} given: "
            f"renew {given - change.after}, or take as many away before"
        )
    weeks = None if line is None else line.weeks_to(there)
    if line is not None and weeks is not None:
        day = known.today + timedelta(weeks=weeks)
        said.append(
            f"By the trend of {len(line.weeks)} weeks more than {there} are used at once "
            f"from about {day_said(day)} on"
        )
    return said


def _of_kind(known: _Known, kind: SeatKind) -> SeatsOfKind:
    runs_take_it = kind in seat_peaks.USED
    counted = any(lot.kind == kind for lot in known.lots)
    given = known.all_given[kind]
    bought = seats.bought(known.lots, kind, known.today)
    there = bought if counted else given
    holders = _holders(known, kind)
    unseen = given - sum(one.number for one in holders)
    lots = [_lot(known, row) for row in known.rows if row.kind == kind]
    cost = _cost(known, lots)
    days = [known.since + timedelta(days=n) for n in range(DAYS_SHOWN)]
    noted = [known.peaks.get((kind, day)) for day in days]
    used = known.used.get(kind, 0)
    line = seats.trend(_weeks(known, kind)) if runs_take_it else None
    return SeatsOfKind(
        kind=kind,
        what_for=seats.WHAT_FOR[kind],
        counted=counted,
        bought=bought,
        bought_working=seats.working_of_number(known.lots, kind, known.today).as_dict(),
        given=given,
        given_working=_given_working(kind, given, holders, unseen).as_dict(),
        unseen=unseen,
        used=used if runs_take_it else None,
        used_working=_used_working(kind, used, holders).as_dict() if runs_take_it else None,
        peak_working=_peak(known, kind, days) if runs_take_it else None,
        days=[SeatPeak(day, one[0] if one else None) for day, one in zip(days, noted, strict=True)],
        a_year=cost.outcome if cost else None,
        a_year_working=cost.as_dict() if cost else None,
        lots=lots,
        holders=holders,
        trend_working=line.working(there).as_dict() if line else None,
        trend_when=seats.in_weeks(line.weeks_to(there)) if line else "",
        short=_short(known, kind, there, given, line),
    )


@in_transaction
def view(tx: Tx, ctx: Ctx) -> SeatsPage:
    """The seats of every kind as the page shows them."""
    ctx.require("robot.see")
    known = _read(tx, ctx)
    return SeatsPage(
        kinds=[_of_kind(known, kind) for kind in seats.KINDS],
        since=known.since,
        today=known.today,
        may_buy=known.may_buy,
    )
