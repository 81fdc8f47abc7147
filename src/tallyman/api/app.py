"""The web application: routers, problem answers, security headers, the built front end."""

from __future__ import annotations

import asyncio
import contextlib
import hmac
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path
from typing import Any

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from starlette.exceptions import HTTPException

from tallyman.api import (
    events,
    health,
    ideas,
    packages,
    people,
    robots,
    routines,
    runner,
    runs,
    tally,
    today,
)
from tallyman.api.common import Problem
from tallyman.api.hub import Hub
from tallyman.api.metrics import Requests
from tallyman.config import read_clock, settings
from tallyman.errors import InputFaults, TallymanError
from tallyman.services.context import Ctx, Database
from tallyman.services.presence import Presence

log = structlog.get_logger()
PREFIX = "/api/v1"
LOOKING_AT_ONCE = 6
LARGEST_BODY = 26_000_000
SAFE = ("GET", "HEAD", "OPTIONS")
HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; "
    "style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


def _problem(status: int, code: str, detail: str, mend: str = "", **more: Any) -> JSONResponse:
    body = {"title": code.replace("_", " "), "status": status, "code": code, "detail": detail}
    return JSONResponse(
        {"type": "about:blank", **body, "mend": mend, "errors": [], "more": {}, **more},
        status_code=status,
        media_type="application/problem+json",
    )


def _plain(value: Any) -> Any:
    return value if isinstance(value, str | int | float | bool | list | dict | None) else str(value)


async def _refused(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, TallymanError)
    more = jsonable_encoder(error.more)
    return _problem(error.status, error.code, error.message, error.mend, more=more)


async def _faults(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, InputFaults)
    rows = [{**fault.as_dict(), "value": _plain(fault.value)} for fault in error.faults]
    detail = "; ".join(f"{row['field']}: {row['message']}" for row in rows)
    return _problem(422, "input_faults", detail, "Mend the fields named.", errors=rows)


async def _misfit(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    rows = []
    for fault in error.errors():
        field = ".".join(str(part) for part in fault["loc"][1:]) or str(fault["loc"][0])
        value = fault.get("input")
        rows.append({"field": field, "value": str(value)[:100], "message": fault["msg"]})
    detail = "; ".join(f"{row['field']}: {row['message']}" for row in rows)
    return _problem(422, "input_faults", detail, "Mend the fields named.", errors=rows)


async def _http(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    return _problem(error.status_code, "http", str(error.detail))


async def _unexpected(request: Request, error: Exception) -> JSONResponse:
    log.error("request failed", action="web.failed", path=request.url.path, exc_info=error)
    mend = "Try again; if it happens again, tell the operator the time it happened."
    return _problem(500, "unexpected", "Something went wrong on our side.", mend)


async def guard(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
    """Refuses changes that another site's page could have sent, and adds the security headers."""
    path = request.url.path
    if int(request.headers.get("content-length") or 0) > LARGEST_BODY:
        size = f"at most {LARGEST_BODY // 1_000_000} MB"
        return _problem(413, "too_large", f"What was sent is too large; {size}.", "Send a smaller file.")
    unsafe = request.method not in SAFE and path.startswith(PREFIX)
    if unsafe and not path.startswith(f"{PREFIX}/runner/"):
        origin = request.headers.get("origin")
        own = origin is None or origin.partition("://")[2] == request.headers.get("host")
        if request.headers.get("x-tallyman") != "1" or not own:
            answer: Response = _problem(
                403,
                "foreign_origin",
                "This change did not come from Tallyman's own pages.",
                "Send the header X-Tallyman: 1.",
            )
        else:
            answer = await call_next(request)
    else:
        answer = await call_next(request)
    for name, value in HEADERS.items():
        answer.headers[name] = value
    if path.startswith(PREFIX):
        answer.headers["Cache-Control"] = "no-store"
    return answer


def _front(app: FastAPI, dist: Path) -> None:
    """Serves the built front end; every address that is not a file is the page itself."""

    @app.get("/{path:path}", include_in_schema=False)
    def front(path: str) -> Response:
        if path.startswith("api/"):
            return _problem(404, "not_found", "There is no such address.")
        found = (dist / path).resolve()
        if path and found.is_file() and found.is_relative_to(dist.resolve()):
            lasting = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
            return FileResponse(found, headers={"Cache-Control": lasting})
        index = dist / "index.html"
        if not index.exists():
            return _problem(503, "not_built", "The front end is not built.", "Run ./tallyman setup.")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})


def create_app(db: Database | None = None) -> FastAPI:
    """The application; without a database it only describes itself (for OpenAPI)."""

    @contextlib.asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        if db is None:
            yield
            return
        presence = Presence(db, "web")
        app.state.presence = presence
        presence.start()
        yield
        presence.stop()
        app.state.hub.stop()
        db.close()

    app = FastAPI(
        title="Tallyman",
        version="1",
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url=f"{PREFIX}/openapi.json",
        responses={"4XX": {"model": Problem, "description": "What is wrong, and what mends it"}},
    )
    if db is not None:
        app.state.db = db
        app.state.hub = Hub(db)
        app.state.looking = asyncio.Semaphore(LOOKING_AT_ONCE)
    for module in (
        people,
        today,
        ideas,
        packages,
        robots,
        routines,
        runs,
        tally,
        runner,
        health,
        events,
    ):
        app.include_router(module.router, prefix=PREFIX)

    @app.get("/healthz", include_in_schema=False)
    def healthz() -> dict[str, str]:
        return {"state": "up"}

    @app.get("/readyz", include_in_schema=False)
    def readyz() -> dict[str, str]:
        if db is not None:
            db.transact(lambda tx: tx.value("common.database_now"))
        return {"state": "ready"}

    requests = Requests()

    @app.get("/metrics", include_in_schema=False)
    def metrics(request: Request) -> Response:
        given = request.headers.get("authorization", "").removeprefix("Bearer ")
        local = request.client is not None and request.client.host in ("127.0.0.1", "::1", "testclient")
        token = settings().metrics_token
        if not (hmac.compare_digest(given, token) if token else local) or db is None:
            return _problem(403, "forbidden", "The figures are not for everyone.", "Send the metrics token.")
        text = requests.text(Ctx(db, read_clock()))
        return Response(text, media_type="text/plain; version=0.0.4; charset=utf-8")

    @app.middleware("http")
    async def count(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        began = time.perf_counter()
        answer = await call_next(request)
        requests.answers.labels(request.method, str(answer.status_code)).inc()
        requests.seconds.observe(time.perf_counter() - began)
        return answer

    app.middleware("http")(guard)
    app.add_exception_handler(TallymanError, _refused)
    app.add_exception_handler(InputFaults, _faults)
    app.add_exception_handler(RequestValidationError, _misfit)
    app.add_exception_handler(HTTPException, _http)
    app.add_exception_handler(Exception, _unexpected)
    _front(app, settings().web_dist)
    return app
