"""The routes about runs, and those that runners ask."""

from __future__ import annotations

from tallyman.api.runs.life import router

__all__ = ["router"]
