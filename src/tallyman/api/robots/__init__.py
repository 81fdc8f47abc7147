"""The routes about robots: hosts, robots, seats, and what hosts can do."""

from __future__ import annotations

from tallyman.api.robots import applications, hosts, seats
from tallyman.api.routing import Routes

router = Routes().join(hosts, applications, seats)

__all__ = ["router"]
