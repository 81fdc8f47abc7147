"""How near a name is to what was typed: by number, by whole words, by their beginnings, misspelt."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from rapidfuzz import process
from rapidfuzz.distance import OSA

NUMBERED = 100.0
EXACT = 95.0
BEGINS = 90.0
WORDS = 80.0
INSIDE = 70.0
# Found by what is written about it, not by its name.
WRITTEN = 40.0
MISSPELT = 30.0
# A word this short is taken as it is typed: with another letter it is another word.
SHORTEST_MISSPELT = 4
NEAR_ENOUGH = 0.75
# Of two that are equally near the shorter name comes first; never by more than one step.
PER_LETTER = 0.02
MOST_LETTERS = 200


@dataclass(frozen=True)
class Found:
    """Something that can be found: its kind, number and name, what else is said of it, and the way to it."""

    kind: str
    id: int
    ref: str
    name: str
    more: str
    link: str
    # Whether it was found by what is written about it, so that its name need not be near.
    written: bool = False
    # Words that people also look for it by; never shown.
    other: str = ""


def words_of(text: str) -> list[str]:
    """The words and numbers of a text, in small letters."""
    return re.findall(r"[^\W_]+", text.lower())


def _misspelt(typed: list[str], words: list[str]) -> float:
    """How like each typed word is to some word of the name, the least of them; 0 if one is like none."""
    least = 1.0
    for one in typed:
        best = max((_like(one, word) for word in words), default=0.0)
        if best < NEAR_ENOUGH:
            return 0.0
        least = min(least, best)
    return least


def _like(typed: str, word: str) -> float:
    if word.startswith(typed):
        return 1.0
    if len(typed) < SHORTEST_MISSPELT:
        return 0.0
    # What is still being typed is compared with as much of the word as was typed.
    return float(
        max(OSA.normalized_similarity(typed, word), OSA.normalized_similarity(typed, word[: len(typed)]))
    )


def nearness(typed: str, found: Found) -> float:
    """How near something is to what was typed, 0 to 100; 0 is not near at all."""
    text = " ".join(typed.lower().split())
    if text.replace(" ", "") in {found.ref.lower(), found.ref.lower().replace("-", "")} - {""}:
        return NUMBERED
    asked = words_of(text)
    if not asked:
        return 0.0
    name = " ".join(found.name.lower().split())
    length = min(len(name), MOST_LETTERS) * PER_LETTER
    named = words_of(name)
    if name == text:
        return EXACT
    if name.startswith(text):
        return BEGINS - length
    if all(any(word.startswith(one) for word in named) for one in asked):
        return WORDS - length
    also = [*named, *words_of(found.more), *words_of(found.ref), *words_of(found.other)]
    if all(any(one in word for word in also) for one in asked):
        return INSIDE - length
    if found.written:
        return WRITTEN - length
    like = _misspelt(asked, named)
    return MISSPELT * like - length if like else 0.0


def index_of(names: Iterable[tuple[int, str]]) -> dict[str, set[int]]:
    """The words of many names, each with the numbers of those that have it."""
    having: dict[str, set[int]] = {}
    for number, name in names:
        for word in set(words_of(name)):
            having.setdefault(word, set()).add(number)
    return having


def alike(typed: str, having: Mapping[str, set[int]]) -> list[int]:
    """The numbers of the names in which some word is like each typed word; each word is compared once."""
    words, found = list(having), None
    for one in words_of(typed):
        numbers: set[int] = set().union(*(having[word] for word in _words_like(one, words)))
        found = numbers if found is None else found & numbers
    return sorted(found or ())


def _words_like(typed: str, words: list[str]) -> set[str]:
    near = {word for word in words if word.startswith(typed)}
    if len(typed) < SHORTEST_MISSPELT:
        return near
    for compared in (words, [word[: len(typed)] for word in words]):
        rows = process.extract(
            typed,
            compared,
            scorer=OSA.normalized_similarity,
            processor=None,
            score_cutoff=NEAR_ENOUGH,
            limit=None,
        )
        near |= {words[at] for _, _, at in rows}
    return near


@dataclass(frozen=True)
class Near:
    """The nearest first, how many are near in all, and whether any is so by the letter."""

    rows: list[Found]
    of_all: int
    by_letter: bool


def nearest(typed: str, all_found: Iterable[Found], most: int) -> Near:
    """The nearest of what could be found, each once, `most` of them at most."""
    scored: dict[tuple[str, int, str], tuple[float, Found]] = {}
    for one in all_found:
        score = nearness(typed, one)
        if score <= 0:
            continue
        key = (one.kind, one.id, one.link)
        if key not in scored or scored[key][0] < score:
            scored[key] = (score, one)
    ranked = sorted(scored.values(), key=lambda pair: (-pair[0], pair[1].kind, -pair[1].id))
    by_letter = any(score > MISSPELT for score, _ in ranked[:1])
    # Beside what is so by the letter, what is merely like it is noise.
    if by_letter:
        ranked = [pair for pair in ranked if pair[0] > MISSPELT]
    return Near([one for _, one in ranked[:most]], len(ranked), by_letter)
