"""Sizing and case in words."""

from __future__ import annotations

from typing import Literal

# Where a sizing stands between two people.
SizingState = Literal["open", "offered", "agreed", "sent back"]
# What became of a sizing sent to an expert.
AskedState = Literal["open", "answered", "taken back"]
# When work was measured: before something was done about it, or after.
MeasuredPhase = Literal["before", "after"]
