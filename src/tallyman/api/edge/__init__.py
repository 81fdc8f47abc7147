"""What every request passes: bodies, connections, headers, problems, and hints to live pages."""

from __future__ import annotations

from tallyman.api.edge.hub import Hub

__all__ = ["Hub"]
