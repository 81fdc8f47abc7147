"""What people are told, and how."""

from __future__ import annotations

from tallyman.services.alerts.telling import TELL, carry, digests, tell
from tallyman.services.alerts.told import mark_read, notifications
from tallyman.store.records.alerts import Notification

__all__ = ["TELL", "Notification", "carry", "digests", "mark_read", "notifications", "tell"]
