"""The company and what it sets: areas, calendars, systems, mail, settings, audit trail."""

from __future__ import annotations

from tallyman.services.house import areas, company, outgoing, rule_sets, settings, views
from tallyman.services.house.answers import VersionRow, ViewOut
from tallyman.services.house.areas import areas_around, areas_seen, sees_area
from tallyman.services.house.mails import send_mails
from tallyman.services.house.systems import meet_system
from tallyman.store.records.house import AreaBelow

__all__ = [
    "AreaBelow",
    "VersionRow",
    "ViewOut",
    "areas",
    "areas_around",
    "areas_seen",
    "company",
    "meet_system",
    "outgoing",
    "rule_sets",
    "sees_area",
    "send_mails",
    "settings",
    "views",
]
