"""What to build first, and the proof that its figures are those of every other place."""

from __future__ import annotations

from tallyman.services.portfolio.proof import verify

__all__ = ["verify"]
