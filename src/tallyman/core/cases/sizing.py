"""Sizing: yearly volume, automatable share, build effort (rules §2, without sampling)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Any

from tallyman.core.exact import Reader, text_of
from tallyman.core.faults import Fault, InputFaults, is_one_of, unknown_word
from tallyman.core.ideas import readiness_of
from tallyman.core.volume import RHYTHMS, times_a_year, yearly_volume
from tallyman.core.working import Part, Used, Working

ACCESS_DAYS = {
    "API": Fraction(1),
    "web": Fraction(2),
    "desktop": Fraction(3),
    "remote screen": Fraction(5),
    "paper or image": Fraction(8),
}
BANDS = ((10, "small"), (25, "medium"), (60, "large"))
HARD_BELOW = Fraction("0.6")
HARD_SHARE = Fraction(1, 5)
HARD_FORM = Fraction("1.3")
RULES_VERSION = "sizing 1"


@dataclass(frozen=True)
class Sized:
    """What the sizing computes; None where an input is missing."""

    volume_per_year: Fraction | None
    hours_per_year: Fraction | None
    computed_share: Fraction | None
    share: Fraction | None
    computed_effort: Fraction | None
    effort_days: Fraction | None
    band: str | None
    missing: tuple[str, ...]
    share_working: Working
    effort_working: Working
    volume_working: Working


def band_of(effort_days: Fraction) -> str:
    """The band of a build effort in person-days."""
    for most, name in BANDS:
        if effort_days <= most:
            return name
    return "very large"


def next_half(days: Fraction) -> Fraction:
    """Up to the next half day."""
    return Fraction(ceil(days * 2), 2)


def _share(reader: Reader, given: dict[str, Any]) -> tuple[Fraction | None, Working, Any]:
    before = len(reader.missing)
    judged = reader.number("judged_share", high=1)
    unsuitable = reader.number("unsuitable_share", high=1)
    ready = readiness_of(given.get("arrives"), reader)
    missing = tuple(reader.missing[before:])
    share = None
    if judged is not None and unsuitable is not None and ready is not None:
        share = (1 - judged) * (1 - unsuitable) * ready[0]
    kinds = tuple(
        Part(
            kind,
            f"{text_of(part * 100, 0)} %",
            f"a robot reads {text_of(readiness * 100, 0)} % of these",
        )
        for kind, part, readiness in (ready[1] if ready else [])
    )
    working = Working(
        "Automatable share",
        text_of(share, 4),
        "share",
        "(1 − judged) × (1 − unsuitable) × readiness of what arrives",
        inputs=(
            Used("Judged share", text_of(judged, 4), "share", link="judged_share"),
            Used("Unsuitable share", text_of(unsuitable, 4), "share", link="unsuitable_share"),
            Used("Readiness", text_of(ready[0], 4) if ready else None, "share", link="arrives"),
        ),
        parts=kinds,
        missing=missing,
    )
    return share, working, ready


def _systems(given: dict[str, Any], reader: Reader) -> list[tuple[str, str]] | None:
    rows = given.get("systems")
    if not rows:
        reader.missing.append("systems")
        return None
    found = []
    for index, row in enumerate(rows if isinstance(rows, list) else []):
        access = row.get("access") if isinstance(row, dict) else None
        if not isinstance(access, str) or access not in ACCESS_DAYS:
            reader.faults.append(unknown_word(f"systems[{index}].access", access, ACCESS_DAYS))
            continue
        found.append((str(row.get("name", "")), access))
    if not isinstance(rows, list):
        reader.faults.append(Fault("systems", rows, "give a list of systems with their access"))
    return found


def _effort(reader: Reader, given: dict[str, Any], ready: Any) -> tuple[Fraction | None, Working]:
    before = len(reader.missing)
    steps, decisions = reader.number("steps"), reader.number("decisions")
    variants = reader.number("variants", low=1)
    languages = reader.number("languages", low=1)
    parts = reader.number("reused_parts")
    systems = _systems(given, reader)
    lacking = list(reader.missing[before:]) + ([] if ready else ["arrives"])
    effort = None
    lines: list[Part] = []
    note = ""
    if not lacking and not reader.faults:
        assert steps is not None and decisions is not None and variants is not None
        assert languages is not None and parts is not None and systems is not None
        rows = [
            ("To begin with", Fraction(2), ""),
            ("Steps", steps / 10, f"{text_of(steps, 0)} × 0.10"),
            ("Decisions", decisions * Fraction(3, 4), f"{text_of(decisions, 0)} × 0.75"),
            ("Variants", (variants - 1) * Fraction(3, 2), f"{text_of(variants - 1, 0)} more × 1.5"),
            ("Languages", languages - 1, f"{text_of(languages - 1, 0)} more × 1"),
        ]
        rows += [(f"System {name}", ACCESS_DAYS[access], access) for name, access in systems]
        base = sum((days for _, days, _ in rows), Fraction(0))
        hard = sum((p for _, p, r in ready[1] if r < HARD_BELOW), Fraction(0))
        form = HARD_FORM if hard >= HARD_SHARE else Fraction(1)
        reuse = min(Fraction("0.4"), parts / 10)
        effort = next_half(base * form * (1 - reuse))
        lines = [Part(name, text_of(days, 2) or "", said) for name, days, said in rows]
        lines.append(Part("Hard to read input", f"× {text_of(form, 1)}", "mail, scans and the like"))
        lines.append(Part("Reuse", f"× {text_of(1 - reuse, 2)}", f"{text_of(parts, 0)} parts"))
        note = "Rounded up to the next half day."
    working = Working(
        "Build effort",
        text_of(effort, 1),
        "person-days",
        "days for what the work is made of × hard to read × what is left after reuse",
        parts=tuple(lines),
        missing=tuple(dict.fromkeys(lacking)),
        note=note,
    )
    return effort, working


def size(given: dict[str, Any], working_days: int) -> Sized:
    """Computes what can be computed from the facts given so far (rules §2).

    `given` has volume, rhythm, handling_minutes, judged_share, unsuitable_share, arrives, systems,
    steps, decisions, variants, languages, reused_parts, and optionally share_override and effort_override.
    Raises InputFaults with every fault.
    """
    reader = Reader(given)
    volume, minutes = reader.number("volume"), reader.number("handling_minutes")
    rhythm = given.get("rhythm")
    if rhythm is None:
        reader.missing.append("rhythm")
    elif not is_one_of(rhythm, RHYTHMS):
        reader.faults.append(unknown_word("rhythm", rhythm, RHYTHMS))
        rhythm = None
    yearly = None
    if volume is not None and rhythm is not None:
        yearly = yearly_volume(volume, rhythm, working_days)
    computed, share_working, ready = _share(reader, given)
    effort, effort_working = _effort(reader, given, ready)
    share = computed
    if given.get("share_override") not in (None, ""):
        share = reader.number("share_override", high=1)
    computed_effort = effort
    if given.get("effort_override") not in (None, ""):
        effort = reader.number("effort_override")
    if reader.faults:
        raise InputFaults(reader.faults)
    hours = None if yearly is None or minutes is None else yearly * minutes / 60
    volume_working = Working(
        "Volume a year",
        text_of(yearly, 0),
        "items",
        "items per rhythm × how often it comes round in a year",
        inputs=(
            Used("Items", text_of(volume, 2), f"per {rhythm or '–'}", link="volume"),
            Used(
                "Times a year",
                str(times_a_year(rhythm, working_days)) if rhythm else None,
                "",
                "a year has 365 days, 52 weeks, and the calendar's working days",
                link="rhythm",
            ),
        ),
        missing=tuple(name for name in ("volume", "rhythm") if name in reader.missing),
    )
    return Sized(
        yearly,
        hours,
        computed,
        share,
        computed_effort,
        effort,
        None if effort is None else band_of(effort),
        tuple(dict.fromkeys(reader.missing)),
        share_working,
        effort_working,
        volume_working,
    )
