"""The clock: forms of start, their sentence and their times (rules §6)."""

from tallyman.core.clock.calc import Schedule, clock, read_schedule
from tallyman.core.clock.fields import Expression, parse
from tallyman.core.clock.forms import Coded, Form, Interval, Once
from tallyman.core.clock.pasted import own_form
from tallyman.core.clock.reading import reading
from tallyman.core.clock.times import Dropped, Fired, Window, starts

__all__ = [
    "Coded",
    "Dropped",
    "Expression",
    "Fired",
    "Form",
    "Interval",
    "Once",
    "Schedule",
    "Window",
    "clock",
    "own_form",
    "parse",
    "read_schedule",
    "reading",
    "starts",
]
