"""Self-service: pages on which colleagues run routines: what others ask of it."""

from __future__ import annotations

from tallyman.services.selfservice.pages_of import RoutinePublished, found, of_routine

__all__ = ["RoutinePublished", "found", "of_routine"]
