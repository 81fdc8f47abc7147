"""The tally: posting, reading, closing and proving the ledger (rules §11)."""

from tallyman.services.tally import unusual
from tallyman.services.tally.posting import close_month, correct_run, month_ends, post_month_end, post_run
from tallyman.services.tally.proof import verify
from tallyman.services.tally.reading import entries, of_idea, overview

__all__ = [
    "close_month",
    "correct_run",
    "entries",
    "month_ends",
    "of_idea",
    "overview",
    "post_month_end",
    "post_run",
    "unusual",
    "verify",
]
