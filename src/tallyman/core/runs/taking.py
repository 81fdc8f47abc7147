"""Which robots can take a routine at all, and what each of the others lacks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tallyman.core.runs.abilities import lacking
from tallyman.core.runs.facts import RobotFacts
from tallyman.core.runs.leaving import Asking
from tallyman.core.working import Part, Working


@dataclass(frozen=True)
class Taker:
    """A robot, and what it lacks to take a routine; nothing if it can."""

    robot_id: int
    name: str
    host: str
    lacks: tuple[str, ...]


def takers(ask: Asking, area: str, robots: Sequence[RobotFacts]) -> list[Taker]:
    """Every robot with what it lacks, those that can take it first.

    Whether one is free or heard from this moment does not count: that passes.
    """
    rows = [Taker(one.robot_id, one.name, one.host, tuple(_lacks(ask, area, one))) for one in robots]
    return sorted(rows, key=lambda row: (bool(row.lacks), row.name))


def _lacks(ask: Asking, area: str, robot: RobotFacts) -> list[str]:
    found = []
    if not robot.area_ids & ask.area_path:
        found.append(f"is not allowed in {area}")
    missing = sorted(ask.tags - robot.tags)
    if missing:
        found.append(f"has not the tags {', '.join(missing)}")
    return found + [f"{robot.host} {words}" for words in lacking(ask.asked, robot.abilities)]


def working(rows: Sequence[Taker]) -> Working:
    """How many of some robots can take it, one line for each."""
    able = sum(not row.lacks for row in rows)
    parts = [
        Part(row.name, "0" if row.lacks else "1", "; ".join(row.lacks) or f"on {row.host}") for row in rows
    ]
    return Working(
        "robots that can take it",
        str(able),
        "robots",
        "each robot allowed in its area, with every tag, on a host with every ability asked for",
        tuple(parts),
        note="whether one is free or heard from this moment is not looked at: that passes",
    )
