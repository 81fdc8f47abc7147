"""What pages are told of a case's variants: answers of this room."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class VariantFigure:
    """A figure of a variant."""

    name: str
    label: str
    unit: str
    value: str | None
    # Why there is none, in words.
    said: str


@dataclass(frozen=True, slots=True)
class VariantOut:
    """A variant of a case; `id` only for those that people kept."""

    id: int | None
    version: int
    by: str
    name: str
    changes: dict[str, str]
    figures: list[VariantFigure]
    net: list[str | None] | None


@dataclass(frozen=True, slots=True)
class DifferingInput:
    """An input in which variants differ, with the value of each."""

    field: str
    label: str
    values: list[str | None]


@dataclass(frozen=True, slots=True)
class VariantInput:
    """An input that a variant may say otherwise, and its value as sized."""

    field: str
    label: str
    value: str | None


@dataclass(frozen=True, slots=True)
class VariantsOut:
    """All variants side by side."""

    variants: list[VariantOut]
    differing: list[DifferingInput]
    inputs: list[VariantInput]
    no_range: list[str]
    may_change: bool
