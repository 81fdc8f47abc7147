"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.services.alerts import Notification


@dataclass(frozen=True, slots=True)
class RuleOut:
    """A house rule: what it is for and how it stands."""

    title: str
    words: str
    fact: str
    link: str


@dataclass(frozen=True, slots=True)
class Waits:
    """Something that waits for me; `number` is what is decided in place, `stands_for` how many it is.

    `duty_of` is the role whose duty it is before it is mine, and `people` hold that; nothing is my own.
    """

    kind: str
    title: str
    words: str
    link: str
    due: date | None
    late: int
    number: int | None = None
    stands_for: int = 1
    duty_of: str = ""
    people: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Wrong:
    """Something that went wrong."""

    state: str
    title: str
    words: str
    link: str
    at: datetime | None


@dataclass(frozen=True, slots=True)
class Coming:
    """A start that comes next."""

    id: int
    routine_id: int
    routine: str
    next_at: datetime


@dataclass(frozen=True, slots=True)
class Mine:
    """An idea of my own."""

    id: int
    title: str
    stage: str
    building: str | None
    due_on: date | None
    stage_since: datetime


@dataclass(frozen=True, slots=True)
class FirstStep:
    """A first step of a new installation."""

    title: str
    words: str
    fact: str
    done: bool
    link: str


@dataclass(frozen=True, slots=True)
class Today:
    """The start page."""

    waits: list[Waits]
    wrong: list[Wrong]
    sees_runs: bool
    coming: list[Coming]
    mine: list[Mine]
    told: list[Notification]
    steps: list[FirstStep]
    now: datetime


@dataclass(frozen=True, slots=True)
class EntranceOut:
    """What the entrance offers: a first run, single sign-on."""

    first_run: bool
    outside: str
