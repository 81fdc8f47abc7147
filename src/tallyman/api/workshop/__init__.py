"""The routes about workshop: packages, releases, routines, and where each lies."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.workshop import here, packages, rollouts, routines

router = Routes().join(here, packages, rollouts, routines)

__all__ = ["router"]
