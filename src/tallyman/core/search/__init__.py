"""Finding by words: how near a name is to what was typed, and where one can go by name."""

from __future__ import annotations

from tallyman.core.search.nearness import Found, alike, index_of, nearest, words_of
from tallyman.core.search.places import COMMANDS, RULES, SECTIONS, Place, open_to

__all__ = [
    "COMMANDS",
    "RULES",
    "SECTIONS",
    "Found",
    "Place",
    "alike",
    "index_of",
    "nearest",
    "open_to",
    "words_of",
]
