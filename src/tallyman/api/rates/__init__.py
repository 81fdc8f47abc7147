"""The routes about rates: dated rates."""

from __future__ import annotations

from tallyman.api.rates.routes import router

__all__ = ["router"]
