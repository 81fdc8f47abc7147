"""The routes about people: entrance, sign-in, the signed-in person, profiles, tokens."""

from __future__ import annotations

from tallyman.api.people import entrance, profile, routes, single_sign_on, tokens
from tallyman.api.routing import Routes

router = Routes().join(routes, profile, entrance, single_sign_on, tokens)

__all__ = ["router"]
