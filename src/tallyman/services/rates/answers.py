"""What pages are told: the answers of this room."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal


@dataclass(frozen=True, slots=True)
class RateRow:
    """A dated rate."""

    id: int
    kind: str
    name: str
    unit: str
    idea_id: int
    idea: str | None
    group: str
    what: str
    division_id: int
    division: str | None
    value: Decimal
    since: date
    state: str
    source: str
    proposer: str
    approver: str | None
    approved_at: datetime | None
    may_approve: bool
    # Of a proposed one: who may approve it; nobody, if somebody has to be given the permission first.
    approvers: list[str]
    # Of one proposed from a day that has begun: how many ended runs, and counts by hand, it has posted anew.
    touches: int
    touches_counts: int
    # Why it cannot be approved, whoever asks; empty where it can.
    against: str


@dataclass(frozen=True, slots=True)
class RateKind:
    """A kind of rate that the house sets: its unit, what its rows may be for, whether cases need it."""

    kind: str
    name: str
    unit: str
    by: str
    needs_by: bool
    divided: bool
    needed: bool
    group: str
