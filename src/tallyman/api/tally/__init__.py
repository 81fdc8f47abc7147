"""The routes about tally: promised against delivered, entries, rates, months."""

from __future__ import annotations

from tallyman.api.tally.routes import router

__all__ = ["router"]
