"""The runner's life: connect once, then heartbeats and work until it is told to stop."""

from __future__ import annotations

import getpass
import json
import os
import platform
import signal
import sys
import threading
from pathlib import Path
from typing import Any

import httpx

from tallyman.runner.client import Client, Rejected, Stopped
from tallyman.runner.execute import Job

HEARTBEAT_SECONDS = 3.0
LONGEST_PAUSE = 15.0


def facts() -> dict[str, str]:
    """What the host is, for the operator."""
    return {
        "system": f"{platform.system()} {platform.release()}",
        "python": platform.python_version(),
        "processors": str(os.cpu_count() or 0),
        "machine": platform.node(),
        "runner": "1",
    }


def say(text: str) -> None:
    """A line for whoever watches the runner."""
    print(text, flush=True)


class Runner:
    """Keeps one host connected; takes runs as long as its places allow."""

    def __init__(self, server: str, state: Path) -> None:
        self.server = server
        self.state = state
        self.stop = threading.Event()
        self.jobs: dict[int, Job] = {}
        self.threads: list[threading.Thread] = []
        self._lock = threading.Lock()
        self.client = Client(server, "", self.stop)

    def connect(self, code: str | None) -> str:
        """Uses the code, or the token kept from an earlier start. Gives the host's name."""
        kept = self.state / "runner.json"
        if code is not None:
            found = self.client.connect(code, getpass.getuser(), facts())
            self.state.mkdir(parents=True, exist_ok=True)
            kept.touch(mode=0o600)
            kept.write_text(json.dumps({"server": self.server, **found}), encoding="utf-8")
        elif not kept.exists():
            raise Rejected(401, "This host is not connected yet; give the one-time --code.")
        found = json.loads(kept.read_text(encoding="utf-8"))
        self.client.close()
        self.client = Client(self.server, found["token"], self.stop)
        return str(found["host"])

    def run(self) -> None:
        """Heartbeats and work, until told to stop; running packages are ended then."""
        beats = threading.Thread(target=self._beats, name="heartbeats")
        beats.start()
        pause = 0.5
        while not self.stop.is_set():
            try:
                work = self.client.work()
                pause = 0.5
            except httpx.TransportError:
                self.stop.wait(pause)
                pause = min(pause * 2, LONGEST_PAUSE)
                continue
            except Rejected as error:
                self._refused(error)
                continue
            if work is not None:
                self._start(work)
        beats.join()
        for job in list(self.jobs.values()):
            job.stopped.set()
        for thread in self.threads:
            thread.join(timeout=10)
        self.client.close()

    def _refused(self, error: Rejected) -> None:
        say(f"The server refused: {error}")
        if error.status == 401:
            self.stop.set()
        else:
            self.stop.wait(2)

    def _start(self, work: dict[str, Any]) -> None:
        job = Job(self.client, work, self.state / "work" / f"{work['run']}-{work['fence']}")
        with self._lock:
            self.jobs[job.run] = job
        say(f"R-{job.run}: {work['package']} {work['version']} as {work['robot']}")
        thread = threading.Thread(target=self._work, args=(job,), name=f"run-{job.run}")
        self.threads = [one for one in self.threads if one.is_alive()] + [thread]
        thread.start()

    def _work(self, job: Job) -> None:
        try:
            job.go()
        finally:
            with self._lock:
                self.jobs.pop(job.run, None)
            say(f"R-{job.run}: ended")

    def _beats(self) -> None:
        while not self.stop.is_set():
            with self._lock:
                held = [(job.run, job.fence) for job in self.jobs.values()]
            try:
                answer = self.client.heartbeat(held)
            except httpx.TransportError:
                self.stop.wait(1)
                continue
            except Rejected as error:
                self._refused(error)
                continue
            self._answered(answer)
            self.stop.wait(HEARTBEAT_SECONDS)

    def _answered(self, answer: dict[str, Any]) -> None:
        with self._lock:
            for kept in answer["kept"]:
                if kept["run"] in self.jobs:
                    self.jobs[kept["run"]].renewed()
            for run in answer["cancel"]:
                if run in self.jobs:
                    self.jobs[run].cancelled.set()
            for run in answer["stop"]:
                if run in self.jobs:
                    self.jobs[run].dropped.set()


def main(server: str, code: str | None, state: Path) -> int:
    """Runs a runner until a signal; gives the exit code."""
    runner = Runner(server, state)
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: runner.stop.set())
    try:
        name = runner.connect(code)
    except (Rejected, Stopped) as error:
        print(f"Not connected: {error}", file=sys.stderr)
        return 1
    except httpx.TransportError as error:
        print(f"Not connected: {server} does not answer ({error}).", file=sys.stderr)
        return 1
    say(f"Connected as host {name}; waiting for work. Ctrl-C ends it.")
    runner.run()
    return 0
