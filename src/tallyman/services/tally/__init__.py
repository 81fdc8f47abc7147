"""The tally: posting, reading, closing and proving the ledger (rules §11)."""

from __future__ import annotations

from tallyman.services.tally import closing, counts, unusual
from tallyman.services.tally.answers import EntryOut, Unusual
from tallyman.services.tally.closing import close_month
from tallyman.services.tally.later import POST, post_later
from tallyman.services.tally.posting import carry, carry_rate, correct_run, month_ends, post_run
from tallyman.services.tally.proof import verify
from tallyman.services.tally.value import entries, of_idea, overview

__all__ = [
    "POST",
    "EntryOut",
    "Unusual",
    "carry",
    "carry_rate",
    "close_month",
    "closing",
    "correct_run",
    "counts",
    "entries",
    "month_ends",
    "of_idea",
    "overview",
    "post_later",
    "post_run",
    "unusual",
    "verify",
]
