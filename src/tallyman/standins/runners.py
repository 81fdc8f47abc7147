"""Simulated runners: many hosts in one process that speak the protocol and execute nothing.

For load (how many hosts hold) and for misbehaviour (reports twice, out of order, late, or never).
"""

from __future__ import annotations

import random
import threading
import time
from dataclasses import dataclass, field
from typing import Any

import httpx

from tallyman.runner.client import Client, Rejected, Stopped
from tallyman.runner.main import IDLE_BEATS
from tallyman.runner.surroundings import Surroundings


@dataclass
class Habits:
    """How a simulated host behaves: shares of runs, and seconds.

    `vanish` never tell their end; `double` tell everything twice; `shuffle` send their reports out of
    order; `stray` also send an outcome under a wrong fencing number; `fail` fail; `ignore` never begin what
    they are handed.
    """

    work_seconds: tuple[float, float] = (0.0, 0.05)
    vanish: float = 0.0
    double: float = 0.0
    shuffle: float = 0.0
    stray: float = 0.0
    fail: float = 0.0
    ignore: float = 0.0
    lines: int = 1
    count: str = ""
    heartbeat_seconds: float = 3.0


@dataclass
class Tellings:
    """What happened, for whoever measures."""

    taken: int = 0
    ended: int = 0
    heartbeat_seconds: list[float] = field(default_factory=list)
    faults: list[str] = field(default_factory=list)


class SimulatedHost:
    """One host: a thread that beats, and one that takes work and tells its end."""

    def __init__(self, server: str, token: str, habits: Habits, seed: int) -> None:
        self.server = server
        self.habits = habits
        self.surroundings = Surroundings()
        self.chance = random.Random(seed)
        self.stop = threading.Event()
        self.client = Client(server, token, self.stop)
        self.tellings = Tellings()
        self.held: dict[int, int] = {}
        self._lock = threading.Lock()
        self._threads = [
            threading.Thread(target=self._beats, daemon=True),
            threading.Thread(target=self._works, daemon=True),
        ]

    def start(self, work: bool = True) -> None:
        """Begins to beat, and to work if wanted."""
        for thread in self._threads[: 2 if work else 1]:
            thread.start()

    def end(self) -> None:
        """Stops and waits."""
        self.stop.set()
        for thread in self._threads:
            if thread.ident is not None:
                thread.join(timeout=30)
        self.client.close()

    def _beats(self) -> None:
        # So that many hosts do not all beat at once.
        self.stop.wait(self.chance.uniform(0, self.habits.heartbeat_seconds))
        while not self.stop.is_set():
            with self._lock:
                held = list(self.held.items())
            began = time.perf_counter()
            try:
                answer = self.client.heartbeat(held, self.surroundings.now(), {})
                self.tellings.heartbeat_seconds.append(time.perf_counter() - began)
                with self._lock:
                    for run in answer["stop"]:
                        self.held.pop(run, None)
            except (httpx.TransportError, Rejected) as error:
                self.tellings.faults.append(f"heartbeat: {error}")
            self._pause()

    def _pause(self) -> None:
        """As a runner does: every third heartbeat while it holds nothing."""
        for _ in range(IDLE_BEATS):
            if self.stop.wait(self.habits.heartbeat_seconds) or self.held:
                return

    def _works(self) -> None:
        while not self.stop.is_set():
            try:
                work = self.client.work()
            except (httpx.TransportError, Rejected) as error:
                self.tellings.faults.append(f"work: {error}")
                self.stop.wait(self.chance.uniform(0.1, 0.5))
                continue
            if work is not None:
                self.tellings.taken += 1
                self._one(work)

    def _one(self, work: dict[str, Any]) -> None:
        run, fence = work["run"], work["fence"]
        if self.chance.random() < self.habits.ignore:
            # As one that dies between its ask and its first word.
            return
        try:
            self.client.begin(run, fence)
        except (Rejected, Stopped) as error:
            self.tellings.faults.append(f"R-{run} begin: {error}")
            return
        with self._lock:
            self.held[run] = fence
        try:
            self.stop.wait(self.chance.uniform(*self.habits.work_seconds))
            if self.chance.random() < self.habits.vanish:
                return
            self._tell(run, fence)
            self.tellings.ended += 1
        except (Rejected, Stopped) as error:
            self.tellings.faults.append(f"R-{run}: {error}")
        finally:
            with self._lock:
                self.held.pop(run, None)

    def _tell(self, run: int, fence: int) -> None:
        chance, habits = self.chance, self.habits
        now = self.surroundings.now()
        reports = [
            {
                "fence": fence,
                "seq": seq,
                "lines": [{"at": now, "level": "info", "text": f"line {seq}"}] * habits.lines,
                "steps": [{"n": seq, "name": f"Step {seq}", "started_at": now, "ended_at": now}],
            }
            for seq in (1, 2, 3)
        ]
        if chance.random() < habits.shuffle:
            chance.shuffle(reports)
        twice = chance.random() < habits.double
        for report in [*reports, *(reports if twice else [])]:
            self.client.report(run, report)
        state = "failed" if chance.random() < habits.fail else "done"
        counts = {habits.count: str(chance.randrange(1, 9))} if habits.count else {}
        outcome = {"fence": fence, "state": state, "reason": "", "outputs": {}, "counts": counts}
        if chance.random() < habits.stray and fence > 1:
            self.client.outcome(run, {**outcome, "fence": fence - 1, "state": "failed"})
        self.client.outcome(run, outcome)
        if twice:
            self.client.outcome(run, {**outcome, "state": "failed"})
