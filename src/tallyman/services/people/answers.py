"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime


@dataclass(frozen=True, slots=True)
class LocaleOut:
    """How dates and numbers can be written."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class MailOut:
    """How one kind of news comes by mail."""

    kind: str
    words: str
    how: str


@dataclass(frozen=True, slots=True)
class SessionOut:
    """A sign-in that is open."""

    handle: str
    made_at: datetime
    seen_at: datetime
    address: str
    agent: str
    how: str
    this: bool


@dataclass(frozen=True, slots=True)
class Named:
    """Somebody."""

    id: int
    name: str


@dataclass(frozen=True, slots=True)
class FactorOut:
    """Since when the second factor is on, recovery codes left, and the roles that ask for it."""

    on_since: datetime | None
    codes_left: int
    asked_by: list[str]


@dataclass(frozen=True, slots=True)
class Enrolment:
    """A new second factor for the person's app: its secret, shown this once, and as a picture to scan."""

    secret: str
    uri: str
    picture: str


@dataclass(frozen=True, slots=True)
class CodesOut:
    """Recovery codes, each good once; shown this once."""

    codes: list[str]


@dataclass(frozen=True, slots=True)
class Profile:
    """The signed-in person's profile."""

    name: str
    email: str
    zone: str
    locale: str
    locales: list[LocaleOut]
    mail: list[MailOut]
    away_from: date | None
    away_until: date | None
    stand_in: Named | None
    version: int
    second_factor: FactorOut
    sessions: list[SessionOut]
    stands_in_for: list[str]


@dataclass(frozen=True, slots=True)
class Ended:
    """How many sign-ins ended."""

    ended: int


@dataclass(frozen=True, slots=True)
class LinkOut:
    """What the page of a link shows."""

    name: str
    email: str
    zone: str
    company: str
    ends_at: datetime


@dataclass(frozen=True, slots=True)
class Accepted:
    """The address to sign in with."""

    email: str


@dataclass(frozen=True, slots=True)
class SignedOut:
    """It is done; `leave` is where to end single sign-on as well."""

    leave: str | None


@dataclass(frozen=True, slots=True)
class Me:
    """The signed-in person, what they may do, and the company's basics."""

    id: int
    name: str
    email: str
    zone: str
    roles: list[str]
    permissions: list[str]
    everywhere: list[str]
    seen_by: str
    locale: str
    factor_for: list[str]
    requests: int
    unread: int
    company: str
    currency: str
    company_zone: str


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody who can be picked."""

    id: int
    name: str
    email: str
    state: str
    division: str | None
    roles: str | None


@dataclass(frozen=True, slots=True)
class Directory:
    """Who can be picked: some of them, and whether there are more, whom words find."""

    people: list[Person]
    more: bool


@dataclass(frozen=True, slots=True)
class Division:
    """Where work belongs: its whole way down the tree, its own name, and what lies above it."""

    id: int
    name: str
    own: str
    parent_id: int | None


@dataclass(frozen=True, slots=True)
class Happened:
    """One line of an object's history."""

    id: int
    at: datetime
    who: str
    action: str
    words: str


@dataclass(frozen=True, slots=True)
class PersonRow:
    """Somebody as the directory of people shows them."""

    id: int
    name: str
    email: str
    state: str
    zone: str
    version: int
    division_id: int | None
    division: str | None
    roles: str | None
    groups_in: str | None
    seen_at: datetime | None
    invited_until: datetime | None
    away: bool
    away_until: date | None
    stand_in: str | None
    factor: bool


@dataclass(frozen=True, slots=True)
class PeoplePage:
    """One page of people by name, the mark of the next, and how many are in each state."""

    rows: list[PersonRow]
    next: str | None
    counts: dict[str, int]


@dataclass(frozen=True, slots=True)
class OpenWork:
    """A part somebody has in an idea under way."""

    id: int
    title: str
    stage: str
    words: str
    hands_over: bool


@dataclass(frozen=True, slots=True)
class Leaving:
    """What somebody would leave open."""

    name: str
    state: str
    work: list[OpenWork]
    roles: list[str]
    groups: list[str]
    pages: list[str]
    sessions: int


@dataclass(frozen=True, slots=True)
class Left:
    """How many pieces of work were handed over."""

    handed_over: int


@dataclass(frozen=True, slots=True)
class LookedAt:
    """What an import would do with a line."""

    line: int
    name: str
    email: str
    what: str
    faults: list[str]
    gets: list[str]


@dataclass(frozen=True, slots=True)
class ImportLook:
    """What an import would do."""

    rows: list[LookedAt]
    new: int
    here: int
    faults: int


@dataclass(frozen=True, slots=True)
class LineLeftOut:
    """A line that was not brought in."""

    line: int
    name: str
    faults: list[str]


@dataclass(frozen=True, slots=True)
class Imported:
    """How far a list is: lines done of all, how many were invited, were here, and what was left out."""

    id: int
    state: str
    done: int
    total: int
    words: str
    invited: int
    here: int
    left_out: list[LineLeftOut]


@dataclass(frozen=True, slots=True)
class FollowsOut:
    """A group that follows a claim."""

    name: str
    claim: str


@dataclass(frozen=True, slots=True)
class OutsideSettings:
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


@dataclass(frozen=True, slots=True)
class TokenRow:
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


@dataclass(frozen=True, slots=True)
class PermissionOut:
    """What one could allow a program."""

    permission: str
    words: str
    about: str


@dataclass(frozen=True, slots=True)
class MyTokens:
    """One's own tokens, and what one could allow another."""

    tokens: list[TokenRow]
    choices: list[PermissionOut]
    may_make: bool


@dataclass(frozen=True, slots=True)
class TokenMade:
    """The token, shown this once."""

    id: int
    token: str


@dataclass(frozen=True, slots=True)
class SigningKeyRow:
    """A key by which its person signs; `shown` is what people compare."""

    id: int
    name: str
    shown: str
    made_at: datetime
    retired_at: datetime | None
