"""The routes about starts: what starts a routine."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.starts import routine_page, triggers

router = APIRouter()
for module in (triggers, routine_page):
    router.include_router(module.router)

__all__ = ["router"]
