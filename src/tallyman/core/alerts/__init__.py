"""What people are told: the kinds of messages, by topic."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.core.alerts.kinds import MAIL_CHOICES, RATE_PROPOSED, RATE_SETTLED, TOPICS

__all__ = ["MAIL_CHOICES", "RATE_PROPOSED", "RATE_SETTLED", "TOPICS", "kinds"]
