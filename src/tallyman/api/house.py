"""House rules: what is set where, the company, mail, single sign-on, tokens; and what the entrance offers."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import RedirectResponse, Response
from pydantic import Field

from tallyman.api.common import (
    Anyone,
    BySelf,
    Done,
    In,
    Made,
    Model,
    Number,
    SignedIn,
    VersionSeen,
    keep_session,
)
from tallyman.config import settings
from tallyman.errors import TallymanError
from tallyman.services import house, mailing, people, tokens

router = APIRouter(tags=["house"])
STATE_COOKIE = "tallyman_outside"
STATE_SECONDS = 600
Short = Annotated[str, Field(max_length=400)]
Password = Annotated[str, Field(max_length=2000)]


class RuleOut(Model):
    """A house rule: what it is for and how it stands."""

    title: str
    words: str
    fact: str
    link: str


class DivisionOut(Model):
    """A division in the tree: its own name, the names above it in `name`, and how much belongs to it."""

    id: int
    name: str
    own: str
    parent_id: int | None
    depth: int
    ideas: int
    people: int


class CompanyOut(Model):
    """Whose installation this is."""

    name: str
    zone: str
    currency: str
    divisions: list[DivisionOut]


class CompanyIn(In):
    """What the company is changed to; `seen` is the name that was shown."""

    name: Short
    zone: Annotated[str, Field(max_length=60)]
    currency: Annotated[str, Field(max_length=10)]
    seen: Short


class DivisionIn(In):
    """A division's name, and below which one it lies."""

    name: Short
    parent: Number | None = None


class MoveIn(In):
    """Below which division another lies; none: at the top."""

    parent: Number | None = None


class IntoIn(In):
    """Into which division another goes."""

    into: Number


class ChoiceOut(Model):
    """Something to choose."""

    value: str
    words: str


class MailSettings(Model):
    """The mail server, without its password."""

    host: str
    port: int
    security: str
    user: str
    sender: str
    has_password: bool
    securities: list[ChoiceOut]
    version: int
    may_change: bool


class MailIn(In):
    """The mail server; an empty password keeps the one there is."""

    host: Annotated[str, Field(max_length=300)]
    port: Annotated[int, Field(ge=0, le=100_000)]
    security: Annotated[str, Field(max_length=20)]
    user: Annotated[str, Field(max_length=200)] = ""
    sender: Annotated[str, Field(max_length=190)]
    password: Password = ""

    def server(self) -> mailing.Server:
        """As the service takes it."""
        return mailing.Server(
            self.host.strip(), self.port, self.security, self.user.strip(), self.sender, self.password
        )


class Tested(Model):
    """What the mail server answered."""

    answer: str


class FollowsOut(Model):
    """A group that follows a claim."""

    name: str
    claim: str


class OutsideSettings(Model):
    """Single sign-on, without its secret; `back` is the address to name at the provider."""

    on: bool
    name: str
    issuer: str
    client_id: str
    groups_claim: str
    role_id: int | None
    has_secret: bool
    back: str
    groups: list[FollowsOut]
    version: int


class OutsideIn(In):
    """Single sign-on; an empty secret keeps the one there is."""

    on: bool
    name: Annotated[str, Field(max_length=200)]
    issuer: Annotated[str, Field(max_length=400)]
    client_id: Short
    groups_claim: Annotated[str, Field(max_length=200)] = "groups"
    role: Number | None = None
    secret: Password = ""


class TokenRow(Model):
    """A token for a program, never itself."""

    id: int
    person: str
    name: str
    words: list[str]
    made_at: datetime
    ends_at: datetime
    used_at: datetime | None
    used_from: str | None
    state: str
    may_revoke: bool


class PermissionOut(Model):
    """What one could allow a program."""

    permission: str
    words: str
    about: str


class MyTokens(Model):
    """One's own tokens, and what one could allow another."""

    tokens: list[TokenRow]
    choices: list[PermissionOut]
    may_make: bool


class TokenIn(In):
    """A token to make: for which program, what it may do, until which day."""

    name: Short
    scope: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=200)]
    ends_on: date


class TokenMade(Model):
    """The token, shown this once."""

    id: int
    token: str


class EntranceOut(Model):
    """What the sign-in page offers."""

    first_run: bool
    outside: str


class FirstIn(In):
    """The first person of a new installation, by the code that was printed at its start."""

    code: Annotated[str, Field(max_length=60)]
    name: Short
    email: Short
    password: Annotated[str, Field(max_length=200)]
    zone: Annotated[str, Field(max_length=60)]
    company: Short
    currency: Annotated[str, Field(max_length=10)]


@router.get("/house")
def gathered(ctx: BySelf) -> list[RuleOut]:
    """The house rules that one may see, each with how it stands."""
    return [RuleOut.model_validate(row) for row in house.gathered(ctx)]


@router.get("/house/company")
def company(ctx: SignedIn) -> CompanyOut:
    """Whose installation this is."""
    return CompanyOut.model_validate(house.company(ctx))


@router.put("/house/company")
def set_company(given: CompanyIn, ctx: SignedIn) -> Done:
    """Names the company, its zone and currency."""
    house.set_company(ctx, given.name, given.zone, given.currency, given.seen)
    return Done()


@router.post("/divisions", status_code=201)
def add_division(given: DivisionIn, ctx: SignedIn) -> Made:
    """A division more."""
    return Made(id=house.add_division(ctx, given.name, given.parent))


@router.put("/divisions/{number}")
def rename_division(number: Number, given: DivisionIn, ctx: SignedIn) -> Done:
    """Another name for a division."""
    house.rename_division(ctx, number, given.name)
    return Done()


@router.post("/divisions/{number}/move")
def move_division(number: Number, given: MoveIn, ctx: SignedIn) -> Done:
    """A division lies below another, or at the top."""
    house.move_division(ctx, number, given.parent)
    return Done()


@router.post("/divisions/{number}/merge")
def merge_division(number: Number, given: IntoIn, ctx: SignedIn) -> Done:
    """A division goes into another."""
    house.merge_division(ctx, number, given.into)
    return Done()


@router.get("/house/mail")
def mail(ctx: SignedIn) -> MailSettings:
    """The mail server."""
    return MailSettings.model_validate(mailing.shown(ctx))


@router.put("/house/mail")
def keep_mail(given: MailIn, version: VersionSeen, ctx: BySelf) -> Done:
    """Keeps the mail server."""
    mailing.keep(ctx, given.server(), version)
    return Done()


@router.post("/house/mail/test")
def test_mail(given: MailIn, ctx: BySelf) -> Tested:
    """Sends a mail to whoever asks, by what was typed."""
    return Tested(answer=mailing.test(ctx, given.server()))


@router.get("/house/sign-in")
def outside(ctx: SignedIn) -> OutsideSettings:
    """Single sign-on."""
    return OutsideSettings.model_validate(people.outside.shown(ctx))


@router.put("/house/sign-in")
def keep_outside(given: OutsideIn, version: VersionSeen, ctx: BySelf) -> Done:
    """Keeps single sign-on; turned on only when the provider answers."""
    wanted = people.outside.Given(
        given.on, given.name, given.issuer, given.client_id, given.groups_claim, given.role, given.secret
    )
    people.outside.keep(ctx, wanted, version)
    return Done()


@router.get("/house/tokens")
def everybodys_tokens(ctx: SignedIn) -> list[TokenRow]:
    """Everybody's tokens for programs."""
    return [TokenRow.model_validate(row) for row in tokens.everybodys(ctx)]


@router.get("/profile/tokens")
def my_tokens(ctx: BySelf) -> MyTokens:
    """One's own tokens for programs."""
    return MyTokens.model_validate(tokens.mine(ctx))


@router.post("/profile/tokens", status_code=201)
def make_token(given: TokenIn, ctx: BySelf) -> TokenMade:
    """A token for a program, shown this once."""
    return TokenMade.model_validate(tokens.make(ctx, given.name, given.scope, given.ends_on))


@router.delete("/tokens/{number}")
def revoke_token(number: Number, ctx: BySelf) -> Done:
    """A token works no more."""
    tokens.revoke(ctx, number)
    return Done()


# ---- the entrance, for whoever is not signed in ------------------------------------------------------


@router.get("/entrance")
def entrance(ctx: Anyone) -> EntranceOut:
    """What the sign-in page offers."""
    return EntranceOut.model_validate(house.entrance(ctx))


@router.post("/first")
def first(given: FirstIn, ctx: Anyone) -> Done:
    """Makes the first person of a new installation its lead."""
    people.first.come(ctx, people.first.Given(**given.model_dump()))
    return Done()


@router.get("/outside/start", response_class=Response)
def start_outside(ctx: Anyone, to: Annotated[str, Query(max_length=300)] = "/") -> Response:
    """Sends the browser to the identity provider."""
    try:
        url, state = people.outside.start(ctx, to)
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
        entered = people.outside.come_back(ctx, state, request.cookies.get(STATE_COOKIE, ""), code, agent)
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
