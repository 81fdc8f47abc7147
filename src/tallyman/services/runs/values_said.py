"""Inputs and outputs of a run by their titles and as text, for people who know no JSON."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.free import FreeObject
from tallyman.services.runs.answers_of_own import ValueSaid

LONGEST_VALUE = 120


def values_said(schema: FreeObject, values: Mapping[str, object]) -> list[ValueSaid]:
    """The values by their titles, in the order in which the package declares them; none that is empty."""
    declared = schema.get("properties") or {}
    names = [*declared, *(name for name in values if name not in declared)]
    said = []
    for name in names:
        value = values.get(name)
        if value in (None, "", [], {}):
            continue
        one = declared.get(name) or {}
        said.append(ValueSaid(name=str(one.get("title") or name), value=_said(one, value)))
    return said


def _said(declared: FreeObject, value: object) -> str:
    if declared.get("format") == "file":
        return "a file that is given with it"
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = ", ".join(str(one) for one in value) if isinstance(value, list) else str(value)
    return text if len(text) <= LONGEST_VALUE else f"{text[: LONGEST_VALUE - 1]}…"
