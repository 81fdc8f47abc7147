"""Runs in words."""

from __future__ import annotations

from typing import Literal

# Where a run stands.
RunState = Literal["waiting", "running", "held", "done", "failed", "cancelled", "lapsed", "lost"]
# What a done run came to: it worked, or had nothing to do.
Outcome = Literal["worked", "nothing"]
# Of which kind a seat is, and of which one that belongs to people.
SeatKind = Literal["unattended", "attended", "trial", "builder"]
SeatOfPeople = Literal["attended", "builder"]
# Where a routine works: with robots, or on a person's own computer, who need only answer or has to be there.
Attended = Literal["", "answer", "whole"]
# What a run takes a place of while it works.
SlotKind = Literal["robot", "seat", "trial", "attended", "builder", "limit", "lock"]
