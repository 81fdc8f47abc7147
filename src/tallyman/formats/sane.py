"""JSON made sane once, at the edge of the server: what is not is refused, and where it stands is said."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from typing import Any

from tallyman.core.faults import Fault, InputFaults
from tallyman.formats.sound import (
    MOST_DEPTH,
    MOST_DIGITS,
    MOST_VALUES,
    is_sound,
    number_fault,
    sound,
)

MOST_KEYS = 5_000
LONGEST_PLACE = 120
MOST_FAULTS = 20
TOO_DEEP = f"brackets within brackets, more than {MOST_DEPTH} deep"


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
        elif isinstance(one, int | float) and (why := number_fault(one)):
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
        if len(faults) >= MOST_FAULTS:
            break
    if faults:
        raise InputFaults(faults)
    return value
