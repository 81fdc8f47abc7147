"""What a run posts, and what the sums of entries come to."""

from __future__ import annotations

from tallyman.core.tally import sums
from tallyman.core.tally.entries import Kept, Rate, next_month, working_of

__all__ = ["Kept", "Rate", "next_month", "sums", "working_of"]
