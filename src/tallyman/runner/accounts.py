"""Run-as accounts: which of them packages can work under on this host, and with which Python."""

from __future__ import annotations

import getpass
import grp
import os
import pwd
import subprocess
import sys
import time
from pathlib import Path

LOOKED_FOR = 60.0
PYTHONS = (sys.executable, "/usr/bin/python3", "/usr/local/bin/python3")


class Accounts:
    """What is known of this host's accounts; looked at again once a minute."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[float, str, str]] = {}

    def fault(self, name: str) -> str:
        """Why an account cannot be used; empty if it can."""
        return self._look(name)[1]

    def python(self, name: str) -> str:
        """The Python that an account can run."""
        return self._look(name)[2]

    def _look(self, name: str) -> tuple[float, str, str]:
        known = self._known.get(name)
        if known is None or time.monotonic() - known[0] > LOOKED_FOR:
            known = (time.monotonic(), *_look(name))
            self._known[name] = known
        return known


def own(name: str) -> bool:
    """Whether that is no account but the runner's own."""
    return not name or name == getpass.getuser()


def ids(name: str) -> dict[str, object]:
    """What a process is started with to work under an account; nothing for the runner's own."""
    if own(name):
        return {}
    entry = pwd.getpwnam(name)
    groups = [group.gr_gid for group in grp.getgrall() if name in group.gr_mem]
    return {"user": entry.pw_uid, "group": entry.pw_gid, "extra_groups": groups}


def give(folder: Path, name: str) -> None:
    """Makes a folder and all that is in it an account's own."""
    if own(name):
        return
    entry = pwd.getpwnam(name)
    for path in (folder, *folder.rglob("*")):
        os.chown(path, entry.pw_uid, entry.pw_gid, follow_symlinks=False)


def _look(name: str) -> tuple[str, str]:
    """Why it cannot be used, and its Python."""
    if own(name):
        return "", sys.executable
    try:
        entry = pwd.getpwnam(name)
    except KeyError:
        return f"there is no account {name} on this host", ""
    if entry.pw_uid == 0:
        return "packages do not work as root", ""
    if os.geteuid() != 0:
        return f"the runner was not started as root, so it cannot change to {name}", ""
    for python in PYTHONS:
        try:
            done = subprocess.run(
                [python, "-S", "-c", "pass"],
                check=False,
                capture_output=True,
                timeout=20,
                cwd="/",
                **ids(name),  # type: ignore[call-overload]
            )
        except (OSError, subprocess.SubprocessError):
            continue
        if done.returncode == 0:
            return "", python
    return f"{name} cannot run any Python of this host", ""
