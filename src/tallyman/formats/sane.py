"""JSON and text made sane once, at the edge: what no database, page or file can carry goes no further.

The server refuses what is not sane and says where it stands (`read_json`); the runner, which must
deliver whatever a package wrote, mends it and says what it cut (`Mender`).
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from tallyman.core.faults import Fault, InputFaults

MOST_KEYS = 5_000
MOST_VALUES = 50_000
MOST_DEPTH = 40
MOST_DIGITS = 30
LONGEST_PLACE = 120
# Halves of a character that stand alone, and the character that ends texts in other programs.
UNSOUND = re.compile("[\ud800-\udfff\x00]")
SHOWN_INSTEAD = "\ufffd"
LARGEST = 10**MOST_DIGITS
TOO_DEEP = f"brackets within brackets, more than {MOST_DEPTH} deep"


def is_sound(text: str) -> bool:
    """Whether a text can be kept and shown."""
    return UNSOUND.search(text) is None


def sound(text: str) -> str:
    """A text that can be kept and shown: what cannot is replaced by the sign for it."""
    return UNSOUND.sub(SHOWN_INSTEAD, text)


def one_line(text: str) -> str:
    """A text without line breaks and other control characters, for formats that end a line there."""
    return "".join(" " if ord(one) < 32 or one in "\x7f\x85\u2028\u2029" else one for one in text)


def _number_fault(value: float) -> str:
    if isinstance(value, float) and not math.isfinite(value):
        return "is no finite number; give one such as 12.5"
    if isinstance(value, int) and abs(value) >= LARGEST:
        return f"has too many digits; give a number of at most {MOST_DIGITS}"
    return ""


def _constant(name: str) -> float:
    return math.inf if name == "Infinity" else math.nan


def _walk(value: Any) -> Iterator[tuple[str, Any, str]]:
    """Every unsound place of a JSON value: where it stands, what it is, and why."""
    keys = values = 0
    waiting: list[tuple[str, Any, int]] = [("", value, 0)]
    while waiting:
        place, one, depth = waiting.pop()
        values += 1
        if depth > MOST_DEPTH:
            yield place, None, TOO_DEEP
            return
        if isinstance(one, str):
            if not is_sound(one):
                yield (
                    place,
                    sound(one)[:40],
                    "holds half a character, or NUL; leave it out",
                )
        elif isinstance(one, dict):
            keys += len(one)
            if keys > MOST_KEYS:
                yield place, len(one), f"too many fields; at most {MOST_KEYS} in all"
                return
            for key, inner in one.items():
                if not is_sound(key):
                    yield f"{place}.{sound(key)}"[:LONGEST_PLACE], None, "is no name of a field; leave it out"
                waiting.append((f"{place}.{key}" if place else key, inner, depth + 1))
        elif isinstance(one, list):
            if values + len(one) > MOST_VALUES:
                yield place, len(one), f"too many values; at most {MOST_VALUES} in all"
                return
            waiting += [
                (f"{place}.{n}" if place else str(n), inner, depth + 1) for n, inner in enumerate(one)
            ]
        elif isinstance(one, int | float) and (why := _number_fault(one)):
            yield place, str(one)[:20], why


def _refuse(message: str, value: Any = None) -> InputFaults:
    return InputFaults([Fault("body", value, message)])


def read_json(data: bytes) -> Any:
    """JSON as a program may take it: UTF-8, bounded in fields, values and depth, finite numbers, whole texts.

    Raises InputFaults that name the place, the value and the mend.
    """
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        raise _refuse(f"is not UTF-8 at byte {error.start}; send it as UTF-8") from None
    try:
        value = json.loads(text, parse_constant=_constant)
    except RecursionError:
        raise _refuse(TOO_DEEP) from None
    except json.JSONDecodeError as error:
        raise _refuse(f"is no JSON: {error.msg} at character {error.pos}") from None
    except ValueError:
        raise _refuse(f"holds a number with too many digits; at most {MOST_DIGITS}") from None
    faults = []
    for place, shown, why in _walk(value):
        faults.append(Fault(sound(place)[:LONGEST_PLACE] or "body", shown, why))
        if len(faults) >= 20:
            break
    if faults:
        raise InputFaults(faults)
    return value


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
            if not _number_fault(value):
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
