"""What routines and their waiting runs ask of a robot, read for many at once: a handful of statements,
however many there are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import cached_property

from tallyman.core.house import Calendar
from tallyman.core.runs import (
    NOTHING_ASKED,
    Asked,
    BuilderSeats,
    LockFacts,
    MeantFor,
    Unapproved,
    Wanted,
    Withdrawn,
    read_asked,
    read_hours,
)
from tallyman.services.context import WEEKEND
from tallyman.services.holding import paths
from tallyman.store.db import Tx
from tallyman.store.records.common import ClosedDay, CommonClosedDaysOfMany
from tallyman.store.records.robots import SeatsOfBuilders
from tallyman.store.records.runs import RunsWaitingFirst, RunsWaitingRoutines, WantedRun
from tallyman.store.records.workshop import ReleaseWhole, Routine, RoutinesLocksOfMany


@dataclass(frozen=True)
class Ask:
    """What a routine asks of a robot: its own row's, and a waiting run's window beside it."""

    routine_id: int
    area_id: int
    area: str
    tags: frozenset[str]
    run_limit: int
    active: int = 0
    window: tuple[str | None, str | None, str | None] = (None, None, None)
    open_days: bool = False
    run_id: int | None = None
    asked: Asked = NOTHING_ASKED
    only_robot: int | None = None
    withdrawn: Withdrawn | None = None
    meant_for: MeantFor | None = None
    unapproved: Unapproved | None = None
    # It is a robot's own trial run, or the try-out of a builder.
    trial: bool = False
    builder: int | None = None

    def for_run(self, run: RunsWaitingFirst) -> Ask:
        """The same, within the window of one of its runs."""
        window = (run.window_from, run.window_to, run.window_zone)
        meant = None if run.for_person is None else MeantFor(run.for_person, "", run.agreed_at)
        robot = self.only_robot if run.only_robot is None else run.only_robot
        ask = replace(self, window=window, open_days=run.open_days, run_id=run.id, meant_for=meant)
        return replace(ask, only_robot=robot)


def withdrawn(row: Routine | WantedRun | ReleaseWhole) -> Withdrawn | None:
    """That the release of a routine or run was withdrawn, or None."""
    if row.withdrawn_at is None:
        return None
    version = row.version if isinstance(row, ReleaseWhole) else row.release_version
    return Withdrawn(f"{row.package} {version}", row.withdrawn_at, row.withdrawn_why)


def ask_of(row: Routine | RunsWaitingRoutines | WantedRun) -> Ask:
    """What a routine, or a waiting run, asks of a robot."""
    tags = frozenset(row.tags) | frozenset(row.release_tags)
    if isinstance(row, Routine):
        ask = Ask(row.id, row.area_id, row.area, tags, row.run_limit)
    else:
        ask = Ask(row.routine_id, row.area_id, row.area, tags, row.run_limit, row.active)
    ask = replace(ask, asked=read_asked(row.asked), only_robot=row.trial_of, trial=row.trial_of is not None)
    if row.tryout_of is not None:
        ask = replace(ask, builder=row.made_by)
    if not isinstance(row, RunsWaitingRoutines):
        lacks = Unapproved(row.release_id, f"{row.package} {row.release_version}")
        ask = replace(ask, withdrawn=withdrawn(row), unapproved=lacks if row.unapproved else None)
    if isinstance(row, WantedRun):
        window = (row.window_from, row.window_to, row.window_zone)
        meant = None
        if row.for_person is not None:
            meant = MeantFor(row.for_person, row.person or "", row.agreed_at)
        robot = ask.only_robot if row.only_robot is None else row.only_robot
        ask = replace(ask, window=window, open_days=row.open_days, run_id=row.id, meant_for=meant)
        ask = replace(ask, only_robot=robot)
    elif row.attended:
        by = row.attended_by if isinstance(row, Routine) else None
        person = row.attended_for if isinstance(row, Routine) else None
        ask = replace(ask, meant_for=MeantFor(person, by or ""))
    return ask


class Wants:
    """What routines or runs ask, with what is read for all of them at once."""

    def __init__(self, tx: Tx, asks: Iterable[Ask]) -> None:
        found = list(asks)
        self._tx = tx
        self._areas = tuple({one.area_id for one in found}) or (0,)
        self._paths = paths(tx, self._areas)
        self._locks: defaultdict[int, list[LockFacts]] = defaultdict(list)
        routines = tuple({one.routine_id for one in found}) or (0,)
        for lock in tx.all(RoutinesLocksOfMany, "routines.locks_of_many", routines=routines):
            self._locks[lock.routine_id].append(LockFacts(lock.name, lock.held_by))
        builders = tuple({one.builder for one in found if one.builder is not None})
        rows = tx.all(SeatsOfBuilders, "seats.of_builders", people=builders) if builders else []
        self._builders = {row.id: BuilderSeats(row.name, int(row.number), int(row.used)) for row in rows}

    @cached_property
    def _closed(self) -> tuple[frozenset[date], dict[int, set[date]]]:
        """The company's closed days, and those of each area or the ones above it; read when first needed."""
        own: defaultdict[int, set[date]] = defaultdict(set)
        for row in self._tx.all(CommonClosedDaysOfMany, "common.closed_days_of_many", areas=self._areas):
            own[row.area_id].add(row.day)
        return frozenset(row.day for row in self._tx.all(ClosedDay, "common.closed_days")), own

    def _calendar(self, area_id: int) -> Calendar:
        company, own = self._closed
        return Calendar(WEEKEND, company | own.get(area_id, set()))

    def of(self, ask: Ask, due: datetime) -> Wanted:
        """What one of them asks, as the rules want it."""
        return Wanted(
            ask.area,
            frozenset(self._paths[ask.area_id]),
            ask.tags,
            ask.run_limit,
            ask.active,
            due,
            tuple(self._locks[ask.routine_id]),
            read_hours(*ask.window),
            self._calendar(ask.area_id) if ask.open_days else None,
            ask.window[2] or "UTC",
            ask.asked,
            ask.only_robot,
            ask.withdrawn,
            ask.meant_for,
            ask.unapproved,
            ask.trial,
            None if ask.builder is None else self._builders[ask.builder],
        )


def wanted_of(tx: Tx, routine: Routine, due: datetime) -> Wanted:
    """What one routine asks of a robot."""
    ask = replace(ask_of(routine), active=tx.count("routines.active", routine=routine.id))
    return Wants(tx, [ask]).of(ask, due)
