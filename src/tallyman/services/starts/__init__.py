"""What starts a routine."""

from __future__ import annotations

from tallyman.services.starts import (
    addresses,
    by_hand,
    called,
    groups,
    routine_page,
    seats_coming,
    trials,
    tryouts,
)
from tallyman.services.starts.kinds import start_due
from tallyman.services.starts.triggers import schedule_of, times_until

__all__ = [
    "addresses",
    "by_hand",
    "called",
    "groups",
    "routine_page",
    "schedule_of",
    "seats_coming",
    "start_due",
    "times_until",
    "trials",
    "tryouts",
]
