"""Roles, who holds them where, groups, requests for access, and why somebody may or may not."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Query
from pydantic import Field

from tallyman.api.common import BySelf, Done, In, Made, Model, Number, SignedIn, VersionSeen
from tallyman.core.access.permissions import ACTS, DUTIES, SUBJECTS
from tallyman.services import access
from tallyman.services.access.roles import RoleGiven

router = APIRouter(prefix="/access", tags=["access"])
Permission = Annotated[str, Field(max_length=40, examples=["routine.see"])]


class ActOut(Model):
    """One act on a subject."""

    permission: str
    act: str
    words: str


class SubjectOut(Model):
    """What permissions are about."""

    name: str
    title: str
    by_area: bool
    acts: list[ActOut]


class RoleOut(Model):
    """A role: what it allows, in words, and the duties it defeats."""

    id: int
    name: str
    about: str
    built_in: bool
    second_factor: bool
    copied_from: str
    version: int
    holders: int
    permissions: list[str]
    words: list[str]
    breaches: list[str]
    company_only: list[str]


class DutyOut(Model):
    """Two permissions that one person should not hold together, and why."""

    one: str
    other: str
    words: str


class RolesOut(Model):
    """Every role, and what there is to tick."""

    roles: list[RoleOut]
    subjects: list[SubjectOut]
    duties: list[DutyOut]


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


class HolderOut(Model):
    """A role as a person or group holds it."""

    id: int
    role_id: int
    role: str
    person_id: int | None
    person: str | None
    group_id: int | None
    grp: str | None
    area_id: int | None
    where: str
    at: datetime
    given_by: str | None
    may_take: bool


class GiveIn(In):
    """A role for a person or a group, for an area or (none) the whole company."""

    role: Number
    person: Number | None = None
    group: Number | None = None
    area: Number | None = None


class Given(Model):
    """The number of what was given, and the separations of duty that one person defeats by now."""

    id: int
    breaches: list[str]


class GroupOut(Model):
    """A group."""

    id: int
    name: str
    about: str
    claim: str | None
    version: int
    members: int


class Member(Model):
    """Somebody in a group."""

    id: int
    name: str
    by_claim: bool


class GroupPage(Model):
    """A group with its members."""

    id: int
    name: str
    about: str
    claim: str | None
    version: int
    people: list[Member]


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


class RequestOut(Model):
    """A request for access."""

    id: int
    person_id: int | None = None
    person: str | None = None
    permission: str
    area_id: int | None
    area: str | None
    words: str
    state: str
    made_at: datetime
    decided_by: str | None
    decided_at: datetime | None
    answer: str


class DecideIn(In):
    """The answer: a role for an area (or the company), or no role and why not."""

    role: Number | None = None
    area: Number | None = None
    answer: Annotated[str, Field(max_length=1000)] = ""


class Decided(Model):
    """What became of a request."""

    state: str


class GrantedOut(Model):
    """A role that grants something, and for what it is held."""

    role: str
    group: str | None
    where: str


class WhyOut(Model):
    """Whether somebody may, and by what, or what is missing and who can give it."""

    person: str
    permission: str
    words: str
    object: str
    may: bool
    state: str
    granted: list[GrantedOut]
    parts: list[str]
    elsewhere: list[GrantedOut]
    roles_with: list[str]
    givers: list[str]


class MayLine(Model):
    """Something that somebody may do, and where."""

    permission: str
    words: str
    where: str = ""


class SubjectLine(Model):
    """What somebody may and may not do about a subject."""

    subject: str
    may: list[MayLine]
    lacks: list[MayLine]


class AccessOf(Model):
    """Everything that a person may do, where, by which roles."""

    held: list[GrantedOut]
    lines: list[SubjectLine]
    groups: list[str]
    breaches: list[str]
    givers: list[str]


@router.get("/roles")
def roles(ctx: SignedIn) -> RolesOut:
    """Every role in use."""
    subjects: list[Any] = [
        {
            "name": name,
            "title": subject.title,
            "by_area": subject.by_area,
            "acts": [
                {"permission": f"{name}.{act}", "act": act, "words": subject.acts[act]}
                for act in ACTS
                if act in subject.acts
            ],
        }
        for name, subject in SUBJECTS.items()
    ]
    return RolesOut.model_validate(
        {"roles": access.listed(ctx), "subjects": subjects, "duties": [vars(one) for one in DUTIES]}
    )


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
    return [HolderOut.model_validate(row) for row in access.holders(ctx)]


@router.post("/holders", status_code=201)
def give(given: GiveIn, ctx: SignedIn) -> Given:
    """Gives a role to a person or a group."""
    return Given.model_validate(access.give(ctx, given.role, given.person, given.group, given.area))


@router.delete("/holders/{number}")
def take_away(number: Number, ctx: SignedIn) -> Done:
    """Takes a role away."""
    access.take_away(ctx, number)
    return Done()


@router.get("/groups")
def groups(ctx: SignedIn) -> list[GroupOut]:
    """Every group."""
    return [GroupOut.model_validate(row) for row in access.groups(ctx)]


@router.post("/groups", status_code=201)
def add_group(given: GroupIn, ctx: SignedIn) -> Made:
    """Makes a group."""
    return Made(id=access.add_group(ctx, given.name, given.about, given.claim, given.people))


@router.get("/groups/{number}")
def one_group(number: Number, ctx: SignedIn) -> GroupPage:
    """A group with its members."""
    return GroupPage.model_validate(access.one_group(ctx, number))


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
    return [RequestOut.model_validate(row) for row in access.waiting(ctx)]


@router.get("/requests/mine")
def my_requests(ctx: BySelf) -> list[RequestOut]:
    """What the signed-in person asked for."""
    return [RequestOut.model_validate(row) for row in access.mine(ctx)]


@router.post("/requests", status_code=201)
def ask(given: AskIn, ctx: BySelf) -> Made:
    """Asks for access."""
    return Made(id=access.ask(ctx, given.permission, given.area, given.words))


@router.post("/requests/{number}/decide")
def decide(number: Number, given: DecideIn, ctx: SignedIn) -> Decided:
    """Answers a request."""
    return Decided.model_validate(access.decide(ctx, number, given.role, given.area, given.answer))


@router.get("/why")
def why(
    ctx: SignedIn,
    person: Annotated[int, Query(ge=1, le=2**53)],
    permission: Annotated[str, Query(max_length=40)],
    subject: Annotated[str | None, Query(max_length=20)] = None,
    number: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> WhyOut:
    """Whether a person may do something, and why."""
    return WhyOut.model_validate(access.why(ctx, person, permission, subject, number))


@router.get("/mine")
def my_access(ctx: BySelf) -> AccessOf:
    """What the signed-in person may do, and who can give more."""
    assert ctx.actor.person_id is not None
    return AccessOf.model_validate(access.of_person(ctx, ctx.actor.person_id))


@router.get("/people/{number}")
def access_of(number: Number, ctx: SignedIn) -> AccessOf:
    """What a person may do."""
    return AccessOf.model_validate(access.of_person(ctx, number))
