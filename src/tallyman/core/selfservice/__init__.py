"""Self-service: pages on which colleagues run routines, and how they stand."""

from __future__ import annotations

from tallyman.core.selfservice.standing import Standing, first_lacking, said_of_run, standing

__all__ = ["Standing", "first_lacking", "said_of_run", "standing"]
