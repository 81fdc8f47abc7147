"""Working days and closed days."""

from __future__ import annotations

from tallyman.core.house import workdays
from tallyman.core.house.words import SystemAccess
from tallyman.core.house.workdays import Calendar, read_calendar

__all__ = [
    "Calendar",
    "SystemAccess",
    "read_calendar",
    "workdays",
]
