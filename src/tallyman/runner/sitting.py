"""Whether somebody sits at this computer, by its terminals and by what its sessions with a screen say."""

from __future__ import annotations

import contextlib
import shutil
import subprocess
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Literal

import psutil

Sitting = Literal["", "in use", "idle", "locked"]
DEVICES = Path("/dev")
# Who typed nothing for so long does not use the computer.
IDLE_AFTER_SECONDS = 600
# Asking for the sessions starts processes, so that it is not done at every heartbeat.
ASKED_EVERY_SECONDS = 30
ASKED_AT_MOST_SECONDS = 5
SESSIONS = "loginctl"
WITH_A_SCREEN = ("x11", "wayland", "mir")
SHOWN = ("Type", "Active", "Remote", "LockedHint", "IdleHint")
# Of several who sit there, what says most.
FIRST: tuple[Sitting, ...] = ("in use", "idle", "locked", "")


def idle_seconds() -> float | None:
    """For how long nobody typed at any terminal of this computer; None where nobody is signed in at one.

    What is seen are the terminals of those signed in, at the computer itself or from afar: when one was typed
    at last stands with its device.
    """
    found = []
    for one in psutil.users():
        with contextlib.suppress(OSError):
            found.append(time.time() - (DEVICES / (one.terminal or "")).stat().st_atime)
    return min(found) if found else None


def _said(*words: str) -> str:
    done = subprocess.run(
        [SESSIONS, *words],
        capture_output=True,
        text=True,
        errors="replace",
        timeout=ASKED_AT_MOST_SECONDS,
        check=False,
        stdin=subprocess.DEVNULL,
    )
    return done.stdout if done.returncode == 0 else ""


def _sessions() -> Iterator[dict[str, str]]:
    for line in _said("list-sessions", "--no-legend").splitlines():
        if parts := line.split():
            asked = [word for name in SHOWN for word in ("-p", name)]
            shown = _said("show-session", parts[0], *asked)
            yield dict(pair.partition("=")[::2] for pair in shown.splitlines())


def at_screen() -> Sitting:
    """What the sessions with a screen say; nothing where there is none, or this system does not tell."""
    if shutil.which(SESSIONS) is None:
        return ""
    found: list[Sitting] = [""]
    with contextlib.suppress(OSError, subprocess.SubprocessError):
        for one in _sessions():
            here = one.get("Remote") == "no" and one.get("Active") == "yes"
            if here and one.get("Type") in WITH_A_SCREEN:
                locked, idle = one.get("LockedHint") == "yes", one.get("IdleHint") == "yes"
                found.append("locked" if locked else "idle" if idle else "in use")
    return min(found, key=FIRST.index)


class Seen:
    """What was seen last, asked anew at most every half minute."""

    def __init__(self, look: Callable[[], Sitting] = at_screen) -> None:
        self._look = look
        self._at: float | None = None
        self._last: Sitting = ""
        self._lock = threading.Lock()

    def now(self) -> Sitting:
        """Whether somebody sits there: at a terminal, or at the screen."""
        idle = idle_seconds()
        with self._lock:
            if self._at is None or time.monotonic() - self._at >= ASKED_EVERY_SECONDS:
                self._last, self._at = self._look(), time.monotonic()
            seen = self._last
        if idle is not None and idle < IDLE_AFTER_SECONDS:
            return "in use"
        return seen or ("idle" if idle is not None else "")
