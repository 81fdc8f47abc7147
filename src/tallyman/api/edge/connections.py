"""Connections that take too long or too much: bounded heads, and an end to slow and idle ones.

The server's own protocol bounds what is idle between requests. This adds what it leaves open: a
head that never ends, and an answer that nobody reads.
"""

from __future__ import annotations

import asyncio
import resource
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_SECONDS = 10.0
UNREAD_SECONDS = 60.0
MOST_HEAD = 64_000
# What a body in pieces may spend on saying how long each piece is, for every byte of it.
MOST_FRAME = 8


class Patient(HttpToolsProtocol):
    """Speaks HTTP with one browser, program or runner, but not for ever."""

    def __init__(self, *given: Any, **named: Any) -> None:
        super().__init__(*given, **named)
        self._head_timer: asyncio.TimerHandle | None = None
        self._read_timer: asyncio.TimerHandle | None = None
        self._fed = self._body = 0
        self._in_message = False

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """A head must come within its time."""
        super().connection_made(transport)
        self._await_head()

    def connection_lost(self, exc: Exception | None) -> None:
        """Nothing is waited for any more."""
        self._head_came()
        self.resume_writing()
        super().connection_lost(exc)

    def _await_head(self) -> None:
        if self._head_timer is None:
            self._head_timer = self.loop.call_later(HEAD_SECONDS, self._give_up)

    def _head_came(self) -> None:
        if self._head_timer is not None:
            self._head_timer.cancel()
            self._head_timer = None

    def _give_up(self) -> None:
        if self.transport is not None and not self.transport.is_closing():
            self.transport.abort()

    def data_received(self, data: bytes) -> None:
        """Counts what is no body: heads, trailers, lengths of pieces."""
        self._fed += len(data)
        if not self._in_message:
            self._await_head()
        super().data_received(data)
        if self._fed - self._body > MOST_HEAD + MOST_FRAME * self._body:
            self._give_up()

    def on_message_begin(self) -> None:
        """A new request begins; what came with its beginning counts for it."""
        super().on_message_begin()
        self._body = 0
        self._fed = min(self._fed, MOST_HEAD)

    def on_headers_complete(self) -> None:
        """The head is whole."""
        self._head_came()
        self._in_message = True
        super().on_headers_complete()

    def on_body(self, body: bytes) -> None:
        """Counts the body."""
        self._body += len(body)
        super().on_body(body)

    def on_message_complete(self) -> None:
        """The request is whole; what follows is another."""
        super().on_message_complete()
        self._in_message = False
        self._fed = self._body = 0

    def pause_writing(self) -> None:
        """Nobody reads the answer: for a while that is borne."""
        super().pause_writing()
        if self._read_timer is None:
            self._read_timer = self.loop.call_later(UNREAD_SECONDS, self._give_up)

    def resume_writing(self) -> None:
        """The answer is read again."""
        super().resume_writing()
        if self._read_timer is not None:
            self._read_timer.cancel()
            self._read_timer = None


def allow_many() -> None:
    """As many open connections as the system lets this process have, rather than its first bound."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(hard, 65_536) if hard > 0 else 65_536, hard))
