"""What every router shares: who asks, the shapes of problems and workings, small answers."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from urllib.parse import quote

from fastapi import Depends, Header, Path, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.types import Scope

from tallyman.config import read_clock, settings
from tallyman.errors import Fault, InputFaults, NotSignedIn, TallymanError
from tallyman.services import people
from tallyman.services.context import Actor, Ctx
from tallyman.services.people import tokens
from tallyman.services.robots import HostByToken, host_tokens
from tallyman.services.starts import called

PREFIX = "/api/v1"
COOKIE = "tallyman_session"
BROWSER = "tallyman_browser"
# What a runner's machine is known by.
MACHINE = "x-tallyman-machine"
MOST = 2_000_000_000


class Model(BaseModel):
    """Answers: exactly the fields named, nothing that a service may add by accident."""

    model_config = ConfigDict(extra="ignore", from_attributes=True, defer_build=True)


class In(BaseModel):
    """Inputs: an unknown field is refused, so that a misspelt one is not lost in silence."""

    model_config = ConfigDict(extra="forbid")


class NothingIn(In):
    """No inputs: whatever is sent along is refused by name, so that nothing is ignored in silence."""


class FaultOut(Model):
    """One fault of an input."""

    field: str
    value: object = None
    message: str


class Problem(Model):
    """An error as RFC 9457 problem JSON, with a stable code and what mends it."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    detail: str
    mend: str = ""
    errors: list[FaultOut] = []
    more: dict[str, object] = {}


class Done(Model):
    """It is done."""

    ok: bool = True


class Made(Model):
    """The number of what was made."""

    id: int


def _address(request: Request) -> str:
    return request.client.host if request.client else "-"


def context(request: Request) -> Ctx:
    """The context of a request without a signed-in person."""
    actor = Actor(None, "nobody", address=_address(request))
    return Ctx(request.app.state.db, read_clock(), actor)


def keep_session(request: Request, response: Response, ctx: Ctx, token: str, ends: datetime) -> None:
    """Gives the browser its session as a cookie that scripts cannot read and other sites cannot send.

    A session that the browser had before ends.
    """
    before = request.cookies.get(COOKIE)
    if before:
        people.sign_out(ctx, before)
    response.set_cookie(
        COOKIE,
        token,
        max_age=int((ends - ctx.now).total_seconds()),
        httponly=True,
        samesite="strict",
        secure=settings().secure_cookie,
        path="/",
    )
    # Wrong tries from elsewhere do not hold up whoever signs in where they did before.
    email = people.who_is(ctx, token).email
    response.set_cookie(
        BROWSER,
        people.guesses.known_now(email, request.cookies.get(BROWSER, "")),
        max_age=int(people.guesses.KNOWN_FOR.total_seconds()),
        httponly=True,
        samesite="strict",
        secure=settings().secure_cookie,
        path=f"{PREFIX}/session",
    )


async def anyone(request: Request) -> Ctx:
    """As `context`, on the event loop itself: it waits for nothing."""
    return context(request)


def signed_in(request: Request) -> Ctx:
    """The context of a signed-in person with what their roles ask of a sign-in; NotSignedIn otherwise."""
    ctx = barely_signed_in(request)
    people.refuse_without_factor(ctx.actor)
    return ctx


def by_self(request: Request) -> Ctx:
    """As `signed_in`, for what a person does themselves and no program for them."""
    ctx = signed_in(request)
    tokens.refuse_programs(ctx.actor)
    return ctx


def _who(request: Request, ctx: Ctx) -> Actor:
    """The person of the session, or the one a program works for, by the token in the Authorization header."""
    kind, _, program = request.headers.get("authorization", "").partition(" ")
    if kind == "Bearer" and program:
        actor = tokens.who_is(ctx, program.strip())
        request.app.state.pace.check(program, ctx.now)
        return actor
    session = request.cookies.get(COOKIE)
    if not session:
        raise NotSignedIn("You are not signed in.", "Sign in first.")
    return people.who_is(ctx, session)


def is_known(scope: Scope) -> bool:
    """Whether a request comes from somebody signed in, a program or a runner, before its body is read."""
    request = Request(scope)
    try:
        if scope["path"].startswith(f"{PREFIX}/runner/"):
            token, machine = (request.headers.get(name, "") for name in ("authorization", MACHINE))
            runner_host(request, token[:300], machine[:200])
        elif scope["path"].startswith(f"{PREFIX}/called/"):
            return _may_call(request)
        else:
            _who(request, context(request))
    except TallymanError:
        return False
    return True


def _may_call(request: Request) -> bool:
    """Whether a request brings the token of the routine's address that it calls."""
    number = request.url.path.removeprefix(f"{PREFIX}/called/").partition("/")[0]
    token = request.headers.get("authorization", "").removeprefix("Bearer ").strip()
    known = number.isdigit() and len(number) < 12
    return known and called.knows(context(request), int(number), token[:300])


def barely_signed_in(request: Request) -> Ctx:
    """As `signed_in`, also while the second factor that a role asks for is still to be set up."""
    ctx = context(request)
    ctx = Ctx(ctx.db, ctx.now, _who(request, ctx))
    wanted = request.headers.get("x-see-as")
    if not wanted:
        return ctx
    tokens.refuse_programs(ctx.actor)
    actor = people.seen_as(ctx, wanted)
    if request.method not in ("GET", "HEAD"):
        people.refuse_changes(actor)
    return Ctx(ctx.db, ctx.now, actor)


def barely_by_self(request: Request) -> Ctx:
    """As `barely_signed_in`, for no program."""
    ctx = barely_signed_in(request)
    tokens.refuse_programs(ctx.actor)
    return ctx


def runner_host(
    request: Request,
    authorization: Annotated[str, Header(max_length=300)] = "",
    x_tallyman_machine: Annotated[str, Header(max_length=200)] = "",
) -> tuple[Ctx, HostByToken]:
    """The context of a runner and its host, by the token in the Authorization header."""
    ctx = context(request)
    kind, _, token = authorization.partition(" ")
    if kind != "Bearer" or not token:
        raise NotSignedIn("A runner's token is needed.", "Connect with a one-time code first.")
    host = host_tokens.host_of(ctx, token, x_tallyman_machine)
    actor = Actor(None, f"host {host.name}", address=ctx.actor.address)
    return Ctx(ctx.db, ctx.now, actor), host


def to_keep(name: str, data: bytes) -> Response:
    """A file to be kept under its name: nothing of it is shown as a page of ours."""
    heads = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(data, media_type="application/octet-stream", headers=heads)


def version_seen(if_match: Annotated[str, Header(max_length=40)] = "") -> int:
    """The version that an edit started from, out of If-Match."""
    text = if_match.strip().strip('"')
    if not text.isdigit():
        fault = Fault("If-Match", if_match or None, "send the version that you saw, from ETag")
        raise InputFaults([fault])
    return int(text)


def start_key(idempotency_key: Annotated[str, Header(max_length=60)] = "") -> str:
    """The key by which a repeated start is known as the same."""
    if not idempotency_key:
        fault = Fault("Idempotency-Key", None, "send a key of your own, new for each start")
        raise InputFaults([fault])
    return idempotency_key


Anyone = Annotated[Ctx, Depends(anyone)]
BarelySignedIn = Annotated[Ctx, Depends(barely_signed_in)]
BarelyBySelf = Annotated[Ctx, Depends(barely_by_self)]
SignedIn = Annotated[Ctx, Depends(signed_in)]
BySelf = Annotated[Ctx, Depends(by_self)]
Runner = Annotated[tuple[Ctx, HostByToken], Depends(runner_host)]
VersionSeen = Annotated[int, Depends(version_seen)]
StartKey = Annotated[str, Depends(start_key)]
Number = Annotated[int, Field(ge=1, le=MOST)]
Text = Annotated[str, Field(max_length=4000)]
# An account of an operating system, in a path.
AccountName = Annotated[str, Path(pattern=r"^[A-Za-z_][A-Za-z0-9._-]{0,31}$")]
