"""Attended runs: meant for one person, on their own computer, when they say so (rules §7, §11)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from tallyman.core.house import Calendar

# What somebody answers whose computer a run asks for.
Answer = Literal["now", "soon", "later"]
ANSWERED: dict[Answer, str] = {"now": "now", "soon": "in ten minutes", "later": "not today"}
SOON = timedelta(minutes=10)
# When it asks again on the day to which it was put off.
ASKS_AT = time(8, 0)


@dataclass(frozen=True)
class MeantFor:
    """Whose computer a run is meant for, and from when on they said that it may begin.

    Without a person: of a routine for whoever starts it, before anybody did.
    """

    person_id: int | None
    name: str
    agreed_at: datetime | None = None

    def agrees(self, now: datetime) -> bool:
        """Whether it may begin at that instant."""
        return self.agreed_at is not None and self.agreed_at <= now


def put_off(now: datetime, zone: str, calendar: Calendar) -> datetime | None:
    """When a run asks again that somebody does not want today: the morning of the next open day.

    `zone` is that person's; None where no day of the next year is open.
    """
    wall = ZoneInfo(zone)
    day = now.astimezone(wall).date()
    for _ in range(366):
        day += timedelta(days=1)
        if calendar.is_open(day):
            return datetime.combine(day, ASKS_AT, wall)
    return None
