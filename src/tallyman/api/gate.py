"""What every request passes on its way in and out: size, origin, security headers, and the count of it."""

from __future__ import annotations

import time

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from tallyman.api.metrics import Requests
from tallyman.api.problems import problem

PREFIX = "/api/v1"
LARGEST_BODY = 26_000_000
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


def refusal(method: str, path: str, headers: Headers) -> Response | None:
    """Why a request may not pass: too large, or a change that another site's page could have sent."""
    length = headers.get("content-length") or "0"
    if not length.isdigit() or int(length) > LARGEST_BODY:
        size = f"at most {LARGEST_BODY // 1_000_000} MB"
        return problem(413, "too_large", f"What was sent is too large; {size}.", "Send a smaller file.")
    unsafe = method not in SAFE and path.startswith(PREFIX)
    if not unsafe or path.startswith(f"{PREFIX}/runner/"):
        return None
    origin = headers.get("origin")
    own = origin is None or origin.partition("://")[2] == headers.get("host")
    # A token in a header is sent by no browser of itself, so no other site's page can make it act.
    by_token = headers.get("authorization", "").startswith("Bearer ") and "cookie" not in headers
    if (headers.get("x-tallyman") == "1" or by_token) and own:
        return None
    words = "This change did not come from Tallyman's own pages."
    return problem(403, "foreign_origin", words, "Send the header X-Tallyman: 1.")


class Gate:
    """Plain ASGI, not the request-and-response kind of middleware, which costs a task per request."""

    def __init__(self, app: ASGIApp, requests: Requests) -> None:
        self.app = app
        self.requests = requests

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes a request on, or refuses it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        began = time.perf_counter()
        path = scope["path"]

        async def out(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers[name] = value
                if path.startswith(PREFIX):
                    headers["Cache-Control"] = "no-store"
                self.requests.answered(scope["method"], message["status"], time.perf_counter() - began)
            await send(message)

        refused = refusal(scope["method"], path, Headers(scope=scope))
        await (refused or self.app)(scope, receive, out)
