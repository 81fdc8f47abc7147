"""Starts by address: what other programs call with a routine's own token, and what looks after that."""

from __future__ import annotations

import asyncio
from typing import Annotated

from fastapi import Body, Header, Query, Request, Response
from pydantic import Field
from starlette.concurrency import run_in_threadpool

from tallyman.api.common import Anyone, Done, In, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.config import read_clock
from tallyman.services.context import Ctx
from tallyman.services.starts import addresses, called
from tallyman.services.starts.answers import AddressGiven, Called, CallsPage, RoutineAddress, RunTold

router = Routes(tags=["starts by address"])
ENDED = {"done", "failed", "cancelled", "lapsed", "lost"}
# However many hints come, a run that is waited for is looked at once in so many seconds.
LOOKS_EVERY = 0.5
Bearer = Annotated[str, Header(max_length=300, alias="Authorization")]


def token_of(authorization: str) -> str:
    """The token of an Authorization header; empty where there is none."""
    kind, _, token = authorization.partition(" ")
    return token.strip() if kind == "Bearer" else ""


@router.post("/called/{number}", status_code=201, responses={200: {"model": Called}})
async def call(
    number: Number,
    ctx: Anyone,
    request: Request,
    response: Response,
    inputs: Annotated[dict[str, object] | None, Body()] = None,
    authorization: Bearer = "",
    idempotency_key: Annotated[str, Header(max_length=1000)] = "",
    wait: Annotated[int, Query(ge=0, le=called.LONGEST_WAIT)] = 0,
    call_back: Annotated[str, Query(max_length=1000)] = "",
) -> Called:
    """Starts a routine with the token of its address. The body is its inputs as JSON; what is left out is
    what its set-up says.

    The same Idempotency-Key gives the same run again, with 200 instead of 201. With `wait` it answers once
    the run has ended, or after so many seconds; with `call_back` the end is told there as JSON.
    """
    given = called.Call(token_of(authorization), inputs or {}, idempotency_key, call_back)
    found = await run_in_threadpool(called.call, ctx, number, given)
    response.status_code = 200 if found.repeated else 201
    if wait:
        told = await _ended(request, ctx, number, found.told, given.token, wait)
        return Called(run=found.run, repeated=found.repeated, told=told)
    return found


async def _ended(request: Request, ctx: Ctx, number: int, told: RunTold, token: str, seconds: int) -> RunTold:
    """The run once it has ended, or as it stands when the time is over; no connection is held meanwhile."""
    ends = asyncio.get_running_loop().time() + seconds
    while told.state not in ENDED and asyncio.get_running_loop().time() < ends:
        if await request.is_disconnected():
            break
        await asyncio.sleep(LOOKS_EVERY)
        later = Ctx(ctx.db, read_clock(), ctx.actor)
        told = await run_in_threadpool(called.run, later, number, told.run, token)
    return told


@router.get("/called/{number}/runs/{run}")
def run(number: Number, run: Number, ctx: Anyone, authorization: Bearer = "") -> RunTold:
    """How a run stands that this address started."""
    return called.run(ctx, number, run, token_of(authorization))


class AddressIn(In):
    """From where (addresses or networks; none: from anywhere) and how often a minute it may be called."""

    networks: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=100)] = []
    a_minute: Annotated[int, Field(ge=-1000, le=100000)] = 60

    def given(self) -> addresses.Given:
        """The same as the service takes it."""
        return addresses.Given(self.networks, self.a_minute)


class RenewIn(In):
    """Whether the token of before ends at once; else it works for a day more."""

    at_once: bool = False


@router.get("/routines/{number}/address")
def shown(number: Number, ctx: SignedIn) -> RoutineAddress | None:
    """The address of a routine, but for its token; null where it has none."""
    return addresses.shown(ctx, number)


@router.post("/routines/{number}/address", status_code=201)
def give(number: Number, given: AddressIn, ctx: SignedIn) -> AddressGiven:
    """A routine can be started by its address; gives its token, this once."""
    return addresses.give(ctx, number, given.given())


@router.put("/routines/{number}/address")
def change(number: Number, given: AddressIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """From where and how often it may be called."""
    addresses.change(ctx, number, given.given(), version)
    return Done()


@router.post("/routines/{number}/address/renew")
def renew(number: Number, given: RenewIn, ctx: SignedIn) -> AddressGiven:
    """Another token, this once."""
    return addresses.renew(ctx, number, given.at_once)


@router.delete("/routines/{number}/address")
def take(number: Number, ctx: SignedIn) -> Done:
    """Nothing starts it by its address any more."""
    addresses.take(ctx, number)
    return Done()


@router.get("/routines/{number}/calls")
def calls(number: Number, ctx: SignedIn, before: Number | None = None) -> CallsPage:
    """The calls of its address, the latest first, each with what it started or why it was refused."""
    return addresses.calls(ctx, number, before)
