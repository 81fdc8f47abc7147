"""What every request passes: bodies, connections, headers, problems, and hints to live pages."""

from __future__ import annotations

from tallyman.api.edge.hub import Hint, Hub

__all__ = ["Hint", "Hub"]
