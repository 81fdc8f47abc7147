"""Packages that try to break out, and what a killed keeper leaves behind."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import stat
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil
import pytest

from tallyman.formats.redact import Redactor
from tallyman.runner import execute, measure, remains
from tallyman.runner.accounts import FIRST, LAST, Accounts, CannotUse
from tallyman.runner.groups import BY_KERNEL, WATCHED, Groups
from tallyman.runner.lines import lines_of
from tallyman.runner.places import can_be_passed
from tallyman.runner.sane import Reports
from tests.engine.runner_world import Bench, bench
from tests.serving import wait_for
from tests.world import package

__all__ = ["bench"]
root_only = pytest.mark.skipif(os.geteuid() != 0, reason="only root gives packages accounts of their own")

LOOKS = """
import json, os, pathlib
import tallyman_kit as job
found = {}
for path in json.loads(PATHS):
    try:
        data = os.listdir(path) if os.path.isdir(path) else open(path).read(10)
        found[path] = "read"
    except OSError as error:
        found[path] = type(error).__name__
for path in json.loads(PATHS):
    try:
        with open(path, "a"):
            found[path + " w"] = "written"
    except OSError as error:
        found[path + " w"] = type(error).__name__
job.output(uid=os.getuid(), gid=os.getgid(), groups=os.getgroups(), found=found)
"""


@root_only
def test_without_an_account_named_a_package_works_under_one_of_its_robots_own(bench: Bench) -> None:
    secret = bench.folder / "runner.json"
    secret.write_text("token")
    secret.chmod(0o600)
    (bench.folder / "spool" / "9-1").mkdir(parents=True)
    (bench.folder / "spool" / "9-1" / "work.json").write_text("{}")
    paths = [
        str(secret),
        str(bench.folder / "spool"),
        str(bench.folder / "spool" / "9-1" / "work.json"),
        "/etc/shadow",
    ]
    code = f"PATHS = {json.dumps(json.dumps(paths))}\n{LOOKS}"
    found = bench.go(package(code=code), robot_id=7)["outputs"]
    assert FIRST <= found["uid"] <= LAST
    assert found["uid"] == found["gid"]
    assert set(found["groups"]) <= {found["gid"]}
    assert set(found["found"].values()) <= {"PermissionError", "IsADirectoryError"}, found
    # Each robot has its own, the same at each start.
    again = bench.go(package(code=code), robot_id=7)["outputs"]
    other = bench.go(package(code=code), robot_id=8)["outputs"]
    assert again["uid"] == found["uid"] != other["uid"]


def test_a_runner_that_may_not_change_accounts_refuses_to_run_packages_as_itself(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 1234)
    accounts = Accounts(Path("/nowhere"))
    assert "packages do not work as the runner itself" in accounts.fault("")
    with pytest.raises(CannotUse, match="--as-myself"):
        accounts.of("", 1)
    told = Accounts(Path("/nowhere"), as_runner=True)
    assert told.of("", 1).is_runner


@root_only
def test_a_package_told_to_work_as_the_runner_says_so_in_its_log(bench: Bench) -> None:
    bench.as_runner = True
    found = bench.go(package(code="import os\nimport tallyman_kit as job\njob.output(uid=os.getuid())"))
    assert found["outputs"]["uid"] == 0
    assert any("works as the runner itself" in line for line in bench.lines)


def test_nobody_else_reads_what_is_to_be_told(bench: Bench) -> None:
    bench.job(package()).go()
    for path in (bench.folder / "spool").rglob("*"):
        assert stat.S_IMODE(path.stat().st_mode) & 0o077 == 0, path
    assert stat.S_IMODE((bench.folder / "spool").stat().st_mode) == 0o700


CONTROL = """
import os, shutil, sys
import tallyman_kit as job
control = os.environ["TALLYMAN_CONTROL"]
{trick}
job._tell("held", why="saved")
"""
TRICKS = {
    "the folder replaced by a link": """
try:
    os.rename(control, control + "-away")
    os.symlink({secret!r}, control)
except OSError as error:
    job.log(f"refused: {{error}}")
""",
    "a link in place of the state": "os.symlink({secret!r} + '/state.json', control + '/state.json')",
    "another's file as the state": """
try:
    os.link({secret!r} + '/state.json', control + '/state.json')
except OSError as error:
    job.log(f"refused: {{error}}")
""",
    "a pipe as the state": "os.mkfifo(control + '/state.json')",
    "a folder as the state": "os.mkdir(control + '/state.json')",
    "a state without end": """
with open(control + '/state.json', 'w') as f:
    f.truncate(30_000_000)
""",
}


@pytest.mark.parametrize("trick", TRICKS.values(), ids=TRICKS)
def test_the_runner_follows_nothing_that_a_package_lays(bench: Bench, trick: str) -> None:
    secret = bench.folder / "secrets-of-root"
    secret.mkdir(mode=0o755)
    (secret / "state.json").write_text('{"secret": "of root"}')
    code = CONTROL.format(trick=trick.format(secret=str(secret)))
    found = bench.go(package(code=code))
    assert found["state"] == "failed"
    assert "saved state cannot be read" in found["reason"]
    assert "of root" not in json.dumps(found)
    assert not list((bench.folder / "spool").rglob("state.json"))


def test_a_pause_writes_nowhere_but_in_its_folder(bench: Bench) -> None:
    target = bench.folder / "written"
    code = f"""
import os, time
import tallyman_kit as job
os.symlink({str(target)!r}, os.environ["TALLYMAN_CONTROL"] + "/pause")
job.log("begun")
time.sleep(2)
"""
    job = bench.job(package(code=code))
    threading.Timer(1.0, job.paused.set).start()
    job.go()
    assert not target.exists()
    assert bench.outcome["state"] == "done"


def test_output_without_a_line_break_is_bounded_in_memory(bench: Bench) -> None:
    process = psutil.Process()
    before, most = process.memory_info().rss, [0]
    ended = threading.Event()

    def look() -> None:
        while not ended.wait(0.02):
            most[0] = max(most[0], process.memory_info().rss - before)

    thread = threading.Thread(target=look)
    thread.start()
    code = """
import os, sys
piece = "x" * 1_000_000
for _ in range(400):
    sys.stdout.write(piece)
report = os.fdopen(int(os.environ["TALLYMAN_REPORT"]), "w")
for _ in range(400):
    report.write(piece)
"""
    found = bench.go(package(code=code))
    ended.set()
    thread.join()
    assert found["state"] == "done"
    assert most[0] < 100_000_000
    assert any("the rest of the line is not kept" in line for line in bench.lines)
    assert any("a report of more than" in line for line in bench.lines)


TREE = """
import os, time
import tallyman_kit as job
if os.fork() == 0:
    os.setsid()
    if os.fork() == 0:
        time.sleep(600)
    time.sleep(600)
job.log("begun")
time.sleep(600)
"""


def working(folder: Path) -> list[psutil.Process]:
    """The processes of a package, by the folder that it was given."""
    found = []
    for process in psutil.process_iter():
        with contextlib.suppress(psutil.Error):
            in_folder = process.environ().get("TALLYMAN_CONTROL", "").startswith(str(folder / "work"))
            if in_folder and process.status() != psutil.STATUS_ZOMBIE:
                found.append(process)
    return found


def keepers_of(process: psutil.Process) -> list[psutil.Process]:
    return [one for one in process.children() if "keeper.py" in " ".join(one.cmdline())]


RUNS_ONE = """
import json, sys
from pathlib import Path
from tallyman.runner import remains
from tests.engine.runner_world import Bench
from tests.engine.test_hostile import TREE
from tests.world import package
remains.begin()
bench = Bench(Path(sys.argv[1]))
print(json.dumps(bench.go(package(code=TREE))), flush=True)
"""


@pytest.fixture
def one(bench: Bench) -> Iterator[Any]:
    """A runner's process of its own, at work on a package with detached children."""
    process = subprocess.Popen(
        [sys.executable, "-c", RUNS_ONE, str(bench.folder)], stdout=subprocess.PIPE, text=True
    )
    wait_for(lambda: len(working(bench.folder)) == 3)
    yield bench, process
    process.kill()
    process.wait()
    assert process.stdout is not None
    process.stdout.close()


def test_a_killed_keeper_takes_the_package_and_all_it_started_with_it(one: Any) -> None:
    bench, process = one
    keeper = wait_for(lambda: keepers_of(psutil.Process(process.pid)))[0]
    keeper.send_signal(signal.SIGKILL)
    wait_for(lambda: not working(bench.folder), 10)
    found = json.loads(process.stdout.readline())
    assert found["state"] == "failed"


def test_what_a_killed_runner_and_keeper_left_is_ended_at_the_next_start(one: Any) -> None:
    bench, process = one
    keeper = wait_for(lambda: keepers_of(psutil.Process(process.pid)))[0]
    process.send_signal(signal.SIGKILL)
    keeper.send_signal(signal.SIGKILL)
    process.wait()
    remains.end_former(bench.folder / "work")
    Accounts(bench.folder, False, bench.folder / "accounts.json").end_all()
    wait_for(lambda: not working(bench.folder), 10)


@root_only
def test_a_package_gains_no_rights_and_bounds_hold(bench: Bench) -> None:
    code = """
import os, resource, subprocess
import tallyman_kit as job
status = open("/proc/self/status").read()
kinds = {"core": resource.RLIMIT_CORE, "files": resource.RLIMIT_NOFILE, "size": resource.RLIMIT_FSIZE, "processes": resource.RLIMIT_NPROC}
job.output(new=[line.split()[1] for line in status.splitlines() if line.startswith("NoNewPrivs")], **{name: resource.getrlimit(kind)[1] for name, kind in kinds.items()})
"""
    found = bench.go(package(code=code))["outputs"]
    assert found == {"new": ["1"], "core": 0, "files": 1024, "size": 2_000_000_000, "processes": 256}


def test_too_much_on_the_disk_ends_the_package(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(measure, "MOST_DISK_BYTES", 50_000_000)
    monkeypatch.setattr(execute, "DISK_LOOK_SECONDS", 0.1)
    code = """
import os, time
for n in range(100):
    with open(os.environ["HOME"] + f"/{n}", "wb") as f:
        f.write(b"x" * 5_000_000)
    time.sleep(0.05)
time.sleep(60)
"""
    assert "wrote more than" in bench.go(package(code=code))["reason"]


def test_kernel_groups_hold_memory_processes_and_cpu(tmp_path: Path) -> None:
    """On a folder laid out as the kernel would: what is written where."""
    (tmp_path / "cgroup.controllers").write_text("cpu memory pids")
    base = tmp_path / "unit"
    base.mkdir()
    groups = Groups(tmp_path, "/unit")
    assert groups.words == BY_KERNEL
    assert (base / "cgroup.subtree_control").read_text() == "+memory +pids +cpu"
    group = groups.make("1-1", 64)
    assert group is not None
    group.take_in(4711)
    kept = {path.name: path.read_text() for path in group.path.iterdir()}
    assert kept == {
        "memory.max": "64000000",
        "pids.max": "256",
        "cpu.max": "200000 100000",
        "cgroup.procs": "4711",
    }
    assert Groups(tmp_path / "none").words == WATCHED


def test_folders_that_others_may_not_pass_are_told_apart(tmp_path: Path, bench: Bench) -> None:
    assert can_be_passed(bench.folder)
    closed = bench.folder / "closed"
    closed.mkdir(mode=0o700)
    assert not can_be_passed(closed / "state")


def test_lines_are_whole_cut_or_last() -> None:
    class Pipe:
        def __init__(self, pieces: list[bytes]) -> None:
            self.pieces = pieces

        def read1(self, _: int) -> bytes:
            return self.pieces.pop(0) if self.pieces else b""

    pieces = [b"one\ntw", b"o\r\n", b"x" * 30, b"y" * 30 + b"\nthree\n", b"\xff\xfe", b" last"]
    pipe: Any = Pipe(pieces)
    found = list(lines_of(pipe, 10))
    assert found == [
        ("one", True),
        ("two", True),
        ("x" * 10, False),
        ("three", True),
        ("\ufffd\ufffd last", True),
    ]


def test_what_a_package_reports_is_made_sane_and_said() -> None:
    reports = Reports(Redactor(["otter-word"]))
    step = reports.step(
        {
            "n": 3,
            "name": "x" * 900,
            "started_at": "soon",
            "data_in": {"a": float("nan"), "otter-word": "\ud800"},
        },
        "2026-03-10T09:00:00+00:00",
    )
    assert step is not None
    assert len(step["name"]) == 200
    assert step["started_at"] == "2026-03-10T09:00:00+00:00"
    assert step["data_in"] == {"a": None, "•••": "\ufffd"}
    assert len(reports.notes()) == 3
    assert reports.notes() == []
    assert reports.step({"n": 10**9, "name": "x"}, "") is None
    assert reports.step({"n": True, "name": "x"}, "") is None
    assert reports.count({"name": "otter-word", "number": "2"})[0] == "•••"
