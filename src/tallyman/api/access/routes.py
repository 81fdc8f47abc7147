"""Roles, who holds them where, groups, requests for access, and why somebody may or may not."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import Field

from tallyman.api.common import BySelf, Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.core.access.permissions import ACTS, DUTIES, SUBJECTS
from tallyman.services import access
from tallyman.services.access.answers import (
    AccessOf,
    ActOut,
    Decided,
    DutyOut,
    Given,
    GroupOut,
    GroupPage,
    HolderOut,
    RequestOut,
    RolesOut,
    SubjectOut,
    WhyOut,
)
from tallyman.services.access.roles import RoleGiven

router = Routes(prefix="/access", tags=["access"])
Permission = Annotated[str, Field(max_length=40, examples=["routine.see"])]


class RoleIn(In):
    """A role as somebody sets it up."""

    name: Annotated[str, Field(max_length=200, examples=["Night desk"])]
    about: Annotated[str, Field(max_length=2000)] = ""
    permissions: Annotated[list[Permission], Field(max_length=200)]
    second_factor: bool = False
    copied_from: Annotated[str, Field(max_length=60)] = ""

    def given(self) -> RoleGiven:
        """As the service takes it."""
        return RoleGiven(self.name, self.about, frozenset(self.permissions), self.second_factor)


class GiveIn(In):
    """A role for a person or a group, for an area or (none) the whole company."""

    role: Number
    person: Number | None = None
    group: Number | None = None
    area: Number | None = None


class GroupIn(In):
    """A group as somebody sets it up."""

    name: Annotated[str, Field(max_length=200)]
    about: Annotated[str, Field(max_length=2000)] = ""
    claim: Annotated[str, Field(max_length=200)] = ""
    people: Annotated[list[Number], Field(max_length=5000)] = []


class AskIn(In):
    """What somebody asks access for."""

    permission: Annotated[str, Field(max_length=40)] = ""
    area: Number | None = None
    words: Annotated[str, Field(max_length=1000, examples=["I look after the meter letters"])]


class DecideIn(In):
    """The answer: a role for an area (or the company), or no role and why not."""

    role: Number | None = None
    area: Number | None = None
    answer: Annotated[str, Field(max_length=1000)] = ""


@router.get("/roles")
def roles(ctx: SignedIn) -> RolesOut:
    """Every role in use."""
    subjects = [
        SubjectOut(
            name=name,
            title=subject.title,
            by_area=subject.by_area,
            acts=[
                ActOut(permission=f"{name}.{act}", act=act, words=subject.acts[act])
                for act in ACTS
                if act in subject.acts
            ],
        )
        for name, subject in SUBJECTS.items()
    ]
    duties = [DutyOut(one=duty.one, other=duty.other, words=duty.words) for duty in DUTIES]
    return RolesOut(roles=access.listed(ctx), subjects=subjects, duties=duties)


@router.post("/roles", status_code=201)
def add_role(given: RoleIn, ctx: SignedIn) -> Made:
    """Makes a role."""
    return Made(id=access.add_role(ctx, given.given(), given.copied_from))


@router.put("/roles/{number}")
def change_role(number: Number, given: RoleIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a role; of a built-in one only whether it asks for a second factor."""
    access.change_role(ctx, number, given.given(), version)
    return Done()


@router.delete("/roles/{number}")
def retire_role(number: Number, ctx: SignedIn) -> Done:
    """Takes a role that nobody holds out of use."""
    access.retire_role(ctx, number)
    return Done()


@router.get("/holders")
def holders(ctx: SignedIn) -> list[HolderOut]:
    """Who holds which role for what."""
    return access.holders(ctx)


@router.post("/holders", status_code=201)
def give(given: GiveIn, ctx: SignedIn) -> Given:
    """Gives a role to a person or a group."""
    return access.give(ctx, given.role, given.person, given.group, given.area)


@router.delete("/holders/{number}")
def take_away(number: Number, ctx: SignedIn) -> Done:
    """Takes a role away."""
    access.take_away(ctx, number)
    return Done()


@router.get("/groups")
def groups(ctx: SignedIn) -> list[GroupOut]:
    """Every group."""
    return access.groups(ctx)


@router.post("/groups", status_code=201)
def add_group(given: GroupIn, ctx: SignedIn) -> Made:
    """Makes a group."""
    return Made(id=access.add_group(ctx, given.name, given.about, given.claim, given.people))


@router.get("/groups/{number}")
def one_group(number: Number, ctx: SignedIn) -> GroupPage:
    """A group with its members."""
    return access.one_group(ctx, number)


@router.put("/groups/{number}")
def change_group(number: Number, given: GroupIn, version: VersionSeen, ctx: SignedIn) -> Done:
    """Changes a group and who is in it."""
    access.change_group(ctx, number, given.name, given.about, given.claim, given.people, version)
    return Done()


@router.delete("/groups/{number}")
def retire_group(number: Number, ctx: SignedIn) -> Done:
    """Takes a group that holds no role out of use."""
    access.retire_group(ctx, number)
    return Done()


@router.get("/requests")
def requests(ctx: SignedIn) -> list[RequestOut]:
    """Open requests that wait for the signed-in person."""
    return access.waiting(ctx)


@router.get("/requests/mine")
def my_requests(ctx: BySelf) -> list[RequestOut]:
    """What the signed-in person asked for."""
    return access.mine(ctx)


@router.post("/requests", status_code=201)
def ask(given: AskIn, ctx: BySelf) -> Made:
    """Asks for access."""
    return Made(id=access.ask(ctx, given.permission, given.area, given.words))


@router.post("/requests/{number}/decide")
def decide(number: Number, given: DecideIn, ctx: SignedIn) -> Decided:
    """Answers a request."""
    return access.decide(ctx, number, given.role, given.area, given.answer)


@router.get("/why")
def why(
    ctx: SignedIn,
    person: Annotated[int, Query(ge=1, le=2**53)],
    permission: Annotated[str, Query(max_length=40)],
    subject: Annotated[str | None, Query(max_length=20)] = None,
    number: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> WhyOut:
    """Whether a person may do something, and why."""
    return access.why(ctx, person, permission, subject, number)


@router.get("/mine")
def my_access(ctx: BySelf) -> AccessOf:
    """What the signed-in person may do, and who can give more."""
    assert ctx.actor.person_id is not None
    return access.of_person(ctx, ctx.actor.person_id)


@router.get("/people/{number}")
def access_of(number: Number, ctx: SignedIn) -> AccessOf:
    """What a person may do."""
    return access.of_person(ctx, number)
