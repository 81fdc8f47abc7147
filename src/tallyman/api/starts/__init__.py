"""The routes about starts: what starts a routine."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.starts import hosts, routine_page, trials, triggers

router = Routes().join(triggers, routine_page, trials, hosts)

__all__ = ["router"]
