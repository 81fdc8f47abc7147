"""Faults in what somebody handed in: gathered, each with field, value and mend."""

from __future__ import annotations

import difflib
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Fault:
    """One thing wrong with one field, in words that say how to mend it."""

    field: str
    value: Any
    message: str

    def as_dict(self) -> dict[str, Any]:
        """The fault as plain JSON: {"field", "value", "message"}."""
        return {"field": self.field, "value": self.value, "message": self.message}

    def __str__(self) -> str:
        return f"{self.field}: {self.value!r}: {self.message}"


class InputFaults(ValueError):
    """Everything that is wrong with one input, found in one go."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = list(faults)
        super().__init__("; ".join(str(fault) for fault in self.faults))


def is_one_of(value: Any, known: Iterable[str]) -> bool:
    """Whether a value is one of the known words; whatever is no text is none."""
    return isinstance(value, str) and value in known


def unknown_word(field: str, value: Any, known: Iterable[str]) -> Fault:
    """A fault for a word that is none of the known ones, with the closest known word."""
    words = list(known)
    close = difflib.get_close_matches(str(value), words, n=1, cutoff=0.5)
    hint = f"did you mean {close[0]!r}? " if close else ""
    return Fault(field, value, f"{hint}allowed: {', '.join(words)}")
