"""What pages are told of how the house reckons cases."""

from __future__ import annotations

from dataclasses import dataclass

from tallyman.services.answers import Choice
from tallyman.services.house import VersionRow


@dataclass(frozen=True, slots=True)
class CaseRuleOut:
    """How cases are reckoned."""

    version: int
    seats: str
    choices: list[Choice]
    versions: list[VersionRow]


@dataclass(frozen=True, slots=True)
class MovedSizing:
    """A sizing that other factors would move: effort in person-days, share, worth in money."""

    id: int
    title: str
    stage: str
    effort_now: str | None
    effort_then: str | None
    share_now: str | None
    share_then: str | None
    worth_now: str | None
    worth_then: str | None


@dataclass(frozen=True, slots=True)
class MovedSizings:
    """What other factors would do to today's sizings: of how many, and those that move most."""

    sizings: int
    moved: int
    rows: list[MovedSizing]
