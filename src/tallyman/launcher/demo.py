"""`./tallyman demo`: everything set up, loaded, started, and stopped cleanly on Ctrl-C."""

from __future__ import annotations

import contextlib
import json
import os
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from tallyman.config import read_clock, settings
from tallyman.launcher import machine
from tallyman.launcher.databases import application
from tallyman.launcher.installation import OWN_PORTS, set_up_database
from tallyman.launcher.processes import UP_SECONDS, Processes, lock, until_told, wait_until_up, watch

# What the identity stand-in and this demo know each other by; it listens on this machine only.
IDENTITY_CLIENT = "tallyman"
IDENTITY_SECRET = "for-the-demo-alone"


def _load(var: Path) -> dict[str, Any]:
    """Loads the demo data once; gives the sign-ins and the runners' codes."""
    from tallyman.demo.load import load

    kept = var / "demo.json"
    if kept.exists():
        found: dict[str, Any] = json.loads(kept.read_text())
        return found
    print("Loading the demo data …", flush=True)
    (var / "loading").touch()
    db = application()
    made = load(db, read_clock())
    db.close()
    kept.touch(mode=0o600)
    kept.write_text(json.dumps(made))
    (var / "loading").unlink()
    return made


def _runner_codes(made: dict[str, Any]) -> dict[str, str | None]:
    """The one-time code of each host; a host connected before keeps its token instead."""
    from tallyman.demo.load import fresh_codes

    db = application()
    hosts = [str(name) for name in made["hosts"]]
    waiting = [name for name in hosts if not (settings().var / "runners" / name / "runner.json").exists()]
    codes: dict[str, str | None] = dict.fromkeys(hosts)
    codes.update(fresh_codes(db, read_clock(), waiting))
    db.close()
    return codes


def _start_all(processes: Processes, port: int, made: dict[str, Any]) -> None:
    processes.start("mail", "mail-catcher", "--smtp-port", str(port + 5), "--port", str(port + 6))
    processes.start("web", "serve", "--port", str(port))
    processes.start("engine", "engine")
    processes.start("identity", "identity", "--port", str(port + 7))
    wait_until_up(port, processes)
    _single_sign_on(port)
    for name, code in _runner_codes(made).items():
        words = ["--server", f"http://127.0.0.1:{port}"]
        words += ["--state", str(settings().var / "runners" / name)]
        words += ["--code", code] if code else []
        # Without root there is no other account to work under; the demo's own packages may.
        words += ["--as-myself"] if os.geteuid() else []
        processes.start(f"runner-{name}", "runner", *words)


def _single_sign_on(port: int) -> None:
    """Sign-in by the identity stand-in beside the passwords, once it answers."""
    from tallyman.demo.load import single_sign_on

    issuer = f"http://127.0.0.1:{port + 7}"
    ends = time.monotonic() + UP_SECONDS
    while time.monotonic() < ends:
        with contextlib.suppress(httpx.TransportError):
            httpx.get(f"{issuer}/keys", timeout=5)
            break
        threading.Event().wait(0.1)
    db = application()
    single_sign_on(db, read_clock(), issuer, IDENTITY_CLIENT, IDENTITY_SECRET)
    db.close()


def _greet(port: int, made: dict[str, Any]) -> None:
    print(f"\nTallyman is up: http://127.0.0.1:{port}")
    print(f"Mails it sent:  http://127.0.0.1:{port + 6}")
    print("Beside the passwords, single sign-on by a stand-in lets newcomers in.")
    print(f"\nSign in as (password for all: {made['password']})\n")
    for person in made["people"]:
        print(f"  {person['email']:42} {person['name']:18} {person['role']}")
    print("\nConnect a runner of your own: add a host under Robots, then")
    print(f"  ./tallyman runner --server http://127.0.0.1:{port} --code CODE")
    print("\nCtrl-C stops everything.", flush=True)


def demo(port: int, fresh: bool, stop: threading.Event | None = None) -> int:
    """Runs the whole demo until Ctrl-C; gives the exit code."""
    ended = until_told(stop)
    machine.check_disk()
    machine.ensure_debian({**machine.DATABASE, **machine.PAPER})
    handle = lock(settings().var)
    for offset, what in (*OWN_PORTS, (5, "mail"), (6, "the mail page"), (7, "the identity stand-in")):
        machine.check_port(port + offset, what)
    machine.ensure_front_end()
    server = set_up_database(port, fresh)
    # The identity stand-in is on this machine, which is reached only where it is listed.
    os.environ.setdefault("TALLYMAN_OUTGOING", json.dumps([f"127.0.0.1:{port + 7}"]))
    settings.cache_clear()
    processes = Processes(settings().var / "logs")
    try:
        made = _load(settings().var)
        _start_all(processes, port, made)
        _greet(port, made)
        watch(processes, ended)
    finally:
        print("Stopping …", flush=True)
        processes.stop()
        server.stop()
        os.close(handle)
    return 0
