"""The routes about starts: what starts a routine."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.starts import routine_page, triggers

router = Routes().join(triggers, routine_page)

__all__ = ["router"]
