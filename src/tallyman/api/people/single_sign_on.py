"""Single sign-on: its settings, the way out to the identity provider and back."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request
from fastapi.responses import RedirectResponse, Response
from pydantic import Field

from tallyman.api.common import (
    Anyone,
    BySelf,
    Done,
    In,
    Number,
    SignedIn,
    VersionSeen,
    keep_session,
)
from tallyman.api.routing import Routes
from tallyman.config import settings
from tallyman.errors import TallymanError
from tallyman.services import people
from tallyman.services.people.answers import OutsideSettings

Short = Annotated[str, Field(max_length=400)]
Password = Annotated[str, Field(max_length=2000)]

router = Routes(tags=["house"])


STATE_COOKIE = "tallyman_outside"


STATE_SECONDS = 600


class OutsideIn(In):
    """Single sign-on; an empty secret keeps the one there is."""

    on: bool
    name: Annotated[str, Field(max_length=200)]
    issuer: Annotated[str, Field(max_length=400)]
    client_id: Short
    groups_claim: Annotated[str, Field(max_length=200)] = "groups"
    role: Number | None = None
    secret: Password = ""


@router.get("/house/sign-in")
def outside(ctx: SignedIn) -> OutsideSettings:
    """Single sign-on."""
    return people.single_sign_on.shown(ctx)


@router.put("/house/sign-in")
def keep_outside(given: OutsideIn, version: VersionSeen, ctx: BySelf) -> Done:
    """Keeps single sign-on; turned on only when the provider answers."""
    wanted = people.single_sign_on.Given(
        given.on, given.name, given.issuer, given.client_id, given.groups_claim, given.role, given.secret
    )
    people.single_sign_on.keep(ctx, wanted, version)
    return Done()


@router.get("/outside/start", response_class=Response)
def start_outside(ctx: Anyone, to: Annotated[str, Query(max_length=300)] = "/") -> Response:
    """Sends the browser to the identity provider."""
    try:
        url, state = people.single_sign_on.start(ctx, to)
    except TallymanError as error:
        return _to_sign_in(error)
    answer = RedirectResponse(url, 303)
    answer.set_cookie(
        STATE_COOKIE,
        state,
        max_age=STATE_SECONDS,
        httponly=True,
        # It must come along when the provider sends the browser back.
        samesite="lax",
        secure=settings().secure_cookie,
        path="/api/v1/outside",
    )
    return answer


@router.get("/outside/back", response_class=Response)
def back_outside(
    ctx: Anyone,
    request: Request,
    state: Annotated[str, Query(max_length=200)] = "",
    code: Annotated[str, Query(max_length=2000)] = "",
) -> Response:
    """Where the identity provider sends the browser back to."""
    agent = request.headers.get("user-agent", "")
    try:
        entered = people.single_sign_on.come_back(
            ctx, state, request.cookies.get(STATE_COOKIE, ""), code, agent
        )
    except TallymanError as error:
        answer = _to_sign_in(error)
    else:
        answer = RedirectResponse(entered.back, 303)
        keep_session(request, answer, ctx, entered.token, entered.ends)
    answer.delete_cookie(STATE_COOKIE, path="/api/v1/outside")
    return answer


def _to_sign_in(error: TallymanError) -> Response:
    """Back to the sign-in page, which says what went wrong by a name of ours, not by words of an address."""
    return RedirectResponse(f"/sign-in?outside={error.code}", 303)
