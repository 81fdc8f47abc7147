"""Access in words."""

from __future__ import annotations

from typing import Literal

# What became of a request for access.
RequestState = Literal["open", "granted", "refused"]
