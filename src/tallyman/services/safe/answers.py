"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from tallyman.store.records.safe import UseOut as UseOut


@dataclass(frozen=True, slots=True)
class SecretRow:
    """A secret, without its value."""

    id: int
    name: str
    kind: str
    kind_words: str
    of_people: bool
    area_id: int | None
    area: str | None
    about: str
    # What it is, where it is no secret.
    value: str | None
    expires_on: date | None
    ends: str
    changed_at: datetime
    used_at: datetime | None
    made_by: str | None
    version: int
    may_change: bool
    may_retire: bool


@dataclass(frozen=True, slots=True)
class KindOut:
    """What a secret can be for."""

    kind: str
    words: str


@dataclass(frozen=True, slots=True)
class KeyOut:
    """A key outside the database, and how many secrets it wraps."""

    key_id: str
    secrets: int
    current: bool


@dataclass(frozen=True, slots=True)
class SecretsOut:
    """What is in the safe."""

    secrets: list[SecretRow]
    kinds: list[KindOut]
    keys: list[KeyOut]
    may_make: bool
    early_days: int


@dataclass(frozen=True, slots=True)
class RoutineOut:
    """A routine that would miss the secret."""

    id: int
    name: str


@dataclass(frozen=True, slots=True)
class OwnShown:
    """A value that a host or a robot gets in place of the one for all; `value` where it is no secret."""

    id: int
    host_id: int | None
    host: str | None
    robot_id: int | None
    robot: str | None
    value: str | None
    expires_on: date | None
    changed_at: datetime
    made_by: str | None
    used_at: datetime | None


@dataclass(frozen=True, slots=True)
class SecretOut:
    """The uses of a secret, and which routines ask for it."""

    uses: list[UseOut]
    routines: list[RoutineOut]
    unseen: int
    # Values of its own that hosts and robots get in place of the one for all.
    own: list[OwnShown]
    may_differ: bool


@dataclass(frozen=True, slots=True)
class Moving:
    """Which routines would find a secret no more, and which would find it, in another area; of those that the
    reader may not see, only how many."""

    lose: list[RoutineOut]
    gain: list[RoutineOut]
    lose_unseen: int
    gain_unseen: int
