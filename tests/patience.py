"""How long a test waits for what it is sure to come: longer while the machine is busy with other work."""

from __future__ import annotations

import os

MOST = 8.0


def patience(seconds: float) -> float:
    """So many seconds on a quiet machine, more by what stands in line for each of its cores."""
    in_line = os.getloadavg()[0] / (os.cpu_count() or 1)
    return seconds * min(MOST, max(1.0, in_line))
