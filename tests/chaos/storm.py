"""Two of everything, killed at random while they work; afterwards nothing may be lost or doubled."""

from __future__ import annotations

import contextlib
import json
import os
import random
import signal
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path

import httpx

from tallyman.config import HOME, Settings
from tallyman.errors import TallymanError
from tallyman.launcher import mariadb
from tallyman.runner.surroundings import Surroundings
from tallyman.services import robots, runs, tally
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.robots import host_tokens
from tallyman.services.starts import triggers
from tallyman.standins.runners import Habits, SimulatedHost
from tallyman.store.db import Database
from tallyman.store.migrate import migrate
from tests.chaos.around import answers, children, command, signed_in, tail, wait_a_moment
from tests.chaos.proxy import Proxy
from tests.conftest import free_port
from tests.serving import wait_for
from tests.world import World

ROOT = "root-of-the-storm"
ROUTINES = 4
STUCK_SECONDS = 45.0
HABITS = Habits(
    work_seconds=(0.0, 0.6),
    vanish=0.06,
    double=0.3,
    shuffle=0.3,
    stray=0.3,
    fail=0.1,
    ignore=0.05,
    count="rows",
)
# A package that reports what no server takes, another thing in each run.
POISON = """
import json, os, sys
import tallyman_kit as job
what = int(os.environ["TALLYMAN_RUN"]) % 6
if what == 0:
    sys.stdout.buffer.write(bytes(range(256)) * 40)
elif what == 1:
    job.output(rows=float("nan"))
elif what == 2:
    for n in range(60):
        job.count(f"rows {n}", -1)
elif what == 3:
    with job.step("x" * 5000, half="\\ud800"):
        pass
elif what == 4:
    sys.stdout.write("x" * 3_000_000)
    sys.exit("y" * 9000)
else:
    job.nothing_to_do("z" * 9000)
"""


class Storm:
    """A private installation with two web and engine processes, real and simulated runners."""

    def __init__(self, folder: Path, seed: int) -> None:
        self.folder = folder
        self.chance = random.Random(seed)
        self.port = free_port(6)
        self.webs = [self.port + 1, self.port + 2]
        self.clock = folder / "clock"
        self.clock.write_text("0")
        self.ahead = 0.0
        self.done = threading.Event()
        self.log: Counter[str] = Counter()
        self.crowded: set[str] = set()
        self.keys: dict[str, set[int]] = {}
        self.processes: dict[str, subprocess.Popen[bytes]] = {}
        self.simulated: list[SimulatedHost] = []
        mariadb.install(folder / "db")
        self.database = mariadb.start(folder / "db", self.port)
        self.wanted = Settings(
            db_port=self.port,
            db_name="tallyman",
            db_user="app",
            db_password="app",
            owner_user="owner",
            owner_password="owner",
        )
        mariadb.prepare(self.database, self.wanted, ROOT)
        owner = Database(port=self.port, user="owner", password="owner", name="tallyman")
        migrate(owner, "app", self.now())
        owner.close()
        self.db = Database(port=self.port, user="app", password="app", name="tallyman", size=8)
        self.proxy = Proxy(lambda: self.chance.choice(self.webs))
        self._people()

    def now(self) -> datetime:
        """The time as every process of the storm sees it."""
        return datetime.now(UTC) + timedelta(seconds=self.ahead)  # noqa: TID251 (the storm owns the clock)

    def ctx(self) -> Ctx:
        return Ctx(self.db, self.now(), PROGRAM)

    def _people(self) -> None:
        """An idea in service, routines with limits and a shared lock, a start every minute for each."""
        self.world = World(self.db, self.now())
        _, _, first = self.world.live()
        self.release: int = self.world.row("SELECT release_id AS r FROM routine WHERE id = %(i)s", i=first)[
            "r"
        ]
        made = [
            self.world.routine(
                f"Routine {n}",
                self.release,
                locks=("the one login",) if n < 2 else (),
                run_limit=n + 1,
                lease_minutes=1,
            )
            for n in range(ROUTINES)
        ]
        poison = self.world.release("9.0.0", POISON)
        made.append(self.world.routine("Poison", poison, lease_minutes=1))
        self.routines = [first, *made]
        self.db.transact(
            lambda tx: tx.execute(
                "UPDATE routine SET run_limit = 3, lease_minutes = 1, again_after_lost = TRUE"
            )
        )
        for n in range(3):
            self.db.transact(lambda tx, n=n: tx.write("robots.add_slot", kind="limit", owner=first, n=n))
        sol = self.world.ctx("Sol Marin")
        self.triggers = [
            triggers.add(sol, routine, triggers.Given({"expr": "* * * * *"}, "UTC", missed=missed))
            for routine, missed in zip(
                self.routines, ("all", "once", "skip", "all", "once", "once"), strict=True
            )
        ]
        self.began = self.now()
        self.tokens = [self._host(f"Host {n}") for n in range(6)]

    def _host(self, name: str) -> str:
        sol = self.world.ctx("Sol Marin")
        made = robots.add_host(sol, name, 2)
        for n in range(2):
            robots.add_robot(sol, robots.Given(f"{name} robot {n}", made.id, [], [self.world.area]))
        return str(host_tokens.connect(self.ctx(), made.code, 1, "storm", {})["token"])

    def environment(self) -> dict[str, str]:
        one = self.wanted
        return {
            **os.environ,
            "PYTHONPATH": str(HOME / "src"),
            "TALLYMAN_VAR": str(self.folder / "var"),
            "TALLYMAN_DB_PORT": str(one.db_port),
            "TALLYMAN_DB_NAME": one.db_name,
            "TALLYMAN_DB_USER": one.db_user,
            "TALLYMAN_DB_PASSWORD": one.db_password,
            "TALLYMAN_CLOCK_FILE": str(self.clock),
            "TALLYMAN_MAIL_PORT": str(self.port + 5),
        }

    def spawn(self, name: str) -> None:
        """Starts one of the processes."""
        kind, _, n = name.partition(" ")
        arguments = {
            "web": ["serve", "--port", str(self.webs[int(n)])],
            "engine": ["engine"],
            "runner": [
                "runner",
                "--server",
                f"http://127.0.0.1:{self.proxy.port}",
                "--state",
                str(self.folder / f"runner-{n}"),
                *(["--as-myself"] if os.geteuid() else []),
            ],
        }[kind]
        with (self.folder / f"{name.replace(' ', '-')}.log").open("ab") as words:
            self.processes[name] = subprocess.Popen(
                [sys.executable, "-m", "tallyman", *arguments],
                env=self.environment(),
                stdin=subprocess.DEVNULL,
                stdout=words,
                stderr=words,
            )

    def begin(self) -> None:
        """Everything up: two webs, two engines, two real runners, four simulated hosts."""
        for n, token in enumerate(self.tokens[:2]):
            state = self.folder / f"runner-{n}"
            state.mkdir()
            kept = state / "runner.json"
            kept.write_text(f'{{"host": "Host {n}", "token": "{token}"}}')
        for name in ("web 0", "web 1", "engine 0", "engine 1"):
            self.spawn(name)
        for port in self.webs:
            wait_for(lambda port=port: answers(port))
        for name in ("runner 0", "runner 1"):
            self.spawn(name)
        for token in self.tokens[2:]:
            url = f"http://127.0.0.1:{self.proxy.port}"
            host = SimulatedHost(url, token, HABITS, self.chance.randrange(10**9))
            host.habits.heartbeat_seconds = 1.0
            host.surroundings = Surroundings(clock_file=str(self.clock))
            host.start()
            self.simulated.append(host)

    # What may happen, each a short act.

    def kill(self, kind: str) -> None:
        name = f"{kind} {self.chance.randrange(2)}"
        process = self.processes[name]
        process.send_signal(signal.SIGKILL)
        process.wait()
        self.done.wait(self.chance.uniform(0, 1.5))
        self.spawn(name)

    def stop_runner(self) -> None:
        """As whoever looks after a host would: it says that it leaves, ends what it has, and comes back."""
        name = f"runner {self.chance.randrange(2)}"
        process = self.processes[name]
        process.terminate()
        try:
            process.wait(timeout=120)
        except subprocess.TimeoutExpired:
            self.crowded.add(f"{name} did not end within 40 s of being asked")
            process.kill()
            process.wait()
        self.spawn(name)

    def kill_idle_runner(self) -> None:
        """Kills a runner while it waits for work, and gives it work in the same moment."""
        name = f"runner {self.chance.randrange(2)}"
        process = self.processes[name]
        if any("keeper.py" in command(one) for one in children(process.pid)):
            return
        process.send_signal(signal.SIGKILL)
        process.wait()
        with contextlib.suppress(TallymanError):
            runs.start(self.world.ctx("Sol Marin"), self.routines[0], f"idle-{time.monotonic()}")
        self.spawn(name)

    def kill_database(self) -> None:
        self.database.process.kill()
        self.database.process.wait()
        self.done.wait(self.chance.uniform(0, 1.0))
        self.database = mariadb.start(self.folder / "db", self.port)

    def cut_network(self) -> None:
        self.proxy.cut.set()
        self.proxy.drop()
        self.done.wait(self.chance.uniform(0.2, 3.0))
        self.proxy.cut.clear()

    def jump(self, low: float, high: float) -> None:
        self.ahead = max(0.0, self.ahead + self.chance.uniform(low, high))
        aside = self.clock.with_suffix(".new")
        aside.write_text(f"{self.ahead:.3f}")
        aside.replace(self.clock)

    def acts(self) -> dict[str, tuple[int, Callable[[], None]]]:
        """Every act with how often it comes."""
        return {
            "kill web": (3, lambda: self.kill("web")),
            "kill engine": (3, lambda: self.kill("engine")),
            "kill runner": (2, lambda: self.kill("runner")),
            "kill idle runner": (3, self.kill_idle_runner),
            "stop runner": (1, self.stop_runner),
            "kill database": (1, self.kill_database),
            "cut network": (2, self.cut_network),
            "drop connections": (3, self.proxy.drop),
            "clock forward": (4, lambda: self.jump(20, 90)),
            "clock back": (1, lambda: self.jump(-15, -1)),
        }

    def rage(self, seconds: float) -> None:
        """Starts runs by several clients while things die."""
        starters = [threading.Thread(target=self._starts, args=(n,)) for n in range(2)]
        starters.append(threading.Thread(target=self._watch))
        for thread in starters:
            thread.start()
        ends = time.monotonic() + seconds
        acts = self.acts()
        while time.monotonic() < ends:
            name = self.chance.choices(list(acts), [weight for weight, _ in acts.values()])[0]
            self.log[name] += 1
            acts[name][1]()
            self.done.wait(self.chance.uniform(0.3, 1.5))
        self.done.set()
        for thread in starters:
            thread.join()

    def _watch(self) -> None:
        """Looks again and again whether more runs work at once than limit, lock or seats allow."""
        locked = tuple(self.routines[1:3])
        while not self.done.wait(0.05):
            try:
                rows = self.world.rows("SELECT id, routine_id, host_id FROM run WHERE state = 'running'")
            except TallymanError:
                continue
            self.log["looked"] += 1
            if sum(row["routine_id"] in locked for row in rows) > 1:
                self.crowded.add(f"the one login was held by more than one run: {rows}")
            for key, most in (("routine_id", 3), ("host_id", 2)):
                for owner, number in Counter(row[key] for row in rows).items():
                    if number > most:
                        self.crowded.add(f"{key} {owner} had {number} runs at once: {rows}")

    def _starts(self, number: int) -> None:
        """Asks for starts, each key more than once and of either web process."""
        chance = random.Random(number)
        sessions: dict[int, httpx.Client] = {}
        n = 0
        while not self.done.wait(chance.uniform(0.2, 0.9)):
            key = f"storm-{number}-{n - chance.randrange(2)}"
            n += 1
            port, routine = chance.choice(self.webs), self.routines[hash(key) % len(self.routines)]
            try:
                session = sessions.get(port) or signed_in(port)
                sessions[port] = session
                path = f"/routines/{routine}/start"
                answer = session.post(path, headers={"Idempotency-Key": key})
                if answer.status_code == 201:
                    self.keys.setdefault(key, set()).add(answer.json()["id"])
                    self.log["started"] += 1
                if answer.status_code == 401:
                    sessions.pop(port).close()
            except httpx.HTTPError:
                if port in sessions:
                    sessions.pop(port).close()
        for session in sessions.values():
            session.close()

    def calm(self) -> None:
        """Everything up again; what is open comes to its end."""
        self.proxy.cut.clear()
        for host in self.simulated:
            host.habits.vanish = 0.0
        for name, process in list(self.processes.items()):
            if process.poll() is not None:
                self.spawn(name)
        self.db.transact(
            lambda tx: tx.execute(
                "UPDATE start_trigger SET retired_at = %(n)s, next_at = NULL", {"n": self.now()}
            )
        )
        for _ in range(6):
            # Leases of runs that nobody works on any more come to their end, and further attempts their time.
            self.jump(61, 62)
            self._quiet()
            due = self.world.row("SELECT MAX(due_at) AS due FROM run WHERE state = 'waiting'")["due"]
            if due is not None and due > self.now():
                ahead = (due - self.now()).total_seconds()
                self.jump(ahead, ahead + 1)

    def _quiet(self) -> None:
        """Waits as long as the work that is open gets less; says what is stuck when it does not."""
        left, since = self.open_runs(), time.monotonic()
        while left:
            wait_a_moment()
            now = self.open_runs()
            if now < left:
                left, since = now, time.monotonic()
            assert time.monotonic() - since < STUCK_SECONDS, self.stuck()
        tally_open = "SELECT COUNT(*) AS n FROM effect WHERE done_at IS NULL AND kind = 'tally'"
        wait_for(lambda: not self.count(tally_open), 60)

    def stuck(self) -> str:
        """What is known of the runs that do not come to their end."""
        rows = self.world.rows(
            "SELECT id, routine_id, state, host_id, fence, lease_until, due_at FROM run "
            "WHERE state IN ('waiting','running','held') ORDER BY id LIMIT 5"
        )
        slots = self.world.rows("SELECT kind, owner_id, n, run_id FROM slot WHERE run_id IS NOT NULL")
        why = self.db.transact(lambda tx: runs.waiting_reasons(tx, self.ctx(), [row["id"] for row in rows]))
        words = {name: tail(self.folder / f"{name.replace(' ', '-')}.log") for name in self.processes}
        alive = {name: process.poll() for name, process in self.processes.items()}
        faults = [host.tellings.faults[-2:] for host in self.simulated]
        hosts = self.world.rows("SELECT id, name, heard_at FROM host")
        said = {run: one.first for run, one in why.items()}
        return f"stuck at {self.now()}: {rows}\n{said}\n{slots}\n{hosts}\n{alive}\n{faults}\n{words}"

    def open_runs(self) -> int:
        """Runs that should come to their end by now; a further attempt may wait for its time."""
        return int(
            self.world.row(
                "SELECT COUNT(*) AS n FROM run WHERE state IN ('running','held') "
                "OR (state = 'waiting' AND (due_at <= %(now)s OR handed_until IS NOT NULL))",
                now=self.now(),
            )["n"]
        )

    def count(self, sql: str) -> int:
        return int(self.world.row(sql)["n"])

    def end(self) -> None:
        """Stops whatever still works."""
        self.done.set()
        for host in self.simulated:
            host.stop.set()
        for process in self.processes.values():
            process.kill()
            process.wait()
        for host in self.simulated:
            host.end()
        self.proxy.end()
        self.db.close()
        self.database.stop()

    # What must hold afterwards.

    def findings(self) -> list[str]:
        """Everything that is wrong; empty if nothing was lost or doubled."""
        return [
            *tally.verify(self.ctx()),
            *self._keys(),
            *self._nominal_times(),
            *self._benefit(),
            *sorted(self.crowded),
        ]

    def _keys(self) -> list[str]:
        return [
            f"the start {key} made the runs {sorted(ids)}" for key, ids in self.keys.items() if len(ids) > 1
        ]

    def _nominal_times(self) -> list[str]:
        """Every minute since the beginning was settled once for each trigger."""
        wrong = []
        for trigger in self.triggers:
            rows = self.world.rows(
                "SELECT nominal_at, what, run_id FROM trigger_start WHERE trigger_id = %(t)s ORDER BY nominal_at",
                t=trigger,
            )
            times = [row["nominal_at"] for row in rows]
            gaps = [
                f"trigger {trigger} settled nothing between {early} and {late}"
                for early, late in pairwise(times)
                if late - early != timedelta(minutes=1)
            ]
            wrong += gaps
            runs = [row["run_id"] for row in rows if row["what"] == "started"]
            wrong += [f"trigger {trigger} noted a run twice"] if len(runs) != len(set(runs)) else []
        return wrong

    def _benefit(self) -> list[str]:
        """Each counted unit stands in the ledger once."""
        rows = self.world.rows(
            "SELECT r.id, r.counts_json, COALESCE(SUM(e.units), 0) AS units FROM run r "
            "LEFT JOIN tally_entry e ON e.run_id = r.id AND e.line = 'time saved' "
            "WHERE r.routine_id = %(r)s AND r.trial = FALSE AND r.state = 'done' GROUP BY r.id",
            r=self.routines[0],
        )
        return [
            f"run {row['id']} counted {row['counts_json']} and {row['units']} are posted"
            for row in rows
            if int(json.loads(row["counts_json"] or "{}").get("rows", 0)) != int(row["units"])
        ]
