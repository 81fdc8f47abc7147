"""The routes about today: what waits, what went wrong, what comes next; house rules gathered."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.today import house_rules, routes

router = Routes().join(routes, house_rules)

__all__ = ["router"]
