"""The web application: routers, problem answers, security headers, the built front end."""

from __future__ import annotations

import asyncio
import contextlib
import hmac
from collections.abc import AsyncIterator
from datetime import datetime
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse

from tallyman.api import (
    access,
    cases,
    house,
    ideas,
    people,
    portfolio,
    rates,
    robots,
    runs,
    safe,
    search,
    selfservice,
    starts,
    tally,
    today,
    upkeep,
    uses,
    workshop,
)
from tallyman.api.common import PREFIX, is_known
from tallyman.api.edge import events
from tallyman.api.edge.gate import Gate
from tallyman.api.edge.hub import Hub
from tallyman.api.edge.pace import Pace
from tallyman.api.edge.problems import HANDLERS, problem
from tallyman.api.routing import Routes
from tallyman.api.runs import runner
from tallyman.api.upkeep.metrics import Requests
from tallyman.api.words import words
from tallyman.config import read_clock, settings
from tallyman.core.free import FreeObject
from tallyman.services.context import Ctx, Database
from tallyman.services.upkeep.presence import Presence

LOOKING_AT_ONCE = 1


def _front(app: FastAPI, dist: Path) -> None:
    """Serves the built front end; every address that is not a file is the page itself."""

    @app.get("/{path:path}", include_in_schema=False)
    def front(path: str) -> Response:
        if path.startswith("api/"):
            return problem(404, "not_found", "There is no such address.")
        found = (dist / path).resolve()
        if path and found.is_file() and found.is_relative_to(dist.resolve()):
            lasting = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
            return FileResponse(found, headers={"Cache-Control": lasting})
        index = dist / "index.html"
        if not index.exists():
            return problem(503, "not_built", "The front end is not built.", "Run ./tallyman setup.")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})


class Described(FastAPI):
    """The application, whose description names the words that pages show as well."""

    def openapi(self) -> FreeObject:
        """The description of the API."""
        return {**super().openapi(), "x-words": words()}


def create_app(db: Database | None = None) -> FastAPI:
    """The application; without a database it only describes itself (for OpenAPI)."""

    @contextlib.asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        if db is None:
            yield
            return
        presence = Presence(db, "web", app.state.hub.state)
        app.state.presence = presence
        presence.start()
        yield
        presence.stop()
        app.state.hub.stop()
        db.close()

    app = Described(
        title="Tallyman",
        version="1",
        lifespan=life,
        docs_url=None,
        redoc_url=None,
        openapi_url=f"{PREFIX}/openapi.json",
    )
    if db is not None:
        app.state.db = db
        app.state.hub = Hub(db)
        app.state.pace = Pace()
        app.state.looking = asyncio.Semaphore(LOOKING_AT_ONCE)
    # The runner's calls are by far the most, so they are looked for first.
    rooms = Routes().join(
        runner,
        people,
        access,
        house,
        safe,
        today,
        search,
        uses,
        ideas,
        cases,
        portfolio,
        workshop,
        selfservice,
        starts,
        robots,
        runs,
        tally,
        rates,
        upkeep,
        events,
    )
    app.router.routes.extend(rooms.routes)

    @app.get("/healthz", include_in_schema=False)
    def healthz() -> dict[str, str]:
        return {"state": "up"}

    @app.get("/readyz", include_in_schema=False)
    def readyz() -> dict[str, str]:
        if db is not None:
            db.transact(lambda tx: tx.value(datetime, "common.database_now"))
        return {"state": "ready"}

    requests = Requests()

    @app.get("/metrics", include_in_schema=False)
    def metrics(request: Request) -> Response:
        given = request.headers.get("authorization", "").removeprefix("Bearer ")
        local = request.client is not None and request.client.host in ("127.0.0.1", "::1", "testclient")
        token = settings().metrics_token
        if not (hmac.compare_digest(given, token) if token else local) or db is None:
            return problem(403, "forbidden", "The figures are not for everyone.", "Send the metrics token.")
        text = requests.text(Ctx(db, read_clock()))
        return Response(text, media_type="text/plain; version=0.0.4; charset=utf-8")

    app.add_middleware(Gate, requests=requests, known=is_known)
    for kind, handler in HANDLERS.items():
        app.add_exception_handler(kind, handler)
    _front(app, settings().web_dist)
    return app
