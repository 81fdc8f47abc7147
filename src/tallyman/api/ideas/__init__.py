"""The routes about ideas: lists, ways in, one idea and its way."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.ideas import candidates, entry, lists, moves, routes, rules

router = APIRouter()
# Lists come first: their names are no numbers of ideas.
for module in (lists, entry, routes, moves, candidates, rules):
    router.include_router(module.router)

__all__ = ["router"]
