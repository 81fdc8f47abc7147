"""Days and times as sentences say them, where their reader's own way of writing them is not known."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from decimal import Decimal
from fractions import Fraction

from tallyman.core.exact import plain


def day_said(day: date) -> str:
    """9 Dec 2026."""
    return f"{day.day} {day:%b %Y}"


def month_said(month: str) -> str:
    """Nov 2026, of 2026-11."""
    return f"{date.fromisoformat(f'{month}-01'):%b %Y}"


def figure_said(value: Fraction | Decimal | int) -> str:
    """6,583.5: grouped as English does it, with no more digits than it has."""
    return f"{Decimal(plain(Fraction(value))):,}"


def minutes_said(span: timedelta) -> str:
    """7 min, of a span of time; less than two minutes in seconds."""
    seconds = int(span.total_seconds())
    return f"{seconds} s" if seconds < 120 else f"{seconds // 60} min"


def time_said(at: datetime) -> str:
    """9 Dec, 18:30; whose zone it is, stands beside it."""
    return f"{at.day} {at:%b, %H:%M}"
