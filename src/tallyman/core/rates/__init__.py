"""Cost tables: the rules others ask for."""

from __future__ import annotations

from tallyman.core.rates.costs import BENEFITS, CostRow, HostDay, check_benefit, hours_of, reckoned

__all__ = [
    "BENEFITS",
    "CostRow",
    "HostDay",
    "check_benefit",
    "hours_of",
    "reckoned",
]
