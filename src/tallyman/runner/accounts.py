"""Under which account a package works: its robot's, or one that this runner makes for the robot.

A runner started as root gives every robot without an account a user number of its own, which no other
program has: no entry in the system's list, no password, no home but the run's folder. A package never
works as the runner itself, unless whoever started the runner said so.
"""

from __future__ import annotations

import contextlib
import fcntl
import getpass
import grp
import json
import os
import pwd
import random
import signal
import subprocess
import sys
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import psutil

LOOKED_FOR = 60.0
PYTHONS = (sys.executable, "/usr/bin/python3", "/usr/local/bin/python3")
# Numbers that systems leave to ordinary accounts, seldom reached; those in use are left out.
FIRST, LAST = 58_000, 58_999
LIST = "/var/lib/tallyman-runner/accounts.json"
AS_RUNNER = "--as-myself"


@dataclass(frozen=True)
class Account:
    """An account that packages can work under. `own`: nothing but this robot's packages works under it."""

    name: str
    uid: int
    gid: int
    groups: tuple[int, ...] = ()
    own: bool = False
    is_runner: bool = False

    @property
    def ids(self) -> dict[str, object]:
        """What a process is started with to work under it; nothing for the runner's own."""
        if self.is_runner:
            return {}
        return {"user": self.uid, "group": self.gid, "extra_groups": list(self.groups)}


class CannotUse(Exception):
    """A package cannot work under that account; says why."""


@dataclass
class Accounts:
    """What is known of this host's accounts; looked at again once a minute.

    `state` names this runner among those on the host; `as_runner` says that packages may work as the
    runner itself where no other account is named.
    """

    state: Path = Path("var/runner")
    as_runner: bool = False
    list_path: Path = field(default_factory=lambda: Path(os.environ.get("TALLYMAN_RUNNER_ACCOUNTS", LIST)))
    _known: dict[tuple[str, int], tuple[float, str, str]] = field(default_factory=dict)

    def fault(self, name: str) -> str:
        """Why packages of a robot with that account (none: an empty text) cannot work; empty if they can."""
        return self._look(name, 0)[0]

    def of(self, name: str, robot: int) -> Account:
        """The account for a robot's packages. Raises CannotUse."""
        if name and name != getpass.getuser():
            return _named(name)
        if self.as_runner:
            return Account(getpass.getuser(), os.geteuid(), os.getegid(), is_runner=True)
        if os.geteuid() != 0:
            who = f"the account {name} is the runner's own" if name else "the robot has no account"
            raise CannotUse(
                f"{who}, and packages do not work as the runner itself: start it as root, name another "
                f"account, or start it with {AS_RUNNER}, after which they can read whatever it can"
            )
        number = self._number(robot)
        return Account(f"tallyman-{number}", number, number, own=True)

    def python(self, name: str, robot: int) -> str:
        """The Python that packages of a robot can run. Raises CannotUse."""
        fault, python = self._look(name, robot)
        if fault:
            raise CannotUse(fault)
        return python

    def _look(self, name: str, robot: int) -> tuple[str, str]:
        known = self._known.get((name, robot))
        if known is None or time.monotonic() - known[0] > LOOKED_FOR:
            try:
                known = (time.monotonic(), *_python(self.of(name, robot)))
            except (CannotUse, OSError) as error:
                known = (time.monotonic(), str(error), "")
            self._known[name, robot] = known
        return known[1], known[2]

    def _number(self, robot: int) -> int:
        """The user number of a robot of this runner, the same at every start; made when it is first asked."""
        with self._open_list() as (numbers, keep):
            key = f"{self.state.resolve()}:{robot}"
            if key not in numbers:
                for former in [one for one in numbers if not Path(one.rpartition(":")[0]).exists()]:
                    # That runner's folder is gone, and so is all that its accounts owned.
                    del numbers[former]
                taken = set(numbers.values())
                busy = taken | _at_work()
                free = [n for n in range(FIRST, LAST + 1) if n not in busy and not _in_use(n)]
                if not free:
                    raise CannotUse(f"no account is free on this host: {FIRST} to {LAST} are all taken")
                # Any of them: another list on this host, of a trial say, would begin at the same end.
                numbers[key] = random.choice(free)
                keep()
            return int(numbers[key])

    @contextlib.contextmanager
    def _open_list(self) -> Any:
        """The numbers given on this host, held so that two runners do not give the same."""
        self.list_path.parent.mkdir(parents=True, exist_ok=True, mode=0o755)
        handle = os.open(self.list_path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o600)
        with os.fdopen(handle, "r+", encoding="utf-8") as stream:
            fcntl.flock(stream, fcntl.LOCK_EX)
            text = stream.read()
            numbers: dict[str, int] = json.loads(text) if text.strip() else {}

            def keep() -> None:
                stream.seek(0)
                stream.truncate()
                json.dump(numbers, stream)
                stream.flush()

            yield numbers, keep

    def end_all(self) -> None:
        """Ends whatever an earlier start of this runner left working under the accounts it made."""
        if os.geteuid() != 0 or not self.list_path.exists():
            return
        with self._open_list() as (numbers, _):
            mine = f"{self.state.resolve()}:"
            for number in [n for key, n in numbers.items() if key.startswith(mine)]:
                end_all_of(number)


def _in_use(number: int) -> bool:
    with contextlib.suppress(KeyError):
        pwd.getpwuid(number)
        return True
    with contextlib.suppress(KeyError):
        grp.getgrgid(number)
        return True
    return False


def _at_work() -> set[int]:
    """The accounts under which anything works now."""
    found = set()
    for process in psutil.process_iter():
        with contextlib.suppress(psutil.Error):
            found.add(int(process.uids().real))
    return found


def end_all_of(uid: int) -> None:
    """Kills every process under an account that nothing else uses, again until none is left."""
    for _ in range(50):
        found = []
        for process in psutil.process_iter():
            with contextlib.suppress(psutil.Error):
                if process.uids().real == uid and process.status() != psutil.STATUS_ZOMBIE:
                    found.append(process)
        if not found:
            return
        for process in found:
            with contextlib.suppress(psutil.Error):
                process.send_signal(signal.SIGKILL)
        psutil.wait_procs(found, timeout=1)


def _named(name: str) -> Account:
    try:
        entry = pwd.getpwnam(name)
    except KeyError:
        raise CannotUse(f"there is no account {name} on this host") from None
    if entry.pw_uid == 0:
        raise CannotUse("packages do not work as root")
    if os.geteuid() != 0:
        raise CannotUse(f"the runner was not started as root, so it cannot change to {name}")
    groups = tuple(group.gr_gid for group in grp.getgrall() if name in group.gr_mem)
    return Account(name, entry.pw_uid, entry.pw_gid, groups)


def _python(account: Account) -> tuple[str, str]:
    """Why packages cannot work under it (empty if they can), and their Python."""
    if account.is_runner:
        return "", sys.executable
    for python in PYTHONS:
        try:
            done = subprocess.run(
                [python, "-S", "-c", "pass"],
                check=False,
                capture_output=True,
                timeout=20,
                cwd="/",
                **account.ids,  # type: ignore[call-overload]
            )
        except (OSError, subprocess.SubprocessError):
            continue
        if done.returncode == 0:
            return "", python
    return f"{account.name} cannot run any Python of this host", ""


def give(path: Path, account: Account) -> None:
    """Makes a file or folder, and all that is in it, an account's own; only before its package starts."""
    if account.is_runner:
        return
    for one in (path, *path.rglob("*")):
        os.chown(one, account.uid, account.gid, follow_symlinks=False)
