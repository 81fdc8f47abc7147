"""Choosing what to build: the rules others ask for."""

from __future__ import annotations

from tallyman.core.portfolio.ranking import Rank, rank

__all__ = ["Rank", "rank"]
