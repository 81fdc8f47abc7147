"""The clock: five-field expressions, their sentence and their times (rules §6)."""

from tallyman.core.clock.calc import Schedule, clock, read_schedule
from tallyman.core.clock.fields import Expression, parse
from tallyman.core.clock.reading import reading
from tallyman.core.clock.times import Fired, starts

__all__ = ["Expression", "Fired", "Schedule", "clock", "parse", "read_schedule", "reading", "starts"]
