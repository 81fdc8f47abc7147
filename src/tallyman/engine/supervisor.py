"""One supervisor keeps every loop going: named, restarted after a fault, stopped in order."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

import structlog

from tallyman.config import read_clock
from tallyman.engine import loops
from tallyman.services.context import Ctx, Database
from tallyman.services.upkeep.hitches import reason
from tallyman.services.upkeep.presence import Presence

log = structlog.get_logger()
LONGEST_PAUSE = 30.0


@dataclass(frozen=True)
class Loop:
    """A step, and how many seconds lie between two of its turns."""

    name: str
    seconds: float
    step: Callable[[Ctx], int]


LOOPS = (
    Loop("clock", 1.0, loops.clock),
    Loop("leases", 1.0, loops.leases),
    Loop("silence", 2.0, loops.silence),
    Loop("effects", 0.5, loops.effects),
    Loop("worths of ideas", 0.5, loops.what_ideas_are_worth),
    Loop("mails", 1.0, loops.mails),
    Loop("month ends", 30.0, loops.month_ends),
    Loop("secrets ending", 60.0, loops.secrets_ending),
    Loop("seats", 60.0, loops.seats),
    Loop("asking", 2.0, loops.asking),
    Loop("roll-outs", 2.0, loops.rollouts),
    Loop("call backs", 1.0, loops.call_backs),
    Loop("parked ideas", 60.0, loops.parked),
    Loop("errands", 0.3, loops.errands),
    Loop("attached files", 2.0, loops.files),
    Loop("seals", 15.0, loops.seal_trail),
    Loop("tidy", 60.0, loops.tidy),
    # When the engine starts, and then hardly ever.
    Loop("repair", 86_400.0, loops.repair),
)


@dataclass
class Turns:
    """How a loop does: turns, how long the last took, how late it came, what it did, what failed."""

    turns: int = 0
    took_ms: int = 0
    late_ms: int = 0
    did: int = 0
    fault: str = ""


class Supervisor:
    """Runs every loop in a thread of its own until it is told to stop."""

    def __init__(
        self,
        db: Database,
        clock: Callable[[], datetime] = read_clock,
        turns: tuple[Loop, ...] = LOOPS,
    ) -> None:
        self._db = db
        self._clock = clock
        self._stop = threading.Event()
        self._state = {loop.name: Turns() for loop in turns}
        self._presence = Presence(db, "engine", self._loops, clock)
        self._threads = [
            threading.Thread(target=self._go, args=(loop,), name=f"loop-{loop.name}") for loop in turns
        ]

    def start(self) -> None:
        """Starts every loop."""
        self._presence.start()
        for thread in self._threads:
            thread.start()

    def stop(self) -> None:
        """Lets every loop end its turn, then waits for it."""
        self._stop.set()
        for thread in self._threads:
            thread.join(timeout=20)
        self._presence.stop()

    def _loops(self) -> dict[str, Any]:
        return {name: asdict(state) for name, state in self._state.items()}

    def _go(self, loop: Loop) -> None:
        pause = loop.seconds
        state = self._state[loop.name]
        due = time.monotonic()
        while not self._stop.is_set():
            began = time.monotonic()
            state.late_ms = max(0, int((began - due) * 1000))
            try:
                done = loop.step(Ctx(self._db, self._clock()))
                pause = loop.seconds
                state.fault = ""
                state.did += done
                if done:
                    log.info("did work", action=f"engine.{loop.name}", done=done)
            except Exception as error:
                # A loop must outlive whatever one turn meets; the fault is logged and tried again.
                pause = min(max(pause * 2, 1.0), LONGEST_PAUSE)
                state.fault = reason(error)[:300]
                log.error("turn failed", action=f"engine.{loop.name}.failed", exc_info=error)
            state.turns += 1
            state.took_ms = int((time.monotonic() - began) * 1000)
            due = time.monotonic() + pause
            self._stop.wait(pause)
