"""The routes about tally: promised against delivered, entries, rates, months."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.tally import counts, from_before, routes

router = Routes().join(routes, counts, from_before)

__all__ = ["router"]
