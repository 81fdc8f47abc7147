"""Dated rates and the cost tables made of them."""

from __future__ import annotations

from tallyman.services.rates import costs, rates
from tallyman.services.rates.rates import KINDS, OF_CASES

__all__ = ["KINDS", "OF_CASES", "costs", "rates"]
