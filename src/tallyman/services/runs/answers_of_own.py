"""My computer as its page shows it: what asks for it, what works on it, and what it did."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.core.runs import Attended, RunState
from tallyman.services.robots import OwnComputerShown, OwnSeats


@dataclass(frozen=True, slots=True)
class ValueSaid:
    """An input or output of a run: what it is called, and its value as text."""

    name: str
    value: str


@dataclass(frozen=True, slots=True)
class MyRun:
    """A run that is meant for somebody: what it will do, how long it usually takes, and how it stands.

    `asks`: it waits for their answer now. `agreed_at`: from when on it may begin, as they said. `due_at`:
    when it asks, or asks again. `lapses_at`: its deadline. `waits_for`: what it lacks beside their answer.
    """

    id: int
    state: RunState
    attended: Attended
    routine: str
    area: str
    package: str
    release_version: str
    about: str
    inputs: list[ValueSaid]
    on_trial: bool
    started_by: str
    made_at: datetime
    due_at: datetime
    lapses_at: datetime | None
    asks: bool
    agreed_at: datetime | None
    usual_seconds: int | None
    started_at: datetime | None
    ended_at: datetime | None
    stopping: bool
    reason: str
    waits_for: str
    may_see: bool


@dataclass(frozen=True, slots=True)
class MyComputer:
    """Somebody's attended seats and own computer, the runs that are open for it, and the last that ended."""

    seats: OwnSeats
    computer: OwnComputerShown | None
    open: list[MyRun]
    ended: list[MyRun]


@dataclass(frozen=True, slots=True)
class Answered:
    """From when on a run may begin, or when it asks again."""

    at: datetime
