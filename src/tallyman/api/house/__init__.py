"""The routes about house: the company, areas, calendars, systems, mail and the audit trail."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.house import areas, calendars, outbox, routes, systems, trail

router = APIRouter()
for module in (routes, areas, calendars, systems, outbox, trail):
    router.include_router(module.router)

__all__ = ["router"]
