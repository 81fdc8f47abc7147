"""The words that pages show and never know by themselves: they go out with the description of the API."""

from __future__ import annotations

from typing import get_args

from tallyman.core import cases, ideas
from tallyman.core.house import SystemAccess
from tallyman.core.rates import BENEFITS
from tallyman.core.volume import RHYTHMS


def _fields() -> dict[str, dict[str, str]]:
    """What sizing, case and plan ask for: its name, where it is given, what its figure stands for."""
    return {
        name: {"label": label, "sheet": cases.sheet_of(name), "stands": cases.stands_for(name)}
        for name, label in cases.LABELS.items()
    }


def words() -> dict[str, object]:
    """Lists of words by name, and the fields of sizings and cases."""
    return {
        "stages": [one for one in (*ideas.PATH, *ideas.OFF_THE_WAY) if one != "draft"],
        "off_the_way": list(ideas.OFF_THE_WAY),
        "takes_in": list(ideas.TAKES_IN),
        "sources": list(ideas.SOURCES),
        "routes": [ideas.ROBOT, *ideas.ROUTES],
        "other_routes": list(ideas.ROUTES),
        "decline_reasons": list(ideas.DECLINE_REASONS),
        "rhythms": list(RHYTHMS),
        "arrives_as": list(ideas.READINESS),
        "file_kinds": list(get_args(ideas.FileKind)),
        "system_access": list(get_args(SystemAccess)),
        "benefits": list(BENEFITS),
        "mends": list(cases.MENDS),
        "optional": list(cases.OPTIONAL),
        "fields": _fields(),
    }
