"""Ideas, from the first word to their stage: what others ask of them."""

from __future__ import annotations

from tallyman.services.ideas import page, worth_keys
from tallyman.services.ideas.base import days_late, find, find_to, may_see, move, obj, ref, tell_of
from tallyman.services.ideas.counted import by_hand, may_count, may_measure
from tallyman.services.ideas.from_use import stage_of, voice_from_use, wish_from_use
from tallyman.services.ideas.page import seen_among
from tallyman.services.ideas.rules import bands, factors_of
from tallyman.services.ideas.search import looked_for

__all__ = [
    "bands",
    "by_hand",
    "days_late",
    "factors_of",
    "find",
    "find_to",
    "looked_for",
    "may_count",
    "may_measure",
    "may_see",
    "move",
    "obj",
    "page",
    "ref",
    "seen_among",
    "stage_of",
    "tell_of",
    "voice_from_use",
    "wish_from_use",
    "worth_keys",
]
