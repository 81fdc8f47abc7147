"""Records of the room `cases`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any, ClassVar

from tallyman.core.cases.words import AskedState, MeasuredPhase
from tallyman.core.ideas.words import Stage
from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AskedOfIdea(Record):
    """Who was asked about an idea, the latest first."""

    JSON: ClassVar[tuple[int, ...]] = (5,)
    id: int
    person_id: int
    person: str
    asker: str
    words: str
    fields: Any
    link_id: int | None
    state: AskedState
    asked_at: datetime
    opened_at: datetime | None
    ended_at: datetime | None
    remark: str
    ends_at: datetime | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class AskedByLink(Record):
    """The request that a link belongs to."""

    JSON: ClassVar[tuple[int, ...]] = (8,)
    id: int
    idea_id: int
    person_id: int
    asked_by: int
    person: str
    zone: str
    asker: str
    words: str
    fields: Any
    state: AskedState
    link_id: int | None
    asked_at: datetime


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredDemand(Record):
    """Items that came by month, as counted by hand."""

    month: str
    items: Decimal
    source: str
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredDemandOf(Record):
    """Items that came in one month."""

    month: str
    items: Decimal
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredSpent(Record):
    """Person-days by phase, and when each ended."""

    phase: str
    person_days: Decimal
    ended_on: date | None
    version: int
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredSpentOf(Record):
    """Person-days of one phase."""

    phase: str
    person_days: Decimal
    ended_on: date | None
    version: int
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredPromised(Record):
    """Ideas in service with what was promised first, who sized them, and where each belongs."""

    JSON: ClassVar[tuple[int, ...]] = (1, 2)
    idea_id: int
    input: Any
    sizing: Any
    sizer: str | None
    division_id: int | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredSpentWhole(Record):
    """Person-days of ideas whose phases have all ended."""

    idea_id: int
    days: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredAllDemand(Record):
    """Items that came, of every idea by month."""

    idea_id: int
    month: str
    items: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredUnits(Record):
    """Units that robots finished, of every idea with counted months."""

    idea_id: int
    month: str
    units: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredMinutes(Record):
    """The newest approved minutes by hand of every idea."""

    idea_id: int
    value: Decimal


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class DeliveredFunctions(Record):
    """Every division with the top of where it belongs."""

    id: int | None
    top: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class MeasuresOfIdea(Record):
    """What work of an idea took before and after, the newest first."""

    id: int
    phase: MeasuredPhase
    minutes: Decimal
    items: int | None
    measured_on: date
    evidence: str
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class VariantsOfIdea(Record):
    """The variants of a case that people kept."""

    JSON: ClassVar[tuple[int, ...]] = (2,)
    id: int
    name: str
    input: Any
    version: int
    at: datetime
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class WorthsKept(Record):
    """What every idea with a fact is worth as it was reckoned last."""

    id: int
    title: str
    stage: Stage
    worth: Decimal | None
    effort_days: Decimal | None
    worth_key: int | None
    worth_on: date | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class WorthsOpen(Record):
    """The next open ideas that somebody began to size, which a change of the factors would move."""

    id: int
    title: str
    stage: Stage
    worth: Decimal | None
    effort_days: Decimal | None


GIVES: dict[str, type[Record]] = {
    "asked.of_idea": AskedOfIdea,
    "asked.by_link": AskedByLink,
    "delivered.demand": DeliveredDemand,
    "delivered.demand_of": DeliveredDemandOf,
    "delivered.spent": DeliveredSpent,
    "delivered.spent_of": DeliveredSpentOf,
    "delivered.promised": DeliveredPromised,
    "delivered.spent_whole": DeliveredSpentWhole,
    "delivered.all_demand": DeliveredAllDemand,
    "delivered.units": DeliveredUnits,
    "delivered.minutes": DeliveredMinutes,
    "delivered.functions": DeliveredFunctions,
    "measures.of_idea": MeasuresOfIdea,
    "variants.of_idea": VariantsOfIdea,
    "worths.kept": WorthsKept,
    "worths.open": WorthsOpen,
}
