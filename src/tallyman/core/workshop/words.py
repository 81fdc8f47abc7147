"""The workshop in words."""

from __future__ import annotations

from typing import Literal

# What a routine counts.
Basis = Literal["run", "count"]
# How much a release changes for whoever set the one before it up.
Weight = Literal["fix", "addition", "breaking"]
