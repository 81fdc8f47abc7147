"""Close matches among ideas: by the words that both use, a rare one weighing more than a common one."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from rapidfuzz import fuzz, process

COMMON = frozenset(
    {"and", "are", "each", "for", "from", "have", "into", "one", "our", "that", "the", "their", "them"}
    | {"then", "this", "what", "when", "which", "who", "with", "those", "these", "they", "its", "not", "but"}
    | {"all", "any", "than", "only", "out", "over", "off", "too", "was", "were", "has", "had", "may", "can"}
    | {"cannot", "could", "should", "would", "will", "must", "how", "why", "where", "there", "here", "been"}
)
CLOSE_ENOUGH = 42
LOOKED_AT = 100
NEAR_WORD = 78
MOST = 4
# What a word counts that stands in no title, in one of them, in both; and how much asks for a verdict: about
# two words in both titles that few other ideas use.
PLACES = (0.35, 0.6, 1.0)
PLAUSIBLE = 1.2
# While there are few ideas, every word is rare: a word is weighed as if there were at least so many.
LEAST_IDEAS = 50
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
    """A close other idea: how close (0–100), and the words that both use, each with what its place counts."""

    number: int
    score: int
    words: tuple[str, ...]
    places: Mapping[str, float] = field(default_factory=dict)


def rarity(having: int, ideas: int) -> float:
    """How rare a word is, from 0 (every idea uses it) to 1, given how many ideas use it of how many."""
    most = max(ideas, LEAST_IDEAS)
    return 1 - math.log(min(max(having, 1), most)) / math.log(most)


def by_rarity(match: Match, rarities: Mapping[str, float]) -> Match:
    """A match with its words in the order of their rarity, the rarest first."""
    words = sorted(match.words, key=lambda word: (-rarities.get(word, 0), word))
    return replace(match, words=tuple(words))


def evidence(match: Match, rarities: Mapping[str, float]) -> float:
    """How much speaks for the same work: rare words count more, and more in the titles."""
    return sum(rarities.get(word, 0) * match.places.get(word, PLACES[0]) for word in match.words)


def is_plausible(match: Match, rarities: Mapping[str, float]) -> bool:
    """Whether a match is likely enough to be the same work that somebody should say so."""
    return evidence(match, rarities) >= PLAUSIBLE


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


def _places(one: Text, other: Text, shared: Iterable[str]) -> dict[str, float]:
    mine, theirs = words_of(one.title), words_of(other.title)
    begins = {word[:BEGINNING] for word in mine}
    return {word: PLACES[(word[:BEGINNING] in begins) + (word in theirs)] for word in shared}


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
            found.append(Match(other.number, score, shared, _places(one, other, shared)))
    return sorted(found, key=lambda match: (-match.score, match.number))[:most]
