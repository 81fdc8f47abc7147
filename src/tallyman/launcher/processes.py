"""The processes of an installation on one machine: started, watched, and ended together."""

from __future__ import annotations

import contextlib
import fcntl
import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpx

from tallyman.config import HOME
from tallyman.launcher import machine

UP_SECONDS = 40.0


class Processes:
    """Child processes, each in a group of its own, ended in the reverse order of their start."""

    def __init__(self, logs: Path) -> None:
        self.logs = logs
        self.running: list[tuple[str, subprocess.Popen[bytes]]] = []
        logs.mkdir(parents=True, exist_ok=True)

    def start(self, name: str, *words: str) -> None:
        """Starts `python -m tallyman WORDS`, its output in var/logs/NAME.log."""
        with (self.logs / f"{name}.log").open("ab") as log:
            process = subprocess.Popen(
                [sys.executable, "-m", "tallyman", *words],
                cwd=HOME,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=subprocess.STDOUT,
                start_new_session=True,
            )
        self.running.append((name, process))

    def ended(self) -> str | None:
        """The name of a process that has ended by itself, if one has."""
        return next((name for name, one in self.running if one.poll() is not None), None)

    def stop(self) -> None:
        """Asks every process to end, then kills what does not."""
        for _, process in reversed(self.running):
            if process.poll() is None:
                process.terminate()
        for _, process in reversed(self.running):
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(timeout=15)
            if process.poll() is None:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(process.pid, signal.SIGKILL)
                process.wait()


def lock(var: Path) -> int:
    """One start per folder at a time."""
    var.mkdir(parents=True, exist_ok=True)
    handle = os.open(var / "demo.lock", os.O_CREAT | os.O_RDWR, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        raise machine.Trouble(
            f"Tallyman already runs from {HOME}; end it with Ctrl-C where it was started."
        ) from None
    return handle


def wait_until_up(port: int, processes: Processes) -> None:
    """Waits until the web process answers; Trouble when it does not."""
    ends = time.monotonic() + UP_SECONDS
    while time.monotonic() < ends:
        with contextlib.suppress(httpx.TransportError):
            if httpx.get(f"http://127.0.0.1:{port}/readyz", timeout=5).status_code == 200:
                return
        name = processes.ended()
        if name is not None:
            raise machine.Trouble(f"{name} ended by itself; see {processes.logs / name}.log.")
        threading.Event().wait(0.1)
    raise machine.Trouble(f"The web process does not answer on port {port} after {UP_SECONDS:.0f} s.")


def until_told(stop: threading.Event | None) -> threading.Event:
    """What is set when the start is to end: by a signal, unless the caller has an event of its own."""
    ended = stop or threading.Event()
    if stop is None:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, lambda *_: ended.set())
    return ended


def watch(processes: Processes, ended: threading.Event) -> None:
    """Waits for the end; Trouble when a process ends by itself."""
    while not ended.wait(1):
        name = processes.ended()
        if name is not None and not name.startswith("runner"):
            raise machine.Trouble(f"{name} ended by itself; see {processes.logs / name}.log.")
