"""An installation of one's own on one machine: its database, its processes, and its first person."""

from __future__ import annotations

import os
import shutil
import threading

from tallyman.config import read_clock, settings
from tallyman.launcher import machine, mariadb
from tallyman.launcher.databases import application, owner
from tallyman.launcher.processes import Processes, lock, until_told, wait_until_up, watch
from tallyman.store.db import Database
from tallyman.store.migrate import migrate

OWN_PORTS = ((0, "the web pages"), (1, "the database"))


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


def start(port: int, stop: threading.Event | None = None) -> int:
    """Runs an installation of one's own, without demo data, until Ctrl-C; gives the exit code."""
    if (settings().var / "demo.json").exists():
        raise machine.Trouble(
            f"{settings().var} holds the demo; set TALLYMAN_VAR to another folder for one of your own."
        )
    ended = until_told(stop)
    machine.check_disk()
    machine.ensure_debian({**machine.DATABASE, **machine.PAPER})
    handle = lock(settings().var)
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
        watch(processes, ended)
    finally:
        print("Stopping …", flush=True)
        processes.stop()
        server.stop()
        os.close(handle)
    return 0


def greet_first(db: Database, port: int) -> None:
    """Prints the one-time code while nobody is here yet."""
    from tallyman.services.context import Ctx
    from tallyman.services.people import first_run

    code = first_run.code(Ctx(db, read_clock()))
    if code is not None:
        print(f"\nNobody is here yet. Become the lead with this code:  {code}")
        print(f"at http://127.0.0.1:{port}/first\n", flush=True)
    db.close()
