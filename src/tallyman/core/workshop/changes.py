"""How much a release changes what the one before it declared: breaking, addition or fix, line by line.

Whoever set a release up relies on what it declares: what it may be given, what it gives, what it asks of
its surroundings. A change that an existing set-up may stop at is breaking; one that adds to what it may rely
on is an addition; all else is a fix.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

from tallyman.core.workshop.schema_changes import Side, of_schemas
from tallyman.core.workshop.words import Weight

HEAVIER: tuple[Weight, ...] = ("fix", "addition", "breaking")


class Number(NamedTuple):
    """The number of a release: what breaks raises the first part, what adds the second, else the third."""

    first: int
    second: int
    third: int

    @staticmethod
    def read(text: str) -> Number:
        """Three whole numbers with points between them; ValueError otherwise."""
        first, second, third = (int(part) for part in text.split("."))
        return Number(first, second, third)

    def __str__(self) -> str:
        return f"{self.first}.{self.second}.{self.third}"


@dataclass(frozen=True)
class Declared:
    """What a release declares. `inputs`, `outputs`: JSON Schemas of objects; `requirements`: name to version;
    `files`: name to digest."""

    inputs: Mapping[str, Any]
    outputs: Mapping[str, Any]
    entry: str = ""
    about: str = ""
    tags: frozenset[str] = frozenset()
    secrets: frozenset[str] = frozenset()
    counts: frozenset[str] = frozenset()
    checkpoints: bool = False
    requirements: Mapping[str, str] = field(default_factory=dict)
    files: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Change:
    """One difference: how heavy, of what kind (input, tag …), of which name, in words that follow it."""

    weight: Weight
    kind: str
    name: str
    words: str


def _named(
    kind: str, before: frozenset[str], after: frozenset[str], comes: str, goes: str
) -> Iterator[Change]:
    """Names that come and go: what is asked for breaks when it comes, what is counted when it goes."""
    asked = kind != "count"
    for name in sorted(after - before):
        yield Change("breaking" if asked else "addition", kind, name, comes)
    for name in sorted(before - after):
        yield Change("addition" if asked else "breaking", kind, name, goes)


def _requirements(before: Mapping[str, str], after: Mapping[str, str]) -> Iterator[Change]:
    for name in sorted(before.keys() | after.keys()):
        was, now = before.get(name), after.get(name)
        if was == now:
            continue
        words = (
            f"is required in {now}"
            if was is None
            else "is required no more"
            if now is None
            else f"{was} → {now}"
        )
        yield Change("fix", "requirement", name, words)


def _files(before: Mapping[str, str], after: Mapping[str, str]) -> Iterator[Change]:
    for name in sorted(before.keys() | after.keys()):
        if before.get(name) != after.get(name):
            words = "is new" if name not in before else "is gone" if name not in after else "is changed"
            yield Change("fix", "file", name, words)


def _itself(before: Declared, after: Declared) -> Iterator[Change]:
    if before.checkpoints and not after.checkpoints:
        yield Change(
            "breaking", "package", "", "keeps no states any more: a run of it cannot be held and go on"
        )
    if after.checkpoints and not before.checkpoints:
        yield Change("addition", "package", "", "keeps states: a run of it can be held and go on")
    if before.entry != after.entry:
        yield Change("fix", "package", "", f"begins in {after.entry} instead of {before.entry}")
    if before.about != after.about:
        yield Change("fix", "package", "", "says otherwise what it is for")


def changes(before: Declared, after: Declared) -> list[Change]:
    """Every difference of two releases, the heaviest first, in the order of what it is about."""
    sides: tuple[tuple[str, Side, Mapping[str, Any], Mapping[str, Any]], ...] = (
        ("input", "given", before.inputs, after.inputs),
        ("output", "gives", before.outputs, after.outputs),
    )
    found = [
        Change(one.weight, kind, one.place, one.words)
        for kind, side, was, now in sides
        for one in of_schemas(side, was, now)
    ]
    wanted = "must be there before a routine of it starts"
    found += _named("secret", before.secrets, after.secrets, wanted, "is not asked for any more")
    found += _named(
        "tag", before.tags, after.tags, "is asked of its robots", "is not asked of its robots any more"
    )
    found += _named("count", before.counts, after.counts, "is counted too", "is counted no more")
    found += _itself(before, after)
    found += _requirements(before.requirements, after.requirements)
    found += _files(before.files, after.files)
    return sorted(found, key=lambda one: -HEAVIER.index(one.weight))


def weight_of(found: list[Change]) -> Weight:
    """How heavy all of them are together; a release without differences is a fix."""
    return max((one.weight for one in found), key=HEAVIER.index, default="fix")


def next_number(before: Number, weight: Weight) -> Number:
    """The number after another that says how much changed."""
    if weight == "breaking":
        return Number(before.first + 1, 0, 0)
    if weight == "addition":
        return Number(before.first, before.second + 1, 0)
    return Number(before.first, before.second, before.third + 1)


def promised(before: Number, number: Number) -> Weight | None:
    """How much a number says has changed since another; None where it is not higher."""
    if number <= before:
        return None
    if number.first > before.first:
        return "breaking"
    return "addition" if number.second > before.second else "fix"


def promises_less(said: Weight, found: Weight) -> bool:
    """Whether whoever relies on what was said would be surprised by what was found."""
    return HEAVIER.index(said) < HEAVIER.index(found)
