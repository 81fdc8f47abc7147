"""Answers that several subjects give alike."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Choice:
    """Something to choose, in words."""

    value: str
    words: str


@dataclass(frozen=True, slots=True)
class AreaName:
    """An area by name."""

    id: int
    name: str
