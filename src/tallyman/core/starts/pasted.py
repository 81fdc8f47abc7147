"""Pasted codes of six or seven fields, seconds first, turned into our own form (rules §6).

In such codes the weekday counts from Sunday = 1, `?` leaves a day field open, and a seventh field
limits the years. What our form cannot keep is refused with the reason.
"""

from __future__ import annotations

import re

from tallyman.core.faults import Fault, InputFaults
from tallyman.core.starts.fields import LONGEST, SPECS, WEEKDAYS, YEAR, FieldSpec, FieldText

SECOND = FieldSpec("second", 0, 59)
WEEKDAY = FieldSpec("day of week", 1, 7, WEEKDAYS, 1)
PASTED = (SECOND, *SPECS[:4], WEEKDAY, YEAR)
DAY_FIELDS = ("day of month", "day of week")
NUMBER = re.compile(r"\d+")


def _faults_of(spec: FieldSpec, text: str) -> list[Fault]:
    """What is wrong with one field of a pasted code, in its own counting."""
    if spec.name in DAY_FIELDS and text == "?":
        return []
    if "?" in text:
        return [Fault(spec.name, text, "? may stand alone, and only in a day field")]
    if spec is WEEKDAY and text.upper() == "L":
        return []
    if spec.name == "day of month" and text.upper().startswith("L-"):
        return [
            Fault(
                spec.name, text, "days counted back from the end of the month cannot be kept; give L or a day"
            )
        ]
    faults = FieldText(spec, text).faults
    if spec is SECOND and not faults and {int(found) for found in NUMBER.findall(text)} != {0}:
        faults = [Fault(spec.name, text, "starts happen on the full minute; give 0")]
    return faults


def _weekday(text: str) -> str:
    """A weekday field counted from Sunday = 1, written with Sunday = 0."""
    if text.upper() == "L":
        return "6"
    items = []
    for item in text.split(","):
        body, mark, rest = re.match(r"([^/#]*)([/#]?)(.*)", item).groups()  # type: ignore[union-attr]
        items.append(NUMBER.sub(lambda found: str(int(found[0]) - 1), body) + mark + rest)
    return ",".join(items)


def own_form(text: str) -> tuple[str, str]:
    """The five fields and the years of a pasted code. Raises InputFaults in the code's own counting."""
    parts = text.split()
    if len(parts) not in (6, 7) or len(text) > LONGEST:
        message = f"{len(parts)} fields; with the seconds first there are six, or seven with years"
        raise InputFaults([Fault("expr", text, message)])
    faults = [fault for spec, part in zip(PASTED, parts, strict=False) for fault in _faults_of(spec, part)]
    day, weekday = parts[3], parts[5]
    if not faults and day not in ("?", "*") and weekday not in ("?", "*"):
        message = "day of month and day of week are both given; write ? in the one that does not count"
        faults.append(Fault("day of week", weekday, message))
    if faults:
        raise InputFaults(faults)
    kept = [parts[1], parts[2], "*" if day == "?" else day, parts[4]]
    kept.append("*" if weekday == "?" else _weekday(weekday))
    years = parts[6] if len(parts) == 7 and parts[6] != "*" else ""
    return " ".join(kept), years
