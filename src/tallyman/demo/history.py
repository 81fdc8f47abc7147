"""Two years of runs, written in bulk: what they post is reckoned by the same rules as everyone's."""

from __future__ import annotations

import random
from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from decimal import Decimal
from fractions import Fraction
from typing import Any
from zoneinfo import ZoneInfo

from tallyman.core.exact import rounded
from tallyman.core.tally import entries as tally_rules
from tallyman.demo import world
from tallyman.services.context import Database
from tallyman.services.rates import costs, rates
from tallyman.services.tally import posting
from tallyman.store.db import Tx, dump
from tallyman.store.records.common import DemoRobotsFor, DemoToPost
from tallyman.store.records.runs import RunsForPosting

BATCH = 1000
OUTAGE = (92, 83)
# How many units a run handles, how much comes back, before and after the newer release.
SHAPES = {
    "readings": ((38, 50), 0.04, 0.04),
    "letters": ((5, 8), 0.03, 0.42),
    "certificates": ((10, 16), 0.03, 0.02),
}
FAULTS = {
    "readings": (
        "readings.csv has no column last (the package ended with code 1)",
        "Dialhouse did not answer within 60 s (the package ended with code 1)",
    ),
    "letters": (
        "KeyError: 'found' (the package ended with code 1)",
        "the time limit of 60 min was reached, so it was ended",
    ),
    "certificates": (
        "sheet week.csv has no column pH (the package ended with code 1)",
        "Assayroom did not answer within 60 s (the package ended with code 1)",
    ),
}


@dataclass(frozen=True)
class Plan:
    """A routine whose past is to be written."""

    routine_id: int
    idea_id: int
    release_id: int
    newer_release_id: int
    count: str
    runs_a_day: int
    live_days_ago: int


def trial(db: Database, routine_id: int, release_id: int, at: datetime) -> None:
    """One trial run that worked; trial runs post nothing."""
    row = trial_row(routine_id, release_id, at)
    _add_runs(db, [row])


def trial_row(routine_id: int, release_id: int, at: datetime) -> dict[str, Any]:
    """A trial run that worked, as a row to write."""
    ended = at + timedelta(minutes=2)
    return {**_run(routine_id, release_id, at, ended, "done", {}, "worked", ""), "trial": True}


def _run(
    routine: int,
    release: int,
    began: datetime,
    ended: datetime,
    state: str,
    counts: dict[str, str],
    outcome: str | None,
    reason: str,
) -> dict[str, Any]:
    return {
        "routine": routine,
        "release": release,
        "words": "the clock",
        "trial": False,
        "began": began,
        "ended": ended,
        "state": state,
        "outcome": outcome,
        "reason": reason,
        "counts": dump(counts),
        "robot": None,
        "host": None,
    }


def _one_run(plan: Plan, chance: random.Random, began: datetime, days_ago: int) -> dict[str, Any]:
    (low, high), back_before, back_after = SHAPES[plan.count]
    newer = days_ago < 150
    # Summer brings more samples and inspections, winter fewer.
    season = 1.15 if began.month in (5, 6, 7, 8) else 0.92 if began.month in (12, 1, 2) else 1.0
    units = max(1, round(chance.randint(low, high) * season))
    back = sum(chance.random() < (back_after if newer else back_before) for _ in range(units))
    minutes = max(0.4, chance.lognormvariate(1.1, 0.35))
    roll = chance.random()
    release = plan.newer_release_id if newer else plan.release_id
    ended = began + timedelta(minutes=minutes)
    if roll < 0.03:
        reason = chance.choice(FAULTS[plan.count])
        return _run(plan.routine_id, release, began, ended, "failed", {}, None, reason)
    if roll < 0.034:
        reason = "the host did not renew the lease, which ended; what was done by then is in the log"
        lost = began + timedelta(minutes=15)
        return _run(plan.routine_id, release, began, lost, "lost", {}, None, reason)
    if roll < 0.07:
        return _run(plan.routine_id, release, began, ended, "done", {}, "nothing", "nothing new had arrived")
    counts = {plan.count: str(units)}
    if back:
        counts["handed_back"] = str(back)
    return _run(plan.routine_id, release, began, ended, "done", counts, "worked", "")


def _days(plan: Plan, chance: random.Random, now: datetime) -> list[dict[str, Any]]:
    zone = ZoneInfo(world.ZONE)
    rows = []
    for days_ago in range(plan.live_days_ago - 1, 0, -1):
        day = (now - timedelta(days=days_ago)).astimezone(zone).date()
        if OUTAGE[0] >= days_ago >= OUTAGE[1] or day.isoweekday() > 5:
            continue
        for n in range(plan.runs_a_day):
            hour = 7 + n * 11 // plan.runs_a_day
            local = datetime.combine(day, time(hour, chance.randrange(60), chance.randrange(60)), zone)
            rows.append(_one_run(plan, chance, local, days_ago))
    return rows


def write(db: Database, plans: list[Plan], now: datetime, more: list[dict[str, Any]]) -> None:
    """Writes the runs of routines since each went live, in the order of time, and what each posted; between
    them `more` that post nothing."""
    rows = []
    robots = {}
    for plan in plans:
        chance = random.Random(plan.count)
        rows += _days(plan, chance, now)
        robots[plan.routine_id] = _robots(db, plan)
    rows.sort(key=lambda row: row["began"])
    _give_robots(rows, robots)
    rows += more
    rows.sort(key=lambda row: row["began"])
    for start in range(0, len(rows), BATCH):
        _add_runs(db, rows[start : start + BATCH])
    db.transact(lambda tx: tx.write("demo.add_segments"))
    for plan in plans:
        _post(db, plan.routine_id)


def _give_robots(rows: list[dict[str, Any]], robots: dict[int, list[DemoRobotsFor]]) -> None:
    """Gives each run a robot as a claim would: one at a time each, no more at once than the host has seats.

    A run that finds none free, or its routine at work, begins once one is.
    """
    chance = random.Random("robots")
    free: dict[tuple[str, int], datetime] = {}
    ends: dict[int, list[datetime]] = defaultdict(list)

    def begins(robot: DemoRobotsFor, row: dict[str, Any]) -> datetime:
        due: datetime = row["began"]
        last = ends[robot.host_id]
        seat = last[0] if len(last) == robot.seats else None
        others = (free.get(("robot", robot.id)), free.get(("routine", row["routine"])), seat)
        return max([due, *(one for one in others if one)])

    for row in rows:
        times = {robot.id: begins(robot, row) for robot in robots[row["routine"]]}
        first = min(times.values())
        robot = chance.choice([one for one in robots[row["routine"]] if times[one.id] == first])
        row["robot"], row["host"] = robot.id, robot.host_id
        row["began"], row["ended"] = first, row["ended"] + (first - row["began"])
        free["robot", robot.id] = free["routine", row["routine"]] = row["ended"]
        ends[robot.host_id] = sorted([*ends[robot.host_id], row["ended"]])[-robot.seats :]


def _add_runs(db: Database, rows: list[dict[str, Any]]) -> None:
    db.transact(lambda tx: tx.many("demo.add_run", rows))


def _robots(db: Database, plan: Plan) -> list[DemoRobotsFor]:
    return db.transact(lambda tx: tx.all(DemoRobotsFor, "demo.robots_for", routine=plan.routine_id))


class _Rates:
    """Rates in force by day, each asked for once."""

    def __init__(self, tx: Tx) -> None:
        self.tx = tx
        self.known: dict[tuple[str, Any, int], tally_rules.Rate | None] = {}

    def of(self, kind: str, day: Any, idea: int = 0) -> tally_rules.Rate | None:
        key = (kind, day, idea)
        if key not in self.known:
            if kind == "hour_cost":
                self.known[key] = costs.hour_cost(self.tx, day, idea)
            else:
                self.known[key] = rates.in_force(self.tx, kind, day, idea)
        return self.known[key]


def _post(db: Database, routine_id: int) -> None:
    def work(tx: Tx) -> None:
        known = _Rates(tx)
        entries: list[dict[str, Any]] = []
        sums: dict[tuple[str, int, str], list[Decimal]] = defaultdict(lambda: [Decimal(0)] * 4)
        for row in tx.all(DemoToPost, "demo.to_post", routine=routine_id):
            entries += _entries(row, known, sums)
        for month in sorted({key[0] for key in sums}):
            tx.write("tally.open_month", month=month)
        for start in range(0, len(entries), BATCH):
            tx.many("tally.post", entries[start : start + BATCH])
        tx.many(
            "demo.add_sum",
            [
                {
                    "month": month,
                    "idea": idea,
                    "line": line,
                    "units": units,
                    "hours": hours,
                    "money": money,
                    "entries": int(number),
                }
                for (month, idea, line), (units, hours, money, number) in sums.items()
            ],
        )

    db.transact(work)


def _for_posting(row: DemoToPost) -> RunsForPosting:
    """A run of the past as those of today are reckoned: nobody corrected it, and it ran in one piece."""
    return RunsForPosting(
        **row.as_dict(),
        attended="",
        fixed_units=None,
        fixed_back=None,
        fixed_why=None,
        fixed_by=None,
        worked_micros=Decimal(0),
        segments=0,
    )


def _entries(
    row: DemoToPost, known: _Rates, sums: dict[tuple[str, int, str], list[Decimal]]
) -> list[dict[str, Any]]:
    assert row.ended_at is not None
    at = row.ended_at
    day = at.astimezone(ZoneInfo(world.ZONE)).date()
    hour, robot_hour = known.of("hour_cost", day, row.idea_id), known.of("robot_hour", day)
    assert hour is not None and robot_hour is not None
    minutes = known.of(rates.MINUTES_BY_HAND, day, row.idea_id)
    month = tally_rules.month_of(at, world.ZONE)
    found = []
    for entry in tally_rules.post(posting.facts_of(_for_posting(row)), minutes, hour, robot_hour).entries:
        amounts = [rounded(Fraction(getattr(entry, name)), 6) for name in ("units", "hours", "money")]
        key = (month, row.idea_id, entry.line)
        old = sums[key]
        sums[key] = [*(a + b for a, b in zip(old, amounts, strict=False)), old[3] + 1]
        found.append(
            {
                "source": f"run:{row.id}",
                "line": entry.line,
                "correction": 0,
                "month": month,
                "belongs_to": month,
                "idea": row.idea_id,
                "routine": row.routine_id,
                "run": row.id,
                "area": row.area_id,
                "units": amounts[0],
                "hours": amounts[1],
                "money": amounts[2],
                "rates": dump(list(entry.rate_ids)),
                "at": at,
                "now": at,
                "kind": "run",
                "why": "",
                "facts": None,
                "person": None,
            }
        )
    return found
