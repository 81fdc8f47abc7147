"""Rates in words."""

from __future__ import annotations

from typing import Literal

# What became of a proposed rate.
RateState = Literal["proposed", "approved", "refused", "withdrawn"]
