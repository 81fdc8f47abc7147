"""The routes about workshop: packages, releases, routines and their triggers."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.workshop import packages, routines

router = APIRouter()
for module in (packages, routines):
    router.include_router(module.router)

__all__ = ["router"]
