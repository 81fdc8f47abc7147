"""How many seats were used at once, day by day: noted once a day of the company is over."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.runs import SeatKind, seats
from tallyman.services.context import Ctx, company_day, company_of
from tallyman.store.db import Tx
from tallyman.store.records.robots import SeatUse

# So many days are noted at once, so that after a long rest no step takes long.
DAYS_AT_ONCE = 7
# Before that nothing is noted of an installation that ran before peaks were.
FURTHEST_BACK = timedelta(days=90)
# All hosts together.
ALL_HOSTS = 0
USED: tuple[SeatKind, ...] = ("unattended", "trial", "attended", "builder")

Peaks = Mapping[tuple[SeatKind, int], seats.Peak]


def _bounds(day: date, zone: ZoneInfo) -> tuple[datetime, datetime]:
    """When a day begins and ends."""
    return datetime.combine(day, time(), zone), datetime.combine(day + timedelta(days=1), time(), zone)


def _peaks(rows: Iterable[SeatUse], since: datetime, until: datetime) -> Peaks:
    uses: dict[tuple[SeatKind, int], list[seats.Use]] = defaultdict(list)
    for row in rows:
        kind: SeatKind = "unattended"
        if row.of_trial or row.of_tryout or row.attended:
            kind = "trial" if row.of_trial else "builder" if row.of_tryout else "attended"
        for host in (ALL_HOSTS, row.host_id):
            uses[kind, host].append(seats.Use(row.started_at, row.ended_at))
    found = {key: seats.peak(own, since, until) for key, own in uses.items()}
    return {key: most for key, most in found.items() if most.number}


def of_today(tx: Tx, ctx: Ctx) -> Peaks:
    """The peaks of the day that is not over yet, by kind and host (0: all of them)."""
    since, _ = _bounds(company_day(tx, ctx), ZoneInfo(company_of(tx).zone))
    return _peaks(tx.all(SeatUse, "seats.uses", since=since, until=ctx.now), since, ctx.now)


def _days(tx: Tx, ctx: Ctx, zone: ZoneInfo) -> Sequence[date]:
    """The next days to note, the oldest first; none before the first run."""
    today = company_day(tx, ctx)
    last = tx.value(date, "seats.last_peak")
    if last is None:
        first_use = tx.value(datetime, "seats.first_use")
        if first_use is None:
            return []
        first = max(first_use.astimezone(zone).date(), today - FURTHEST_BACK)
    else:
        first = last + timedelta(days=1)
    return [first + timedelta(days=n) for n in range(min((today - first).days, DAYS_AT_ONCE))]


def note(ctx: Ctx) -> int:
    """Notes the peaks of days that are over; gives of how many days. Two engines write the same."""

    def work(tx: Tx) -> int:
        zone = ZoneInfo(company_of(tx).zone)
        days = _days(tx, ctx, zone)
        if not days:
            return 0
        since, until = _bounds(days[0], zone)[0], _bounds(days[-1], zone)[1]
        rows = tx.all(SeatUse, "seats.uses", since=since, until=until)
        for day in days:
            found = _peaks(rows, *_bounds(day, zone))
            # A day on which nothing worked is noted too, as none: it belongs to the trend.
            none = {(kind, ALL_HOSTS): seats.Peak(0, None) for kind in USED}
            for (kind, host), most in {**none, **found}.items():
                tx.write("seats.note_peak", day=day, kind=kind, host=host, most=most.number, at=most.at)
        return len(days)

    return ctx.db.transact(work)
