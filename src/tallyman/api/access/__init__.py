"""The routes about access: roles, groups, who holds what where, and requests."""

from __future__ import annotations

from tallyman.api.access.routes import router

__all__ = ["router"]
