"""Days and times as sentences say them, where their reader's own way of writing them is not known."""

from __future__ import annotations

from datetime import date, datetime


def day_said(day: date) -> str:
    """9 Dec 2026."""
    return f"{day.day} {day:%b %Y}"


def time_said(at: datetime) -> str:
    """9 Dec, 18:30; whose zone it is, stands beside it."""
    return f"{at.day} {at:%b, %H:%M}"
