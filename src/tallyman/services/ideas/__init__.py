"""Ideas, from the first word to their stage: what others ask of them."""

from __future__ import annotations

from tallyman.services.ideas import page
from tallyman.services.ideas.base import days_late, find, find_to, may_see, move, obj, ref, tell_of

__all__ = ["days_late", "find", "find_to", "may_see", "move", "obj", "page", "ref", "tell_of"]
