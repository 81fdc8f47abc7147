"""The routes about robots: hosts, robots and seats."""

from __future__ import annotations

from tallyman.api.robots.hosts import router

__all__ = ["router"]
