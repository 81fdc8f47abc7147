"""Who may do what, where: permissions, roles, reach."""

from __future__ import annotations

from tallyman.core.access.permissions import (
    ABOUT,
    ACTS,
    EVERYONE,
    PERMISSIONS,
    ROLES,
    SUBJECTS,
    Held,
    breaches,
    by_area,
    granted_by,
    in_words,
    reach,
    roles_with,
)

__all__ = [
    "ABOUT",
    "ACTS",
    "EVERYONE",
    "PERMISSIONS",
    "ROLES",
    "SUBJECTS",
    "Held",
    "breaches",
    "by_area",
    "granted_by",
    "in_words",
    "reach",
    "roles_with",
]
