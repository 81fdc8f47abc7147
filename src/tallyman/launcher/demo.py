"""`./tallyman demo`: everything set up, loaded, started, and stopped cleanly on Ctrl-C."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import shutil
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from tallyman.config import HOME, more_nodes, read_clock, settings
from tallyman.launcher import machine, mariadb
from tallyman.store.db import Database
from tallyman.store.migrate import migrate

UP_SECONDS = 40.0
# What the identity stand-in and this demo know each other by; it listens on this machine only.
IDENTITY_CLIENT = "tallyman"
IDENTITY_SECRET = "for-the-demo-alone"


OWN_PORTS = ((0, "the web pages"), (1, "the database"))


def owner() -> Database:
    """The account that owns the schema."""
    one = settings()
    return Database(
        host=one.db_host,
        port=one.db_port,
        user=one.owner_user,
        password=one.owner_password,
        name=one.db_name,
    )


def application(size: int = 12) -> Database:
    """The application's own account."""
    one = settings()
    return Database(
        host=one.db_host,
        port=one.db_port,
        user=one.db_user,
        password=one.db_password,
        name=one.db_name,
        size=size,
        more=more_nodes(one),
    )


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


def _lock(var: Path) -> int:
    """One demo per folder at a time."""
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


def set_up_database(port: int, fresh: bool) -> mariadb.Server:
    """A running private database with the newest schema."""
    folder = settings().var / "mariadb"
    # A loading that was cut short leaves half a world; it is begun again from nothing.
    if fresh or (settings().var / "loading").exists():
        for name in ("mariadb", "runners", "settings.json", "demo.json", "loading"):
            path = settings().var / name
            shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
    password = mariadb.ensure_settings(port)
    mariadb.install(folder)
    server = mariadb.start(folder, port + 1)
    try:
        mariadb.prepare(server, settings(), password)
        schema = owner()
        migrate(schema, settings().db_user, read_clock())
        schema.close()
    except BaseException:
        server.stop()
        raise
    return server


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


def start(port: int, stop: threading.Event | None = None) -> int:
    """Runs an installation of one's own, without demo data, until Ctrl-C; gives the exit code."""
    if (settings().var / "demo.json").exists():
        raise machine.Trouble(
            f"{settings().var} holds the demo; set TALLYMAN_VAR to another folder for one of your own."
        )
    ended = _until_told(stop)
    machine.check_disk()
    machine.ensure_debian({**machine.DATABASE, **machine.PAPER})
    handle = _lock(settings().var)
    for offset, what in OWN_PORTS:
        machine.check_port(port + offset, what)
    machine.ensure_front_end()
    server = set_up_database(port, False)
    processes = Processes(settings().var / "logs")
    try:
        processes.start("web", "serve", "--port", str(port))
        processes.start("engine", "engine")
        wait_until_up(port, processes)
        print(f"\nTallyman is up: http://127.0.0.1:{port}", flush=True)
        greet_first(application(), port)
        print("Ctrl-C stops it; what was kept is there again at the next start.", flush=True)
        _watch(processes, ended)
    finally:
        print("Stopping …", flush=True)
        processes.stop()
        server.stop()
        os.close(handle)
    return 0


def greet_first(db: Database, port: int) -> None:
    """Prints the one-time code while nobody is here yet."""
    from tallyman.services.context import Ctx
    from tallyman.services.people import first

    code = first.code(Ctx(db, read_clock()))
    if code is not None:
        print(f"\nNobody is here yet. Become the lead with this code:  {code}")
        print(f"at http://127.0.0.1:{port}/first\n", flush=True)
    db.close()


def _until_told(stop: threading.Event | None) -> threading.Event:
    """What is set when the start is to end: by a signal, unless the caller has an event of its own."""
    ended = stop or threading.Event()
    if stop is None:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, lambda *_: ended.set())
    return ended


def _watch(processes: Processes, ended: threading.Event) -> None:
    """Waits for the end; Trouble when a process ends by itself."""
    while not ended.wait(1):
        name = processes.ended()
        if name is not None and not name.startswith("runner"):
            raise machine.Trouble(f"{name} ended by itself; see {processes.logs / name}.log.")


def demo(port: int, fresh: bool, stop: threading.Event | None = None) -> int:
    """Runs the whole demo until Ctrl-C; gives the exit code."""
    ended = _until_told(stop)
    machine.check_disk()
    machine.ensure_debian({**machine.DATABASE, **machine.PAPER})
    handle = _lock(settings().var)
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
        _watch(processes, ended)
    finally:
        print("Stopping …", flush=True)
        processes.stop()
        server.stop()
        os.close(handle)
    return 0
