"""Runs for real: server, engine and runner as they are, packages as processes."""

from __future__ import annotations

import json
import signal
from collections.abc import Iterator
from typing import Any

import psutil
import pytest

from tallyman.config import read_clock
from tallyman.services import robots, runs
from tallyman.services.house import areas
from tallyman.services.runs.answers import RunWhole
from tallyman.store.db import Database
from tests.chaos.proxy import Proxy
from tests.patience import patience
from tests.serving import Serving, serving, wait_for
from tests.world import CODE, World, package

SLOW = """
import time
import tallyman_kit as job
with job.step("Wait"):
    job.log("begun")
    job.count("rows", 2)
    time.sleep(600)
"""
FAULTY = """
import tallyman_kit as job
with job.step("Open the list"):
    raise SystemExit("the list has no column pH")
"""
IDLE = "import tallyman_kit as job\njob.nothing_to_do('no new sheet')\n"
READS = """
import csv
import tallyman_kit as job
with open(job.inputs["list"], newline="") as file:
    rows = list(csv.DictReader(file))
job.log(f"{len(rows)} rows, first {rows[0]['meter']}")
print("plain words")
job.output(rows=len(rows))
job.count("rows", len(rows))
"""


class Bench:
    """A server with one connected host, and a short way to a run."""

    def __init__(self, one: Serving, world: World) -> None:
        self.one = one
        self.world = world
        sol = world.ctx("Sol Marin")
        world.area = areas.add_area(sol, "Metering", None)
        made = robots.add_host(sol, "Weir", 2)
        robots.add_robot(sol, robots.Given("Dipper 1", made.id, [], [world.area]))
        robots.add_robot(sol, robots.Given("Dipper 2", made.id, [], [world.area]))
        self.runner = one.runner(made.code)
        self.made = 0

    def start(self, code: str, **more: Any) -> int:
        self.made += 1
        release = self.world.release(f"1.0.{self.made}", code)
        routine = self.world.routine(f"Routine {self.made}", release, **more)
        return self.world.start(routine, str(self.made))

    def run(self, run: int) -> RunWhole:
        return runs.one(self.world.ctx("Ines Varga"), run)

    def ended(self, run: int, *states: str) -> RunWhole:
        wanted = states or ("done", "failed", "cancelled", "lost")
        wait_for(lambda: self.run(run).state in wanted)
        return self.run(run)

    def log(self, run: int) -> list[str]:
        return [line.text for line in runs.log(self.world.ctx("Ines Varga"), run, 0).lines]


@pytest.fixture(scope="module")
def bench(databases: Any, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Bench]:
    databases.empty()
    db: Database = databases.connect()
    with serving(db) as one:
        yield Bench(one, World(db, read_clock()))
    db.close()


def test_a_package_runs_and_its_steps_log_outputs_and_counts_arrive(bench: Bench) -> None:
    run = bench.start(CODE)
    found = bench.ended(run)
    assert (found.state, found.outputs, found.counts) == ("done", {"rows": 3}, {"rows": "3"})
    assert [(step.name, step.data_out) for step in found.steps] == [("Count", {"counted": 3})]
    assert bench.log(run) == ["3 rows"]
    assert found.robot in ("Dipper 1", "Dipper 2")


def test_nothing_to_do_is_told_apart_from_work(bench: Bench) -> None:
    found = bench.ended(bench.start(IDLE))
    assert (found.state, found.outcome, found.reason) == ("done", "nothing", "no new sheet")


def test_a_fault_of_the_package_fails_the_run_with_its_words(bench: Bench) -> None:
    found = bench.ended(bench.start(FAULTY))
    assert found.state == "failed"
    assert "the list has no column pH" in found.reason
    assert "SystemExit" in found.steps[0].fault


def test_a_file_given_as_input_is_read_on_the_host(bench: Bench) -> None:
    client = bench.one.session("Sol Marin")
    kept = client.post("/routines/input-files", files={"file": ("week.csv", b"meter,now\nMD-1,7\nMD-2,9\n")})
    manifest = 'name = "reads"\nversion = "1.0.0"\nentry = "main.py"\n[inputs.list]\ntype = "string"\nformat = "file"\nrequired = true\n'
    builder = bench.one.session("Jonas Lindqvist")
    zipped = package(code=READS, manifest=manifest.replace("{", "{{").replace("}", "}}"))
    release = builder.post("/releases", files={"file": ("p.zip", zipped)}, data={"note": "First"}).json()[
        "id"
    ]
    routine = bench.world.routine("Reads", release, inputs={"list": kept.json()["value"]})
    run = bench.world.start(routine, "reads")
    found = bench.ended(run)
    assert (found.state, found.outputs) == ("done", {"rows": 2})
    assert set(bench.log(run)) == {"2 rows, first MD-1", "plain words"}
    client.close()
    builder.close()


def descendants(pid: int) -> list[int]:
    return [child.pid for child in psutil.Process(pid).children(recursive=True)]


def running(bench: Bench, run: int) -> None:
    wait_for(lambda: "begun" in bench.log(run))


def test_cancelling_ends_the_package(bench: Bench) -> None:
    run = bench.start(SLOW)
    running(bench, run)
    runs.cancel(bench.world.ctx("Sol Marin"), run)
    found = bench.ended(run)
    assert (found.state, found.counts) == ("cancelled", {"rows": "2"})


def test_a_runner_killed_in_mid_run_loses_it_when_the_lease_ends(bench: Bench) -> None:
    sol = bench.world.ctx("Sol Marin")
    made = robots.add_host(sol, "Sluice", 1)
    area = areas.add_area(sol, "Laboratory", None)
    robots.add_robot(sol, robots.Given("Heron 1", made.id, [], [area]))
    runner = bench.one.runner(made.code, "sluice")
    run = bench.start(SLOW, area_id=area, lease_minutes=1)
    running(bench, run)
    packages = descendants(runner.pid)
    runner.send_signal(signal.SIGKILL)
    runner.wait()
    wait_for(lambda: not any(psutil.pid_exists(pid) for pid in packages))
    # The lease is brought near its end; what follows is the engine's own doing.
    bench.world.db.transact(
        lambda tx: tx.execute(
            "UPDATE run SET lease_until = %(now)s WHERE id = %(r)s", {"now": read_clock(), "r": run}
        )
    )
    found = bench.ended(run)
    assert found.state == "lost"
    assert "Sluice did not renew the lease" in found.reason


PAUSES = """
import time
import tallyman_kit as job
for n in range(job.saved.get("next", 0), 3):
    with job.step(f"Item {n}"):
        job.log(f"item {n} begun")
    while n == 1 and not job.saved:
        job.checkpoint(next=n + 1, seen=job.saved.get("seen", []) + ["first"])
        time.sleep(0.05)
job.count("rows", 3)
job.output(rows=len(job.saved.get("seen", [])))
"""
CHECKPOINTS = 'name = "pauses"\nversion = "{version}"\nentry = "main.py"\ncheckpoints = true\n[outputs.rows]\ntype = "integer"\n'


def test_a_run_is_paused_and_goes_on_with_its_saved_state(bench: Bench) -> None:
    builder = bench.one.session("Jonas Lindqvist")
    zipped = package(code=PAUSES, manifest=CHECKPOINTS)
    release = builder.post("/releases", files={"file": ("p.zip", zipped)}, data={"note": "First"}).json()[
        "id"
    ]
    builder.close()
    operator = bench.one.session("Sol Marin")
    run = bench.world.start(bench.world.routine("Pauses", release), "pauses")
    wait_for(lambda: "item 1 begun" in bench.log(run))
    assert bench.run(run).may.pause
    assert operator.post(f"/runs/{run}/pause").status_code == 200
    held = bench.ended(run, "held")
    assert held.reason == "paused at a checkpoint; its state is saved"
    assert [one.ended_as for one in held.segments] == ["held"]
    assert bench.world.rows("SELECT 1 FROM slot WHERE run_id = %(r)s", r=run) == []
    assert operator.post(f"/runs/{run}/continue").status_code == 200
    operator.close()
    found = bench.ended(run)
    assert (found.state, found.outputs, found.counts) == ("done", {"rows": 1}, {"rows": "3"})
    assert [one.ended_as for one in found.segments] == ["held", "done"]
    assert [step.name for step in found.steps] == ["Item 0", "Item 1", "Item 2"]
    assert (
        len(bench.world.rows("SELECT run_id FROM run_report WHERE run_id = %(r)s AND fence = 2", r=run)) > 0
    )


def test_a_runner_that_comes_back_delivers_what_the_killed_one_left(bench: Bench) -> None:
    sol = bench.world.ctx("Sol Marin")
    made = robots.add_host(sol, "Culvert", 1)
    area = areas.add_area(sol, "Fleet", None)
    robots.add_robot(sol, robots.Given("Otter", made.id, [], [area]))
    runner = bench.one.runner(made.code, "culvert")
    run = bench.start(SLOW, area_id=area)
    running(bench, run)
    runner.send_signal(signal.SIGKILL)
    runner.wait()
    bench.one.runner(None, "culvert")
    found = bench.ended(run)
    assert (found.state, found.reason) == (
        "failed",
        "the runner was stopped on its host while the package ran",
    )
    assert "begun" in bench.log(run)


def test_without_a_network_the_package_works_on_and_all_is_told_afterwards(bench: Bench) -> None:
    sol = bench.world.ctx("Sol Marin")
    made = robots.add_host(sol, "Penstock", 1)
    area = areas.add_area(sol, "Treatment", None)
    robots.add_robot(sol, robots.Given("Grebe", made.id, [], [area]))
    proxy = Proxy(lambda: bench.one.port)
    runner = bench.one.runner(made.code, "penstock", f"http://127.0.0.1:{proxy.port}")
    mark = bench.one.folder / "go on"
    code = f"""
import os, time
import tallyman_kit as job
job.log("begun")
while not os.path.exists({str(mark)!r}):
    time.sleep(0.05)
job.log("ended without a network")
job.count("rows", 5)
"""
    run = bench.start(code, area_id=area)
    running(bench, run)
    proxy.cut.set()
    proxy.drop()
    mark.touch()
    spool = bench.one.folder / "penstock" / "spool" / f"{run}-1"
    try:
        wait_for((spool / "outcome.json").exists, 20)
    except AssertionError:
        kept = sorted(str(path.relative_to(bench.one.folder)) for path in bench.one.folder.rglob("*"))
        row = bench.world.row("SELECT * FROM run WHERE id = %(r)s", r=run)
        runner.terminate()
        assert runner.stdout is not None
        raise AssertionError(f"{kept}\n{row}\n{bench.log(run)}\n{runner.stdout.read()}") from None
    assert bench.run(run).state == "running"
    proxy.cut.clear()
    found = bench.ended(run)
    assert (found.state, found.counts) == ("done", {"rows": "5"})
    assert "ended without a network" in bench.log(run)
    wait_for(lambda: not spool.exists())
    runner.terminate()
    runner.wait(timeout=patience(20))
    proxy.end()


def test_the_event_stream_hints_at_changes(bench: Bench) -> None:
    client = bench.one.session("Sol Marin")
    with client.stream("GET", "/events") as stream:
        lines = stream.iter_lines()
        assert next(line for line in lines if line) == "event: open"
        run = bench.start(IDLE)
        for line in lines:
            if line.startswith("data:") and json.loads(line[5:]) == {"subject": "runs", "id": run}:
                break
    client.close()
    bench.ended(run)
