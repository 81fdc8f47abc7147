"""What a runner tells of its host, and how it tries a password."""

from __future__ import annotations

import os
import platform
import threading
from pathlib import Path
from typing import Any

import httpx
import pytest

from tallyman.runner import machine, proving, sitting
from tallyman.runner.client import Rejected
from tallyman.runner.proving import Prover


@pytest.mark.parametrize(
    ("told", "words"),
    [
        ({"NAME": "Debian GNU/Linux", "VERSION_ID": "12"}, "Debian 12"),
        ({"NAME": "Rock Linux", "VERSION_ID": "9.4"}, "Rock 9.4"),
        ({"NAME": "Rolling"}, "Rolling"),
        ({}, "Linux"),
    ],
)
def test_a_linux_is_called_by_its_name(
    told: dict[str, str], words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(platform, "system", lambda: "Linux")
    monkeypatch.setattr(platform, "freedesktop_os_release", lambda: told)
    assert machine.system_name() == words


@pytest.mark.parametrize(("build", "words"), [("10.0.22631", "Windows 11"), ("10.0.19045", "Windows 10")])
def test_windows_is_called_by_its_number_not_its_build(
    build: str, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(platform, "system", lambda: "Windows")
    monkeypatch.setattr(platform, "win32_ver", lambda: ("10", build, "", ""))
    assert machine.system_name() == words


def test_applications_are_found_by_command_or_path(tmp_path: Path) -> None:
    (tmp_path / "sumhall").mkdir()
    found = machine.applications(
        {"Shell": ["no-such-thing", "sh"], "Sumhall": [str(tmp_path / "sumhall")], "Other": ["no-such-thing"]}
    )
    assert found == ["Shell", "Sumhall"]


def test_a_reading_says_how_the_host_is(tmp_path: Path) -> None:
    told = machine.facts("each under its own", "watched", False)
    found = machine.reading(tmp_path, {"Shell": ["sh"]}, told, "locked")
    assert found["applications"] == ["Shell"]
    assert found["facts"]["disk_mb"].isdecimal() and int(found["facts"]["memory_mb"]) > 0
    assert found["disk_free_mb"] > 0 and found["memory_free_mb"] > 0
    assert "root" not in found["accounts"] and "nobody" not in found["accounts"]


class Server:
    """What a prover asks of the server."""

    def __init__(self, refuses: Exception | None = None) -> None:
        self.told: list[tuple[str, bool, str]] = []
        self.refuses = refuses

    def password(self, account: str) -> str:
        if self.refuses is not None:
            raise self.refuses
        return f"secret of {account}"

    def tried(self, account: str, proved: bool, said: str) -> None:
        self.told.append((account, proved, said))


def prover(server: Server, try_one: Any) -> tuple[Prover, list[str], list[str]]:
    hidden: list[str] = []
    said: list[str] = []
    return Prover(server, hidden.append, said.append, try_one), hidden, said  # type: ignore[arg-type]


def test_each_password_is_tried_and_none_is_told(tmp_path: Path) -> None:
    server = Server()
    one, hidden, said = prover(server, lambda account, password: (account == "clerk", "as at its console"))
    one.asked(["clerk", "gauge"])
    one.wait(20)
    assert server.told == [("clerk", True, "as at its console"), ("gauge", False, "as at its console")]
    assert hidden == ["secret of clerk", "secret of gauge"]
    assert not any("secret" in line for line in said)


@pytest.mark.parametrize("error", [Rejected(404, "not asked"), httpx.ConnectError("away")])
def test_what_cannot_be_fetched_is_tried_when_asked_again(error: Exception) -> None:
    server = Server(error)
    one, _, said = prover(server, lambda account, password: (True, ""))
    one.asked(["clerk"])
    one.wait(20)
    assert server.told == [] and "was not tried" in said[0]
    server.refuses = None
    one.asked(["clerk"])
    one.wait(20)
    assert server.told == [("clerk", True, "")]


def test_while_one_is_tried_no_other_begins() -> None:
    server, goes_on = Server(), threading.Event()

    def slow(account: str, password: str) -> tuple[bool, str]:
        goes_on.wait(20)
        return True, ""

    one, _, _ = prover(server, slow)
    one.asked(["clerk"])
    one.asked(["clerk"])
    goes_on.set()
    one.wait(20)
    assert [row[0] for row in server.told] == ["clerk"]


def test_without_root_and_elsewhere_it_says_that_it_cannot(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(proving.os, "geteuid", lambda: 1000)
    assert proving.sign_in("clerk", "x")[1].startswith("the runner was not started as root")
    monkeypatch.setattr(platform, "system", lambda: "Windows")
    monkeypatch.setattr(platform, "win32_ver", lambda: ("10", "10.0.22631", "", ""))
    assert proving.sign_in("clerk", "x") == (False, "a sign-in on Windows 11 cannot be tried by this runner")


class Signed:
    def __init__(self, terminal: str | None) -> None:
        self.terminal = terminal


@pytest.mark.parametrize(
    ("typed_ago", "used"), [((5, 4000), True), ((601, 4000), False), ((), False), ((None,), False)]
)
def test_a_computer_is_in_use_while_somebody_types_at_a_terminal(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, typed_ago: tuple[int | None, ...], used: bool
) -> None:
    now = 1_000_000.0
    users = []
    for n, ago in enumerate(typed_ago):
        if ago is not None:
            (tmp_path / f"tty{n}").touch()
            os.utime(tmp_path / f"tty{n}", (now - ago, now))
        users.append(Signed(f"tty{n}"))
    monkeypatch.setattr(sitting, "DEVICES", tmp_path)
    monkeypatch.setattr(sitting.psutil, "users", lambda: users)
    monkeypatch.setattr(sitting.time, "time", lambda: now)
    assert (sitting.Seen(lambda: "").now() == "in use") is used


TELLS = """#!/bin/sh
echo asked >> "$(dirname "$0")/asked"
case "$1" in
  list-sessions) cat "$(dirname "$0")/sessions" ;;
  show-session) cat "$(dirname "$0")/session-$2" ;;
esac
"""


def session(**but: str) -> str:
    whole = {"Type": "wayland", "Active": "yes", "Remote": "no", "LockedHint": "no", "IdleHint": "no", **but}
    return "".join(f"{name}={value}\n" for name, value in whole.items())


@pytest.mark.parametrize(
    ("sessions", "said"),
    [
        ([], ""),
        ([session()], "in use"),
        ([session(IdleHint="yes")], "idle"),
        ([session(LockedHint="yes", IdleHint="yes")], "locked"),
        ([session(LockedHint="yes"), session()], "in use"),
        ([session(Type="tty"), session(Remote="yes"), session(Active="no")], ""),
        (["no answer of that kind\n"], ""),
    ],
)
def test_who_sits_at_the_screen_is_told_by_its_sessions(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, sessions: list[str], said: str
) -> None:
    tells = tmp_path / "loginctl"
    tells.write_text(TELLS)
    tells.chmod(0o755)
    (tmp_path / "sessions").write_text("".join(f" {n} 1000 corin seat0\n" for n in range(len(sessions))))
    for n, one in enumerate(sessions):
        (tmp_path / f"session-{n}").write_text(one)
    monkeypatch.setenv("PATH", f"{tmp_path}:/usr/bin:/bin")
    monkeypatch.setattr(sitting.psutil, "users", list)
    seen = sitting.Seen()
    assert (seen.now(), seen.now()) == (said, said)
    # Asked once for a while, however often it is wanted.
    assert len((tmp_path / "asked").read_text().splitlines()) == 1 + len(sessions)


def test_a_system_that_does_not_tell_says_nothing(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setenv("PATH", str(tmp_path))
    assert sitting.at_screen() == ""
