"""What pages are told of the queue of reviews."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True, slots=True)
class Waiting:
    """An idea that waits for a review."""

    id: int
    title: str
    due: date | None


@dataclass(frozen=True, slots=True)
class ReviewQueue:
    """The ideas that wait for a review, the first due first, and how many more there are."""

    rows: list[Waiting]
    more: int
