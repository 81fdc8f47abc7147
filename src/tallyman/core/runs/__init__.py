"""Starting and running: the rules others ask for."""

from __future__ import annotations

from tallyman.core.runs.leaving import Asking, stranded
from tallyman.core.runs.starting import (
    SILENT_AFTER,
    LockFacts,
    Maintenance,
    Need,
    RobotFacts,
    Wanted,
    is_silent,
    needs,
    read_hours,
)

__all__ = [
    "SILENT_AFTER",
    "Asking",
    "LockFacts",
    "Maintenance",
    "Need",
    "RobotFacts",
    "Wanted",
    "is_silent",
    "needs",
    "read_hours",
    "stranded",
]
