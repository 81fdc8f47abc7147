"""Files among what a run is given: where they stand by the schema of the inputs, at any depth.

The server says by it which host may fetch them, and the runner puts them down.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

# A file stands as file:DIGEST/NAME.
FILE = "file:"


def named(value: str) -> tuple[str, str]:
    """The digest and the name of a file by its value."""
    digest, _, name = value[len(FILE) :].partition("/")
    return digest, name


def with_files(schema: Any, value: Any, use: Callable[[str, str], Any], place: str = "") -> Any:
    """The same value, with each file in it as `use` gives it by its place (list.0.photo) and value."""
    known = schema if isinstance(schema, dict) else {}
    if isinstance(value, str):
        return use(place, value) if known.get("format") == "file" and value.startswith(FILE) else value
    before = f"{place}." if place else ""
    if isinstance(value, list):
        items = known.get("items")
        return [with_files(items, one, use, f"{before}{n}") for n, one in enumerate(value)]
    if isinstance(value, dict):
        inner, others = known.get("properties") or {}, known.get("additionalProperties")
        return {
            name: with_files(inner.get(name, others), one, use, f"{before}{name}")
            for name, one in value.items()
        }
    return value
