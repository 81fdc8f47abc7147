"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.store.records.access import GroupOut as GroupOut
from tallyman.store.records.access import Member as Member


@dataclass(frozen=True, slots=True)
class ActOut:
    """One act on a subject."""

    permission: str
    act: str
    words: str


@dataclass(frozen=True, slots=True)
class SubjectOut:
    """What permissions are about."""

    name: str
    title: str
    by_area: bool
    acts: list[ActOut]


@dataclass(frozen=True, slots=True)
class RoleOut:
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


@dataclass(frozen=True, slots=True)
class DutyOut:
    """Two permissions that one person should not hold together, and why."""

    one: str
    other: str
    words: str


@dataclass(frozen=True, slots=True)
class RolesOut:
    """Every role, and what there is to tick."""

    roles: list[RoleOut]
    subjects: list[SubjectOut]
    duties: list[DutyOut]


@dataclass(frozen=True, slots=True)
class HolderOut:
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


@dataclass(frozen=True, slots=True)
class Given:
    """The number of what was given, and the separations of duty that one person defeats by now."""

    id: int
    breaches: list[str]


@dataclass(frozen=True, slots=True)
class GroupPage:
    """A group with its members."""

    id: int
    name: str
    about: str
    claim: str | None
    version: int
    people: list[Member]


@dataclass(frozen=True, slots=True)
class RequestOut:
    """A request for access."""

    id: int
    person_id: int | None
    person: str | None
    permission: str
    area_id: int | None
    area: str | None
    words: str
    state: str
    made_at: datetime
    decided_by: str | None
    decided_at: datetime | None
    answer: str


@dataclass(frozen=True, slots=True)
class Decided:
    """What became of a request."""

    state: str


@dataclass(frozen=True, slots=True)
class GrantedOut:
    """A role that grants something, and for what it is held."""

    role: str
    group: str | None
    where: str


@dataclass(frozen=True, slots=True)
class WhyOut:
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


@dataclass(frozen=True, slots=True)
class MayLine:
    """Something that somebody may do, and where."""

    permission: str
    words: str
    where: str = ""


@dataclass(frozen=True, slots=True)
class SubjectLine:
    """What somebody may and may not do about a subject."""

    subject: str
    may: list[MayLine]
    lacks: list[MayLine]


@dataclass(frozen=True, slots=True)
class AccessOf:
    """Everything that a person may do, where, by which roles."""

    held: list[GrantedOut]
    lines: list[SubjectLine]
    groups: list[str]
    breaches: list[str]
    givers: list[str]
