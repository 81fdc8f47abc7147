"""The routes about upkeep: health, and hints to live pages."""

from __future__ import annotations

from tallyman.api.upkeep.health import router
from tallyman.api.upkeep.metrics import Requests

__all__ = ["Requests", "router"]
