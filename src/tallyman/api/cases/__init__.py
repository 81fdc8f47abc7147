"""The routes about cases: sizings, business cases, promises and what was delivered."""

from __future__ import annotations

from tallyman.api.cases import measures, routes, rules, sheets
from tallyman.api.routing import Routes

router = Routes().join(sheets, routes, rules, measures)

__all__ = ["router"]
