"""Who helped most: points for what came of it, by the weights that the house gives to each kind."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from tallyman.core.exact import exact, plain, text_of
from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.core.working import Used, Working

# What counts, and how one of it is called.
KINDS: dict[str, str] = {
    "screened": "an idea of theirs that was screened",
    "evidence": "an idea screened for which they put something on file",
    "in service": "an idea put in service in which they had a part",
    "value": "a thousand tallied by ideas in which they had a part, shared alike among them",
    "reused": "a routine that uses a package of theirs once more",
}
STANDARD: dict[str, Fraction] = {
    "screened": Fraction(1),
    "evidence": Fraction(1),
    "in service": Fraction(5),
    "value": Fraction(1),
    "reused": Fraction(2),
}
LARGEST = 1000
THOUSAND = 1000


@dataclass(frozen=True)
class Came:
    """One thing that came of somebody's help: its kind, how much of it (a share where several had a part),
    what it was, where it is seen, and its day or month."""

    kind: str
    amount: Fraction
    what: str
    link: str
    on: str

    @property
    def idea(self) -> bool:
        """Whether it came of an idea."""
        return self.kind != "reused"


def read_weights(given: Mapping[str, object]) -> dict[str, Fraction]:
    """The weights of a house, 0 to 1,000 each; what is not named weighs nothing. Raises InputFaults."""
    faults = [unknown_word("weights", name, KINDS) for name in given if name not in KINDS]
    weights = {}
    for name in KINDS:
        try:
            value = exact(given.get(name, "0"))
            if not 0 <= value <= LARGEST:
                raise ValueError(f"allowed: 0 to {LARGEST:,}")
            weights[name] = value
        except ValueError as error:
            faults.append(Fault(f"weights.{name}", given.get(name), str(error)))
    if faults:
        raise InputFaults(faults)
    return weights


def points(weights: Mapping[str, Fraction], came: Iterable[Came]) -> Fraction:
    """What all of it comes to."""
    return sum((weights[one.kind] * one.amount for one in came), Fraction(0))


def working(name: str, weights: Mapping[str, Fraction], came: Iterable[Came]) -> Working:
    """How somebody's points are reckoned: a step for each kind, with all that came of it."""
    found: dict[str, list[Came]] = {kind: [] for kind in KINDS}
    for one in came:
        found[one.kind].append(one)
    steps = [_of_kind(kind, weights[kind], rows) for kind, rows in found.items() if rows]
    total = points(weights, (one for rows in found.values() for one in rows))
    return Working(name, text_of(total, 2), _unit(total), "sum of what came of it", steps=tuple(steps))


def _unit(amount: Fraction) -> str:
    return "point" if amount == 1 else "points"


def _said(amount: Fraction) -> str:
    """To four decimals, none that say nothing."""
    text = text_of(amount, 4) or "0"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _of_kind(kind: str, weight: Fraction, rows: list[Came]) -> Working:
    """The points of one kind: how much of it there is, times its weight."""
    amount = sum((one.amount for one in rows), Fraction(0))
    lines = tuple(
        Used(one.what, _said(one.amount), "", "shared alike" if one.amount % 1 else "", one.on, one.link)
        for one in sorted(rows, key=lambda one: one.on, reverse=True)
    )
    much = Working("How much of it", _said(amount), "", "sum of the lines below", inputs=lines)
    return Working(
        KINDS[kind],
        text_of(amount * weight, 2),
        _unit(amount * weight),
        "how much of it × weight",
        inputs=(
            Used("How much of it", _said(amount), "", "below"),
            Used("Weight", plain(weight), "", "house rule"),
        ),
        steps=(much,),
    )
