"""The routes about starts: what starts a routine."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.starts import routine_page, seats, trials, triggers

router = Routes().join(triggers, routine_page, trials, seats)

__all__ = ["router"]
