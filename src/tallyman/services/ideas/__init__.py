"""Ideas, from the first word to their stage: what others ask of them."""

from __future__ import annotations

from tallyman.services.ideas import page
from tallyman.services.ideas.base import days_late, find, find_to, may_see, move, obj, ref, tell_of
from tallyman.services.ideas.page import seen_among
from tallyman.services.ideas.rules import bands, factors_of
from tallyman.services.ideas.search import looked_for

__all__ = [
    "bands",
    "days_late",
    "factors_of",
    "find",
    "find_to",
    "looked_for",
    "may_see",
    "move",
    "obj",
    "page",
    "ref",
    "seen_among",
    "tell_of",
]
