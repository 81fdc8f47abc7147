"""Sizing and business case: the rules others ask for."""

from __future__ import annotations

from tallyman.core.cases.facts import SIZING
from tallyman.core.cases.promise import SAVING, Promised, month_of, promised_between, promised_days
from tallyman.core.cases.sizing import ACCESS_DAYS, band_of

__all__ = [
    "ACCESS_DAYS",
    "SAVING",
    "SIZING",
    "Promised",
    "band_of",
    "month_of",
    "promised_between",
    "promised_days",
]
