"""What a run posts."""

from __future__ import annotations

from tallyman.core.tally.entries import Rate

__all__ = ["Rate"]
