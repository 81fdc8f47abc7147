"""A person's own computer as pages show it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True, slots=True)
class OwnSeats:
    """Attended seats that somebody has or shares, how many are in use, and the groups that share."""

    number: int
    used: int
    shared_by: list[str]


@dataclass(frozen=True, slots=True)
class OwnComputerShown:
    """Somebody's own computer: whether it is connected and heard from, and whether they use it this moment.

    `code_until`: until when a one-time code is good that was not used yet.
    """

    host_id: int
    name: str
    connected: bool
    heard_at: datetime | None
    silent: bool
    revoked_at: datetime | None
    code_until: datetime | None
    in_use_since: datetime | None
