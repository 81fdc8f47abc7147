"""How long a package gives no sign: it reports nothing, and its processes use no processor."""

from __future__ import annotations

import contextlib
import threading
import time

import psutil

# Less between two looks is what idle waiting costs.
LEAST_CPU_SECONDS = 0.05


def cpu_seconds(pid: int) -> float:
    """Seconds of processor that the descendants of a process have used so far, as far as they still live."""
    total = 0.0
    with contextlib.suppress(psutil.Error):
        for process in psutil.Process(pid).children(recursive=True):
            with contextlib.suppress(psutil.Error):
                used = process.cpu_times()
                total += used.user + used.system
    return total


class Quiet:
    """The silence of one run: how long it lasts now, and the longest it had."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._since = time.monotonic()
        self._longest = 0.0
        self._cpu = 0.0

    def sign(self) -> None:
        """The package gave a sign."""
        with self._lock:
            now = time.monotonic()
            self._longest = max(self._longest, now - self._since)
            self._since = now

    def look(self, used: float) -> None:
        """Its processes have used so many seconds of processor so far; fewer than before: some ended."""
        before, self._cpu = self._cpu, used
        if used - before > LEAST_CPU_SECONDS or used < before:
            self.sign()

    @property
    def seconds(self) -> int:
        """How long it is silent now."""
        with self._lock:
            return int(time.monotonic() - self._since)

    @property
    def longest(self) -> int:
        """The longest silence it had, in seconds."""
        with self._lock:
            return int(max(self._longest, time.monotonic() - self._since))
