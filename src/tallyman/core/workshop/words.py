"""The workshop in words."""

from __future__ import annotations

from typing import Literal

# What a routine counts.
Basis = Literal["run", "count"]
