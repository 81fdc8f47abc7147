"""Sign-in, the signed-in person, notifications, people to pick."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Request, Response
from pydantic import Field

from tallyman.api.common import (
    BROWSER,
    COOKIE,
    MOST,
    Anyone,
    BarelySignedIn,
    BySelf,
    Done,
    In,
    Made,
    Number,
    SignedIn,
    VersionSeen,
    keep_session,
)
from tallyman.api.routing import Routes
from tallyman.services import alerts, people, robots, runs, safe
from tallyman.services.alerts import Notification
from tallyman.services.ideas import page as ideas_page
from tallyman.services.people.answers import (
    Directory,
    Division,
    Happened,
    Imported,
    ImportLook,
    Leaving,
    Left,
    Me,
    PeoplePage,
    PersonRow,
    SignedOut,
)
from tallyman.services.starts import routine_page
from tallyman.services.workshop import packages, rollouts

router = Routes(tags=["people"])


class SignIn(In):
    """Address and password."""

    email: Annotated[str, Field(max_length=190, examples=["ines.varga@merrowdale.example"])]
    password: Annotated[str, Field(max_length=200)]


class SecondIn(In):
    """The step that the first half of a sign-in named, and a code."""

    step: Annotated[str, Field(max_length=100)]
    code: Annotated[str, Field(max_length=40)]


@router.post("/session")
def sign_in(given: SignIn, ctx: Anyone, request: Request, response: Response) -> Done:
    """Signs in; the session is a cookie that scripts cannot read."""
    agent = request.headers.get("user-agent", "")
    browser = request.cookies.get(BROWSER, "")
    keep_session(request, response, ctx, *people.sign_in(ctx, given.email, given.password, agent, browser))
    return Done()


@router.post("/session/second")
def sign_in_second(given: SecondIn, ctx: Anyone, request: Request, response: Response) -> Done:
    """The second half of a sign-in that answered with the code second_factor."""
    agent = request.headers.get("user-agent", "")
    browser = request.cookies.get(BROWSER, "")
    keep_session(request, response, ctx, *people.sign_in_second(ctx, given.step, given.code, agent, browser))
    return Done()


@router.delete("/session")
def sign_out(request: Request, ctx: Anyone, response: Response) -> SignedOut:
    """Signs out; a session that has ended already is no fault."""
    token = request.cookies.get(COOKIE) or ""
    leave = people.single_sign_on.sign_out_address(ctx, token)
    if token:
        people.sign_out(ctx, token)
    response.delete_cookie(COOKIE, path="/")
    return SignedOut(leave=leave)


@router.get("/me")
def me(ctx: BarelySignedIn) -> Me:
    """The signed-in person."""
    return people.me(ctx)


@router.get("/people")
def directory(
    ctx: SignedIn,
    text: Annotated[str, Query(max_length=100)] = "",
    keep: Annotated[tuple[Number, ...], Query(max_length=50)] = (),
) -> Directory:
    """The first who can be picked and whom the words fit; those of `keep` are always among them."""
    return people.directory(ctx, text, keep)


class InviteIn(In):
    """Whom to invite; a role with it is given at once."""

    email: Annotated[str, Field(max_length=400, examples=["ada.pell@merrowdale.example"])]
    name: Annotated[str, Field(max_length=400)]
    division: Number | None = None
    role: Number | None = None
    area: Number | None = None


class PersonIn(In):
    """What a person is changed to."""

    name: Annotated[str, Field(max_length=400)]
    division: Number | None = None


class LeaveIn(In):
    """Who takes over what hands over."""

    to: Number | None = None


PersonState = Annotated[Literal["active", "invited", "left"] | None, Query()]
Words = Annotated[str | None, Query(max_length=100)]


@router.get("/people/all")
def everybody(
    ctx: SignedIn,
    state: PersonState = None,
    text: Words = None,
    after: Annotated[str | None, Query(max_length=400)] = None,
) -> PeoplePage:
    """One page of people by name, with roles, groups and state."""
    return people.listed(ctx, state, text, after)


@router.get("/people/export.csv", response_class=Response)
def export(ctx: SignedIn, state: PersonState = None, text: Words = None) -> Response:
    """Everybody, or those that are listed, as CSV."""
    heads = {"Content-Disposition": 'attachment; filename="people.csv"'}
    return Response(people.as_csv(ctx, state, text), media_type="text/csv; charset=utf-8", headers=heads)


@router.post("/people/invitations", status_code=201)
def invite(given: InviteIn, ctx: SignedIn) -> Made:
    """Invites somebody, who can be picked from now on."""
    wanted = people.Invited(given.email, given.name, given.division, given.role, given.area)
    return Made(id=people.invite(ctx, wanted))


class ListIn(In):
    """A list of people as the text of a CSV file."""

    text: Annotated[str, Field(max_length=1_100_000)]


@router.post("/people/list/look")
def look_at_list(given: ListIn, ctx: SignedIn) -> ImportLook:
    """What an import of a list would do, line by line; nothing is changed."""
    return people.lists.look(ctx, given.text.encode())


@router.post("/people/list")
def bring_in(given: ListIn, ctx: SignedIn) -> Made:
    """Begins to invite everybody of a list who is not here yet; the same list again adds nobody."""
    return Made(id=people.lists.begin(ctx, given.text.encode()))


@router.get("/people/list/{number}")
def list_brought_in(number: Number, ctx: SignedIn) -> Imported:
    """How far one's own list is, and what became of its lines."""
    return people.lists.outcome(ctx, number)


@router.post("/people/{number}/invitations")
def invite_again(number: Number, ctx: SignedIn) -> Done:
    """Sends a new invitation."""
    people.invite_again(ctx, number)
    return Done()


@router.get("/people/{number}")
def person(number: Number, ctx: SignedIn) -> PersonRow:
    """One person, with roles, groups and state."""
    return people.person_row(ctx, number)


@router.put("/people/{number}")
def change_person(number: Number, given: PersonIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a person's name and division."""
    people.change_person(ctx, number, given.name, given.division, version)
    return Done()


@router.get("/people/{number}/leaving")
def before_leaving(number: Number, ctx: SignedIn) -> Leaving:
    """What somebody would leave open."""
    return people.before_leaving(ctx, number)


@router.post("/people/{number}/leaving")
def deactivate(number: Number, given: LeaveIn, ctx: SignedIn) -> Left:
    """Somebody leaves, and the open work is handed over."""
    return Left(handed_over=people.deactivate(ctx, number, given.to))


@router.delete("/people/{number}/leaving")
def reactivate(number: Number, ctx: SignedIn) -> Done:
    """Somebody comes back, without roles."""
    people.reactivate(ctx, number)
    return Done()


@router.delete("/people/{number}/second-factor")
def take_factor(number: Number, ctx: SignedIn) -> Done:
    """Takes away the second factor of somebody who lost it."""
    people.second_factor.take_from(ctx, number)
    return Done()


@router.get("/divisions")
def divisions(ctx: SignedIn) -> list[Division]:
    """Where work belongs."""
    return people.divisions(ctx)


@router.get("/notifications")
def notifications(ctx: BySelf) -> list[Notification]:
    """What the signed-in person was told, latest first."""
    return alerts.notifications(ctx)


@router.post("/notifications/read")
def mark_read(ctx: BySelf, upto: Annotated[int, Query(ge=0, le=MOST)]) -> Done:
    """Everything up to this notification was read."""
    alerts.mark_read(ctx, upto)
    return Done()


@router.get("/history/{subject}/{number}")
def history(
    subject: Literal[
        "idea", "routine", "host", "robot", "run", "release", "rollout", "person", "area", "secret"
    ],
    number: Annotated[int, Field(ge=1, le=MOST)],
    ctx: SignedIn,
) -> list[Happened]:
    """What happened to an object, for whoever may see it."""
    if subject == "idea":
        ideas_page.one(ctx, number)
    elif subject == "routine":
        routine_page.one(ctx, number)
    elif subject == "run":
        runs.one(ctx, number)
    elif subject == "release":
        packages.one(ctx, number)
    elif subject == "rollout":
        rollouts.view(ctx, number)
    elif subject == "secret":
        safe.one(ctx, number)
    elif subject == "person":
        if number != ctx.actor.person_id:
            ctx.require("person.see")
    else:
        robots.check_seen(ctx, subject, number)
    return people.history(ctx, subject, number)
