"""The routes about starts: what starts a routine."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.starts import by_hand, called, hosts, routine_page, trials, triggers, tryouts

router = Routes().join(triggers, routine_page, trials, tryouts, by_hand, called, hosts)

__all__ = ["router"]
