"""The routes about house: the company, areas, calendars, systems, mail and the audit trail."""

from __future__ import annotations

from tallyman.api.house import areas, calendars, outbox, pictures, routes, systems, trail
from tallyman.api.routing import Routes

router = Routes().join(routes, areas, calendars, systems, outbox, trail, pictures)

__all__ = ["router"]
