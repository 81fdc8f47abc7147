"""Cells of a table as values by a schema: what is written in them is read by the type that is wanted."""

from __future__ import annotations

import json
from typing import Any

YES = {"yes": True, "true": True, "1": True, "no": False, "false": False, "0": False}
PLAIN = ("string", None)


def value_of(schema: dict[str, Any], text: str) -> Any:
    """The value of a cell; the text as it stands where it cannot be read so, for the schema to refuse it."""
    if "enum" in schema:
        return next((one for one in schema["enum"] if _written(one) == text.casefold()), text)
    kind = schema.get("type")
    if kind in PLAIN:
        return text
    if kind == "boolean":
        return YES.get(text.casefold(), text)
    try:
        value = json.loads(text)
    except ValueError:
        return text
    if kind == "integer" and isinstance(value, float) and value.is_integer():
        return int(value)
    return value


def _written(value: Any) -> str:
    text = value if isinstance(value, str) else json.dumps(value)
    return str(text).casefold()


def heads_of(schema: dict[str, Any]) -> dict[str, tuple[str, ...]]:
    """How the column of each input may be headed: by its name, or by its title."""
    properties: dict[str, Any] = schema.get("properties") or {}
    found = {}
    for name, one in properties.items():
        title = one.get("title") if isinstance(one, dict) else None
        words = [name, title] if isinstance(title, str) else [name]
        found[name] = tuple(dict.fromkeys(" ".join(word.lower().split()) for word in words))
    return found


def inputs_of(schema: dict[str, Any], cells: dict[str, str]) -> dict[str, Any]:
    """The inputs that a line gives; an empty cell leaves its input out."""
    properties: dict[str, Any] = schema.get("properties") or {}
    return {name: value_of(properties[name], text) for name, text in cells.items() if text != ""}
