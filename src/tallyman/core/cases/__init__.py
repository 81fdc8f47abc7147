"""Sizing and business case: the rules others ask for."""

from __future__ import annotations

from tallyman.core.cases.facts import SIZING
from tallyman.core.cases.promise import LINES as PROMISED_LINES
from tallyman.core.cases.promise import (
    Promised,
    month_of,
    promised_a_year,
    promised_between,
    promised_days,
)
from tallyman.core.cases.sizing import ACCESS_DAYS, band_of

__all__ = [
    "ACCESS_DAYS",
    "PROMISED_LINES",
    "SIZING",
    "Promised",
    "band_of",
    "month_of",
    "promised_a_year",
    "promised_between",
    "promised_days",
]
