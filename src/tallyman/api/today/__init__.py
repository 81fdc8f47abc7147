"""The routes about today: what waits, what went wrong, what comes next; house rules gathered."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.today import helped, house_rules, routes

router = Routes().join(routes, house_rules, helped)

__all__ = ["router"]
