"""The routes of self-service: pages on which colleagues run routines, and publishing them."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.selfservice import pages, publishing

router = Routes().join(pages, publishing)

__all__ = ["router"]
