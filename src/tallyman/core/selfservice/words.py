"""Self-service in words."""

from __future__ import annotations

from typing import Literal

# A page is open to those it is for, paused with a sentence, or taken back.
PageState = Literal["open", "paused", "taken back"]
# What somebody who uses a page says about it.
WordKind = Literal["thanks", "rating", "wish"]
# What comes of a start this moment: it begins, it waits and begins by itself, or it is not to be had.
Readiness = Literal["ready", "waits", "not now"]
