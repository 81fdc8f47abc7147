"""Ranges by sampling: three-point inputs drawn ten thousand times, seeded, and what moves the outcome most
(rules §2)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeAlias

from tallyman.core.faults import Fault, InputFaults

DRAWS = 10_000
# In this order, all draws of one input before the next; what is fixed draws nothing.
ORDER = ("volume", "handling_minutes", "automatable_share", "build_effort")
QUANTILES = (0.1, 0.5, 0.9)
SHAPE = 4.0
MOST_MONTHS = 60.0

# What draws is loaded with the first draw.
if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

Draws: TypeAlias = "NDArray[np.float64]"


@dataclass(frozen=True)
class Three:
    """A three-point input: at best or least, likely, at worst or most."""

    low: float
    likely: float
    high: float

    @property
    def fixed(self) -> bool:
        """Whether it says one value only."""
        return self.low == self.high


def three(field: str, low: Any, likely: float, high: Any) -> Three:
    """A three-point input; an end that is not given is the likely value. Raises InputFaults when the points
    do not rise."""
    a = likely if low is None else float(low)
    b = likely if high is None else float(high)
    if not a <= likely <= b:
        message = f"the likely value {likely:g} does not lie between {a:g} and {b:g}"
        raise InputFaults([Fault(field, f"{a:g}, {likely:g}, {b:g}", message)])
    return Three(a, likely, b)


def draw(points: Mapping[str, Three], seed: int) -> dict[str, Draws]:
    """PERT draws of each input: Beta(1 + 4 (m − a)/(b − a), 1 + 4 (b − m)/(b − a)) on [a, b]."""
    import numpy as np

    source = np.random.Generator(np.random.PCG64(seed))
    found = {}
    for name in ORDER:
        if name not in points:
            continue
        point = points[name]
        if point.fixed:
            found[name] = np.full(DRAWS, point.likely)
            continue
        width = point.high - point.low
        one = 1 + SHAPE * (point.likely - point.low) / width
        other = 1 + SHAPE * (point.high - point.likely) / width
        found[name] = point.low + width * source.beta(one, other, DRAWS)
    return found


@dataclass(frozen=True)
class Range:
    """P10, P50 and P90 of a sampled figure; None where a tenth or more of the draws have no value."""

    p10: float | None
    p50: float | None
    p90: float | None


def range_of(values: Draws) -> Range:
    """The quantiles of a sampled figure, by linear interpolation; draws without a value stand at the end."""
    import numpy as np

    ordered = np.sort(values)
    found: list[float | None] = []
    for share in QUANTILES:
        place = share * (len(ordered) - 1)
        below, above = ordered[int(np.floor(place))], ordered[int(np.ceil(place))]
        if not np.isfinite(above):
            found.append(None)
            continue
        found.append(float(below + (above - below) * (place - np.floor(place))))
    return Range(*found)


def yearly_hours(drawn: Mapping[str, Any]) -> Any:
    """Hours a year that robots take over: volume × share × minutes / 60."""
    return drawn["volume"] * drawn["automatable_share"] * drawn["handling_minutes"] / 60


@dataclass(frozen=True)
class Money:
    """What of a case stays the same in every draw; shares from 0 to 1, money in the company's currency.

    `one_time` is the cost at the likely build effort, of which `by_effort` follows the effort drawn.
    """

    cost_per_hour: float
    rework_share: float
    rework_minutes: float
    robot_minutes: float
    exception_share: float
    exception_minutes: float
    robot_hours_a_year: float
    seat_cost: float
    support_share: float
    other_running: float
    one_time: float
    by_effort: float
    gap_months: float
    shared_seats: bool = False


def _one_time(drawn: Mapping[str, Any], case: Money, likely_effort: float) -> Any:
    if likely_effort == 0:
        return case.one_time
    return case.one_time + case.by_effort * (drawn["build_effort"] / likely_effort - 1)


def yearly_net(drawn: Mapping[str, Any], case: Money, likely_effort: float) -> Any:
    """Saving less running cost a year, as §3 has it."""
    import numpy as np

    taken = drawn["volume"] * drawn["automatable_share"]
    minutes = drawn["handling_minutes"] + case.rework_share * case.rework_minutes
    saved = taken * (minutes - case.exception_share * case.exception_minutes) / 60 * case.cost_per_hour
    robots = taken * case.robot_minutes / 60 / case.robot_hours_a_year
    if not case.shared_seats:
        robots = np.ceil(np.round(robots, 9))
    running = robots * case.seat_cost + case.other_running
    return saved - running - case.support_share * _one_time(drawn, case, likely_effort)


def payback_months(drawn: Mapping[str, Any], case: Money, likely_effort: float) -> Draws:
    """Months from the start until the one-time cost is back; infinite where that is never or beyond 60."""
    import numpy as np

    net = np.asarray(yearly_net(drawn, case, likely_effort), dtype=np.float64)
    cost = np.asarray(_one_time(drawn, case, likely_effort), dtype=np.float64)
    with np.errstate(divide="ignore", invalid="ignore"):
        months = np.where(cost == 0, 0.0, case.gap_months + 12 * cost / net)
    return np.where((net <= 0) | (months > MOST_MONTHS), np.inf, months)


def chance(months: Draws, within: float) -> float:
    """The share of draws that pay back within so many months."""
    import numpy as np

    return float(np.mean(months <= within))


@dataclass(frozen=True)
class Moved:
    """How far a figure goes when one input goes from its low to its high end, the others as likely."""

    name: str
    at_low: float
    at_high: float

    @property
    def width(self) -> float:
        """How far that is."""
        return abs(self.at_high - self.at_low)


def what_moves(points: Mapping[str, Three], figure: Callable[[Mapping[str, float]], Any]) -> list[Moved]:
    """What moves a figure most, widest first; inputs that are fixed move nothing and are left out."""
    likely = {name: point.likely for name, point in points.items()}
    rows = [
        Moved(
            name,
            float(figure({**likely, name: points[name].low})),
            float(figure({**likely, name: points[name].high})),
        )
        for name in ORDER
        if name in points and not points[name].fixed
    ]
    return sorted(rows, key=lambda row: (-row.width, row.name))


def shape_of(values: Draws, bars: int = 24) -> list[dict[str, float]]:
    """How the draws spread, as bars of equal width: from, to, share of the draws."""
    import numpy as np

    kept = values[np.isfinite(values)]
    if not len(kept) or kept.min() == kept.max():
        return []
    counts, edges = np.histogram(kept, bars)
    return [
        {"from": float(edges[n]), "to": float(edges[n + 1]), "share": float(count) / len(values)}
        for n, count in enumerate(counts)
    ]
