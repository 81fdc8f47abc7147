"""The routes about robots: hosts, robots and seats."""

from __future__ import annotations

from tallyman.api.robots.hosts import Area, router

__all__ = ["Area", "router"]
