"""What uses what, over all subjects."""

from __future__ import annotations

from tallyman.services.uses import view

__all__ = ["view"]
