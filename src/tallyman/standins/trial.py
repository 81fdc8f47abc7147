"""Tries any runner against the protocol (docs/runner-protocol.md): a scripted server and its verdicts.

Started with the command of a runner, it plays server for it: gives it runs, loses answers, is away,
cancels, pauses, sends damaged files, and says of each point whether the runner kept to it.
"""

from __future__ import annotations

import hashlib
import json
import re
import subprocess
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from itertools import pairwise
from pathlib import Path
from typing import Any

from tallyman.standins.trial_packages import FAILS, GOES_ON, POISON, READS, WAITS, WORKS, pack

PREFIX = "/api/v1/runner"
CODE = "TRIAL-CODE"
TOKEN = "token-of-the-trial"
PATIENCE = 45.0
# Long enough that a package begins within it on a machine with much else to do.
LEASE = 15


@dataclass
class Told:
    """What the runner said of one run, with the time of each call."""

    reports: list[tuple[float, dict[str, Any]]] = field(default_factory=list)
    outcomes: list[tuple[float, dict[str, Any]]] = field(default_factory=list)
    begun: list[float] = field(default_factory=list)
    back: list[float] = field(default_factory=list)

    @property
    def text(self) -> str:
        """Every log line."""
        return "\n".join(line["text"] for _, report in self.reports for line in report.get("lines", []))


@dataclass(frozen=True)
class Verdict:
    """One point of the protocol, and whether the runner kept to it."""

    point: str
    kept: bool
    fact: str = ""


class Script:
    """The server's side: what it gives, how it misbehaves, what it was told."""

    def __init__(self) -> None:
        self.lock = threading.Condition()
        self.files: dict[str, bytes] = {}
        self.damaged: set[str] = set()
        self.waiting: list[dict[str, Any]] = []
        self.told: dict[int, Told] = {}
        self.beats: list[tuple[float, dict[str, Any]]] = []
        self.connects: list[dict[str, Any]] = []
        self.strangers: list[str] = []
        self.uploads: dict[str, bytes] = {}
        self.lose_reports = 0
        self.away_reports = 0
        self.beats_fail = False
        self.cancel: set[int] = set()
        self.pause: set[int] = set()
        self.not_current: set[int] = set()
        self.taken_back: set[int] = set()
        # Runs whose reports or outcome the server refuses for good.
        self.refuse: dict[int, str] = {}

    def give(self, run: int, code: str, *, fence: int = 1, damaged: bool = False, **more: Any) -> Told:
        """Makes a run that the runner gets on its next call for work."""
        data = pack(code)
        digest = hashlib.sha256(data).hexdigest()
        self.files[digest] = data
        if damaged:
            self.damaged.add(digest)
        work = {
            "run": run,
            "fence": fence,
            "segment": fence,
            "robot": "Dipper",
            "robot_id": 1,
            "account": "",
            "package": "trial",
            "version": "1.0.0",
            "entry": "main.py",
            "digest": digest,
            "wheels": [],
            "saved": None,
            "inputs": {},
            "input_schema": {"type": "object", "properties": {}},
            "limit_seconds": 300,
            "lease_seconds": 300,
            "memory_mb": 500,
            "secrets": [],
            **more,
        }
        with self.lock:
            self.told.setdefault(run, Told())
            self.waiting.append(work)
            self.lock.notify_all()
        return self.told[run]

    def answer(self, method: str, path: str, body: bytes) -> tuple[int, Any]:
        """The answer to one call: status, and JSON or bytes."""
        now = time.monotonic()
        if found := re.fullmatch(r"/runs/(\d+)/(report|outcome)", path):
            return self._about(int(found[1]), found[2], json.loads(body), now)
        if found := re.fullmatch(r"/runs/(\d+)/(begin|back)", path):
            return self._begin(int(found[1]), found[2])
        if path == "/connect":
            self.connects.append(json.loads(body))
            return 201, {"host": "Trial", "token": TOKEN}
        if path == "/heartbeat":
            return self._beat(json.loads(body), now)
        if path == "/work":
            with self.lock:
                self.lock.wait_for(lambda: bool(self.waiting), timeout=2)
                return (200, self.waiting.pop(0)) if self.waiting else (204, None)
        if found := re.fullmatch(r"/files/([0-9a-f]{64})", path):
            data = self.files.get(found[1])
            return (404, {}) if data is None else (200, data[::-1] if found[1] in self.damaged else data)
        return self._upload(method, path, body)

    def _begin(self, run: int, what: str) -> tuple[int, Any]:
        """A claim is confirmed, or given back; one that was taken back meanwhile is refused."""
        told = self.told.setdefault(run, Told())
        (told.begun if what == "begin" else told.back).append(time.monotonic())
        return (404, {"detail": "taken back"}) if run in self.taken_back else (200, {"ok": True})

    def _upload(self, method: str, path: str, body: bytes) -> tuple[int, Any]:
        if path == "/uploads" and method == "POST":
            return 200, {"have": len(self.uploads.setdefault(json.loads(body)["digest"], b""))}
        if found := re.fullmatch(r"/uploads/([0-9a-f]{64})\?offset=(\d+)", path):
            have = self.uploads.get(found[1], b"")
            if int(found[2]) != len(have):
                return 409, {"more": {"have": len(have)}}
            self.uploads[found[1]] = self.files[found[1]] = have + body
            return 200, {"have": len(self.uploads[found[1]])}
        self.strangers.append(f"{method} {path}")
        return 404, {"detail": "no such address"}

    def _beat(self, body: dict[str, Any], now: float) -> tuple[int, Any]:
        self.beats.append((now, body))
        if self.beats_fail:
            return 503, {"detail": "away"}
        runs = body.get("runs", [])
        held = [one["run"] for one in runs]
        return 200, {
            "at": "2026-01-01T00:00:00Z",
            "kept": [one for one in runs if one["run"] not in self.not_current],
            "cancel": sorted(self.cancel & set(held)),
            "pause": sorted(self.pause & set(held)),
            "stop": sorted(self.not_current & set(held)),
            "accounts": [],
        }

    def _about(self, run: int, kind: str, body: dict[str, Any], now: float) -> tuple[int, Any]:
        told = self.told.setdefault(run, Told())
        if self.refuse.get(run) == kind:
            del self.refuse[run]
            return 422, {"detail": f"this {kind} is not taken"}
        if kind == "outcome":
            told.outcomes.append((now, body))
            return 200, {"state": body["state"]}
        told.reports.append((now, body))
        if self.away_reports:
            self.away_reports -= 1
            return 503, {"detail": "away"}
        if self.lose_reports:
            self.lose_reports -= 1
            return 0, None
        return 200, {"current": run not in self.not_current}


def _handler(script: Script) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def _answer(self) -> None:
            body = self.rfile.read(int(self.headers.get("content-length") or 0))
            path = self.path.removeprefix(PREFIX)
            if path != "/connect" and self.headers.get("authorization") != f"Bearer {TOKEN}":
                script.strangers.append(f"{self.command} {path} without the token")
            status, content = script.answer(self.command, path, body)
            if status == 0:
                # Taken, but the answer is lost on the way.
                self.close_connection = True
                self.connection.close()
                return
            data = content if isinstance(content, bytes) else json.dumps(content).encode()
            self.send_response(status)
            self.send_header("content-length", str(0 if status == 204 else len(data)))
            self.end_headers()
            if status != 204:
                self.wfile.write(data)

        do_GET = do_POST = do_PUT = _answer

        def log_message(self, *_: Any) -> None:
            """Says nothing; the verdicts do."""

    return Handler


class Trial:
    """One runner on trial."""

    def __init__(self, command: list[str], folder: Path) -> None:
        self.script = Script()
        self.verdicts: list[Verdict] = []
        self.process: subprocess.Popen[bytes] | None = None
        self.server = ThreadingHTTPServer(("127.0.0.1", 0), _handler(self.script))
        self.server.daemon_threads = True
        # A runner may break its connections; that is no news.
        self.server.handle_error = lambda *_: None  # type: ignore[method-assign]
        threading.Thread(target=self.server.serve_forever, daemon=True).start()
        address = f"http://127.0.0.1:{self.server.server_address[1]}"
        places = {"{server}": address, "{code}": CODE, "{state}": str(folder)}
        self.command = [places.get(word, word) for word in command]

    def judge(self) -> list[Verdict]:
        """Starts the runner, tries every point, ends it; gives the verdicts."""
        process = subprocess.Popen(self.command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.process = process
        try:
            for point in POINTS:
                point(self)
        finally:
            process.terminate()
            try:
                process.wait(timeout=20)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
            self.server.shutdown()
            self.server.server_close()
        return self.verdicts

    def say(self, point: str, kept: bool, fact: str = "") -> None:
        """Keeps one verdict."""
        self.verdicts.append(Verdict(point, kept, fact))

    def wait(self, what: Callable[[], Any], seconds: float = PATIENCE) -> bool:
        """Whether something comes true in time."""
        ends = time.monotonic() + seconds
        pause = threading.Event()
        while not what():
            if time.monotonic() > ends:
                return False
            pause.wait(0.05)
        return True

    def outcome(self, told: Told) -> dict[str, Any]:
        """The outcome of a run, waited for; empty if none came."""
        return told.outcomes[0][1] if self.wait(lambda: told.outcomes) else {}


def _connects(trial: Trial) -> None:
    came = trial.wait(lambda: trial.script.connects)
    body = trial.script.connects[0] if came else {}
    right = (body.get("code"), body.get("protocol")) == (CODE, 1) and isinstance(body.get("facts"), dict)
    trial.say(
        "connects with code, protocol, account and facts", right and "account" in body, json.dumps(body)
    )
    trial.wait(lambda: len(trial.script.beats) > 3, 25)
    times = [at for at, _ in trial.script.beats]
    gaps = [round(late - early, 1) for early, late in pairwise(times)]
    trial.say("beats at least every 10 s", bool(gaps) and max(gaps) < 10, f"gaps {gaps}")


def _works(trial: Trial) -> None:
    schema = {"type": "object", "properties": {"rows": {"type": "integer"}}}
    told = trial.script.give(1, WORKS, inputs={"rows": 7}, input_schema=schema, fence=4)
    found = trial.outcome(told)
    right = (found.get("state"), found.get("outputs"), found.get("counts")) == (
        "done",
        {"rows": 7},
        {"rows": "3"},
    )
    trial.say("executes a run and hands in outputs and counts", right, json.dumps(found))
    fences = {report["fence"] for _, report in told.reports} | {found.get("fence")}
    trial.say("bears the fencing number on every report", fences == {4}, f"{fences}")
    numbers = [report["seq"] for _, report in told.reports]
    trial.say(
        "numbers its reports from 1 without a gap", numbers == list(range(1, len(numbers) + 1)), f"{numbers}"
    )
    steps = [step for _, report in told.reports for step in report.get("steps", [])]
    trial.say("passes on log lines and steps", "one line" in told.text and bool(steps), told.text[:80])


def _repeats(trial: Trial) -> None:
    trial.script.lose_reports = 1
    told = trial.script.give(2, WORKS)
    trial.outcome(told)
    first = [report for _, report in told.reports if report["seq"] == 1]
    same = len(first) > 1 and all(one == first[0] for one in first)
    trial.say("sends a report again, the very same, when its answer was lost", same, f"{len(first)} times")
    trial.script.away_reports = 3
    told = trial.script.give(3, WORKS)
    trial.outcome(told)
    times = [at for at, report in told.reports if report["seq"] == 1]
    gaps = [late - early for early, late in pairwise(times)]
    grows = len(gaps) >= 3 and gaps[2] > gaps[0]
    trial.say(
        "waits longer from try to try while the server is away", grows, f"{[round(gap, 2) for gap in gaps]}"
    )


def _fails(trial: Trial) -> None:
    found = trial.outcome(trial.script.give(4, FAILS))
    right = found.get("state") == "failed" and "no column pH" in found.get("reason", "")
    trial.say("hands in a failure with the package's own words", right, found.get("reason", ""))
    found = trial.outcome(trial.script.give(5, WORKS + "#", damaged=True))
    trial.say(
        "fails a run whose package arrives damaged", found.get("state") == "failed", found.get("reason", "")
    )


def _reads(trial: Trial) -> None:
    data = b"meter,now\nMD-1,7\n"
    digest = hashlib.sha256(data).hexdigest()
    trial.script.files[digest] = data
    schema = {"type": "object", "properties": {"list": {"type": "string", "format": "file"}}}
    given = {"list": f"file:{digest}/week.csv"}
    found = trial.outcome(trial.script.give(6, READS, inputs=given, input_schema=schema))
    right = found.get("outputs") == {"text": data.decode()}
    trial.say("gives the package a file input as a path", right, json.dumps(found.get("outputs")))


def _begun(trial: Trial, told: Told) -> int:
    trial.wait(lambda: "begun as process" in told.text)
    found = re.search(r"begun as process (\d+)", told.text)
    return int(found[1]) if found else 0


def _ended(trial: Trial, pid: int, seconds: float) -> bool:
    return pid > 0 and trial.wait(lambda: not Path(f"/proc/{pid}").exists(), seconds)


def _cancels(trial: Trial) -> None:
    told = trial.script.give(7, WAITS)
    pid = _begun(trial, told)
    trial.script.cancel.add(7)
    found = trial.outcome(told)
    trial.say(
        "ends a cancelled run within 40 s", found.get("state") == "cancelled", found.get("state", "none")
    )
    trial.say("leaves no process of it behind", _ended(trial, pid, 5), f"process {pid}")


def _drops(trial: Trial) -> None:
    told = trial.script.give(8, WAITS)
    pid = _begun(trial, told)
    trial.script.not_current.add(8)
    trial.say("ends the package at once when the run is another's", _ended(trial, pid, 15), f"process {pid}")
    states = {outcome["state"] for _, outcome in told.outcomes}
    trial.say("does not call such a run done", "done" not in states, f"{states or 'nothing'}")


def _loses(trial: Trial) -> None:
    told = trial.script.give(9, WAITS, lease_seconds=LEASE)
    pid = _begun(trial, told)
    trial.script.beats_fail = True
    ended = _ended(trial, pid, LEASE + 10)
    fact = f"lease {LEASE} s, process {pid}" if pid else f"lease {LEASE} s, never begun"
    trial.script.beats_fail = False
    trial.say("ends the package by itself when it cannot renew the lease", ended, fact)
    found = trial.outcome(told)
    trial.say("hands in the outcome once the server is back", bool(found), found.get("reason", "none came"))


def _pauses(trial: Trial) -> None:
    told = trial.script.give(10, WAITS)
    _begun(trial, told)
    trial.script.pause.add(10)
    found = trial.outcome(told)
    saved = str(found.get("saved"))
    kept = trial.script.uploads.get(saved, b"")
    right = (
        found.get("state") == "held" and kept == b'{"next": 5}' and hashlib.sha256(kept).hexdigest() == saved
    )
    trial.say(
        "pauses: uploads the saved state, then hands in held", right, f"{found.get('state')}, {kept[:40]!r}"
    )
    trial.script.pause.discard(10)
    found = trial.outcome(trial.script.give(11, GOES_ON, fence=2, saved=saved)) if kept else {}
    trial.say(
        "goes on with the saved state", found.get("outputs") == {"next": 5}, json.dumps(found.get("outputs"))
    )


def _begins(trial: Trial) -> None:
    told = trial.script.give(12, WORKS)
    trial.outcome(told)
    first = min((at for at, _ in told.reports), default=0.0)
    right = bool(told.begun) and told.begun[0] <= first
    trial.say("says that it begins a run before it tells of it", right, f"{len(told.begun)} times")
    trial.script.taken_back.add(13)
    told = trial.script.give(13, WORKS)
    trial.wait(lambda: told.begun)
    trial.outcome(trial.script.give(14, WORKS))
    quiet = not told.reports and not told.outcomes
    trial.say("does not execute what was taken back", quiet, f"{len(told.reports)} reports")


def _poisoned(trial: Trial) -> None:
    run = 20
    for words, code in POISON.items():
        found = trial.outcome(trial.script.give(run, code))
        told = trial.script.told[run]
        sane = all(_is_sane(body) for _, body in [*told.reports, *told.outcomes])
        trial.say(f"tells the end of a package with {words}, sanely", bool(found) and sane, str(found)[:120])
        run += 1
    for kind in ("report", "outcome"):
        trial.script.refuse[run] = kind
        found = trial.outcome(trial.script.give(run, WORKS))
        fact = f"{found.get('state')}: {found.get('reason', '')}"
        said = "not taken" in str(found.get("reason"))
        trial.say(f"tells the end, and why, when a {kind} is refused for good", said, fact)
        run += 1


def _is_sane(value: Any) -> bool:
    """Whether something can be sent as JSON to anybody: whole characters, finite numbers, fair lengths."""
    try:
        text = json.dumps(value, allow_nan=False, ensure_ascii=False).encode("utf-8")
    except ValueError:
        return False
    reason = value.get("reason", "") if isinstance(value, dict) else ""
    return len(text) < 8_000_000 and len(reason) <= 4000


def _keeps_to_it(trial: Trial) -> None:
    strangers = trial.script.strangers
    trial.say("calls nothing else, and nothing without its token", not strangers, ", ".join(strangers[:3]))


def _leaves(trial: Trial) -> None:
    told = trial.script.give(40, WAITS)
    pid = _begun(trial, told)
    assert trial.process is not None
    trial.process.terminate()
    left = trial.wait(lambda: any(body.get("leaving") for _, body in trial.script.beats), 5)
    trial.say("says that it leaves when it is asked to stop", left)
    late = trial.script.give(41, WORKS)
    found = trial.outcome(told)
    trial.say("tells the end of what it ended", found.get("state") == "failed", found.get("reason", ""))
    trial.say("leaves no process behind when it stops", _ended(trial, pid, 15), f"process {pid}")
    trial.wait(lambda: trial.process is not None and trial.process.poll() is not None, 20)
    quiet = not late.reports and not late.begun
    trial.say("begins nothing more once it leaves", quiet, f"{len(late.begun)} begun")


POINTS = (
    _connects,
    _works,
    _repeats,
    _fails,
    _reads,
    _cancels,
    _drops,
    _loses,
    _pauses,
    _begins,
    _poisoned,
    _keeps_to_it,
    _leaves,
)
