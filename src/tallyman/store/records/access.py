"""Records of the room `access`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from tallyman.core.access.words import RequestState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessRoles(Record):
    """Every role, the built-in ones first."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    BOOLS: ClassVar[tuple[int, ...]] = (3, 6)
    id: int
    name: str
    about: str
    built_in: bool
    permissions: Any
    copied_from: str
    second_factor: bool
    version: int
    retired_at: datetime | None
    holders: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Role(Record):
    """One role."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    BOOLS: ClassVar[tuple[int, ...]] = (3, 6)
    id: int
    name: str
    about: str
    built_in: bool
    permissions: Any
    copied_from: str
    second_factor: bool
    version: int
    retired_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessHeldBy(Record):
    """The roles of a person, in person and by groups, each with the area it is held for."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    BOOLS: ClassVar[tuple[int, ...]] = (3, 5)
    id: int
    role_id: int
    role: str
    built_in: bool
    permissions: Any
    second_factor: bool
    area_id: int | None
    area: str | None
    grp: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessBelow(Record):
    """Some areas, each with all below it."""

    above_id: int
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessPeopleWith(Record):
    """Active people who hold any of some roles for the whole company or for any of some areas."""

    id: int
    name: str
    email: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessHeld(Record):
    """One held role."""

    id: int
    role_id: int
    role: str
    person_id: int | None
    person: str | None
    group_id: int | None
    grp: str | None
    area_id: int | None
    area: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessHolders(Record):
    """Who holds roles for what, persons and groups."""

    id: int
    role_id: int
    role: str
    person_id: int | None
    person: str | None
    group_id: int | None
    grp: str | None
    area_id: int | None
    area: str | None
    at: datetime
    given_by: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class GroupOut(Record):
    """Groups with how many are in each."""

    id: int
    name: str
    about: str
    claim: str | None
    version: int
    members: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Group(Record):
    """One group."""

    id: int
    name: str
    about: str
    claim: str | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Member(Record):
    """Who is in a group."""

    BOOLS: ClassVar[tuple[int, ...]] = (2,)
    id: int
    name: str
    by_claim: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessRequests(Record):
    """Requests for access in a state, oldest first."""

    id: int
    person_id: int
    person: str
    permission: str
    area_id: int | None
    area: str | None
    words: str
    state: RequestState
    made_at: datetime
    decided_by: str | None
    decided_at: datetime | None
    answer: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessRequestsOf(Record):
    """The requests of one person, latest first."""

    id: int
    permission: str
    area_id: int | None
    area: str | None
    words: str
    state: RequestState
    made_at: datetime
    decided_by: str | None
    decided_at: datetime | None
    answer: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AccessRequest(Record):
    """One request."""

    id: int
    person_id: int
    permission: str
    area_id: int | None
    words: str
    state: RequestState


GIVES: dict[str, type[Record]] = {
    "access.roles": AccessRoles,
    "access.role": Role,
    "access.held_by": AccessHeldBy,
    "access.below": AccessBelow,
    "access.people_with": AccessPeopleWith,
    "access.people_with_anywhere": AccessPeopleWith,
    "access.held": AccessHeld,
    "access.holders": AccessHolders,
    "access.groups": GroupOut,
    "access.group": Group,
    "access.members": Member,
    "access.groups_of": Member,
    "access.requests": AccessRequests,
    "access.requests_of": AccessRequestsOf,
    "access.request": AccessRequest,
}
