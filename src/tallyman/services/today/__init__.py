"""What a person sees across all subjects: Today, and the house rules gathered."""

from __future__ import annotations

from tallyman.services.today import house_rules
from tallyman.services.today.answers import EntranceOut

__all__ = ["EntranceOut", "house_rules"]
