"""The routes about ideas: lists, ways in, one idea and its way."""

from __future__ import annotations

from tallyman.api.ideas import candidates, entry, lists, moves, routes, rules
from tallyman.api.routing import Routes

# Lists come first: their names are no numbers of ideas.
router = Routes().join(lists, entry, routes, moves, candidates, rules)

__all__ = ["router"]
