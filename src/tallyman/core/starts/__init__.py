"""The clock: forms of start, their sentence and their times (rules §6)."""

from __future__ import annotations

from tallyman.core.starts.calc import Schedule, clock, read_schedule, zone_fault
from tallyman.core.starts.fields import parse
from tallyman.core.starts.forms import Coded
from tallyman.core.starts.pasted import own_form
from tallyman.core.starts.reading import reading
from tallyman.core.starts.times import Fired, Window, starts
from tallyman.core.starts.walls import change_said, offset_said, wall_said

__all__ = [
    "Coded",
    "Fired",
    "Schedule",
    "Window",
    "change_said",
    "clock",
    "offset_said",
    "own_form",
    "parse",
    "read_schedule",
    "reading",
    "starts",
    "wall_said",
    "zone_fault",
]
