"""What routines and their waiting runs ask of a robot, read for many at once: a handful of statements,
however many there are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date, datetime
from functools import cached_property

from tallyman.core.house import Calendar
from tallyman.core.runs import LockFacts, Wanted, read_hours
from tallyman.services.context import WEEKEND
from tallyman.store.db import Row, Tx


class Wants:
    """What rows of routines or runs ask; each names its area, and its routine by `routine_id` or `id`."""

    def __init__(self, tx: Tx, rows: Iterable[Row]) -> None:
        found = list(rows)
        self._tx = tx
        self._areas = tuple({row["area_id"] for row in found}) or (0,)
        self._paths: defaultdict[int, set[int]] = defaultdict(set)
        for row in tx.all("robots.paths", ids=self._areas):
            self._paths[row["area_id"]].add(row["above_id"])
        self._locks: defaultdict[int, list[LockFacts]] = defaultdict(list)
        for row in tx.all("routines.locks_of_many", routines=tuple({_routine(row) for row in found}) or (0,)):
            self._locks[row["routine_id"]].append(LockFacts(row["name"], row["held_by"]))

    @cached_property
    def _closed(self) -> tuple[frozenset[date], dict[int, set[date]]]:
        """The company's closed days, and those of each area or the ones above it; read when first needed."""
        own: defaultdict[int, set[date]] = defaultdict(set)
        for row in self._tx.all("common.closed_days_of_many", areas=self._areas):
            own[row["area_id"]].add(row["day"])
        return frozenset(row["day"] for row in self._tx.all("common.closed_days")), own

    def _calendar(self, area_id: int) -> Calendar:
        company, own = self._closed
        return Calendar(WEEKEND, company | own.get(area_id, set()))

    def of(self, row: Row, due: datetime) -> Wanted:
        """What one of the rows asks, as the rules want it."""
        return Wanted(
            row["area"],
            frozenset(self._paths[row["area_id"]]),
            frozenset(row["tags"]) | frozenset(row["release_tags"]),
            row["run_limit"],
            row.get("active", 0),
            due,
            tuple(self._locks[_routine(row)]),
            read_hours(row.get("window_from"), row.get("window_to"), row.get("window_zone")),
            self._calendar(row["area_id"]) if row.get("open_days") else None,
            row.get("window_zone") or "UTC",
        )


def _routine(row: Row) -> int:
    return int(row["routine_id"] if "routine_id" in row else row["id"])


def wanted_of(tx: Tx, row: Row, due: datetime) -> Wanted:
    """What one routine, or one of its waiting runs, asks of a robot."""
    return Wants(tx, [row]).of(row, due)
