"""A value that is known: with its source and its day."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Known:
    """A value with its source, its day, and whether it was given on this idea."""

    value: Any
    source: str
    date: str
    own: bool = False
    version: int = 0


Sheet = Mapping[str, Known]
