"""Upkeep in words."""

from __future__ import annotations

from typing import Literal

# Where long work stands.
ErrandState = Literal["waiting", "running", "done", "cancelled", "failed"]
