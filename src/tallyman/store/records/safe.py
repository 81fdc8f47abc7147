"""Records of the room `safe`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, ClassVar

from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OwnValue(Record):
    """The values that a secret has of its own for hosts and robots, with when each was used last."""

    id: int
    host_id: int | None
    host: str | None
    robot_id: int | None
    robot: str | None
    expires_on: date | None
    changed_at: datetime
    made_by: str | None
    used_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class OwnValuesForRun(Record):
    """The values of their own that some secrets have for a robot and its host; the robot's goes first."""

    own_of: int | None
    name: str
    kind: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeByName(Record):
    """Every value of their own that some secrets have, sealed."""

    id: int
    name: str
    kind: str
    area_id: int | None
    key_id: str
    wrapped: bytes
    sealed: bytes
    expires_on: date | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Secret(Record):
    """A secret in use, without its value."""

    id: int
    name: str
    kind: str
    area_id: int | None
    area: str | None
    about: str
    expires_on: date | None
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeListed(Record):
    """Secrets of some kinds in the areas that the reader may see, with when each was used last."""

    id: int
    name: str
    kind: str
    area_id: int | None
    area: str | None
    about: str
    expires_on: date | None
    changed_at: datetime
    version: int
    made_by: str | None
    used_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class UseOut(Record):
    """The latest uses of a secret, and of the values that it has or had of its own."""

    id: int
    at: datetime
    who: str
    what: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeOfOtherKeys(Record):
    """Secrets whose own key is wrapped by another key than the current one; 50 at once."""

    id: int
    kind: str
    name: str
    key_id: str
    wrapped: bytes
    version: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeKeys(Record):
    """How many secrets each key wraps."""

    key_id: str
    secrets: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeEnding(Record):
    """Secrets that end soon or ended, of which nobody was told yet; a hundred at once."""

    id: int
    name: str | None
    kind: str
    area_id: int | None
    expires_on: date | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeRoutinesUsing(Record):
    """The routines in use whose release asks for a secret."""

    id: int
    name: str
    area_id: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class SafeSetting(Record):
    """One of the house's settings."""

    JSON: ClassVar[tuple[int, ...]] = (1,)
    name: str
    value: Any
    version: int
    changed_at: datetime


GIVES: dict[str, type[Record]] = {
    "own_values.of_secret": OwnValue,
    "own_values.for_run": OwnValuesForRun,
    "own_values.all_of": SafeByName,
    "own_values.known": SafeByName,
    "safe.by_name": SafeByName,
    "safe.one": Secret,
    "safe.lock": Secret,
    "safe.listed": SafeListed,
    "safe.uses": UseOut,
    "safe.of_other_keys": SafeOfOtherKeys,
    "safe.keys": SafeKeys,
    "safe.ending": SafeEnding,
    "safe.routines_using": SafeRoutinesUsing,
    "safe.setting": SafeSetting,
    "safe.readable": SafeByName,
}
