"""Records of the room `people`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, ClassVar

from tallyman.core.people.words import LinkKind, PersonState
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Link(Record):
    """A link, locked, with its person."""

    id: int
    kind: LinkKind
    person_id: int
    made_at: datetime
    ends_at: datetime
    used_at: datetime | None
    name: str
    email: str
    state: PersonState
    zone: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class LinksLatest(Record):
    """The latest link of a kind for some people."""

    person_id: int
    made_at: datetime
    ends_at: datetime
    sent: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleByEmail(Record):
    """A person who may sign in, by address."""

    id: int
    name: str
    email: str
    password_hash: str
    zone: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Person(Record):
    """A person by number."""

    JSON: ClassVar[tuple[int, ...]] = (8,)
    BOOLS: ClassVar[tuple[int, ...]] = (6,)
    id: int
    name: str
    email: str
    zone: str
    division_id: int | None
    state: PersonState
    active: bool
    locale: str
    mail: Any
    away_from: date | None
    away_until: date | None
    stand_in_id: int | None
    left_at: datetime | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleAwayFor(Record):
    """Who is away about now and named this person as stand-in."""

    id: int
    name: str
    away_from: date | None
    away_until: date | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Pickable(Record):
    """First of those who can be picked, by name: all, or whom some words fit."""

    id: int
    name: str
    email: str
    state: PersonState
    division: str | None
    roles: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleDivisions(Record):
    """Where work belongs, as a tree: each with the names above it."""

    id: int
    parent_id: int | None
    own: str
    name: str
    depth: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Session(Record):
    """An open session with its person."""

    person_id: int
    seen_at: datetime
    ends_at: datetime
    how: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleTries(Record):
    """Failed sign-ins of an account or address."""

    failures: int
    last_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleAnyByEmail(Record):
    """A person of any state, by address."""

    id: int
    name: str
    state: PersonState


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleSessionsOf(Record):
    """A person's open sessions."""

    handle: str
    made_at: datetime
    seen_at: datetime
    ends_at: datetime
    address: str
    agent: str
    how: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleByState(Record):
    """How many people are in each state, but for those erased."""

    state: PersonState
    people: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleListed(Record):
    """Some people, with division, roles and groups."""

    BOOLS: ClassVar[tuple[int, ...]] = (13,)
    id: int
    name: str
    email: str
    state: PersonState
    zone: str
    version: int
    away_until: date | None
    division_id: int | None
    division: str | None
    stand_in: str | None
    roles: str | None
    groups_in: str | None
    seen_at: datetime | None
    factor: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class PeopleOpenWork(Record):
    """What of the ideas under way somebody has a part in."""

    id: int
    title: str
    stage: str
    part: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SecondFactorOfPerson(Record):
    """A person's second factor, if one was begun."""

    person_id: int
    secret_id: int
    last_step: int
    on_since: datetime | None
    codes_left: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SecondFactorStep(Record):
    """A sign-in that waits for its second factor."""

    person_id: int
    how: str
    tries: int
    name: str
    email: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SigningKey(Record):
    """A person's keys, the newest first."""

    id: int
    person_id: int
    name: str
    public_half: str
    made_at: datetime
    retired_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SingleSignOnBegun(Record):
    """A sign-in that comes back from the identity provider."""

    nonce: str
    verifier: str
    back: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SingleSignOnPerson(Record):
    """Who is known by an identity outside."""

    BOOLS: ClassVar[tuple[int, ...]] = (4,)
    id: int
    name: str
    email: str
    state: PersonState
    active: bool


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SingleSignOnGroupsByClaim(Record):
    """Groups that follow claims."""

    id: int
    name: str
    claim: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TokensByHash(Record):
    """An open token with its person."""

    JSON: ClassVar[tuple[int, ...]] = (3,)
    id: int
    person_id: int
    name: str
    scope: Any
    used_at: datetime | None
    used_from: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class TokensOfPerson(Record):
    """A person's tokens, the newest first."""

    JSON: ClassVar[tuple[int, ...]] = (4,)
    id: int
    person_id: int
    person: str
    name: str
    scope: Any
    made_at: datetime
    ends_at: datetime
    used_at: datetime | None
    used_from: str | None
    revoked_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Token(Record):
    """One token."""

    id: int
    person_id: int
    name: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class ListPeople(Record):
    """People in a list."""

    id: int
    name: str


GIVES: dict[str, type[Record]] = {
    "links.one": Link,
    "links.latest": LinksLatest,
    "people.by_email": PeopleByEmail,
    "people.by_id": Person,
    "people.away_for": PeopleAwayFor,
    "people.directory": Pickable,
    "people.pickable": Pickable,
    "people.divisions": PeopleDivisions,
    "people.session": Session,
    "people.tries": PeopleTries,
    "people.any_by_email": PeopleAnyByEmail,
    "people.sessions_of": PeopleSessionsOf,
    "people.by_state": PeopleByState,
    "people.listed": PeopleListed,
    "people.open_work": PeopleOpenWork,
    "second_factor.of_person": SecondFactorOfPerson,
    "second_factor.step": SecondFactorStep,
    "signing_keys.of_person": SigningKey,
    "single_sign_on.begun": SingleSignOnBegun,
    "single_sign_on.person": SingleSignOnPerson,
    "single_sign_on.by_email": SingleSignOnPerson,
    "single_sign_on.groups_by_claim": SingleSignOnGroupsByClaim,
    "tokens.by_hash": TokensByHash,
    "tokens.of_person": TokensOfPerson,
    "tokens.all": TokensOfPerson,
    "tokens.one": Token,
    "list.people": ListPeople,
}
