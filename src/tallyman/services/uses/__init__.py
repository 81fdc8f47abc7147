"""What uses what, over all subjects."""

from __future__ import annotations

__all__: list[str] = []
