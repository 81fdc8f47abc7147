"""Sizing and business case: the rules others ask for."""

from __future__ import annotations

from tallyman.core.cases.facts import LABELS, MENDS, OPTIONAL, SIZING, sheet_of, stands_for
from tallyman.core.cases.promise import LINES as PROMISED_LINES
from tallyman.core.cases.promise import (
    YEAR_DAYS,
    Promised,
    month_of,
    promised_a_year,
    promised_between,
    promised_days,
)
from tallyman.core.cases.sizing import ACCESS_DAYS

__all__ = [
    "ACCESS_DAYS",
    "LABELS",
    "MENDS",
    "OPTIONAL",
    "PROMISED_LINES",
    "SIZING",
    "YEAR_DAYS",
    "Promised",
    "month_of",
    "promised_a_year",
    "promised_between",
    "promised_days",
    "sheet_of",
    "stands_for",
]
