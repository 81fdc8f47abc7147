"""Measures the engine on an installation of its own: starts, claims, finishes, heartbeats, idle load."""

from __future__ import annotations

import statistics
import threading
import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import psutil

from tallyman.config import read_clock
from tallyman.launcher import bench_claims
from tallyman.launcher.bench_installation import Installation
from tallyman.launcher.machine import Trouble
from tallyman.services import runs
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.workshop import routines
from tallyman.standins.runners import Habits, SimulatedHost
from tallyman.store.db import Database, Tx

MANY = 200
RUNS = 200
SUMS = 5
IDLE_SECONDS = 20.0
SCAN = "SELECT month, line, SUM(money) FROM tally_entry GROUP BY month, line"
ROLL_UP = "SELECT month, line, SUM(money) FROM tally_sum GROUP BY month, line"


def median_ms(work: Callable[[], Any], times: int) -> float:
    """The median time of some work, in milliseconds."""
    spans = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        spans.append((time.perf_counter() - began) * 1000)
    return round(statistics.median(spans), 1)


def sums(db: Database) -> dict[str, float]:
    """The months' sums by scanning entries and by the roll-up, and how many times faster that is."""
    scan = median_ms(lambda: db.transact(lambda tx: tx.execute(SCAN).fetchall()), SUMS)
    rolled = median_ms(lambda: db.transact(lambda tx: tx.execute(ROLL_UP).fetchall()), SUMS)
    db.close()
    return {"scan": scan, "roll-up": rolled, "scan / roll-up": round(scan / max(rolled, 0.1), 1)}


def _spread(spans: list[float]) -> dict[str, float]:
    """Median and 95th percentile, in milliseconds."""
    ordered = sorted(spans)
    return {
        "p50": round(statistics.median(ordered) * 1000, 1),
        "p95": round(ordered[int(len(ordered) * 0.95) - 1] * 1000, 1),
    }


def _one_by_one(one: Installation, routine: int, number: int) -> list[float]:
    """Due to taken, of runs started one after the other; the database's own times."""
    ids = []
    for n in range(number):
        ids.append(runs.start(one.ctx(), routine, f"single-{routine}-{n}"))
        threading.Event().wait(0.02)
    _until_done(one)
    return _taken_after(one, ids)


def _taken_after(one: Installation, ids: list[int]) -> list[float]:
    def work(tx: Tx) -> list[float]:
        sql = "SELECT due_at, started_at FROM run WHERE id IN %(ids)s AND started_at IS NOT NULL"
        rows = tx.execute(sql, {"ids": tuple(ids)}).fetchall()
        return [(row["started_at"] - row["due_at"]) / timedelta(seconds=1) for row in rows]

    return one.db.transact(work)


def _until_done(one: Installation) -> None:
    ends = time.monotonic() + 240
    left = "SELECT COUNT(*) AS n FROM run WHERE state IN ('waiting', 'running')"
    while time.monotonic() < ends:
        row = one.db.transact(lambda tx: tx.execute(left).fetchone())
        if row is not None and row["n"] == 0:
            return
        threading.Event().wait(0.05)
    raise Trouble("The runs of the bench do not come to their end.")


def _burst(one: Installation, routine: int, number: int) -> float:
    """Runs finished per second when many wait at once."""
    due = read_clock()

    def work(tx: Tx) -> None:
        row = routines.find(tx, routine)
        for _ in range(number):
            runs.add(tx, Ctx(one.db, due, one.actor), row, "the bench", due=due)

    began = time.perf_counter()
    one.db.transact(work)
    _until_done(one)
    return round(number / (time.perf_counter() - began), 1)


def _simulated(one: Installation, tokens: list[str], work: bool = True) -> list[SimulatedHost]:
    url = f"http://127.0.0.1:{one.port}"
    hosts = [SimulatedHost(url, token, Habits(), n) for n, token in enumerate(tokens)]
    for host in hosts:
        host.start(work)
    return hosts


def _idle(processes: dict[str, psutil.Process]) -> dict[str, float]:
    """Share of one core that each process uses while nothing is to do."""
    for process in processes.values():
        process.cpu_percent()
    threading.Event().wait(IDLE_SECONDS)
    found = {name: process.cpu_percent() for name, process in processes.items()}
    return {**found, "together": round(sum(found.values()), 1)}


def _million(one: Installation) -> dict[str, float]:
    """The tally's sums over a million entries."""

    def work(tx: Tx) -> None:
        for number in range(12):
            tx.execute(
                "INSERT IGNORE INTO tally_month (month) VALUES (%(month)s)",
                {"month": f"2020-{number + 1:02}"},
            )
        tx.execute(
            "INSERT INTO tally_entry (source, line, month, belongs_to, idea_id, units, hours, money, "
            "rates_json, at, posted_at) "
            "WITH RECURSIVE n AS (SELECT 1 AS seq UNION ALL SELECT seq + 1 FROM n WHERE seq < 1000) "
            "SELECT CONCAT('bench:', a.seq * 1000 + b.seq), 'time saved', "
            "CONCAT('2020-', LPAD(1 + MOD(a.seq, 12), 2, '0')), '2020-01', "
            "1 + MOD(b.seq, 50), 1, 0.25, 9.5, '[]', '2020-01-01', '2020-01-01' FROM n a JOIN n b"
        )
        tx.execute(
            "INSERT INTO tally_sum SELECT month, idea_id, line, SUM(units), SUM(hours), SUM(money), COUNT(*) "
            "FROM tally_entry GROUP BY month, idea_id, line"
        )

    one.owner.transact(work)
    return sums(one._connect("app"))


def measure(port: int = 9420) -> dict[str, dict[str, float]]:
    """Every figure of the engine, by what was measured."""
    one = Installation(port)
    try:
        return _measure(one)
    finally:
        one.end()


def _measure(one: Installation) -> dict[str, dict[str, float]]:
    began = time.perf_counter()
    web = one.spawn("serve", "--port", str(one.port))
    one.wait_up()
    cold = round((time.perf_counter() - began) * 1000, 1)
    engine = one.spawn("engine")
    small = areas.add_area(one.ctx(), "Two hosts", None)
    large = areas.add_area(one.ctx(), "Many hosts", None)
    few, many = one.routine(small, "For two"), one.routine(large, "For many")
    two = _simulated(one, one.hosts(2, small, "Pair"))
    figures = {"web process, cold start to ready, ms": {"web": cold}}
    figures["due to taken with 2 runners, ms"] = _spread(_one_by_one(one, few, 40))
    figures["runs finished a second, 2 runners"] = {"burst of 200": _burst(one, few, RUNS)}
    crowd = _simulated(one, one.hosts(MANY, large, "Crowd"))
    threading.Event().wait(5)
    figures[f"due to taken with {MANY} runners, ms"] = _spread(_one_by_one(one, many, 100))
    figures[f"runs finished a second, {MANY} runners"] = {"burst of 200": _burst(one, many, RUNS)}
    for host in crowd:
        host.tellings.heartbeat_seconds.clear()
    figures[f"idle with {MANY} runners, % of a core"] = _idle({"web": web, "engine": engine})
    beats = [span for host in crowd for span in host.tellings.heartbeat_seconds]
    figures["a heartbeat, ms"] = _spread(beats)
    for host in [*two, *crowd]:
        host.stop.set()
    for host in [*two, *crowd]:
        host.end()
    apart = areas.add_area(one.ctx(), "Claims alone", None)
    figures["claims a second, one after the other"] = bench_claims.measure(one, apart)
    figures["tally over 1,000,000 entries by month, median ms"] = _million(one)
    return figures
