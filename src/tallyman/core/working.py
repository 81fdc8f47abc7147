"""The working of a figure: a small tree of named steps that a page can show and a test can read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, ClassVar

# What is described of them to programs: an answer gives every field.
WHOLE = {"json_schema_serialization_defaults_required": True}


@dataclass(frozen=True)
class Used:
    """One input of a step: its name, value as text, unit, where it came from and when."""

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    name: str
    value: str | None
    unit: str = ""
    source: str = ""
    date: str = ""
    link: str = ""

    def as_dict(self) -> dict[str, Any]:
        """The input as plain JSON."""
        return {
            "name": self.name,
            "value": self.value,
            "unit": self.unit,
            "source": self.source,
            "date": self.date,
            "link": self.link,
        }


@dataclass(frozen=True)
class Part:
    """One line that adds up to the outcome, such as +39,520.00 or a share."""

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    name: str
    value: str
    note: str = ""

    def as_dict(self) -> dict[str, Any]:
        """The line as plain JSON."""
        return {"name": self.name, "value": self.value, "note": self.note}


@dataclass(frozen=True)
class Swing:
    """How far the outcome moves when one input moves; both ends as text in the outcome's unit."""

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    name: str
    low: str
    high: str
    note: str = ""

    def as_dict(self) -> dict[str, Any]:
        """The swing as plain JSON."""
        return {"name": self.name, "low": self.low, "high": self.high, "note": self.note}


@dataclass(frozen=True)
class Working:
    """A named figure with its formula in words, inputs, lines that add up, and what would move it."""

    __pydantic_config__: ClassVar[dict[str, bool]] = WHOLE
    name: str
    outcome: str | None
    unit: str = ""
    formula: str = ""
    parts: tuple[Part, ...] = ()
    inputs: tuple[Used, ...] = ()
    swings: tuple[Swing, ...] = ()
    missing: tuple[str, ...] = ()
    note: str = ""
    steps: tuple[Working, ...] = field(default=())

    @classmethod
    def of(cls, tree: Mapping[str, Any]) -> Working:
        """The working of a tree that was kept as plain JSON."""
        return cls(
            tree["name"],
            tree["outcome"],
            tree.get("unit", ""),
            tree.get("formula", ""),
            tuple(Part(**one) for one in tree.get("parts", ())),
            tuple(Used(**one) for one in tree.get("inputs", ())),
            tuple(Swing(**one) for one in tree.get("swings", ())),
            tuple(tree.get("missing", ())),
            tree.get("note", ""),
            tuple(cls.of(one) for one in tree.get("steps", ())),
        )

    def as_dict(self) -> dict[str, Any]:
        """The whole tree as plain JSON; an empty branch is an empty list."""
        tree: dict[str, Any] = {"name": self.name, "outcome": self.outcome, "unit": self.unit}
        tree["formula"] = self.formula
        tree["note"] = self.note
        tree["missing"] = list(self.missing)
        for key in ("parts", "inputs", "swings", "steps"):
            tree[key] = [item.as_dict() for item in getattr(self, key)]
        return tree
