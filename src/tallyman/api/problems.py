"""Answers that say what is wrong and what mends it (RFC 9457)."""

from __future__ import annotations

from typing import Any

import structlog
from fastapi import Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from tallyman.config import read_clock
from tallyman.errors import Forbidden, InputFaults, TallymanError
from tallyman.services.access import givers
from tallyman.services.context import Ctx

log = structlog.get_logger()


def problem(status: int, code: str, detail: str, mend: str = "", **more: Any) -> JSONResponse:
    """A problem answer with a stable code and a sentence for people."""
    body = {"title": code.replace("_", " "), "status": status, "code": code, "detail": detail}
    return JSONResponse(
        {"type": "about:blank", **body, "mend": mend, "errors": [], "more": {}, **more},
        status_code=status,
        media_type="application/problem+json",
    )


def _plain(value: Any) -> Any:
    return value if isinstance(value, str | int | float | bool | list | dict | None) else str(value)


def _with_givers(request: Request, error: Forbidden) -> str:
    """Who can give the missing permission, by name, beside the roles it comes with."""
    db = getattr(request.app.state, "db", None)
    if db is None or "permission" not in error.more:
        return error.mend
    names = givers(Ctx(db, read_clock()), error.more.get("area"))
    asked = f"Ask {' or '.join(names)}, who can give it." if names else ""
    return f"{error.mend} {asked}".strip()


async def _refused(request: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, TallymanError)
    more = jsonable_encoder(error.more)
    mend = error.mend
    if isinstance(error, Forbidden):
        mend = await run_in_threadpool(_with_givers, request, error)
    return problem(error.status, error.code, error.message, mend, more=more)


async def _faults(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, InputFaults)
    rows = [{**fault.as_dict(), "value": _plain(fault.value)} for fault in error.faults]
    detail = "; ".join(f"{row['field']}: {row['message']}" for row in rows)
    return problem(422, "input_faults", detail, "Mend the fields named.", errors=rows)


async def _misfit(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    rows = []
    for fault in error.errors():
        field = ".".join(str(part) for part in fault["loc"][1:]) or str(fault["loc"][0])
        value = fault.get("input")
        rows.append({"field": field, "value": str(value)[:100], "message": fault["msg"]})
    detail = "; ".join(f"{row['field']}: {row['message']}" for row in rows)
    return problem(422, "input_faults", detail, "Mend the fields named.", errors=rows)


async def _http(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    return problem(error.status_code, "http", str(error.detail))


async def _unexpected(request: Request, error: Exception) -> JSONResponse:
    log.error("request failed", action="web.failed", path=request.url.path, exc_info=error)
    mend = "Try again; if it happens again, tell the operator the time it happened."
    return problem(500, "unexpected", "Something went wrong on our side.", mend)


HANDLERS = {
    TallymanError: _refused,
    InputFaults: _faults,
    RequestValidationError: _misfit,
    HTTPException: _http,
    Exception: _unexpected,
}
