"""What every request passes on its way in and out: host, origin, body, security headers, and its count."""

from __future__ import annotations

import ipaddress
import time
from collections.abc import Callable
from functools import partial

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from tallyman.api.common import PREFIX
from tallyman.api.edge.bodies import Body, Held, TooMuch
from tallyman.api.edge.problems import problem
from tallyman.api.upkeep import Requests
from tallyman.config import known_hosts
from tallyman.services.context import SAID_CHANGED

SAFE = ("GET", "HEAD", "OPTIONS")
HEADERS = {
    # Pictures of data are drawn with style attributes; styles as elements and scripts come from files only.
    "Content-Security-Policy": "default-src 'none'; script-src 'self'; connect-src 'self'; font-src 'self'; "
    "img-src 'self' data: blob:; style-src 'self'; style-src-attr 'unsafe-inline'; worker-src 'self'; "
    "manifest-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=()",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


def _is_ours(host: str) -> bool:
    """Whether a request names this installation: by a number, as this machine, or by a configured name.

    A name that somebody else owns may lead here too; pages under it must not reach what is here.
    """
    name = host.rpartition(":")[0] if host.rpartition(":")[2].isdigit() else host
    name = name.strip("[]").lower().rstrip(".")
    if name in known_hosts():
        return True
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def refusal(method: str, path: str, headers: Headers) -> Response | None:
    """Why a request may not pass: a foreign name, or a change that another site's page could have sent."""
    host = headers.get("host", "")
    if not _is_ours(host):
        words = f"This Tallyman is not called {host[:80]!r}."
        return problem(421, "foreign_host", words, "Name it in TALLYMAN_HOSTS or TALLYMAN_PUBLIC_URL.")
    unsafe = method not in SAFE and path.startswith(PREFIX)
    if not unsafe or path.startswith(f"{PREFIX}/runner/"):
        return None
    origin = headers.get("origin")
    own = origin is None or origin.partition("://")[2] == host
    # A token in a header is sent by no browser of itself, so no other site's page can make it act.
    by_token = headers.get("authorization", "").startswith("Bearer ") and "cookie" not in headers
    if (headers.get("x-tallyman") == "1" or by_token) and own:
        return None
    words = "This change did not come from Tallyman's own pages."
    return problem(403, "foreign_origin", words, "Send the header X-Tallyman: 1.")


class Gate:
    """Plain ASGI, not the request-and-response kind of middleware, which costs a task per request.

    `known` says of a request whether somebody sends it who is signed in: asked only of large ones.
    """

    def __init__(self, app: ASGIApp, requests: Requests, known: Callable[[Scope], bool]) -> None:
        self.app = app
        self.requests = requests
        self.known = known
        self.held = Held()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes a request on, or refuses it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        began = time.perf_counter()
        path = scope["path"]
        started = False
        changed: set[str] = set()

        async def out(message: Message) -> None:
            nonlocal started
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers[name] = value
                if path.startswith(PREFIX):
                    headers["Cache-Control"] = "no-store"
                if changed:
                    headers["X-Changed"] = ", ".join(sorted(changed))
                self.requests.answered(scope["method"], message["status"], time.perf_counter() - began)
            await send(message)

        refused = refusal(scope["method"], path, Headers(scope=scope))
        if refused is not None or scope["method"] in SAFE:
            await (refused or self.app)(scope, receive, out)
            return
        body = Body(scope, receive, self.held, partial(self.known, scope))
        before = SAID_CHANGED.set(changed)
        try:
            refused = await body.declared()
            if refused is not None:
                await _and_close(refused)(scope, receive, out)
            elif body.is_form:
                await self._form(scope, body, out)
            elif again := await body.whole():
                await self.app(scope, again, out)
        except TooMuch as much:
            if not started:
                await _and_close(much.answer)(scope, receive, out)
        finally:
            SAID_CHANGED.reset(before)
            body.done()

    async def _form(self, scope: Scope, body: Body, out: Send) -> None:
        """Passes a form on while it comes; what is refused on the way answers instead of the route."""
        answered = False

        async def instead(message: Message) -> None:
            nonlocal answered
            if body.refused is None:
                await out(message)
            elif not answered:
                answered = True
                await _and_close(body.refused)(scope, body.piece, out)

        await self.app(scope, body.piece, instead)


def _and_close(answer: Response) -> Response:
    """An answer after which the rest of what is sent is not read."""
    answer.headers["Connection"] = "close"
    return answer
