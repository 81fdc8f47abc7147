"""The routes about runs: the list, one run, its log, and what people do with it."""

from __future__ import annotations

from tallyman.api.runs.life import router

__all__ = ["router"]
