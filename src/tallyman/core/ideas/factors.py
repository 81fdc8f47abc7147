"""The factors of the first look: data that the lead edits, each edit a version of its own (rules §1)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from tallyman.core.exact import exact, text_of
from tallyman.core.faults import Fault, InputFaults, unknown_word

READINESS = {
    "data feed": Fraction(1),
    "database": Fraction(1),
    "spreadsheet": Fraction("0.95"),
    "fixed form": Fraction("0.95"),
    "screen": Fraction("0.9"),
    "fixed-layout PDF": Fraction("0.8"),
    "mail": Fraction("0.55"),
    "free text": Fraction("0.55"),
    "scan": Fraction("0.45"),
    "image": Fraction("0.45"),
    "handwriting": Fraction("0.15"),
    "talk": Fraction("0.05"),
}
CHANGED = {"nothing": Fraction(1), "small": Fraction("0.95"), "large": Fraction("0.85")}
ANNOUNCED = {"nothing": Fraction(1), "small": Fraction("0.9"), "replacement": Fraction("0.6")}
EVIDENCE_WEIGHTS = {
    "how-to": Fraction("0.25"),
    "drawing or walkthrough": Fraction("0.30"),
    "example in": Fraction("0.15"),
    "example out": Fraction("0.10"),
    "owner confirmed": Fraction("0.20"),
    "event-log study": Fraction("0.40"),
}
# How much of the fit each question may take away, and the width while nothing is on file.
WEIGHTS = {"judge": Fraction(1), "off": Fraction(1, 2), "width": Fraction("0.40")}


@dataclass(frozen=True)
class Factors:
    """One version of the factors; all are shares from 0 to 1. Version 0 is what Tallyman comes with."""

    version: int
    readiness: Mapping[str, Fraction]
    changed: Mapping[str, Fraction]
    announced: Mapping[str, Fraction]
    evidence: Mapping[str, Fraction]
    weights: Mapping[str, Fraction]

    @property
    def name(self) -> str:
        """How a result names the version that made it."""
        return f"first look {self.version + 1}"


STANDARD = Factors(0, READINESS, CHANGED, ANNOUNCED, EVIDENCE_WEIGHTS, WEIGHTS)
TITLES = {
    "readiness": "What it arrives as: how ready a robot can read it",
    "changed": "How much it changed in the last year",
    "announced": "What change is announced",
    "evidence": "Evidence: by how much each piece narrows the range",
    "weights": "How much the two shares count, and the width with nothing on file",
}
GROUPS: dict[str, Mapping[str, Fraction]] = {
    "readiness": READINESS,
    "changed": CHANGED,
    "announced": ANNOUNCED,
    "evidence": EVIDENCE_WEIGHTS,
    "weights": WEIGHTS,
}


def as_content(factors: Factors) -> dict[str, dict[str, str]]:
    """Factors as plain decimals by group, the form in which a version is kept."""
    return {
        group: {name: text_of(value, 4) or "0" for name, value in getattr(factors, group).items()}
        for group in GROUPS
    }


def read_content(content: Any, version: int) -> Factors:
    """Factors from their kept form. Raises InputFaults naming each value that is no share, all at once."""
    faults: list[Fault] = []
    given = content if isinstance(content, dict) else {}
    faults += [unknown_word("factors", name, GROUPS) for name in given if name not in GROUPS]
    tables = {group: _table(group, standard, given.get(group), faults) for group, standard in GROUPS.items()}
    if not faults and min(tables["readiness"].values()) == max(tables["readiness"].values()):
        message = "all kinds are alike; then what it arrives as says nothing"
        faults.append(Fault("readiness", None, message))
    if faults:
        raise InputFaults(faults)
    return Factors(version, **tables)


def _table(
    group: str, standard: Mapping[str, Fraction], given: Any, faults: list[Fault]
) -> dict[str, Fraction]:
    rows = given if isinstance(given, dict) else {}
    faults += [unknown_word(f"{group}", name, standard) for name in rows if name not in standard]
    table = {}
    for name in standard:
        value = rows.get(name)
        try:
            share = exact(value)
        except ValueError:
            faults.append(Fault(f"{group}.{name}", value, "give a share such as 0.95"))
            continue
        if not 0 <= share <= 1:
            faults.append(Fault(f"{group}.{name}", value, "out of range; a share lies between 0 and 1"))
        table[name] = share
    return table


@dataclass(frozen=True)
class Ranked:
    """An idea in an order: its number and the low end of its hours in reach, None where it has none."""

    number: int
    hours_low: Fraction | None


def order(rows: list[Ranked]) -> dict[int, int]:
    """The place of each idea that has hours in reach, 1 first; ties by the lower number."""
    with_hours = [(row.hours_low, row.number) for row in rows if row.hours_low is not None]
    placed = sorted(with_hours, key=lambda row: (-row[0], row[1]))
    return {number: place for place, (_, number) in enumerate(placed, 1)}
