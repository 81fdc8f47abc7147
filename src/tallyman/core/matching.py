"""Close matches among ideas: by the words that both use."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from rapidfuzz import fuzz

COMMON = frozenset(
    {"and", "are", "each", "for", "from", "have", "into", "one", "our", "that", "the", "their", "them"}
    | {"then", "this", "what", "when", "which", "who", "with"}
)
CLOSE_ENOUGH = 42


@dataclass(frozen=True)
class Text:
    """An idea as it is compared: its number, title and description."""

    number: int
    title: str
    what: str


@dataclass(frozen=True)
class Match:
    """A close other idea: how close (0–100) and the words that both use."""

    number: int
    score: int
    words: tuple[str, ...]


def words_of(text: str) -> set[str]:
    """The words that say something, in small letters and without a plural s."""
    found = re.findall(r"[^\W\d_]{3,}", text.lower())
    return {word.rstrip("s") for word in found if word not in COMMON}


def closest(one: Text, others: Iterable[Text], most: int = 4) -> list[Match]:
    """The closest other ideas, closest first, none below a useful likeness."""
    mine = words_of(f"{one.title} {one.what}")
    found = []
    for other in others:
        if other.number == one.number:
            continue
        shared = mine & words_of(f"{other.title} {other.what}")
        if not shared:
            continue
        title = fuzz.token_set_ratio(one.title.lower(), other.title.lower())
        body = fuzz.token_sort_ratio(one.what.lower(), other.what.lower())
        score = round(0.7 * title + 0.3 * body)
        if score >= CLOSE_ENOUGH:
            found.append(Match(other.number, score, tuple(sorted(shared))))
    return sorted(found, key=lambda match: (-match.score, match.number))[:most]
