"""What would be left without a robot if some went."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tallyman.core.runs.abilities import NOTHING_ASKED, Asked, lacking
from tallyman.core.runs.facts import RobotFacts


@dataclass(frozen=True)
class Asking:
    """A routine, and what it asks of a robot: its area with all above it, tags, and abilities of its host."""

    routine_id: int
    area_path: frozenset[int]
    tags: frozenset[str]
    asked: Asked = NOTHING_ASKED


def can_take(robot: RobotFacts, ask: Asking) -> bool:
    """Whether a robot may take a routine at all, free and heard from or not."""
    allowed = bool(robot.area_ids & ask.area_path)
    return allowed and ask.tags <= robot.tags and not lacking(ask.asked, robot.abilities)


def stranded(asks: Iterable[Asking], robots: Sequence[RobotFacts], leaving: frozenset[int]) -> list[int]:
    """The routines that some of the robots may run now, and none once those that leave are gone.

    Whether a robot is free or heard from this moment does not count: that passes.
    """
    left = [robot for robot in robots if robot.robot_id not in leaving]
    return [
        ask.routine_id
        for ask in asks
        if any(can_take(robot, ask) for robot in robots) and not any(can_take(robot, ask) for robot in left)
    ]
