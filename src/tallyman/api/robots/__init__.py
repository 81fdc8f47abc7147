"""The routes about areas, hosts, robots and seats."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.robots import areas, machines

router = APIRouter()
for module in (
    areas,
    machines,
):
    router.include_router(module.router)
