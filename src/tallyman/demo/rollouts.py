"""How the demo's routines came by their releases: at once, in stages, and one that was left behind."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from tallyman.demo import history, world
from tallyman.demo.past import Past
from tallyman.demo.releases import Releases
from tallyman.services.starts import triggers
from tallyman.services.workshop import rollouts, routines, withdrawing

SOL = "Sol Marín"
# Name, area, and when it starts: further readings that are checked by the same package, not counted yet.
FURTHER = (
    ("Zone meter readings", "Street works", "*/20 * * * *"),
    ("Large-user readings", "Metering", "30 6 * * 1-5"),
)
STAGED_DAYS_AGO = 1.0
# So many runs of the demo lie before the end of the stage, so that it is there to be seen.
GOOD_WANTED = 40


class Rollouts:
    """Rolls releases out as the team did."""

    def __init__(self, past: Past) -> None:
        self._past = past

    def at_once(self, release: int, routine: int) -> None:
        """A newer release in one routine, half a year ago."""
        given = rollouts.Given(
            [rollouts.Chosen(routine)], why="The same work, quicker; tried on the test system"
        )
        rollouts.roll_out(self._past.ctx(SOL, 150), release, given)

    def in_stages(self, made: Releases, release: int, areas: Mapping[str, int]) -> list[dict[str, Any]]:
        """The latest release of a package goes first in one area; gives the runs that ended well so far."""
        numbers = []
        for name, area, expression in FURTHER:
            given = routines.Given(name, areas[area], release, {}, [])
            number = routines.add(self._past.ctx(SOL, 20), given)
            numbers.append(number)
            trigger = triggers.Given({"expr": expression}, world.ZONE)
            triggers.add(self._past.ctx(SOL, 0), number, trigger)
        later = made.later("check-readings", 3)
        staged = rollouts.Given(
            [rollouts.Chosen(one) for one in numbers],
            "staged",
            "The desk asks every week which meter used the most",
            first_area=areas["Street works"],
            good_wanted=GOOD_WANTED,
            bad_allowed=1,
        )
        rollouts.roll_out(self._past.ctx(SOL, STAGED_DAYS_AGO), later, staged)
        began = self._past.now - timedelta(days=STAGED_DAYS_AGO)
        return [
            history.trial_row(numbers[0], later, began + timedelta(hours=hours)) for hours in (2, 6, 10, 20)
        ]

    def left_behind(self, release: int, areas: Mapping[str, int]) -> None:
        """A first release that was withdrawn, and is still set up where nobody starts it any more."""
        given = routines.Given("Hydrant letters of winter rounds", areas["Street works"], release, {}, [])
        routines.add(self._past.ctx(SOL, 300), given)
        why = "It cannot read the new inspection list; take 1.1.0"
        withdrawing.withdraw(self._past.ctx("Jonas Lindqvist", 140), release, why)
