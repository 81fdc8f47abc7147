"""Keeps a process known to the others while it lives, and compares its clock with the database's."""

from __future__ import annotations

import os
import platform
import secrets
import threading
from collections.abc import Callable
from datetime import datetime

import structlog

from tallyman.config import VERSION, read_clock, settings
from tallyman.services.context import Ctx, Database
from tallyman.services.upkeep import health

log = structlog.get_logger()
SECONDS = 3.0


class Presence:
    """A thread that says every few seconds that this process lives."""

    def __init__(
        self,
        db: Database,
        kind: str,
        loops: Callable[[], dict[str, object]] = dict,
        clock: Callable[[], datetime] = read_clock,
    ) -> None:
        self._db = db
        self._loops = loops
        self._clock = clock
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._go, name="presence", daemon=True)
        self._process = health.Process(
            secrets.token_hex(16), kind, platform.node(), os.getpid(), VERSION, clock()
        )
        self.apart_ms = 0

    @property
    def clock_is_right(self) -> bool:
        """Whether this process may start anything; tests own the clock of all processes together."""
        return bool(settings().clock_file) or abs(self.apart_ms) <= health.MOST_APART_MS

    def start(self) -> None:
        """Begins to say so."""
        self._thread.start()

    def stop(self) -> None:
        """Says that the process ended in order."""
        self._stop.set()
        self._thread.join(timeout=10)
        try:
            health.gone(Ctx(self._db, self._clock()), self._process)
        except Exception as error:
            log.warning("could not say goodbye", action="presence.failed", error=str(error))

    def _go(self) -> None:
        while not self._stop.is_set():
            self._process.loops = self._loops()
            try:
                self.apart_ms = health.seen(Ctx(self._db, self._clock()), self._process)
            except Exception as error:
                # The database may be away; the others will see that this process is silent.
                log.warning("presence failed", action="presence.failed", error=str(error))
            self._stop.wait(SECONDS)
