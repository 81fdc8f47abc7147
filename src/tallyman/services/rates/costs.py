"""The cost tables as a case reads them: rows in force on a day for a role, a division, a kind of seat."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from tallyman.core.exact import plain
from tallyman.core.known import Known
from tallyman.core.rates import costs
from tallyman.core.rates.costs import CostRow, HostDay
from tallyman.core.tally import Rate
from tallyman.services.context import calendar_of, working_days_a_year
from tallyman.services.rates import rates
from tallyman.store.db import Tx
from tallyman.store.records.rates import CostsHostHours, CostsPeopleOf, CostsRows


@dataclass(frozen=True)
class For:
    """Whom a case is for: the role of its people, their divisions (the nearest first), the kind of seat."""

    role: str = ""
    divisions: tuple[int, ...] = ()
    seat: str = ""


def house_rows(tx: Tx) -> list[CostRow]:
    """All approved rows of the cost tables."""
    return _as_rows(tx.kept(CostsRows, "costs.rows"))


def _as_rows(rows: Sequence[CostsRows]) -> list[CostRow]:
    return [
        CostRow(
            row.id,
            row.kind,
            row.what,
            row.division_id,
            Fraction(row.value),
            row.since,
            row.person,
        )
        for row in rows
    ]


def divisions_of(tx: Tx, division_id: int | None) -> tuple[int, ...]:
    """A division and all above it, the nearest first."""
    if division_id is None:
        return ()
    return tuple(tx.values(int, "costs.divisions_above", division=division_id))


def whom(tx: Tx, division_id: int | None, role: object, seat: object) -> For:
    """Whom an idea's costs are for."""
    return For(str(role or ""), divisions_of(tx, division_id), str(seat or ""))


def _what(kind: str, who: For) -> str:
    return {"hour_cost": who.role, "seat_year": who.seat}.get(kind, "")


def case_rows(rows: Sequence[CostRow], on: date, who: For) -> dict[str, CostRow]:
    """The row in force on a day for each kind that a case asks for."""
    found = {}
    for kind, meaning in rates.KINDS.items():
        if meaning.feeds:
            row = costs.pick(rows, kind, on, _what(kind, who), who.divisions)
            if row is not None:
                found[kind] = row
    return found


def known_of(found: dict[str, CostRow]) -> dict[str, Known]:
    """Rows as facts of a case, by the input that each feeds."""
    return {
        rates.KINDS[kind].feeds: Known(plain(row.value), source_of(row), row.since.isoformat())
        for kind, row in found.items()
    }


def source_of(row: CostRow) -> str:
    """Where a figure of the cost tables comes from, in words."""
    whose = f", {row.what}" if row.what else ""
    return f"cost table{whose}, {row.by}"


def exchange_on(rows: Sequence[CostRow], on: date) -> dict[str, Fraction]:
    """What 1 of each other currency is worth on a day."""
    codes = {row.what for row in rows if row.kind == rates.EXCHANGE}
    found = {code: costs.pick(rows, rates.EXCHANGE, on, code) for code in codes}
    return {code: row.value for code, row in found.items() if row is not None and row.what == code}


def offers(rows: Sequence[CostRow], on: date) -> list[dict[str, str]]:
    """Rows that a case may take as running lines: named software, and days of support people."""
    found = []
    for kind in ("other_software", "support_day"):
        names = sorted({row.what for row in rows if row.kind == kind and row.what})
        for name in names:
            row = costs.pick(rows, kind, on, name)
            if row is None or row.what != name:
                continue
            line = {"amount": plain(row.value)}
            if kind == "support_day":
                line = {"share": "", "days": "", "day_cost": plain(row.value)}
            found.append({"name": name, **line})
    return found


def robot_time(tx: Tx, area_id: int | None, on: date) -> dict[str, Known]:
    """Hours a day and days a year of a robot, from the hosts' hours and the calendar."""
    hosts = [
        HostDay(row.name, row.hours_from, row.hours_to, row.seats)
        for row in tx.all(CostsHostHours, "costs.host_hours")
    ]
    days = working_days_a_year(calendar_of(tx, area_id), on.year)
    words = f"working days of {on.year} by the calendar"
    found = {"robot_days_per_year": Known(str(days), words, on.isoformat())}
    hours = costs.robot_hours_a_day(hosts)
    if hours is not None:
        found["robot_hours_per_day"] = Known(plain(hours[0]), hours[1], on.isoformat())
    return found


def hour_cost(tx: Tx, on: date, idea_id: int | None) -> Rate | None:
    """What an hour of an idea's people costs on a day: its role and division, else the house's."""
    who = For()
    if idea_id is not None:
        idea = tx.one(CostsPeopleOf, "costs.people_of", idea=idea_id)
        if idea is not None:
            who = whom(tx, idea.division_id, idea.role, "")
    rows = tx.all(CostsRows, "costs.hour_costs", on=on, roles=("", who.role), divisions=(0, *who.divisions))
    row = costs.pick(_as_rows(rows), "hour_cost", on, who.role, who.divisions)
    if row is None:
        return None
    kind = rates.KINDS["hour_cost"]
    name = f"{kind.name}, {row.what}" if row.what else kind.name
    return Rate(row.id, name, row.value, kind.unit, row.since.isoformat())
