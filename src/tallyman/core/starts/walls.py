"""Times as the wall of a zone shows them, and what clocks that change do to them."""

from __future__ import annotations

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tallyman.core.said import day_said

INSTANT = timedelta(microseconds=1)


def wall_said(at: datetime, zone: str) -> str:
    """Sun 29 Mar 2026, 03:00: what the clock on the wall shows at an instant."""
    local = at.astimezone(ZoneInfo(zone))
    return f"{local:%a} {day_said(local.date())}, {local:%H:%M}"


def offset_said(at: datetime, zone: str) -> str:
    """UTC+01:00 at an instant, which is what tells two passes of one hour apart."""
    text = f"{at.astimezone(ZoneInfo(zone)):%z}"
    return "UTC" if text == "+0000" else f"UTC{text[:3]}:{text[3:]}"


def change_said(at: datetime, zone: str) -> str:
    """What a change of the clocks does to a start at an instant; empty on nearly every day."""
    local = at.astimezone(ZoneInfo(zone))
    first, second = (local.replace(fold=fold).utcoffset() for fold in (0, 1))
    if first != second:
        which = "second" if local.fold else "first"
        return f"the {which} {local:%H:%M} of that night: clocks go back, and the hour comes twice"
    before = (at - INSTANT).astimezone(ZoneInfo(zone))
    jump = (local.utcoffset() or timedelta()) - (before.utcoffset() or timedelta())
    if jump > timedelta():
        begins = f"{local - jump:%H:%M}"
        return f"clocks go forward: {begins} to {local:%H:%M} does not exist on this day, and starts here"
    return ""
