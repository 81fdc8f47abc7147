"""A routine over time: how its runs ended day by day, and which release it had since when."""

from __future__ import annotations

from datetime import UTC, timedelta
from zoneinfo import ZoneInfo

from tallyman.services.context import Ctx, in_transaction
from tallyman.services.workshop import rolling
from tallyman.services.workshop.answers import DayOfRuns, RoutineOverTime, RoutineRelease
from tallyman.services.workshop.routines import find_for
from tallyman.store.db import Tx
from tallyman.store.records.workshop import EndedRun

DAYS = 60


@in_transaction
def of_routine(tx: Tx, ctx: Ctx, routine_id: int) -> RoutineOverTime:
    """How a routine's runs ended on each of the last 60 days, by the reader's clock, and its releases."""
    row = find_for(tx, ctx, routine_id)
    zone = ZoneInfo(ctx.actor.zone)
    since = (ctx.here - timedelta(days=DAYS - 1)).replace(hour=0, minute=0, second=0, microsecond=0)
    days: dict[object, list[int]] = {}
    for run in tx.all(EndedRun, "rollouts.ended_since", routine=row.id, since=since.astimezone(UTC)):
        assert run.ended_at is not None
        day = days.setdefault(run.ended_at.astimezone(zone).date(), [0, 0, 0])
        day[0 if run.state in rolling.GOOD else 1 if run.state in rolling.BAD else 2] += 1
    all_days = [since.date() + timedelta(days=n) for n in range(DAYS)]
    return RoutineOverTime(
        since=since.date(),
        days=[DayOfRuns(day, *days.get(day, [0, 0, 0])) for day in all_days],
        releases=tx.all(RoutineRelease, "rollouts.releases_of", routine=row.id),
        rollout=tx.value(int, "rollouts.open_of", routine=row.id),
    )
