"""Finding: whatever has a name or number, within what the reader may see."""

from __future__ import annotations

from tallyman.services.search import everything, places

__all__ = ["everything", "places"]
