"""Records of the room `alerts`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AlertsDigestOf(Record):
    """A person's news for the daily mail, locked; the first 200."""

    id: int
    text: str
    link: str
    at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Notification(Record):
    """A person's notifications, latest first."""

    id: int
    at: datetime
    text: str
    link: str
    read_at: datetime | None


GIVES: dict[str, type[Record]] = {
    "alerts.digest_of": AlertsDigestOf,
    "alerts.mine": Notification,
}
