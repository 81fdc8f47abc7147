"""The workshop in words."""

from __future__ import annotations

from typing import Literal

# What a routine counts.
Basis = Literal["run", "count"]
# How much a release changes for whoever set the one before it up.
Weight = Literal["fix", "addition", "breaking"]
# What its builder said of that; nothing of a first release, and of those kept before it was asked.
Said = Literal["", "fix", "addition", "breaking"]
# Who sees a release: everybody who sees packages, those of one area, or who made it (a try-out).
SeenBy = Literal["company", "area", "maker"]
# From where a release came.
Origin = Literal["page", "command", "pipeline"]
# How a release takes another's place in routines: at once, on trial until each goes live, or in stages.
RolloutHow = Literal["at once", "on trial", "staged"]
RolloutState = Literal["under way", "done", "gone back"]
# One routine of it: it waits for the first, has the new release, is back at the old one, or was left.
PartState = Literal["waits", "changed", "back", "left"]
