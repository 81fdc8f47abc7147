"""How often a program may call: a bound per token and minute, so that one in a loop disturbs nobody."""

from __future__ import annotations

import threading
from collections import OrderedDict
from datetime import datetime

from tallyman.errors import SlowDown

CALLS_A_MINUTE = 600
MOST_KNOWN = 10_000


class Pace:
    """Counts calls by token in the running minute, in this process."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._counts: OrderedDict[tuple[int, int], int] = OrderedDict()

    def check(self, token: str, now: datetime) -> None:
        """Counts a call. Raises SlowDown beyond the bound."""
        key = (int(now.timestamp()) // 60, hash(token))
        with self._lock:
            count = self._counts[key] = self._counts.get(key, 0) + 1
            while len(self._counts) > MOST_KNOWN:
                self._counts.popitem(last=False)
        if count > CALLS_A_MINUTE:
            raise SlowDown(
                f"A program may call {CALLS_A_MINUTE} times a minute.",
                "Wait for the next minute.",
                seconds=60,
            )
