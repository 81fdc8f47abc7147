"""Set-up and start: every trouble is one clear sentence; the demo starts, keeps its data and stops."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import threading
from collections import namedtuple
from pathlib import Path

import httpx
import psutil
import pytest

from tallyman.config import HOME
from tallyman.launcher import machine, mariadb
from tests.conftest import free_port
from tests.patience import patience
from tests.serving import wait_for

Usage = namedtuple("Usage", "total used free")


def test_a_full_disk_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(shutil, "disk_usage", lambda _: Usage(10**9, 10**9, 1000))
    with pytest.raises(machine.Trouble, match="disk is nearly full"):
        machine.check_disk()


def test_a_taken_port_is_said() -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        with pytest.raises(machine.Trouble, match="is taken by another program"):
            machine.check_port(taken.getsockname()[1], "the web pages")


def test_a_missing_package_without_root_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 1000)
    with pytest.raises(machine.Trouble, match="only root can install"):
        machine.ensure_debian({"no-such-program": "no-such-package"})


def test_a_package_that_cannot_be_installed_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(os, "geteuid", lambda: 0)
    answer = subprocess.CompletedProcess([], 100, "", "E: Unable to locate package no-such-package\n")
    monkeypatch.setattr(subprocess, "run", lambda *_, **__: answer)
    monkeypatch.setattr(shutil, "which", lambda name, path=None: "/bin/x" if name == "apt-get" else None)
    with pytest.raises(machine.Trouble, match="Unable to locate"):
        machine.ensure_debian({"no-such-program": "no-such-package"})


@pytest.mark.parametrize(("version", "words"), [("v18.2.0", "too old"), ("", "too old")])
def test_an_old_node_is_said(monkeypatch: pytest.MonkeyPatch, version: str, words: str) -> None:
    monkeypatch.setattr(subprocess, "run", lambda *_, **__: subprocess.CompletedProcess([], 0, version, ""))
    with pytest.raises(machine.Trouble, match=words):
        machine.check_node()


def test_a_missing_node_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(machine, "_has", lambda name: name != "node")
    with pytest.raises(machine.Trouble, match="Node is missing"):
        machine.check_node()


def test_a_database_that_will_not_start_is_said(tmp_path: Path) -> None:
    folder = tmp_path / "broken"
    (folder / "data" / "mysql").mkdir(parents=True)
    (folder / "data" / "ibdata1").write_bytes(b"this is no table space")
    for path in (tmp_path, folder):
        path.chmod(0o755)
    if os.geteuid() == 0:
        for path in (folder, *folder.rglob("*")):
            shutil.chown(path, "mysql", "mysql")
    with pytest.raises(machine.Trouble, match=r"will not start: .*\[ERROR\]"):
        mariadb.start(folder, free_port())


def environment(folder: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(HOME / "src"), "TALLYMAN_VAR": str(folder)}


def command(folder: Path, *words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "tallyman", *words],
        env=environment(folder),
        capture_output=True,
        text=True,
        check=False,
        cwd=HOME,
    )


def test_without_a_database_commands_say_so_in_one_sentence(tmp_path: Path) -> None:
    for name in ("migrate", "verify"):
        found = command(tmp_path, name)
        assert found.returncode == 1
        assert "does not answer" in found.stderr
        assert len(found.stderr.strip().splitlines()) == 1


class Demo:
    """A demo as a process, and what it prints."""

    def __init__(self, folder: Path, port: int) -> None:
        self.lines: list[str] = []
        self.process = subprocess.Popen(
            [sys.executable, "-m", "tallyman", "demo", "--port", str(port)],
            env=environment(folder),
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            cwd=HOME,
            start_new_session=True,
        )
        self.reader = threading.Thread(target=self._read)
        self.reader.start()

    def _read(self) -> None:
        assert self.process.stdout is not None
        self.lines.extend(self.process.stdout)

    @property
    def up(self) -> bool:
        assert self.process.poll() is None, self.lines
        return any("Ctrl-C stops everything" in line for line in self.lines)

    def stop(self) -> int:
        self.process.send_signal(signal.SIGINT)
        return self.process.wait(timeout=patience(60))

    def __enter__(self) -> Demo:
        return self

    def __exit__(self, *_: object) -> None:
        """Whatever became of the test, nothing that it started goes on."""
        if self.process.poll() is None:
            family = psutil.Process(self.process.pid).children(recursive=True)
            for one in (self.process, *family):
                with contextlib.suppress(psutil.NoSuchProcess, ProcessLookupError):
                    one.kill()
            self.process.wait()
        self.reader.join()
        assert self.process.stdout is not None
        self.process.stdout.close()


def processes_of(folder: Path) -> list[str]:
    """Commands of processes that were started for this folder."""
    found = []
    for path in Path("/proc").glob("[0-9]*"):
        try:
            if str(folder).encode() in (path / "environ").read_bytes() + (path / "cmdline").read_bytes():
                found.append((path / "cmdline").read_bytes().decode())
        except OSError:
            continue
    return found


def test_the_demo_starts_keeps_its_data_and_stops_without_a_trace(tmp_path: Path) -> None:
    tmp_path.chmod(0o755)
    for parent in list(tmp_path.parents)[:3]:
        if parent != Path("/tmp"):
            parent.chmod(0o755)
    # The stamps of what is built are shared, so that the front end is not built once more.
    shutil.copytree(HOME / "var" / "stamps", tmp_path / "stamps")
    port = free_port(8)
    with Demo(tmp_path, port) as demo:
        wait_for(lambda: demo.up, 120)
        text = "".join(demo.lines)
        assert "ines.varga@merrowdale.example" in text
        assert "lead" in text
        base = f"http://127.0.0.1:{port}"
        with httpx.Client(base_url=base, headers={"X-Tallyman": "1"}, timeout=patience(20)) as client:
            body = {"email": "ines.varga@merrowdale.example", "password": "tally-the-water-26"}
            client.post("/api/v1/session", json=body).raise_for_status()
            hosts = "/api/v1/robots"
            wait_for(
                lambda: all(
                    # Nobody has started a runner on Penstock.
                    (h["connected"] and not h["silent"]) or h["name"] == "Penstock"
                    for h in client.get(hosts).json()["hosts"]
                )
            )
            ideas = len(client.get("/api/v1/ideas").json()["rows"])
            assert ideas >= 12
            value = client.get("/api/v1/value").json()
            differences = [float(row["difference"]) for row in value["rows"] if row["live_on"]]
            assert min(differences) < 0 < max(differences)
        verified = command(tmp_path, "verify")
        assert (verified.returncode, verified.stdout) == (0, "Nothing is wrong.\n"), verified.stderr
        second = command(tmp_path, "demo", "--port", str(port))
        assert second.returncode == 1
        assert "already runs" in second.stderr
        assert demo.stop() == 0
        assert processes_of(tmp_path) == []

    with Demo(tmp_path, port) as again:
        wait_for(lambda: again.up, 60)
        assert not any("Loading" in line for line in again.lines)
        with httpx.Client(base_url=base, headers={"X-Tallyman": "1"}, timeout=patience(20)) as client:
            client.post("/api/v1/session", json=body).raise_for_status()
            assert len(client.get("/api/v1/ideas").json()["rows"]) == ideas
        assert again.stop() == 0
        assert processes_of(tmp_path) == []
