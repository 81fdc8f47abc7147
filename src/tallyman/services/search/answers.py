"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Hit:
    """Something found: its kind, number as people write it, name, what else is said of it, the way to it."""

    kind: str
    ref: str
    name: str
    more: str
    link: str


@dataclass(frozen=True, slots=True)
class Hits:
    """What was found, the nearest first, of how many; `misspelt`: none is so by the letter."""

    rows: list[Hit]
    of_all: int
    misspelt: bool


@dataclass(frozen=True, slots=True)
class PlaceOut:
    """A page that one may open: its name, what its tab is called, what it is for, its address."""

    name: str
    short: str
    words: str
    link: str


@dataclass(frozen=True, slots=True)
class Places:
    """The sections and the house rules that one may see."""

    sections: list[PlaceOut]
    rules: list[PlaceOut]
