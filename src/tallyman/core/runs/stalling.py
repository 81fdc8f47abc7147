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
        name, outcome = "silence until it counts as stalled", f"{self.after / timedelta(seconds=1):.0f}"
        if self.usual is None:
            allowed = Used("Allowed until known", outcome, "s", "the rule")
            note = f"known once {KNOWN_FROM} good runs told their longest silence; {self.runs} did so far"
            return Working(name, outcome, "s", "allowed until known", inputs=(allowed,), note=note)
        usual = Used("Usual silence", str(self.usual), "s", f"the longest of its last {self.runs} good runs")
        if TIMES * timedelta(seconds=self.usual) < LEAST:
            least = Used("Least silence", outcome, "s", "the rule")
            note = f"{TIMES} × the usual silence of {self.usual} s would be less"
            return Working(name, outcome, "s", "least silence", inputs=(least,), note=note)
        return Working(name, outcome, "s", f"{TIMES} × usual silence", inputs=(usual,))


def bound(longest: Sequence[int]) -> Bound:
    """The bound of a routine by the longest silences of its last good runs, in seconds."""
    looked_at = longest[:RUNS_LOOKED_AT]
    if len(looked_at) < KNOWN_FROM:
        return Bound(UNTIL_KNOWN, None, len(looked_at))
    usual = max(looked_at)
    return Bound(max(LEAST, TIMES * timedelta(seconds=usual)), usual, len(looked_at))
