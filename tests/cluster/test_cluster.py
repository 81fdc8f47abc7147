"""Claim, post and close on three nodes at once, with one of them killed under load (second tier)."""

from __future__ import annotations

import secrets
import threading
import time
from collections import Counter
from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import pytest

from tallyman.config import read_clock
from tallyman.engine import loops
from tallyman.errors import TallymanError
from tallyman.services import robots, tally
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.robots import host_tokens
from tallyman.services.runs import dispatch, reports
from tallyman.services.starts import kinds, triggers
from tallyman.store.migrate import migrate
from tests.cluster.nodes import PROVIDER, Cluster
from tests.serving import wait_for
from tests.world import World

pytestmark = pytest.mark.skipif(not PROVIDER.exists(), reason="the Galera library is not installed")
HOSTS = 6
SECONDS = 25.0


@pytest.fixture(scope="module")
def cluster() -> Iterator[Cluster]:
    one = Cluster()
    yield one
    one.end()


class Load:
    """Hosts on all nodes that take, count and end runs; engines on two nodes that start and post."""

    def __init__(self, cluster: Cluster) -> None:
        self.cluster = cluster
        owner = cluster.connect(0, "owner")
        migrate(owner, "app", read_clock())
        owner.close()
        self.pools = [cluster.connect(n) for n in range(3)]
        self.world = World(self.pools[0], read_clock())
        _, _, self.counted = self.world.live()
        release = self.world.row("SELECT release_id AS r FROM routine")["r"]
        self.locked = self.world.routine("Locked", release, run_limit=5, locks=("the one login",))
        sol = self.world.ctx("Sol Marin")
        self.triggers = [
            triggers.add(sol, routine, triggers.Given({"expr": "* * * * *"}, "UTC", missed="all"))
            for routine in (self.counted, self.locked)
        ]
        self.tokens = []
        for n in range(HOSTS):
            made = robots.add_host(sol, f"Host {n}", 1)
            robots.add_robot(sol, robots.Given(f"Robot {n}", made.id, [], [self.world.area]))
            ctx = Ctx(self.pools[0], read_clock(), PROGRAM)
            self.tokens.append(host_tokens.connect(ctx, made.code, 1, "x", {})["token"])
        self.stop = threading.Event()
        self.ahead = 0
        self.log: Counter[str] = Counter()
        self.crowded: list[Any] = []

    def ctx(self, n: int) -> Ctx:
        return Ctx(self.pools[n % 3], read_clock() + timedelta(minutes=self.ahead), PROGRAM)

    def _again(self, name: str, work: Any) -> None:
        while not self.stop.is_set():
            try:
                self.log[name] += int(bool(work()))
            except TallymanError as error:
                self.log[f"{name}: {error.message[:40]}"] += 1
                self.stop.wait(0.2)

    def host(self, n: int) -> bool:
        ctx = self.ctx(n)
        host = host_tokens.host_of(ctx, self.tokens[n])
        dispatch.heartbeat(ctx, host, dispatch.Beat(ctx.now, []))
        work = self.take(n, host)
        if work is None:
            self.stop.wait(0.02)
            return False
        said = reports.Outcome("done", True, "", {"rows": 1}, {"rows": "2"})
        while True:
            try:
                reports.outcome(self.ctx(n), host, work.run, work.fence, said)
                return True
            except TallymanError:
                if self.stop.wait(0.1):
                    return False

    def take(self, n: int, host: Any) -> Any:
        """Asks for work as a runner does: again under the same key while no answer comes."""
        key = secrets.token_hex(16)
        while True:
            try:
                ctx = self.ctx(n)
                return dispatch.asked(ctx, host, key) or dispatch.take(ctx, host, key)
            except TallymanError:
                if self.stop.wait(0.1):
                    return None

    def engine(self, n: int) -> int:
        made = kinds.start_due(self.ctx(n)) + loops.effects(self.ctx(n))
        self.stop.wait(0.05)
        return made

    def look(self) -> bool:
        rows = self.world.rows("SELECT id, routine_id FROM run WHERE state = 'running'")
        by = Counter(row["routine_id"] for row in rows)
        if by[self.locked] > 1 or by[self.counted] > 1:
            self.crowded.append(rows)
        self.stop.wait(0.02)
        return True

    def rage(self) -> None:
        works: list[tuple[str, Any]] = [(f"host {n}", lambda n=n: self.host(n)) for n in range(HOSTS)]
        works += [(f"engine {n}", lambda n=n: self.engine(n)) for n in (1, 2)]
        works.append(("look", self.look))
        threads = [threading.Thread(target=self._again, args=work) for work in works]
        for thread in threads:
            thread.start()
        ends = time.monotonic() + SECONDS
        killed = False
        while time.monotonic() < ends:
            self.ahead += 1
            if not killed and time.monotonic() > ends - SECONDS * 0.6:
                self.cluster.kill(2)
                killed = True
            self.stop.wait(0.25)
        wait_for(lambda: not self.left(), 60)
        self.stop.set()
        for thread in threads:
            thread.join()

    def left(self) -> int:
        try:
            return int(
                self.world.row(
                    "SELECT (SELECT COUNT(*) FROM run WHERE state IN ('waiting','running')) + "
                    "(SELECT COUNT(*) FROM effect WHERE done_at IS NULL AND kind = 'tally') AS n"
                )["n"]
            )
        except TallymanError:
            return 1


def test_claims_postings_and_starts_hold_on_three_nodes_and_through_the_loss_of_one(cluster: Cluster) -> None:
    load = Load(cluster)
    load.rage()
    assert load.crowded == []
    assert tally.verify(load.ctx(0)) == []
    runs_made = load.world.row("SELECT COUNT(*) AS n FROM run WHERE trigger_id IS NOT NULL")["n"]
    assert runs_made > 100, load.log
    for trigger in load.triggers:
        times = [
            row["nominal_at"]
            for row in load.world.rows(
                "SELECT nominal_at FROM trigger_start WHERE trigger_id = %(t)s ORDER BY nominal_at", t=trigger
            )
        ]
        assert len(times) == (times[-1] - times[0]) / timedelta(minutes=1) + 1
    posted = load.world.row(
        "SELECT COUNT(*) AS n, SUM(units) AS units FROM tally_entry WHERE line = 'time saved' AND correction = 0"
    )
    done = load.world.row(
        "SELECT COUNT(*) AS n FROM run WHERE routine_id = %(r)s AND trial = FALSE AND state = 'done'",
        r=load.counted,
    )
    assert posted["n"] == done["n"]
    assert int(posted["units"]) == 2 * done["n"]


def test_a_month_is_closed_once_whichever_node_is_asked(cluster: Cluster) -> None:
    pools = [cluster.connect(n) for n in (0, 1)]
    later = read_clock() + timedelta(days=70)
    backer = pools[0].transact(
        lambda tx: tx.execute("SELECT id FROM person WHERE name = 'Ruth Abernathy'").fetchone()
    )
    assert backer is not None
    from tallyman.core.access.permissions import permissions_of
    from tallyman.services.context import Actor

    actor = Actor(backer["id"], "Ruth Abernathy", permissions=permissions_of(["backer"]))
    month = pools[0].transact(lambda tx: tx.execute("SELECT MIN(month) AS m FROM tally_month").fetchone())
    assert month is not None
    together, closed = threading.Barrier(2), []

    def close(n: int) -> None:
        together.wait()
        try:
            tally.close_month(Ctx(pools[n], later, actor), month["m"])
            closed.append(n)
        except TallymanError:
            pass

    threads = [threading.Thread(target=close, args=(n,)) for n in (0, 1)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(closed) == 1
    assert tally.verify(Ctx(pools[0], later, PROGRAM)) == []
    for pool in pools:
        pool.close()
