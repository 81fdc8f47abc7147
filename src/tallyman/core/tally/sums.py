"""Sums of the tally set against promises, each with its working (rules §11)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from typing import Protocol

from tallyman.core.exact import exact, text_of
from tallyman.core.working import Part, Working

BENEFIT = ("time saved", "handed back", "person there")
COSTS = ("robot time", "support", "software", "running lines", "build", "unused seats")
# By line of the promise: the lines of entries that deliver it.
DELIVERS = {
    "saving": BENEFIT,
    "robots": ("robot time",),
    "support": ("support",),
    "software": ("software",),
    "running lines": ("running lines",),
}
ROUNDING = "Left by rounding"
DIGITS = {"hours": 1, "units": 0}
# A total's name and how it comes about.
TOTALS = {
    "saved": ("Delivered to date", "sum of what the ideas delivered"),
    "promised": ("Promised to date", "sum of the promises, each by days from its promised go-live"),
    "difference": ("Difference", "sum of delivered − promised, over all ideas"),
    "robot_time": ("Robot time", "sum of − robot hours × standard price of a robot hour, over all runs"),
    "costs": ("Costs of ideas", "sum of robot time and month-end costs"),
    "net": ("Delivered less all costs", "sum of what ideas delivered, their costs, and what no idea bears"),
}

# The same for whoever sees only ideas.
OF_IDEAS = ("Delivered less costs", "sum of what ideas delivered and their costs")


class LineSum(Protocol):
    """The sum of the entries of one line: units, hours, money, and of how many entries."""

    @property
    def line(self) -> str:
        """The line of the entries."""

    @property
    def units(self) -> Decimal:
        """Units counted."""

    @property
    def hours(self) -> Decimal:
        """Hours of people saved."""

    @property
    def money(self) -> Decimal:
        """Money, positive for benefit."""

    @property
    def entries(self) -> int | Decimal:
        """How many entries there are."""


Lines = Mapping[str, LineSum]


def _cents(value: Fraction) -> Fraction:
    return exact(money_of(value))


def money_of(value: Fraction | Decimal | int) -> str:
    """An amount as it is shown, to the cent."""
    return text_of(Fraction(value), 2) or "0.00"


@dataclass(frozen=True)
class Sums:
    """What was promised and delivered: money, hours and units, exact. What is set side by side is set off as
    it is shown, to the cent, so that a line adds up."""

    promised: Fraction = Fraction(0)
    saved: Fraction = Fraction(0)
    robot_time: Fraction = Fraction(0)
    costs: Fraction = Fraction(0)
    hours: Fraction = Fraction(0)
    units: Fraction = Fraction(0)

    @property
    def difference(self) -> Fraction:
        """Delivered less promised, as both are shown."""
        return _cents(self.saved) - _cents(self.promised)

    @property
    def net(self) -> Fraction:
        """Delivered less costs, which are negative, as both are shown."""
        return _cents(self.saved) + _cents(self.costs)

    def __add__(self, other: Sums) -> Sums:
        return Sums(
            self.promised + other.promised,
            self.saved + other.saved,
            self.robot_time + other.robot_time,
            self.costs + other.costs,
            self.hours + other.hours,
            self.units + other.units,
        )

    def shown(self) -> dict[str, str]:
        """Every figure as text: money to 2 digits, hours to 1, units whole."""
        names = ("promised", "saved", "difference", "robot_time", "costs", "net", "hours", "units")
        return {name: as_shown(name, getattr(self, name)) for name in names}


def as_shown(name: str, value: Fraction) -> str:
    """A figure of that name as text."""
    digits = DIGITS.get(name, 2)
    return text_of(value, digits) or f"{0:.{digits}f}"


def sums_of(lines: Lines, promised: Fraction) -> Sums:
    """The sums of some lines, beside what was promised in money."""
    benefit = [lines[name] for name in BENEFIT if name in lines]
    costs = [lines[name] for name in COSTS if name in lines]
    return Sums(
        promised,
        sum((Fraction(row.money) for row in benefit), Fraction(0)),
        Fraction(lines["robot time"].money) if "robot time" in lines else Fraction(0),
        sum((Fraction(row.money) for row in costs), Fraction(0)),
        sum((Fraction(row.hours) for row in benefit), Fraction(0)),
        Fraction(lines["time saved"].units) if "time saved" in lines else Fraction(0),
    )


def _entries(number: int | Decimal) -> str:
    return "1 entry" if number == 1 else f"{number} entries"


def _parts(lines: Lines, of: Sequence[str]) -> tuple[Part, ...]:
    return tuple(
        Part(line, money_of(row.money), _entries(row.entries)) for line, row in lines.items() if line in of
    )


def difference_working(name: str, sums: Sums, lines: Lines, said: str) -> Working:
    """Delivered less promised, with the entries below it; `said` is how the promise was reckoned."""
    apart = Working(
        "Costs, which stand apart",
        money_of(sums.costs),
        "money",
        "sum of the entries: robot time at its standard price, and at month end what that does not hold",
        parts=_parts(lines, COSTS),
    )
    delivered = Working(
        "Delivered",
        money_of(sums.saved),
        "money",
        "sum of the entries: units × minutes by hand × what an hour costs",
        parts=_parts(lines, BENEFIT),
        note="Each entry is reckoned at the rates in force when its run ended.",
    )
    return Working(
        name,
        money_of(sums.difference),
        "money",
        "delivered − promised",
        parts=(
            Part("Delivered", money_of(sums.saved)),
            Part("Promised", money_of(-sums.promised), said),
        ),
        steps=(delivered, apart),
    )


def rest_working(lines: Lines) -> Working:
    """What no idea bears: unused seats, and robot time of routines that count for none."""
    parts = tuple(Part(line, money_of(row.money), _entries(row.entries)) for line, row in lines.items())
    money = sum((Fraction(row.money) for row in lines.values()), Fraction(0))
    return Working("Borne by no idea", money_of(money), "money", "sum of the entries", parts=parts)


def left_over(outcome: str, parts: Iterable[str]) -> Fraction:
    """What rounding leaves of a sum that is rounded once, beside its parts that are rounded one by one."""
    return exact(outcome) - sum((exact(one) for one in parts), Fraction(0))


def with_rounding(outcome: str, parts: Sequence[Part]) -> tuple[Part, ...]:
    """Parts that add up to their sum, with what rounding leaves, if anything."""
    left = left_over(outcome, [part.value for part in parts])
    return (*parts, Part(ROUNDING, money_of(left), "parts are rounded one by one")) if left else tuple(parts)


def roundings(rows: Sequence[Mapping[str, str]], total: Mapping[str, str]) -> dict[str, str] | None:
    """By figure what rounding leaves beside the rows as they are shown; None if nothing anywhere."""
    left = {name: left_over(text, [row[name] for row in rows]) for name, text in total.items()}
    return {name: as_shown(name, value) for name, value in left.items()} if any(left.values()) else None


def total_workings(
    ideas: Sequence[tuple[str, Sums]], total: Sums, rest: Fraction | None = None
) -> dict[str, Working]:
    """The working of each total: what every idea, by its name, brings to it, and what rounding leaves.

    `rest` is what no idea bears, None where it is not shown.
    """
    found = {}
    totals = TOTALS if rest is not None else {**TOTALS, "net": OF_IDEAS}
    for key, (name, formula) in totals.items():
        shown = [(said, as_shown(key, getattr(sums, key))) for said, sums in ideas]
        parts = [Part(said, text) for said, text in shown if exact(text)]
        outcome = as_shown(key, getattr(total, key))
        if key == "net" and rest:
            parts.append(Part("Borne by no idea", money_of(rest), "unused seats, and work for no idea"))
            outcome = money_of(exact(outcome) + _cents(rest))
        found[key] = Working(name, outcome, "money", formula, parts=with_rounding(outcome, parts))
    return found


def line_working(
    line: str, promised: Fraction, found: Iterable[tuple[str, LineSum]], how: Working
) -> tuple[Fraction, Working]:
    """What a line of the promise delivered, from its sums by month, and the working of delivered less
    promised; `how` is the working of the promise."""
    rows = list(found)
    delivered = sum((Fraction(row.money) for _, row in rows), Fraction(0))
    parts = tuple(
        Part(f"{month}: {row.line}", money_of(row.money), _entries(row.entries)) for month, row in rows
    )
    words = "sum of the entries of all months"
    working = Working(
        f"{line}: delivered − promised",
        money_of(_cents(delivered) - _cents(promised)),
        "money",
        "delivered − promised",
        parts=(Part("Delivered", money_of(delivered)), Part("Promised", money_of(-promised))),
        steps=(
            Working("Delivered", money_of(delivered), "money", words, parts=parts),
            how,
        ),
    )
    return delivered, working


def months_working(name: str, difference: str, months: Sequence[tuple[str, str, int]]) -> Working:
    """The sum of months as they are shown: of each the month, its difference and how many entries."""
    return Working(
        name,
        difference,
        "money",
        "sum of the months' differences",
        parts=with_rounding(
            difference, [Part(month, amount, _entries(number)) for month, amount, number in months]
        ),
    )
