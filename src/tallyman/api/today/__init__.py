"""The routes about today: what waits, what went wrong, what comes next; house rules gathered."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.today import house_rules, routes

router = APIRouter()
for module in (routes, house_rules):
    router.include_router(module.router)

__all__ = ["router"]
