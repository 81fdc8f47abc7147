"""The factors of first look and sizing: data that the lead edits, each edit a version (rules §1, §2)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
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
# Person-days of building for what work is made of.
EFFORT = {
    "to begin with": Fraction(2),
    "a step": Fraction("0.10"),
    "a decision": Fraction("0.75"),
    "a further variant": Fraction("1.5"),
    "a further language": Fraction(1),
}
ACCESS = {
    "API": Fraction(1),
    "web": Fraction(2),
    "desktop": Fraction(3),
    "remote screen": Fraction(5),
    "paper or image": Fraction(8),
}
HARD = {"readiness under": Fraction("0.6"), "from this share on": Fraction(1, 5)}
HARD_TIMES = {"hard to read input": Fraction("1.3")}
REUSE = {"a part of ours": Fraction("0.1"), "at most": Fraction("0.4")}
BANDS = {"small": Fraction(10), "medium": Fraction(25), "large": Fraction(60)}


@dataclass(frozen=True)
class Factors:
    """One version of the factors. Version 0 is what Tallyman comes with.

    Shares from 0 to 1, but `effort`, `access` and `bands` in person-days, and `hard_times` a number of times.
    """

    version: int
    readiness: Mapping[str, Fraction]
    changed: Mapping[str, Fraction]
    announced: Mapping[str, Fraction]
    evidence: Mapping[str, Fraction]
    weights: Mapping[str, Fraction]
    effort: Mapping[str, Fraction]
    access: Mapping[str, Fraction]
    hard: Mapping[str, Fraction]
    hard_times: Mapping[str, Fraction]
    reuse: Mapping[str, Fraction]
    bands: Mapping[str, Fraction]

    @property
    def name(self) -> str:
        """How a result names the version that made it."""
        return f"factors {self.version + 1}"

    def is_hard(self, kinds: Iterable[tuple[str, Fraction, Fraction]]) -> bool:
        """Whether so much that arrives (kind, part of 1, readiness) is hard to read that building grows."""
        hard = sum((part for _, part, ready in kinds if ready < self.hard["readiness under"]), Fraction(0))
        return hard > 0 and hard >= self.hard["from this share on"]

    def band_of(self, effort_days: Fraction) -> str:
        """The band of a build effort in person-days."""
        return next((name for name, most in self.bands.items() if effort_days <= most), "very large")


@dataclass(frozen=True)
class Group:
    """Factors of one kind: what they are called, what Tallyman comes with, their unit, and their bounds."""

    title: str
    standard: Mapping[str, Fraction]
    unit: str = "share"
    low: int = 0
    high: int = 1


GROUPS: dict[str, Group] = {
    "readiness": Group("What it arrives as: how ready a robot can read it", READINESS),
    "changed": Group("How much it changed in the last year", CHANGED),
    "announced": Group("What change is announced", ANNOUNCED),
    "evidence": Group("Evidence: by how much each piece narrows the range", EVIDENCE_WEIGHTS),
    "weights": Group("How much the two shares count, and the width with nothing on file", WEIGHTS),
    "effort": Group("Build effort: person-days for what the work is made of", EFFORT, "days", high=100),
    "access": Group("Build effort: person-days for each system, by its way in", ACCESS, "days", high=100),
    "hard": Group("When input counts as hard to read", HARD),
    "hard_times": Group("How many times the build grows with it", HARD_TIMES, "times", low=1, high=10),
    "reuse": Group("What reuse takes off the build", REUSE),
    "bands": Group("Bands: up to how many person-days", BANDS, "days", high=1000),
}
STANDARD = Factors(0, **{name: group.standard for name, group in GROUPS.items()})
# Groups that came later: a version kept before them has the standard ones.
LATER = ("effort", "access", "hard", "hard_times", "reuse", "bands")


def as_content(factors: Factors) -> dict[str, dict[str, str]]:
    """Factors as plain decimals by group, the form in which a version is kept."""
    return {
        group: {name: text_of(value, 4) or "0" for name, value in getattr(factors, group).items()}
        for group in GROUPS
    }


def read_content(content: Any, version: int) -> Factors:
    """Factors from their kept form. Raises InputFaults naming each value out of bounds, all at once."""
    faults: list[Fault] = []
    given = dict(content) if isinstance(content, dict) else {}
    faults += [unknown_word("factors", name, GROUPS) for name in given if name not in GROUPS]
    for later in LATER:
        given.setdefault(later, GROUPS[later].standard)
    tables = {name: _table(name, group, given.get(name), faults) for name, group in GROUPS.items()}
    if not faults and min(tables["readiness"].values()) == max(tables["readiness"].values()):
        message = "all kinds are alike; then what it arrives as says nothing"
        faults.append(Fault("readiness", None, message))
    bands = list(tables["bands"].values())
    if not faults and bands != sorted(set(bands)):
        faults.append(Fault("bands", None, "each band is to reach further than the one before it"))
    if faults:
        raise InputFaults(faults)
    return Factors(version, **tables)


def _table(name: str, group: Group, given: Any, faults: list[Fault]) -> dict[str, Fraction]:
    rows = given if isinstance(given, Mapping) else {}
    faults += [unknown_word(name, one, group.standard) for one in rows if one not in group.standard]
    table = {}
    for one, standard in group.standard.items():
        value = rows.get(one)
        try:
            read = exact(value)
        except ValueError:
            faults.append(Fault(f"{name}.{one}", value, f"give a number such as {text_of(standard, 2)}"))
            continue
        if not group.low <= read <= group.high:
            said = "a share lies" if group.unit == "share" else "it lies"
            message = f"out of range; {said} between {group.low} and {group.high}"
            faults.append(Fault(f"{name}.{one}", value, message))
        table[one] = read
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
