"""Answers about who helped most."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.core.working import Working
from tallyman.services.house import VersionRow

__all__ = ["HelpedOut", "HelpedRow", "HelpedRuleOut", "Weight"]


@dataclass(frozen=True, slots=True)
class HelpedRow:
    """A place in the ranking: a person, a group or a division with its points and their working."""

    place: int
    name: str
    division: str
    points: str
    people: int
    me: bool
    working: Working


@dataclass(frozen=True, slots=True)
class Weight:
    """What one of a kind counts."""

    kind: str
    words: str
    weight: str


@dataclass(frozen=True, slots=True)
class HelpedOut:
    """Who helped most from one month to another; `mine` is the reader's own, theirs alone if they hide."""

    first: str
    last: str
    by: str
    oldest: str
    newest: str
    rows: list[HelpedRow]
    mine: HelpedRow | None
    hidden: bool
    left_out: int
    weights: list[Weight]
    may_change: bool


@dataclass(frozen=True, slots=True)
class HelpedRuleOut:
    """The weights in force, and the versions."""

    version: int
    weights: list[Weight]
    versions: list[VersionRow]
