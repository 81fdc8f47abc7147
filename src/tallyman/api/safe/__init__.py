"""The routes about safe: secrets."""

from __future__ import annotations

from tallyman.api.safe.routes import router

__all__ = ["router"]
