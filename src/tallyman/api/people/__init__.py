"""The routes about people: entrance, sign-in, the signed-in person, profiles, tokens."""

from __future__ import annotations

from fastapi import APIRouter

from tallyman.api.people import entrance, profile, routes, single_sign_on, tokens

router = APIRouter()
for module in (routes, profile, entrance, single_sign_on, tokens):
    router.include_router(module.router)

__all__ = ["router"]
