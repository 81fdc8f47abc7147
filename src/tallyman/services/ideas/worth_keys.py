"""By which day, and after which change in the house, an idea's worth was reckoned."""

from __future__ import annotations

from datetime import date

from tallyman.store.db import Tx

DAYS = 1_000_000


def key_of(tx: Tx, today: date) -> int:
    """What the key of every worth is that is of today, and of after the last change in the house."""
    return tx.count("worths.revision") * DAYS + today.toordinal()


def waits(worth_key: int | None, key: int) -> bool:
    """Whether a worth is of another day, or of before something moved it, and is being reckoned anew."""
    return worth_key is not None and worth_key != key
