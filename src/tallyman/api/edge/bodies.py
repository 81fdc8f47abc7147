"""What a request may carry: bytes counted while they come, by route and by who sends them; JSON made sane."""

from __future__ import annotations

import asyncio
import re
from collections.abc import Callable
from dataclasses import dataclass

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.responses import Response
from starlette.types import Message, Receive, Scope

from tallyman.api.common import PREFIX
from tallyman.api.edge.problems import faults_answer, problem
from tallyman.core.faults import InputFaults
from tallyman.formats.sane import read_json

# Enough for every form; before somebody is known, no more is read of anybody.
SMALL = 64_000
USUAL = 1_000_000
FILES = 26_000_000
LARGER = (
    (re.compile(rf"^{PREFIX}/runner/runs/\d+/(report|outcome)$"), 8_000_000),
    (re.compile(rf"^{PREFIX}/(people/list|systems/list|calendars/)"), 5_000_000),
)
RAW = re.compile(rf"^{PREFIX}/runner/uploads/.")
# What all requests of this process may hold together, beyond the small ones; in memory it is some
# four times as much, as text and as values.
ALL_AT_ONCE = 10_000_000
IDLE_SECONDS = 10.0
SLOWEST = 20_000


class TooMuch(Exception):
    """A request that is refused while it is read; carries the answer."""

    def __init__(self, answer: Response) -> None:
        super().__init__("refused while it was read")
        self.answer = answer


def _size(most: int) -> str:
    return f"{most // 1_000_000} MB" if most >= 1_000_000 else f"{most // 1000} kB"


def too_large(most: int, known: bool = True) -> Response:
    """The answer to a request that carries too much."""
    if not known:
        words = f"Before somebody is signed in, at most {_size(most)} are read."
        return problem(413, "too_large", words, "Sign in first, or send less.")
    return problem(
        413, "too_large", f"What was sent is too large; at most {_size(most)}.", "Send a smaller file."
    )


def _too_slow() -> Response:
    return problem(
        408, "too_slow", "What was sent came too slowly.", "Send it again over a better connection."
    )


def _busy() -> Response:
    words = "Too much is being sent at once."
    return problem(503, "busy", words, "Try again in a moment.")


def most_bytes(path: str, headers: Headers) -> int:
    """How many bytes the body of a request may have, once who sends it is known."""
    if headers.get("content-type", "").startswith("multipart/"):
        return FILES
    return next((most for pattern, most in LARGER if pattern.match(path)), USUAL)


@dataclass
class Held:
    """The bytes that all requests of this process hold together, beyond the small ones."""

    total: int = 0


class Body:
    """Reads one request's body: counted, timed, checked once it is larger than small."""

    def __init__(self, scope: Scope, receive: Receive, held: Held, known: Callable[[], bool]) -> None:
        self._receive = receive
        self._path = scope["path"]
        self._headers = Headers(scope=scope)
        self._most = most_bytes(self._path, self._headers)
        self._held = held
        self._known = known
        self._checked = False
        self._taken = 0
        self.size = 0
        self.refused: Response | None = None
        self._began: float | None = None

    @property
    def is_form(self) -> bool:
        """Whether files come in a form, which is passed on piece by piece and kept on disk."""
        return self._headers.get("content-type", "").startswith("multipart/")

    def _refuse(self, answer: Response) -> TooMuch:
        self.refused = answer
        return TooMuch(answer)

    async def declared(self) -> Response | None:
        """Why a request is not read at all, by what it says of itself."""
        length = self._headers.get("content-length") or "0"
        coding = self._headers.get("content-encoding", "identity")
        if coding != "identity":
            return problem(415, "packed", f"Bodies packed as {coding[:40]!r} are not read.", "Send it plain.")
        if not (length.isascii() and length.isdigit()) or len(length) > 12 or int(length) > self._most:
            return too_large(self._most)
        if int(length) > SMALL and not await self._is_known():
            return too_large(SMALL, known=False)
        return None

    async def _is_known(self) -> bool:
        if not self._checked:
            self._checked = await run_in_threadpool(self._known)
        return self._checked

    async def piece(self) -> Message:
        """The next message of the request. Raises TooMuch when there is too much of it, or too slow."""
        loop = asyncio.get_running_loop()
        self._began = self._began or loop.time()
        try:
            async with asyncio.timeout(IDLE_SECONDS):
                message = await self._receive()
        except TimeoutError:
            raise self._refuse(_too_slow()) from None
        self.size += len(message.get("body", b""))
        if self.size > self._most:
            raise self._refuse(too_large(self._most))
        if self.size > SMALL:
            if not await self._is_known():
                raise self._refuse(too_large(SMALL, known=False))
            if not self.is_form:
                self._hold()
        if message.get("more_body") and loop.time() - self._began > IDLE_SECONDS + self.size / SLOWEST:
            raise self._refuse(_too_slow())
        return message

    def _hold(self) -> None:
        more = self.size - self._taken
        if self._held.total + more > ALL_AT_ONCE:
            raise self._refuse(_busy())
        self._held.total += more
        self._taken = self.size

    def done(self) -> None:
        """Nothing of the body is held any more."""
        self._held.total -= self._taken
        self._taken = 0

    async def whole(self) -> Receive | None:
        """Reads all of it, and gives it to be read again; None if whoever sent it is gone.

        Raises TooMuch, also for JSON that is not sane.
        """
        pieces = []
        while True:
            message = await self.piece()
            if message["type"] != "http.request":
                return None
            pieces.append(message.get("body", b""))
            if not message.get("more_body"):
                break
        data = b"".join(pieces)
        pieces.clear()
        if data and not RAW.match(self._path):
            await self._check(data)
        return self._again(data)

    async def _check(self, data: bytes) -> None:
        kind = self._headers.get("content-type", "application/json")
        if "json" not in kind:
            return
        try:
            if len(data) > SMALL:
                await run_in_threadpool(read_json, data)
            else:
                read_json(data)
        except InputFaults as error:
            raise self._refuse(faults_answer(error)) from None

    def _again(self, data: bytes) -> Receive:
        waiting: list[Message] = [{"type": "http.request", "body": data, "more_body": False}]

        async def receive() -> Message:
            return waiting.pop() if waiting else await self._receive()

        return receive
