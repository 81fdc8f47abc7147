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
# What became of a call to a routine's address.
CallOutcome = Literal["started", "repeated", "refused"]
# Where the answer to a call's own address stands, once its run has ended.
CallBackState = Literal["waits", "sent", "given up"]
