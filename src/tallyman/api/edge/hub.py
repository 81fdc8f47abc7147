"""One poller per process tells browsers and waiting runners that something changed."""

from __future__ import annotations

import asyncio
import time
from collections import deque
from collections.abc import AsyncIterator
from dataclasses import dataclass

import structlog
from starlette.concurrency import run_in_threadpool

from tallyman.config import read_clock
from tallyman.services.context import WORK, ChangeNote, Ctx, Database
from tallyman.services.runs import dispatch
from tallyman.services.upkeep import reason

log = structlog.get_logger()
POLL_SECONDS = 0.15
LONGEST_PAUSE = 10.0
# Numbers may commit out of order, so the poller looks back a little and leaves out what it told.
OVERLAP = 100


@dataclass(frozen=True)
class Hint:
    """Subject and number of what changed."""

    subject: str
    number: int | None


class Hub:
    """Hands hints to whoever listens; asks the database only while somebody does."""

    def __init__(self, db: Database) -> None:
        self._db = db
        self._listeners: set[asyncio.Queue[Hint | None]] = set()
        # Hosts that wait for work here, and whether there was some when it was last looked.
        self._waiting: dict[asyncio.Queue[Hint | None], int] = {}
        self._work = True
        self._told: deque[int] = deque(maxlen=2000)
        self._last = -1
        self._task: asyncio.Task[None] | None = None
        # How many turns there were, how long the last one took, and what went wrong in it.
        self._turns = self._took_ms = 0
        self._fault = ""
        self._loop: asyncio.AbstractEventLoop | None = None

    async def _ask(self) -> list[ChangeNote]:
        if self._last < 0:
            self._last = await run_in_threadpool(
                self._db.transact, lambda tx: int(tx.count("common.last_change"))
            )
            return []
        after = max(0, self._last - OVERLAP)
        rows = await run_in_threadpool(
            self._db.transact, lambda tx: tx.all(ChangeNote, "common.changes_since", after=after)
        )
        known = set(self._told)
        return [row for row in rows if row.id not in known]

    async def _poll(self) -> None:
        pause = POLL_SECONDS
        while self._listeners or self._waiting:
            began = time.monotonic()
            try:
                await self._turn()
                pause, self._fault = POLL_SECONDS, ""
            except Exception as error:
                # The streams stay open; who listens is told again when it works again.
                pause = min(pause * 2, LONGEST_PAUSE)
                self._fault = reason(error)
                log.error("hints not read", action="web.hints.failed", exc_info=error)
            self._turns += 1
            self._took_ms = int((time.monotonic() - began) * 1000)
            await asyncio.sleep(pause)
        self._task = None
        self._last = -1

    async def _turn(self) -> None:
        first = self._last < 0
        for row in await self._ask():
            self._told.append(row.id)
            self._last = max(self._last, row.id)
            if row.subject == WORK:
                self._work = True
            else:
                self._tell(Hint(row.subject, row.object_id))
        if self._work:
            await self._wake_hosts()
        if first:
            await self._skip_known()

    def state(self) -> dict[str, object]:
        """How the poller does, as the loops of an engine say it."""
        said = {"turns": self._turns, "took_ms": self._took_ms, "late_ms": 0, "did": len(self._told)}
        return {"hints": {**said, "fault": self._fault}}

    async def _wake_hosts(self) -> None:
        """Wakes as many waiting hosts as there is work for; others in the next turn if any is left."""
        listening = set(self._waiting.values())
        ctx = Ctx(self._db, read_clock())
        hosts = await run_in_threadpool(dispatch.who_may_take, ctx, listening)
        self._work = bool(hosts)
        for listener, host in list(self._waiting.items()):
            if host in hosts:
                listener.put_nowait(Hint(WORK, None))

    async def _skip_known(self) -> None:
        after = max(0, self._last - OVERLAP)
        rows = await run_in_threadpool(
            self._db.transact, lambda tx: tx.all(ChangeNote, "common.changes_since", after=after)
        )
        self._told.extend(row.id for row in rows if row.id <= self._last)

    def _tell(self, hint: Hint) -> None:
        for listener in self._listeners:
            if listener.qsize() < 1000:
                listener.put_nowait(hint)

    def listen(self, host: int | None = None) -> asyncio.Queue[Hint | None]:
        """A queue of hints from now on, for a host only of work for it; give it back with `leave`."""
        listener: asyncio.Queue[Hint | None] = asyncio.Queue()
        if host is None:
            self._listeners.add(listener)
        else:
            self._waiting[listener] = host
            self._loop = asyncio.get_running_loop()
        if self._task is None:
            self._task = asyncio.get_running_loop().create_task(self._poll())
        return listener

    def host_leaves(self, host: int) -> None:
        """A host takes nothing more, so its asks for work are answered at once; from any thread."""
        if self._loop is None or self._loop.is_closed():
            return

        def end() -> None:
            for listener, waits in list(self._waiting.items()):
                if waits == host:
                    listener.put_nowait(None)

        self._loop.call_soon_threadsafe(end)

    def leave(self, listener: asyncio.Queue[Hint | None]) -> None:
        """Stops listening."""
        self._listeners.discard(listener)
        self._waiting.pop(listener, None)

    def stop(self) -> None:
        """Ends every stream, so that the server can stop."""
        for listener in [*self._listeners, *self._waiting]:
            listener.put_nowait(None)

    async def hints(self) -> AsyncIterator[Hint]:
        """Hints as they come, until the server stops."""
        listener = self.listen()
        try:
            while (hint := await listener.get()) is not None:
                yield hint
        finally:
            self.leave(listener)
