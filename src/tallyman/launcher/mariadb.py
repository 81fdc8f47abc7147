"""A private MariaDB on loopback: made, started, stopped by our own commands."""

from __future__ import annotations

import contextlib
import json
import os
import secrets
import shutil
import subprocess
import time
from dataclasses import dataclass
from pathlib import Path

import pymysql

from tallyman.config import Settings, settings
from tallyman.launcher.machine import Trouble, check_port

START_SECONDS = 60.0


@dataclass
class Server:
    """A running private server."""

    folder: Path
    port: int
    process: subprocess.Popen[bytes]

    @property
    def socket(self) -> Path:
        """Its local socket."""
        return self.folder / "s.sock"

    def stop(self) -> None:
        """Ends it and waits until everything is on disk."""
        self.process.terminate()
        try:
            self.process.wait(timeout=30)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def _as_user() -> list[str]:
    return ["--user=mysql"] if os.geteuid() == 0 else []


def _find(program: str) -> str:
    path = f"{os.environ.get('PATH', '')}:/usr/sbin:/sbin"
    found = shutil.which(program, path=path)
    if found is None:
        raise Trouble(f"{program} is missing; run ./tallyman setup.")
    return found


def _temporary(folder: Path) -> Path:
    """Where the server keeps temporary tables: a folder of its own, as a server that starts clears all of
    them in the folder that it is given, also those of another one."""
    found = folder / "temporary"
    found.mkdir(exist_ok=True)
    if os.geteuid() == 0:
        shutil.chown(found, "mysql", "mysql")
    return found


def install(folder: Path) -> None:
    """Makes the data folder of a new server; one that exists stays as it is."""
    data = folder / "data"
    if (data / "mysql").exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o755)
    data.mkdir(exist_ok=True)
    if os.geteuid() == 0:
        shutil.chown(folder, "mysql", "mysql")
        shutil.chown(data, "mysql", "mysql")
    temporary = _temporary(folder)
    done = subprocess.run(
        [
            _find("mariadb-install-db"),
            "--no-defaults",
            *_as_user(),
            f"--datadir={data}",
            f"--tmpdir={temporary}",
            "--auth-root-authentication-method=normal",
            "--skip-test-db",
            "--skip-name-resolve",
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        shutil.rmtree(data, ignore_errors=True)
        last = (done.stderr.strip().splitlines() or done.stdout.strip().splitlines() or ["?"])[-1]
        raise Trouble(f"The database could not be made in {folder}: {last}")


def start(folder: Path, port: int, *more: str) -> Server:
    """Starts the server of a folder and waits until it answers; Trouble when it does not."""
    check_port(port, "the database")
    first = folder / "start.log"
    # A server that was killed leaves its socket behind, which would look like one that answers.
    (folder / "s.sock").unlink(missing_ok=True)
    with first.open("wb") as words:
        process = subprocess.Popen(
            [
                _find("mariadbd"),
                "--no-defaults",
                *_as_user(),
                f"--datadir={folder / 'data'}",
                f"--tmpdir={_temporary(folder)}",
                f"--socket={folder / 's.sock'}",
                f"--pid-file={folder / 'pid'}",
                "--bind-address=127.0.0.1",
                f"--port={port}",
                "--skip-name-resolve",
                f"--log-error={folder / 'error.log'}",
                "--character-set-server=utf8mb4",
                "--collation-server=utf8mb4_unicode_ci",
                "--innodb-buffer-pool-size=256M",
                "--max-connections=300",
                "--max-allowed-packet=64M",
                *more,
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=words,
            start_new_session=True,
        )
    server = Server(folder, port, process)
    ends = time.monotonic() + START_SECONDS
    while time.monotonic() < ends:
        if process.poll() is not None:
            break
        with contextlib.suppress(OSError):
            if (folder / "s.sock").exists():
                return server
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(timeout=0.05)
    if process.poll() is None:
        server.stop()
    raise _will_not_start(folder)


def _will_not_start(folder: Path) -> Trouble:
    # What it says before it can open its own log stands in the first one.
    lines = [line for name in ("start.log", "error.log") for line in _lines(folder / name)]
    faults = [line for line in lines if "[ERROR]" in line]
    # The first fault is the cause; those after it come of shutting down.
    cause = faults[0] if faults else (lines or ["it said nothing"])[-1]
    return Trouble(f"The database in {folder} will not start: {cause}")


def _lines(path: Path) -> list[str]:
    return path.read_text(errors="replace").splitlines() if path.exists() else []


def _root(server: Server, password: str) -> pymysql.connections.Connection[pymysql.cursors.Cursor]:
    return pymysql.connect(unix_socket=str(server.socket), user="root", password=password, charset="utf8mb4")


def connect_root(server: Server, password: str) -> pymysql.connections.Connection[pymysql.cursors.Cursor]:
    """A connection as root, whose password is set the first time; waits for a starting server."""
    ends = time.monotonic() + START_SECONDS
    while True:
        try:
            return _root(server, password)
        except pymysql.err.OperationalError as error:
            if error.args[0] == 1045:
                break
            if server.process.poll() is not None:
                raise _will_not_start(server.folder) from None
            if time.monotonic() > ends:
                raise Trouble(f"The database does not answer: {error.args[-1]}") from None
            with contextlib.suppress(subprocess.TimeoutExpired):
                server.process.wait(timeout=0.05)
    connection = _root(server, "")
    with connection.cursor() as cursor:
        cursor.execute("SET PASSWORD FOR 'root'@'localhost' = PASSWORD(%s)", (password,))
    return connection


def prepare(server: Server, wanted: Settings, root_password: str) -> None:
    """The database and its two accounts: one that owns the schema, one for the application."""
    connection = connect_root(server, root_password)
    with connection, connection.cursor() as cursor:
        cursor.execute(f"CREATE DATABASE IF NOT EXISTS `{wanted.db_name}`")
        for user, password in (
            (wanted.owner_user, wanted.owner_password),
            (wanted.db_user, wanted.db_password),
        ):
            cursor.execute("CREATE USER IF NOT EXISTS %s@'%%' IDENTIFIED BY %s", (user, password))
        cursor.execute(
            f"GRANT ALL ON `{wanted.db_name}`.* TO %s@'%%' WITH GRANT OPTION", (wanted.owner_user,)
        )


def ensure_settings(port: int) -> str:
    """Writes var/settings.json with passwords the first time; gives the root password."""
    var = settings().var
    var.mkdir(parents=True, exist_ok=True)
    var.chmod(0o755)
    path = var / "settings.json"
    kept = json.loads(path.read_text()) if path.exists() else {}
    for name in ("db_password", "owner_password", "root_password"):
        kept.setdefault(name, secrets.token_urlsafe(18))
    kept.update({"port": port, "db_port": port + 1, "mail_port": port + 5})
    path.touch(mode=0o600)
    path.write_text(json.dumps(kept, indent=1))
    settings.cache_clear()
    return str(kept["root_password"])
