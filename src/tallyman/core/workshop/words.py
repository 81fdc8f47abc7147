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
