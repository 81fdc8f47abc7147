"""Stalled runs: no report and no processor used for longer than is usual (rules §7)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from tallyman.core.working import Used, Working

# Nothing shorter is called stalled, however lively a routine usually is.
LEAST = timedelta(minutes=2)
# What a routine with too few good runs is allowed.
UNTIL_KNOWN = timedelta(minutes=10)
KNOWN_FROM = 5
RUNS_LOOKED_AT = 20
TIMES = 2


@dataclass(frozen=True)
class Bound:
    """After how much silence a run is called stalled: twice the longest that good runs of its routine had.

    `usual`: that longest silence in seconds, None while fewer than five runs told theirs; `runs`: how many
    did.
    """

    after: timedelta
    usual: int | None
    runs: int

    def working(self) -> Working:
        """How the bound comes about."""
        minutes = f"{self.after / timedelta(minutes=1):.1f}"
        least = Used("At least", f"{LEAST / timedelta(minutes=1):.0f}", "min", "the rule")
        if self.usual is None:
            formula = f"what is allowed until {KNOWN_FROM} good runs told their longest silence"
            note = "1 has so far" if self.runs == 1 else f"{self.runs} have so far"
            return Working("silence until it counts as stalled", minutes, "min", formula, note=note)
        source = f"the longest of its last {self.runs} good runs"
        usual = Used("Usual silence", f"{self.usual / 60:.1f}", "min", source)
        formula = f"{TIMES} × usual silence, at least {least.value} min"
        return Working("silence until it counts as stalled", minutes, "min", formula, inputs=(usual, least))


def bound(longest: Sequence[int]) -> Bound:
    """The bound of a routine by the longest silences of its last good runs, in seconds."""
    looked_at = longest[:RUNS_LOOKED_AT]
    if len(looked_at) < KNOWN_FROM:
        return Bound(UNTIL_KNOWN, None, len(looked_at))
    usual = max(looked_at)
    return Bound(max(LEAST, TIMES * timedelta(seconds=usual)), usual, len(looked_at))
