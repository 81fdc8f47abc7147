"""When a staged roll-out goes on to the rest, and when it goes back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Verdict = Literal["wait", "on", "back"]


@dataclass(frozen=True)
class Trial:
    """How the first of a roll-out did: runs of the new release that ended well, and that failed or were lost.

    The rest follows once `wanted` ended well. More bad ones than `allowed` bring it back, also where enough
    ended well: that is looked at first.
    """

    good: int
    bad: int
    wanted: int
    allowed: int

    def verdict(self) -> Verdict:
        """What follows from it."""
        if self.bad > self.allowed:
            return "back"
        return "on" if self.good >= self.wanted else "wait"

    def said(self) -> str:
        """The same in words, with its figures."""
        well = f"{self.good} of {self.wanted} runs ended well"
        return f"{well}, {self.bad} failed or lost; it goes back at {self.allowed + 1}"
