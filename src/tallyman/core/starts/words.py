"""Starts in words."""

from __future__ import annotations

from typing import Literal

# What a trigger goes by.
TriggerKind = Literal["clock"]
# What becomes of a start on a closed day.
OnClosed = Literal["run", "skip", "next", "previous"]
# What becomes of starts missed while the engine was away.
Missed = Literal["once", "all", "skip"]
# What became of an occasion.
Became = Literal["started", "merged", "skipped", "missed"]
