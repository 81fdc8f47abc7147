"""The routes about portfolio: what to build first."""

from __future__ import annotations

from tallyman.api.portfolio.routes import router

__all__ = ["router"]
