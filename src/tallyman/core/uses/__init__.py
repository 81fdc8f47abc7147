"""What uses what: from one thing, everything that hangs on it, step by step."""

from __future__ import annotations

from tallyman.core.uses.walking import KINDS, Hanging, Kind, Link, Thing, walk

__all__ = ["KINDS", "Hanging", "Kind", "Link", "Thing", "walk"]
