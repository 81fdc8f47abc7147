"""The tally in words."""

from __future__ import annotations

from typing import Literal

# What an entry is.
EntryKind = Literal["run", "reversal", "correction", "month end", "by hand"]
# How units came that no routine counted.
CountSource = Literal["by hand", "a list", "a program"]
# Whether a month can still change.
MonthState = Literal["open", "closed"]
