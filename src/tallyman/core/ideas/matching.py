"""Close matches among ideas: by the words that both use."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from rapidfuzz import fuzz, process

COMMON = frozenset(
    {"and", "are", "each", "for", "from", "have", "into", "one", "our", "that", "the", "their", "them"}
    | {"then", "this", "what", "when", "which", "who", "with"}
)
CLOSE_ENOUGH = 42
LOOKED_AT = 100
NEAR_WORD = 78
MOST = 4
# Of a word so much stands at the beginning, however it is misspelt further on.
BEGINNING = 4


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


def _plain(text: str) -> str:
    """The words of a text that say something, in their order, in small letters and without a plural s."""
    found = re.findall(r"[^\W\d_]{3,}", text.lower())
    return " ".join(word.rstrip("s") for word in found if word not in COMMON)


def beginnings(one: Text) -> str:
    """How the words of a text begin, as a full-text index is asked for any of them; empty without words."""
    words = sorted(words_of(f"{one.title} {one.what}"))
    return " ".join(dict.fromkeys(f"{word[:BEGINNING]}*" for word in words))


def words_of(text: str) -> set[str]:
    """The words of a text that say something."""
    return set(_plain(text).split())


def shared_words(mine: set[str], theirs: set[str]) -> tuple[str, ...]:
    """The other text's words that both use, also where one of them is misspelt."""
    found = mine & theirs
    left = sorted(theirs - found)
    for word in mine - found:
        near = process.extractOne(word, left, scorer=fuzz.ratio, score_cutoff=NEAR_WORD)
        if near is not None and near[0][0] == word[0]:
            found.add(near[0])
    return tuple(sorted(found))


def likeliest(one: Text, titles: Sequence[tuple[int, str]], most: int = LOOKED_AT) -> dict[int, float]:
    """The numbers of the ideas whose titles are most alike, with the likeness of each (0–100).

    Titles are compared whole, in any order of their words, so that thousands take a moment.
    """
    plain = [_plain(title) for _, title in titles]
    found = process.extract(_plain(one.title), plain, scorer=fuzz.token_set_ratio, limit=most)
    return {titles[at][0]: score for _, score, at in found}


def closest(one: Text, others: Iterable[Text], most: int = MOST) -> list[Match]:
    """The closest other ideas, closest first, none below a useful likeness.

    Only the likeliest by their titles are looked at word by word.
    """
    rows = {other.number: other for other in others if other.number != one.number}
    likely = likeliest(one, [(other.number, other.title) for other in rows.values()])
    mine = words_of(f"{one.title} {one.what}")
    found = []
    for number, title in likely.items():
        other = rows[number]
        body = fuzz.token_sort_ratio(one.what.lower(), other.what.lower())
        score = round(0.7 * title + 0.3 * body)
        if score < CLOSE_ENOUGH:
            continue
        shared = shared_words(mine, words_of(f"{other.title} {other.what}"))
        if shared:
            found.append(Match(other.number, score, shared))
    return sorted(found, key=lambda match: (-match.score, match.number))[:most]
