"""Answers that say what is wrong and what mends it (RFC 9457)."""

from __future__ import annotations

import json
import math
import reprlib

import structlog
from fastapi import Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from tallyman.config import read_clock
from tallyman.errors import Forbidden, InputFaults, TallymanError
from tallyman.formats.sound import sound
from tallyman.services.access import givers
from tallyman.services.context import Ctx

log = structlog.get_logger()
# More faults than a person mends at once are counted, not listed.
MOST_FAULTS = 20
LONGEST_VALUE = 500
MOST_PARTS = 50
SHORT = reprlib.Repr()


def problem(status: int, code: str, detail: str, mend: str = "", **more: object) -> JSONResponse:
    """A problem answer with a stable code and a sentence for people."""
    body = {"title": code.replace("_", " "), "status": status, "code": code, "detail": detail}
    return JSONResponse(
        {"type": "about:blank", **body, "mend": mend, "errors": [], "more": {}, **more},
        status_code=status,
        media_type="application/problem+json",
    )


def _plain(value: object) -> object:
    """A value as JSON can carry it, never longer than a person would read."""
    if value is None or isinstance(value, bool | int):
        return value
    if isinstance(value, float):
        return value if math.isfinite(value) else str(value)
    if isinstance(value, str):
        return sound(value[:LONGEST_VALUE])
    if isinstance(value, list | dict) and len(value) <= MOST_PARTS:
        found = jsonable_encoder(value)
        return found if len(json.dumps(found, allow_nan=False)) <= LONGEST_VALUE else SHORT.repr(value)
    return SHORT.repr(value)[:LONGEST_VALUE]


def faults_answer(error: InputFaults) -> JSONResponse:
    """Every fault of an input, as many as a person would read, with how many more there are."""
    rows = [{**fault.as_dict(), "value": _plain(fault.value)} for fault in error.faults[:MOST_FAULTS]]
    return _listed(rows, len(error.faults))


def _listed(rows: list[dict[str, object]], total: int) -> JSONResponse:
    for row in rows:
        row["field"], row["message"] = sound(str(row["field"]))[:200], sound(str(row["message"]))[:500]
    detail = "; ".join(f"{row['field']}: {row['message']}" for row in rows)
    if total > len(rows):
        detail = f"{detail}; and {total - len(rows)} more"
    mend = "Mend the fields named."
    return problem(422, "input_faults", detail, mend, errors=rows, more={"faults": total})


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
    return faults_answer(error)


async def _misfit(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    found = error.errors()
    rows = []
    for fault in found[:MOST_FAULTS]:
        field = ".".join(str(part) for part in fault["loc"][1:]) or str(fault["loc"][0])
        value = fault.get("input")
        shown = value if isinstance(value, str) else SHORT.repr(value)
        rows.append({"field": field, "value": sound(shown[:100]), "message": fault["msg"]})
    return _listed(rows, len(found))


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
