"""Sizings, business cases, promises, and what was delivered: what others ask of them."""

from __future__ import annotations

from tallyman.services.cases import business_case, ranges, worths

__all__ = ["business_case", "ranges", "worths"]
