"""The routes about workshop: packages, releases, routines and their triggers."""

from __future__ import annotations

from tallyman.api.routing import Routes
from tallyman.api.workshop import packages, routines

router = Routes().join(packages, routines)

__all__ = ["router"]
