"""What the API gives about the portfolio."""

from __future__ import annotations
