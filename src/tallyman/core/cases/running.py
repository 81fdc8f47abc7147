"""Running lines of a case, whose amounts may rest on its number of robots (rules §3)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Any

from tallyman.core.cases.business_case import compute, read_case
from tallyman.core.rates import reckoned


def with_lines(
    given: Mapping[str, Any], wanted: Sequence[Mapping[str, Any]], exchange: Mapping[str, Fraction]
) -> tuple[dict[str, Any], list[dict[str, Any]], Fraction | None]:
    """The input of a case with its running lines, the lines, and the robots (or the share) they rest on."""
    robots = compute(read_case({**given, "running_lines": []})).seats_paid
    lines = reckoned(wanted, robots, exchange)
    amounts = [{"name": row["name"], "amount": row["a_year"]} for row in lines]
    return {**given, "running_lines": amounts}, lines, robots
