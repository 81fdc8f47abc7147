"""One's own profile, sign-ins, and the pages that links in mails lead to."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from fastapi import Path, Request
from pydantic import Field

from tallyman.api.common import COOKIE, Anyone, BarelyBySelf, BySelf, Done, In, Number, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services import people
from tallyman.services.people.answers import (
    Accepted,
    CodesOut,
    Ended,
    Enrolment,
    LinkOut,
    Profile,
)

router = Routes(tags=["profile"])
Token = Annotated[str, Path(pattern=r"^[0-9]{1,17}-[0-9a-f]{40}$")]
Secret = Annotated[str, Field(max_length=200)]


class CodeIn(In):
    """A code from the app, or a recovery code."""

    code: Annotated[str, Field(max_length=40)]


class ProfileIn(In):
    """What a profile is changed to."""

    name: Annotated[str, Field(max_length=400)]
    zone: Annotated[str, Field(max_length=60)]
    locale: Annotated[str, Field(max_length=12)]
    mail: dict[Annotated[str, Field(max_length=20)], Annotated[str, Field(max_length=20)]] = {}


class AwayIn(In):
    """From when to when one is away, and who stands in; nothing of it: back again."""

    start: date | None = None
    end: date | None = None
    stand_in: Number | None = None


class PasswordIn(In):
    """The password so far, and the new one."""

    old: Secret
    new: Secret


class AcceptIn(In):
    """What an invited person gives."""

    name: Annotated[str, Field(max_length=400)]
    password: Secret
    zone: Annotated[str, Field(max_length=60)]


class ForgotIn(In):
    """Whose password was forgotten."""

    email: Annotated[str, Field(max_length=190)]


class NewPasswordIn(In):
    """A new password."""

    password: Secret


def _token(request: Request) -> str:
    return request.cookies.get(COOKIE) or ""


@router.get("/profile")
def profile(request: Request, ctx: BarelyBySelf) -> Profile:
    """The signed-in person's profile."""
    return people.profile(ctx, _token(request))


@router.put("/profile")
def change_profile(given: ProfileIn, version: VersionSeen, ctx: BySelf) -> Done:
    """Changes name, zone, dates and numbers, and mails."""
    people.change_profile(ctx, given.name, given.zone, given.locale, given.mail, version)
    return Done()


@router.put("/profile/away")
def set_away(given: AwayIn, ctx: BySelf) -> Done:
    """From when to when one is away, and who stands in."""
    people.set_away(ctx, given.start, given.end, given.stand_in)
    return Done()


@router.put("/profile/password")
def change_password(given: PasswordIn, request: Request, ctx: BySelf) -> Done:
    """Changes the password; signs out elsewhere."""
    people.change_password(ctx, given.old, given.new, _token(request))
    return Done()


@router.delete("/profile/sessions")
def end_other_sessions(request: Request, ctx: BySelf) -> Ended:
    """Signs out everywhere else."""
    return Ended(ended=people.end_other_sessions(ctx, _token(request)))


@router.delete("/profile/sessions/{handle}")
def end_session(handle: Annotated[str, Path(pattern=r"^[0-9a-f]{16}$")], ctx: BySelf) -> Done:
    """Signs out one other place."""
    people.end_session(ctx, handle)
    return Done()


@router.post("/profile/second-factor")
def begin_factor(ctx: BarelyBySelf) -> Enrolment:
    """A new second factor, to be proved by a code."""
    return people.second_factor.begin(ctx)


@router.post("/profile/second-factor/confirm")
def confirm_factor(given: CodeIn, ctx: BarelyBySelf) -> CodesOut:
    """Turns the second factor on."""
    return CodesOut(codes=people.second_factor.confirm(ctx, given.code))


@router.post("/profile/second-factor/codes")
def fresh_codes(given: CodeIn, ctx: BySelf) -> CodesOut:
    """New recovery codes in place of the former."""
    return CodesOut(codes=people.second_factor.fresh_codes(ctx, given.code))


@router.post("/profile/second-factor/off")
def factor_off(given: CodeIn, ctx: BySelf) -> Done:
    """Turns the second factor off."""
    people.second_factor.turn_off(ctx, given.code)
    return Done()


@router.get("/links/{kind}/{token}")
def look(kind: Literal["invitation", "password"], token: Token, ctx: Anyone) -> LinkOut:
    """What a link is for; looking changes nothing."""
    return people.look(ctx, kind, token)


@router.post("/links/invitation/{token}")
def accept(token: Token, given: AcceptIn, ctx: Anyone) -> Accepted:
    """Accepts an invitation."""
    return Accepted(email=people.accept(ctx, token, given.name, given.password, given.zone))


@router.post("/links/password/{token}")
def new_password(token: Token, given: NewPasswordIn, ctx: Anyone) -> Done:
    """Sets a new password."""
    people.reset(ctx, token, given.password)
    return Done()


@router.post("/forgotten")
def forgot(given: ForgotIn, ctx: Anyone) -> Done:
    """Sends a link for a new password, if there is such a person; the answer is always the same."""
    people.forgot(ctx, given.email)
    return Done()
