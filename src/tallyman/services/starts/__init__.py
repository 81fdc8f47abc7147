"""What starts a routine."""

from __future__ import annotations

from tallyman.services.starts import routine_page, trials
from tallyman.services.starts.kinds import start_due

__all__ = ["routine_page", "start_due", "trials"]
