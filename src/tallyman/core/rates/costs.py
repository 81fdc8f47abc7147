"""Cost tables: which dated row counts for whom, lines in money a year, a robot's hours (rules §3)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact, plain
from tallyman.core.faults import Fault, InputFaults, is_one_of

DAY_HOURS = Fraction(24)
BENEFITS = ("errors avoided", "licence given back", "penalties avoided", "other")


@dataclass(frozen=True)
class CostRow:
    """A dated row: its kind, whose or which (`what`, empty for all), the division (0: all), who gave it."""

    id: int
    kind: str
    what: str
    division_id: int
    value: Fraction
    since: date
    by: str = ""


def pick(
    rows: Iterable[CostRow], kind: str, on: date, what: str = "", divisions: Sequence[int] = ()
) -> CostRow | None:
    """The row in force on a day that is nearest to whom it is for.

    `divisions`: the division and all above it, the nearest first. A row for the very `what` goes before one
    for all, whatever the division; then the nearest division; then the latest day; then the latest row.
    """
    near = {number: place for place, number in enumerate((*divisions, 0))}
    fit = [
        row
        for row in rows
        if row.kind == kind and row.since <= on and row.what in (what, "") and row.division_id in near
    ]
    if not fit:
        return None
    return max(
        fit, key=lambda row: (row.what == what and bool(what), -near[row.division_id], row.since, row.id)
    )


def yearly_amount(row: Mapping[str, Any], robots: Fraction | None, exchange: Mapping[str, Fraction]) -> Any:
    """Money a year of a line: its amount; or so much a robot; or a share of a person × days × a day's cost.

    A line in another currency is turned at `exchange` (money for 1 of it). None where a part is missing.
    """
    amount: Fraction | None = None
    if row.get("share") not in (None, ""):
        parts = [row.get(name) for name in ("share", "days", "day_cost")]
        if all(part not in (None, "") for part in parts):
            amount = exact(parts[0]) * exact(parts[1]) * exact(parts[2])
    elif row.get("per_robot") not in (None, ""):
        amount = None if robots is None else robots * exact(row["per_robot"])
    elif row.get("amount") not in (None, ""):
        amount = exact(row["amount"])
    if amount is None:
        return None
    code = row.get("currency")
    if code:
        return amount * exchange[code] if code in exchange else None
    return amount


def reckoned(
    rows: Iterable[Mapping[str, Any]], robots: Fraction | None, exchange: Mapping[str, Fraction]
) -> list[dict[str, Any]]:
    """Lines with what each comes to a year (`a_year`), and how (`how_reckoned`)."""
    found = []
    for row in rows:
        amount = yearly_amount(row, robots, exchange)
        text = None if amount is None else plain(amount, 6)
        found.append({**row, "a_year": text, "how_reckoned": how_of(row, exchange)})
    return found


def how_of(row: Mapping[str, Any], exchange: Mapping[str, Fraction]) -> str:
    """In words, how a line comes to its amount."""
    words = ""
    if row.get("share") not in (None, ""):
        words = (
            f"{row.get('share')} of a person × {row.get('days') or '–'} days × {row.get('day_cost') or '–'}"
        )
    elif row.get("per_robot") not in (None, ""):
        words = f"{row['per_robot']} a robot"
    code = row.get("currency")
    if code:
        rate = plain(exchange[code], 6) if code in exchange else "no rate"
        words = f"{words or row.get('amount')} {code} at {rate}"
    return words


@dataclass(frozen=True)
class HostDay:
    """When a host works, as `HH:MM` of the wall clock, None for always; `seats`: robots at once."""

    name: str
    hours_from: str | None
    hours_to: str | None
    seats: int


def hours_of(host: HostDay) -> Fraction:
    """How many hours of a day a host works; a window that goes over midnight counts both parts."""
    if host.hours_from is None or host.hours_to is None:
        return DAY_HOURS

    def at(text: str) -> Fraction:
        hour, minute = text.split(":")
        return Fraction(int(hour) * 60 + int(minute), 60)

    return (at(host.hours_to) - at(host.hours_from)) % DAY_HOURS


def robot_hours_a_day(hosts: Sequence[HostDay]) -> tuple[Fraction, str] | None:
    """Hours a day of one robot, weighed by the seats of its hosts, and how; None without hosts."""
    counted = [(hours_of(host), host) for host in hosts if host.seats > 0]
    seats = sum(host.seats for _, host in counted)
    if not seats:
        return None
    mean = sum((hours * host.seats for hours, host in counted), Fraction(0)) / seats
    each = ", ".join(f"{host.name} {plain(hours, 2)} h × {host.seats}" for hours, host in counted[:6])
    more = f" and {len(counted) - 6} more" if len(counted) > 6 else ""
    return mean, f"hours of the hosts by seats: {each}{more}"


def check_benefit(row: Mapping[str, Any], field: str) -> None:
    """Raises InputFaults for a benefit line of an unknown kind."""
    if not is_one_of(row.get("kind"), BENEFITS):
        raise InputFaults([Fault(f"{field}.kind", row.get("kind"), f"allowed: {', '.join(BENEFITS)}")])
