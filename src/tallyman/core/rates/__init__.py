"""Cost tables: the rules others ask for."""

from __future__ import annotations

from tallyman.core.rates.costs import CostRow, HostDay, check_benefit, hours_of, reckoned

__all__ = ["CostRow", "HostDay", "check_benefit", "hours_of", "reckoned"]
