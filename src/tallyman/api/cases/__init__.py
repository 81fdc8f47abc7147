"""The routes about cases: sizings, business cases, promises and what was delivered."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.cases import routes, sheets

router = APIRouter()
for module in (sheets, routes):
    router.include_router(module.router)

__all__ = ["router"]
