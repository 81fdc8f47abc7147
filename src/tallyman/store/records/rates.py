"""Records of the room `rates`, written out by `store/shapes.py`: change the statements instead."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from tallyman.store.record import Record


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CostsRows(Record):
    """All approved rows of the cost tables."""

    id: int
    kind: str
    what: str
    division_id: int
    value: Decimal
    since: date
    person: str


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CostsHostHours(Record):
    """Hosts with seats, and the hours within which each works."""

    name: str
    hours_from: str | None
    hours_to: str | None
    seats: int


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CostsPeopleOf(Record):
    """Where an idea belongs, and the role of those who do the work."""

    division_id: int | None
    role: str | None


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class CostsUsedNames(Record):
    """What the rows of a kind are for, and the roles named on sizings."""

    kind: str
    what: str


GIVES: dict[str, type[Record]] = {
    "costs.rows": CostsRows,
    "costs.hour_costs": CostsRows,
    "costs.host_hours": CostsHostHours,
    "costs.people_of": CostsPeopleOf,
    "costs.used_names": CostsUsedNames,
}
