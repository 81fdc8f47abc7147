"""Text and JSON that any database, page or file can carry: what is not so is mended, and said.

Stands alone, as the runner uses it on whatever a package wrote.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field
from typing import Any

MOST_VALUES = 50_000
MOST_DEPTH = 40
MOST_DIGITS = 30
# Halves of a character that stand alone, and the character that ends texts in other programs.
UNSOUND = re.compile("[\ud800-\udfff\x00]")
SHOWN_INSTEAD = "\ufffd"
LARGEST = 10**MOST_DIGITS


def is_sound(text: str) -> bool:
    """Whether a text can be kept and shown."""
    return UNSOUND.search(text) is None


def sound(text: str) -> str:
    """A text that can be kept and shown: what cannot is replaced by the sign for it."""
    return UNSOUND.sub(SHOWN_INSTEAD, text)


def one_line(text: str) -> str:
    """A text without line breaks and other control characters, for formats that end a line there."""
    return "".join(" " if ord(one) < 32 or one in "\x7f\x85\u2028\u2029" else one for one in text)


def number_fault(value: float) -> str:
    """Why a number cannot be kept; empty if it can."""
    if isinstance(value, float) and not math.isfinite(value):
        return "is no finite number; give one such as 12.5"
    if isinstance(value, int) and abs(value) >= LARGEST:
        return f"has too many digits; give a number of at most {MOST_DIGITS}"
    return ""


@dataclass
class Mender:
    """Makes any JSON value sane instead of refusing it, within bounds, and gathers what it changed."""

    most_depth: int = MOST_DEPTH
    most_values: int = MOST_VALUES
    longest_text: int = 20_000
    longest_key: int = 200
    notes: list[str] = field(default_factory=list)
    _seen: int = 0

    def begin(self) -> None:
        """Begins to count values anew."""
        self._seen = 0

    def _note(self, words: str) -> None:
        if words not in self.notes and len(self.notes) < 20:
            self.notes.append(words)

    def text(self, text: str, longest: int, what: str) -> str:
        """A sound text of at most that length."""
        clean = sound(text)
        if clean != text:
            self._note(f"{what} held characters that are none")
        if len(clean) > longest:
            self._note(f"{what} was cut to {longest:,} characters")
            clean = clean[: longest - 1] + "…"
        return clean

    def value(self, value: Any, what: str, depth: int = 0) -> Any:
        """A sound JSON value; what is no JSON becomes its text, what is no finite number nothing."""
        self._seen += 1
        if depth > self.most_depth or self._seen > self.most_values:
            self._note(f"{what} was cut: too deep or too many values")
            return None
        if value is None or isinstance(value, bool):
            return value
        if isinstance(value, int | float):
            if not number_fault(value):
                return value
            self._note(f"{what} held a number that is none or too long, which was left out")
            return None
        if isinstance(value, dict):
            return {
                self.text(str(key), self.longest_key, f"a name in {what}"): self.value(one, what, depth + 1)
                for key, one in value.items()
            }
        if isinstance(value, list | tuple):
            return [self.value(one, what, depth + 1) for one in value[: self.most_values]]
        return self.text(str(value), self.longest_text, what)
