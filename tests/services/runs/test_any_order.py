"""Runs started, taken, held, lost and ended in any order: states, places, segments and sums always agree."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from datetime import timedelta
from itertools import count
from typing import ClassVar

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test

from tallyman.core.runs.starting import may_become
from tallyman.errors import Refused
from tallyman.services import runs, tally
from tallyman.services.context import Ctx
from tallyman.services.robots import HostByToken
from tallyman.services.runs import dispatch, late, life, reports, uploads
from tests.conftest import NOW, Databases
from tests.world import MANIFEST, World, package

PLACES = 2
STATE = b'{"next": 3}'
DIGEST = hashlib.sha256(STATE).hexdigest()
NUMBERS = count(1)
ENDED = ("done", "failed", "cancelled", "lapsed", "lost")
picks = st.integers(0, 9)


@dataclass
class One:
    """A run as it should be: where it stands, under which fencing number, and when it was lost."""

    state: str = "waiting"
    fence: int = 0
    was: list[str] = field(default_factory=list)
    lost_at: timedelta | None = None


class Runs(RuleBasedStateMachine):
    """A host with two robots and two seats, and runs of one routine that counts for an idea."""

    world: ClassVar[World]
    host: ClassVar[HostByToken]
    routine: ClassVar[int]
    later: ClassVar[timedelta] = timedelta(hours=1)

    def __init__(self) -> None:
        super().__init__()
        self.runs: dict[int, One] = {}
        self.beat()

    @property
    def program(self) -> Ctx:
        return self.world.program(Runs.later)

    @property
    def operator(self) -> Ctx:
        return self.world.ctx("Sol Marin", Runs.later)

    def teardown(self) -> None:
        """All that is still open ends, so that it is not in the way of the next ones; the sums prove right."""
        for number, one in self.runs.items():
            if one.state in ("waiting", "held"):
                runs.cancel(self.operator, number)
            elif one.state == "running":
                self.told(number, one, "failed")
        self.world.settle(Runs.later)
        assert tally.verify(self.program) == []

    def of(self, pick: int, *states: str) -> tuple[int, One] | None:
        """One of the runs that stand in some states."""
        found = [pair for pair in self.runs.items() if pair[1].state in states]
        return found[pick % len(found)] if found else None

    def become(self, one: One, state: str) -> None:
        assert may_become(one.state, state), (one.state, state)
        one.was.append(one.state)
        one.state = state

    def told(self, number: int, one: One, state: str, worked: bool = True, rows: int = 7) -> str:
        said = reports.Outcome(state, worked, "", {}, {"rows": str(rows)}, DIGEST)
        return reports.outcome(self.program, self.host, number, one.fence, said)

    @rule()
    def start(self) -> None:
        if len(self.runs) < 6:
            self.runs[runs.start(self.operator, self.routine, f"key {next(NUMBERS)}")] = One()

    @rule()
    def take(self) -> None:
        """A free robot takes a waiting run whenever there are both."""
        running = sum(one.state == "running" for one in self.runs.values())
        waiting = [number for number, one in self.runs.items() if one.state == "waiting"]
        work = dispatch.take(self.program, self.host)
        assert (work is not None) == bool(waiting and running < PLACES)
        if work is not None:
            one = self.runs[work.run]
            assert work.run in waiting
            assert work.fence == one.fence + 1
            one.fence = work.fence
            self.become(one, "running")

    @rule(
        pick=picks, state=st.sampled_from(["done", "failed"]), worked=st.booleans(), rows=st.integers(0, 30)
    )
    def end(self, pick: int, state: str, worked: bool, rows: int) -> None:
        found = self.of(pick, "running")
        if found is not None:
            assert self.told(*found, state, worked, rows) == state
            self.become(found[1], state)

    @rule(pick=picks)
    def hold(self, pick: int) -> None:
        found = self.of(pick, "running")
        if found is not None:
            assert self.told(*found, "held") == "held"
            self.become(found[1], "held")

    @rule(pick=picks)
    def go_on(self, pick: int) -> None:
        found = self.of(pick, "held")
        if found is not None:
            runs.go_on(self.operator, found[0])
            self.become(found[1], "waiting")

    @rule(pick=picks)
    def cancel(self, pick: int) -> None:
        found = self.of(pick, "waiting", "held")
        if found is not None:
            assert runs.cancel(self.operator, found[0]) == "cancelled"
            self.become(found[1], "cancelled")

    @rule(pick=picks)
    def cancel_what_runs(self, pick: int) -> None:
        found = self.of(pick, "running")
        if found is not None:
            assert runs.cancel(self.operator, found[0]) == "running"
            assert self.told(*found, "cancelled") == "cancelled"
            self.become(found[1], "cancelled")

    @rule(pick=picks)
    def say_it_again(self, pick: int) -> None:
        """A runner that got no answer tells the same once more; nothing changes."""
        found = self.of(pick, "done", "failed", "cancelled")
        if found is not None and found[1].fence:
            assert self.told(*found, "failed" if found[1].state == "done" else "done") == found[1].state

    @rule(pick=picks)
    def tell_under_a_former_number(self, pick: int) -> None:
        found = self.of(pick, "running", "waiting", "held")
        if found is not None and found[1].fence > 1:
            number, one = found
            assert self.told(number, One(fence=one.fence - 1), "done") == one.state

    @rule(minutes=st.integers(16, 60))
    def fall_silent(self, minutes: int) -> None:
        """The host says nothing until every lease is over; then it is heard of again."""
        Runs.later += timedelta(minutes=minutes)
        while life.lose_silent(self.program):
            pass
        for one in self.runs.values():
            if one.state == "running":
                self.become(one, "lost")
                one.lost_at = Runs.later
        self.beat()

    def beat(self) -> None:
        dispatch.heartbeat(self.program, self.host, dispatch.Beat(NOW + Runs.later, []))

    @rule(pick=picks, counts=st.booleans())
    def come_late(self, pick: int, counts: bool) -> None:
        """An outcome after its run was lost counts for a while; then a person says whether it does."""
        found = self.of(pick, "lost")
        if found is None:
            return
        number, one = found
        ended = self.world.row("SELECT ended_at, late_json FROM run WHERE id = %(r)s", r=number)
        said = self.told(number, one, "done")
        if NOW + Runs.later - ended["ended_at"] <= late.COUNTS_FOR:
            assert said == "done"
            self.become(one, "done")
            return
        assert said == "lost"
        assert late.decide(self.operator, number, counts) == ("done" if counts else "lost")
        if counts:
            self.become(one, "done")
        with pytest.raises(Refused):
            late.decide(self.operator, number, counts)

    @rule(minutes=st.integers(1, 5))
    def time_passes(self, minutes: int) -> None:
        Runs.later += timedelta(minutes=minutes / 10)
        self.beat()

    @invariant()
    def every_run_is_where_it_should_be(self) -> None:
        found = self.world.rows(
            "SELECT id, state, fence, started_at, ended_at FROM run WHERE id >= %(n)s",
            n=min(self.runs, default=0),
        )
        rows = {row["id"]: row for row in found}
        for number, one in self.runs.items():
            row = rows[number]
            assert (row["state"], row["fence"]) == (one.state, one.fence)
            assert (row["ended_at"] is not None) == (one.state in ENDED)
            assert (row["started_at"] is not None) == (one.fence > 0)

    @invariant()
    def places_are_taken_by_what_runs_alone(self) -> None:
        running = {number for number, one in self.runs.items() if one.state == "running"}
        slots = self.world.rows("SELECT kind, run_id FROM slot WHERE run_id IS NOT NULL")
        assert {row["run_id"] for row in slots} == running
        for kind in ("robot", "seat"):
            assert sum(row["kind"] == kind for row in slots) == len(running)
        open_ = self.world.rows("SELECT run_id FROM run_segment WHERE ended_at IS NULL")
        assert {row["run_id"] for row in open_} == running
        assert len(open_) == len(running)


def test_runs_live_and_end_in_any_order(databases: Databases) -> None:
    databases.empty()
    db = databases.connect()
    world = World(db, NOW)
    manifest = MANIFEST.replace('entry = "main.py"', 'entry = "main.py"\ncheckpoints = true')
    Runs.world = world
    Runs.host, _, Runs.routine = world.live(places=PLACES, release=package(manifest=manifest))
    uploads.begin(world.program(), Runs.host, DIGEST, len(STATE))
    uploads.put(world.program(), Runs.host, DIGEST, 0, STATE)
    run_state_machine_as_test(
        Runs,
        settings=settings(
            max_examples=60,
            stateful_step_count=30,
            deadline=None,
            derandomize=True,
            suppress_health_check=list(HealthCheck),
        ),
    )
    db.close()
