"""What keeps the program going: rows tried one by one, long work, effects, health."""

from __future__ import annotations

from tallyman.services.upkeep import errands, hitches, tidying
from tallyman.services.upkeep.answers import ErrandOut
from tallyman.services.upkeep.effects import carry_out
from tallyman.services.upkeep.errands import Piece
from tallyman.services.upkeep.hitches import (
    Rows,
    Work,
    each,
    reason,
)
from tallyman.services.upkeep.once import Once

__all__ = [
    "ErrandOut",
    "Once",
    "Piece",
    "Rows",
    "Work",
    "carry_out",
    "each",
    "errands",
    "hitches",
    "reason",
    "tidying",
]
