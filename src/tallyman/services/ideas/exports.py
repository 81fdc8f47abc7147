"""What a list of ideas shows, taken out whole: as CSV and as a spreadsheet; and the map by stage."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from datetime import date, datetime, timedelta
from functools import partial

from tallyman.core.ideas import way
from tallyman.formats.csv_file import csv_file
from tallyman.formats.xlsx_file import xlsx_file
from tallyman.services.context import Ctx, company_day, in_transaction
from tallyman.services.ideas import rules
from tallyman.services.ideas.answers import StageMap, StageOnMap
from tallyman.services.ideas.base import days_late
from tallyman.services.ideas.page import Wanted, sees_figures
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasMovedSince, IdeasStandingByStage, ListIdeas

MOST_EXPORTED = 10_000
# Figures of a case, which who only browses does not see.
FIGURES = ("worth", "worth_on", "effort_days")
# Key of a row, its head; the columns that a list offers are the same.
COLUMNS = {
    "id": "number",
    "title": "title",
    "what": "description",
    "stage": "stage",
    "building": "building",
    "proposer": "proposer",
    "owner": "work owner",
    "division": "division",
    "source": "came in by",
    "route": "route",
    "hours_low": "hours in reach from",
    "hours_high": "hours in reach to",
    "worth": "worth",
    "worth_on": "worth reckoned on",
    "effort_days": "build effort, days",
    "due_on": "next move due",
    "days_late": "days late",
    "changed_at": "last changed, UTC",
}


def _rows(ctx: Ctx, wanted: Wanted, sort: str) -> list[list[object]]:
    found: list[list[object]] = []
    after: str | None = None
    while len(found) < MOST_EXPORTED:
        part, after = ctx.db.transact(partial(_part, ctx=ctx, wanted=wanted, sort=sort, after=after))
        found += part
        if after is None:
            return found
    # Nothing is cut in silence.
    cut = {"title": f"More than {MOST_EXPORTED:,} ideas: narrow the list, and take out the rest apart"}
    return [*found, [cut.get(key) for key in COLUMNS]]


def _part(
    tx: Tx, ctx: Ctx, wanted: Wanted, sort: str, after: str | None
) -> tuple[list[list[object]], str | None]:
    rows, following = lists.page(tx, lists.IDEAS, wanted.filters(tx, ctx, sort), sort, after, lists.MOST_ROWS)
    today = company_day(tx, ctx)
    return [_cells(row, today, () if sees_figures(ctx, row) else FIGURES) for row in rows], following


def _cells(row: ListIdeas, today: date, hidden: Sequence[str]) -> list[object]:
    late = days_late(today, row.due_on, row.asked_on)
    values = {key: late if key == "days_late" else getattr(row, key) for key in COLUMNS}
    return [None if key in hidden else value for key, value in values.items()]


def as_csv(ctx: Ctx, wanted: Wanted, sort: str = "newest") -> bytes:
    """The ideas that a list shows, whole, as CSV; at most `MOST_EXPORTED`."""
    return csv_file(list(COLUMNS.values()), _rows(ctx, wanted, sort))


def as_xlsx(ctx: Ctx, wanted: Wanted, sort: str = "newest") -> bytes:
    """The ideas that a list shows, whole, as a spreadsheet; at most `MOST_EXPORTED`."""
    return xlsx_file("Ideas", list(COLUMNS.values()), _rows(ctx, wanted, sort))


SINCE_DAYS = 90


@in_transaction
def stage_map(tx: Tx, ctx: Ctx) -> StageMap:
    """How the ideas that the actor may see stand along their way, and where they get stuck.

    For each stage: how many ideas, their median and greatest age in days, how many are past the lead's
    limit, how many came in and left in the last 90 days, and the median days that those that left stayed.
    """
    ctx.require("idea.see")
    scope = ctx.scope("idea.see")
    today = company_day(tx, ctx)
    since = ctx.now - timedelta(days=SINCE_DAYS)
    standing = tx.all(IdeasStandingByStage, "ideas.standing_by_stage", **scope, today=today)
    moved = tx.all(IdeasMovedSince, "ideas.moved_since", **scope, since=since)
    limits = rules.stage_rules(tx)
    stages = [*way.PATH[1:-1], *way.OFF_THE_WAY]
    rows = [_stage_row(ctx.now, stage, standing, moved, limits) for stage in stages]
    return StageMap(stages=rows, days=SINCE_DAYS, words=_stuck_words(rows))


def _stage_row(
    now: datetime,
    stage: str,
    standing: list[IdeasStandingByStage],
    moved: list[IdeasMovedSince],
    limits: dict[str, way.StageRule],
) -> StageOnMap:
    here = [row for row in standing if row.stage == stage]
    ages = [max(0, (now - row.stage_since).days) for row in here]
    left = [row for row in moved if row.from_stage == stage]
    stays = [row.stayed_days for row in left if row.stayed_days is not None]
    return StageOnMap(
        stage=stage,
        ideas=len(here),
        late=sum(bool(row.late) for row in here),
        asked=sum(bool(row.asked) for row in here),
        median_age=statistics.median_low(ages) if ages else None,
        oldest_age=max(ages, default=None),
        oldest_id=min(here, key=lambda row: row.stage_since).id if here else None,
        limit=limits[stage].days if stage in limits else None,
        came=sum(row.stage == stage for row in moved),
        left=len(left),
        median_stay=statistics.median_low(stays) if stays else None,
    )


def _stuck_words(rows: list[StageOnMap]) -> str:
    """Where the way is stuck, in a sentence."""
    late = max(rows, key=lambda row: (row.late, row.ideas))
    if not late.late:
        return "Nothing is past its limit."
    number = "1 idea is" if late.late == 1 else f"{late.late} ideas are"
    words = f"Most is stuck at {late.stage}: {number} past the limit of {late.limit} working days"
    return f"{words}; in {SINCE_DAYS} days {late.came} came in there and {late.left} left."
