"""A real Tallyman for tests: web process, engine loops and runners over real sockets."""

from __future__ import annotations

import contextlib
import os
import subprocess
import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import httpx
import uvicorn

from tallyman.api.app import create_app
from tallyman.api.edge.connections import Patient
from tallyman.config import HOME, read_clock
from tallyman.engine import supervisor
from tallyman.engine.supervisor import Loop, Supervisor
from tallyman.store.db import Database
from tests.conftest import free_port
from tests.patience import patience
from tests.world import PASSWORD

LONGEST = 40.0


def wait_for(what: Callable[[], Any], seconds: float = LONGEST) -> Any:
    """Waits until something holds and gives it; AssertionError when it does not."""
    seconds = patience(seconds)
    ends = threading.Event()
    timer = threading.Timer(seconds, ends.set)
    timer.start()
    pause = threading.Event()
    try:
        while True:
            found = what()
            if found:
                return found
            assert not ends.is_set(), f"still not so after {seconds} s: {what}"
            pause.wait(0.05)
    finally:
        timer.cancel()


class Serving:
    """A running Tallyman."""

    def __init__(self, db: Database, folder: Path) -> None:
        self.db = db
        self.folder = folder
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.runners: list[subprocess.Popen[str]] = []

    def session(self, name: str) -> httpx.Client:
        """A signed-in client."""
        client = httpx.Client(
            base_url=f"{self.url}/api/v1", headers={"X-Tallyman": "1"}, timeout=patience(30)
        )
        email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
        client.post("/session", json={"email": email, "password": PASSWORD}).raise_for_status()
        return client

    def runner(
        self, code: str | None, name: str = "weir", url: str = "", **environment: str
    ) -> subprocess.Popen[str]:
        """A runner as a process of its own, connected by a one-time code or as it was before."""
        process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "tallyman",
                "runner",
                "--server",
                url or self.url,
                *(["--code", code] if code else []),
                *(["--as-myself"] if os.geteuid() else []),
                "--state",
                name,
            ],
            # Beside its state, as whoever types the one line: nothing may depend on where that is.
            cwd=self.folder,
            env={**os.environ, "PYTHONPATH": str(HOME / "src"), **environment},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        self.runners.append(process)
        assert process.stdout is not None
        line = process.stdout.readline()
        assert line.startswith("Connected"), line
        return process


@contextlib.contextmanager
def serving(db: Database, turns: tuple[Loop, ...] = supervisor.LOOPS) -> Iterator[Serving]:
    """Web and engine in this process, stopped in order."""
    # Where packages under accounts of their own can pass.
    open_folder = tempfile.TemporaryDirectory(prefix="tallyman-serving-")
    Path(open_folder.name).chmod(0o755)
    one = Serving(db, Path(open_folder.name))
    config = uvicorn.Config(
        create_app(db),
        port=one.port,
        http=Patient,
        log_level="error",
        timeout_graceful_shutdown=1,
        ws="none",
        proxy_headers=False,
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run)
    thread.start()
    fast = tuple(Loop(loop.name, min(loop.seconds, 0.3), loop.step) for loop in turns)
    engine = Supervisor(db, read_clock, fast)
    engine.start()
    try:
        wait_for(lambda: server.started)
        yield one
    finally:
        for runner in one.runners:
            runner.terminate()
        for runner in one.runners:
            try:
                runner.wait(timeout=patience(20))
            except subprocess.TimeoutExpired:
                runner.kill()
                runner.wait()
            if runner.stdout is not None:
                runner.stdout.close()
        engine.stop()
        server.should_exit = True
        thread.join(timeout=patience(20))
        open_folder.cleanup()
