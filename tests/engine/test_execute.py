from __future__ import annotations

import hashlib
import io
import json
import os
import pwd
import threading
import zipfile
from pathlib import Path

import psutil
import pytest

from tallyman.formats.package_zip import pack
from tallyman.runner.accounts import Accounts
from tallyman.runner.surroundings import Surroundings
from tests.engine.runner_world import STUBBORN, Bench, bench
from tests.serving import wait_for
from tests.world import MANIFEST, package

__all__ = ["bench"]
NOBODY = "nobody"
root_only = pytest.mark.skipif(os.geteuid() != 0, reason="only root can change to another account")


def test_the_time_limit_asks_then_kills_and_keeps_the_counts(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tallyman.runner.execute.CLEAN_END_SECONDS", 0.5)
    found = bench.go(package(code=STUBBORN), limit_seconds=3)
    assert (found["state"], found["counts"]) == ("failed", {"rows": "2"})
    assert "time limit" in found["reason"]
    assert any("asked to end, then killed" in line for line in bench.lines)
    assert not (bench.folder / "work" / "1-1").exists()


def test_a_package_hears_the_signal_and_can_end_cleanly(bench: Bench) -> None:
    code = """
import signal, sys, time
import tallyman_kit as job
def end(*_):
    job.output(rows=1)
    sys.exit("put away")
signal.signal(signal.SIGTERM, end)
job.log("begun")
time.sleep(600)
"""
    job = bench.job(package(code=code))
    working = threading.Thread(target=job.go)
    working.start()
    # Not before the package listens: until then the signal ends it as it ends any program.
    wait_for(lambda: "begun" in bench.lines)
    job.cancelled.set()
    working.join(timeout=30)
    assert (bench.outcome["state"], bench.outcome["outputs"]) == ("cancelled", {"rows": 1})


def test_a_package_is_ended_when_its_lease_runs_out(bench: Bench) -> None:
    found = bench.go(package(code=STUBBORN), lease_seconds=1)
    assert "could not renew the lease" in found["reason"]


def test_a_renewed_lease_counts_from_when_it_was_asked_for(bench: Bench) -> None:
    job = bench.job(package(), lease_seconds=60)
    job.renewed(1000.0)
    assert job.lease_ends == 1060.0


@pytest.mark.parametrize(
    ("sign", "words"), [("dropped", "gave the run to another"), ("stopped", "runner was stopped")]
)
def test_a_package_is_ended_when_the_server_or_the_host_wants_it_no_more(
    bench: Bench, sign: str, words: str
) -> None:
    job = bench.job(package(code=STUBBORN))
    getattr(job, sign).set()
    job.go()
    assert bench.outcome["state"] == "failed"
    assert words in bench.outcome["reason"]


def test_a_package_that_arrives_damaged_fails_the_run(bench: Bench) -> None:
    assert "changed after its release" in bench.go(package(), digest="0" * 64)["reason"]


DETACHED = """
import os, sys, time
import tallyman_kit as job
if os.fork() == 0:
    os.setsid()
    if os.fork() == 0:
        open(os.environ["HOME"] + "/detached", "w").write(str(os.getpid()))
        time.sleep(600)
    os._exit(0)
while not os.path.exists(os.environ["HOME"] + "/detached"):
    time.sleep(0.01)
job.output(rows=int(open(os.environ["HOME"] + "/detached").read()))
{end}
"""


def test_what_a_package_started_and_left_behind_ends_with_it(bench: Bench) -> None:
    found = bench.go(package(code=DETACHED.format(end="")))
    assert found["state"] == "done"
    assert not psutil.pid_exists(found["outputs"]["rows"])


def test_the_whole_tree_is_killed(bench: Bench) -> None:
    found = bench.go(package(code=DETACHED.format(end="time.sleep(600)")), lease_seconds=4)
    assert found["state"] == "failed"
    assert not psutil.pid_exists(found["outputs"]["rows"])


def test_too_much_memory_ends_the_package(bench: Bench) -> None:
    code = "import time\nheld = bytearray(200_000_000)\ntime.sleep(600)\n"
    assert "more than 64 MB of memory" in bench.go(package(code=code), memory_mb=64)["reason"]


def test_a_log_without_end_is_cut_and_says_so(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tallyman.runner.execute.MOST_LINES", 50)
    found = bench.go(package(code="for n in range(5000):\n    print(n)\n"))
    assert found["state"] == "done"
    assert len(bench.lines) == 51
    assert "the log is full" in bench.lines[-1]


def test_outputs_without_measure_fail_the_run(bench: Bench) -> None:
    code = "import tallyman_kit as job\njob.output(rows='x' * 1_100_000)\n"
    assert "outputs are larger" in bench.go(package(code=code))["reason"]


def test_secrets_of_the_runner_leave_the_host_nowhere(bench: Bench) -> None:
    code = """
import sys
import tallyman_kit as job
key = "key-of-" + "the-runner"
print("plain", key)
with job.step("Step " + key, key=key):
    job.log("said " + key)
job.output(**{key: [key]})
sys.exit("ended by " + key)
"""
    found = bench.go(package(code=code))
    told = json.dumps([found, bench.reports])
    assert "key-of-the-runner" not in told
    assert "ended by •••" in found["reason"]


def test_a_package_sees_nothing_of_the_runners_own_environment(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("TALLYMAN_DB_PASSWORD", "very-secret")
    code = """
import os
import tallyman_kit as job
try:
    import httpx
    found = "httpx"
except ImportError:
    found = "nothing"
job.output(found=found, names=sorted(name for name in os.environ if "PASSWORD" in name))
"""
    assert bench.go(package(code=code))["outputs"] == {"found": "nothing", "names": []}


def wheel(
    name: str = "valvemath", version: str = "1.2.0", code: str = "def half(n):\n    return n // 2\n"
) -> bytes:
    out = io.BytesIO()
    info = f"{name}-{version}.dist-info"
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr(f"{name}.py", code)
        archive.writestr(f"{info}/METADATA", f"Metadata-Version: 2.1\nName: {name}\nVersion: {version}\n")
        archive.writestr(
            f"{info}/WHEEL", "Wheel-Version: 1.0\nGenerator: x\nRoot-Is-Purelib: true\nTag: py3-none-any\n"
        )
        archive.writestr(f"{info}/RECORD", "")
    return out.getvalue()


def requiring(digest: str, code: str) -> bytes:
    files = {
        "package.toml": MANIFEST.format(version="1.0.0", tags=""),
        "main.py": code,
        "requirements.txt": f"valvemath==1.2.0 --hash=sha256:{digest}\n",
    }
    return pack({name: text.encode() for name, text in files.items()})


USES = "import tallyman_kit as job\nimport valvemath\njob.output(rows=valvemath.half(8))\n"


def test_a_package_gets_what_it_requires_from_the_kept_wheels_and_once(bench: Bench) -> None:
    made = wheel()
    digest = hashlib.sha256(made).hexdigest()
    wheels = [{"name": "valvemath-1.2.0-py3-none-any.whl", "digest": digest}]
    data = requiring(digest, USES)
    assert bench.go(data, made, wheels=wheels)["outputs"] == {"rows": 4}
    kept = [path for path in (bench.folder / "environments").iterdir() if not path.name.startswith(".")]
    assert len(kept) == 1
    # The second time nothing is fetched: the wheel is not even there any more.
    assert bench.go(data, wheels=wheels)["outputs"] == {"rows": 4}


def test_a_wheel_with_another_content_is_not_installed(bench: Bench) -> None:
    made, other = wheel(), wheel(code="print('not what was reviewed')\n")
    listed = hashlib.sha256(made).hexdigest()
    wheels = [{"name": "valvemath-1.2.0-py3-none-any.whl", "digest": hashlib.sha256(other).hexdigest()}]
    found = bench.go(requiring(listed, USES), other, wheels=wheels)
    assert found["state"] == "failed"
    assert "requirements cannot be installed" in found["reason"]
    assert not [path for path in (bench.folder / "environments").iterdir() if not path.name.startswith(".")]


@root_only
def test_a_package_works_under_its_run_as_account_and_cannot_see_the_runners_token(bench: Bench) -> None:
    token = bench.folder / "runner.json"
    token.touch(mode=0o600)
    code = f"""
import os, pathlib
import tallyman_kit as job
pathlib.Path("made-here").write_text("x")
try:
    pathlib.Path({str(token)!r}).read_text()
    read = "read"
except PermissionError:
    read = "refused"
job.output(uid=os.getuid(), groups=os.getgroups(), read=read)
"""
    found = bench.go(package(code=code), account=NOBODY)
    entry = pwd.getpwnam(NOBODY)
    assert found["outputs"]["uid"] == entry.pw_uid
    assert 0 not in found["outputs"]["groups"]
    assert found["outputs"]["read"] == "refused"
    assert not (bench.folder / "work" / "1-1").exists()


def test_an_account_that_is_not_there_fails_the_run_and_says_so(bench: Bench) -> None:
    found = bench.go(package(), account="nobody-of-that-name")
    assert found["state"] == "failed"
    assert "no account nobody-of-that-name" in found["reason"]


@root_only
def test_packages_do_not_work_as_root_unless_the_runner_itself_does() -> None:
    assert Accounts().fault("") == ""
    assert Accounts().fault(NOBODY) == ""


SAVES = """
import os, pathlib, time
import tallyman_kit as job
while True:
    {before}
    job.checkpoint(next=7)
    time.sleep(0.01)
"""


def paused(bench: Bench, before: str = "pass") -> dict[str, object]:
    job = bench.job(package(code=SAVES.format(before=before)))
    job.paused.set()
    job.go()
    return bench.outcome


def test_a_pause_saves_the_state_beside_the_outcome(bench: Bench) -> None:
    assert paused(bench)["state"] == "held"
    assert json.loads((bench.folder / "spool/1-1/state.json").read_text()) == {"next": 7}


def test_a_state_that_is_a_link_is_not_followed(bench: Bench) -> None:
    secret = bench.folder / "secret"
    secret.write_text("not yours")
    link = f"""
    folder = pathlib.Path(os.environ["TALLYMAN_CONTROL"])
    if (folder / "pause").exists():
        (folder / "state.json").symlink_to({str(secret)!r})
        job._tell("held", why="")
        raise SystemExit(0)
"""
    found = paused(bench, link.strip())
    assert found["state"] == "failed"
    assert "saved state cannot be read" in str(found["reason"])
    assert not (bench.folder / "spool/1-1/state.json").exists()


def test_the_next_segment_gets_the_saved_state_and_numbers_its_steps_anew(bench: Bench) -> None:
    state = b'{"next": 7}'
    code = "import tallyman_kit as job\nwith job.step('On'):\n    job.output(rows=job.saved['next'])\n"
    found = bench.go(package(code=code), state, saved=hashlib.sha256(state).hexdigest(), segment=3)
    assert found["outputs"] == {"rows": 7}
    assert bench.reports[0]["steps"][0]["n"] == 2001


def test_with_a_full_disk_the_log_is_told_from_memory(bench: Bench) -> None:
    full = bench.folder / "full"
    bench.surroundings = Surroundings(full_file=str(full))
    job = bench.job(package(code=STUBBORN), lease_seconds=2)
    thread = threading.Thread(target=job.go)
    thread.start()
    wait_for((bench.folder / "work/1-1/inputs.json").exists)
    full.touch()
    thread.join()
    kind, report = job.spool.next(0) or ("", {})
    assert kind == "report"
    assert report["lines"]
    while (job.spool.next(0) or ("", {}))[0] == "report":
        job.spool.told()
    assert job.spool.next(0) == ("outcome", job.spool._outcome)


def test_a_disk_that_is_full_at_the_start_fails_the_run_in_words(bench: Bench) -> None:
    full = bench.folder / "full"
    full.touch()
    bench.surroundings = Surroundings(full_file=str(full))
    job = bench.job(package())
    job.go()
    assert "No space left" in (job.spool._outcome or {})["reason"]


def test_the_clock_of_the_runner_can_be_skewed(bench: Bench) -> None:
    bench.surroundings = Surroundings(skew_seconds=86_400 * 400)
    bench.go(package(code="print('x')\n"))
    assert bench.reports[0]["lines"][0]["at"][:4] > Surroundings().now()[:4]


def test_what_is_to_be_told_survives_the_runner(bench: Bench, tmp_path: Path) -> None:
    from tallyman.runner.spool import Spool

    folder = tmp_path / "7-2"
    first = Spool(folder, Surroundings())
    first.begin({"run": 7, "fence": 2})
    for n in range(3):
        first.add([{"text": str(n)}], [])
    first.told()
    second = Spool(folder, Surroundings())
    assert second.work == {"run": 7, "fence": 2}
    assert not second.has_outcome
    second.end({"state": "failed"})
    told = []
    while (found := second.next(0)) is not None and found[0] == "report":
        told.append(found[1]["seq"])
        second.told()
    assert told == [2, 3]
    assert Spool(folder, Surroundings()).has_outcome
    second.add([], [])
    assert second.next(0) == ("report", {"seq": 4, "lines": [], "steps": []})


def test_a_package_gets_its_secrets_and_they_leave_the_host_in_nothing(bench: Bench) -> None:
    code = """
import os
import tallyman_kit as job
word = job.secret("billing-login")
job.log("signed in with " + word)
job.output(length=len(word), word=word)
try:
    job.secret("another")
except KeyError:
    job.log("no other secret is given")
"""
    found = bench.go(package(code=code), secrets=["billing-login"])
    assert found["outputs"]["length"] == len("otter-in-the-reeds")
    assert bench.lines == ["signed in with •••", "no other secret is given"]
    assert "otter-in-the-reeds" not in json.dumps([found, bench.reports])
    assert not list(bench.folder.rglob("secrets.json"))


def test_what_is_no_secret_stays_in_what_a_run_says(bench: Bench) -> None:
    code = """
import tallyman_kit as job
job.log("15 rows, at most " + job.secret("at-most") + "5; " + job.secret("billing-login"))
"""
    found = bench.go(package(code=code), secrets=["billing-login", "at-most"])
    assert found["state"] == "done"
    assert bench.lines == ["15 rows, at most 55; •••"]
