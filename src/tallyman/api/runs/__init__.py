"""The routes about runs: the list, one run, its log, what people do with it, and one's own computer."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.runs import life, my_computer

router = Routes().join(life, my_computer)

__all__ = ["router"]
