"""The promise of a backed idea, spread over months to set what is delivered against it (rules §3)."""

from __future__ import annotations

import calendar
from datetime import date
from fractions import Fraction


def promised_for_month(yearly: Fraction, go_live: date, year: int, month: int) -> Fraction:
    """A year's promised amount for one month: by days from go-live on, a year being 365 days."""
    length = calendar.monthrange(year, month)[1]
    first, last = date(year, month, 1), date(year, month, length)
    if go_live > last:
        return Fraction(0)
    days = (last - max(first, go_live)).days + 1
    return yearly * days / 365
