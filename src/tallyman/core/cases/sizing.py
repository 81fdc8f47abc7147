"""Sizing: yearly volume, automatable share, build effort (rules §2, without sampling)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Any

from tallyman.core.exact import Reader, plain, text_of
from tallyman.core.faults import Fault, InputFaults, is_one_of, unknown_word
from tallyman.core.ideas import STANDARD, Factors, readiness_of
from tallyman.core.volume import RHYTHMS, times_a_year, yearly_volume
from tallyman.core.working import Part, Used, Working

ACCESS_DAYS = STANDARD.access
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


def next_half(days: Fraction) -> Fraction:
    """Up to the next half day."""
    return Fraction(ceil(days * 2), 2)


def _share(reader: Reader, given: dict[str, Any], factors: Factors) -> tuple[Fraction | None, Working, Any]:
    before = len(reader.missing)
    judged = reader.number("judged_share", high=1)
    unsuitable = reader.number("unsuitable_share", high=1)
    ready = readiness_of(given.get("arrives"), reader, readiness=factors.readiness)
    missing = tuple(reader.missing[before:])
    share = None
    if judged is not None and unsuitable is not None and ready is not None:
        share = (1 - judged) * (1 - unsuitable) * ready[0]
    kinds = tuple(
        Part(
            kind,
            text_of(part * readiness, 4) or "",
            f"{text_of(part * 100, 0)} % of it, of which a robot reads {text_of(readiness * 100, 0)} %",
        )
        for kind, part, readiness in (ready[1] if ready else [])
    )
    working = Working(
        "Automatable share",
        text_of(share, 4),
        "share",
        "(1 − judged share) × (1 − unsuitable share) × readiness",
        inputs=(
            Used("Judged share", text_of(judged, 4), "share", link="judged_share"),
            Used("Unsuitable share", text_of(unsuitable, 4), "share", link="unsuitable_share"),
            Used("Readiness", text_of(ready[0], 4) if ready else None, "share", link="arrives"),
        ),
        steps=(_readiness(ready[0] if ready else None, kinds, factors),) if kinds else (),
        missing=missing,
    )
    return share, working, ready


def _readiness(ready: Fraction | None, kinds: tuple[Part, ...], factors: Factors) -> Working:
    return Working(
        "Readiness of what arrives",
        text_of(ready, 4),
        "share",
        "sum of each part × how ready a robot can read it",
        parts=kinds,
        note=f"By {factors.name}.",
    )


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


def _effort(
    reader: Reader, given: dict[str, Any], ready: Any, factors: Factors
) -> tuple[Fraction | None, Working]:
    before = len(reader.missing)
    steps, decisions = reader.number("steps"), reader.number("decisions")
    variants = reader.number("variants", low=1)
    languages = reader.number("languages", low=1)
    parts = reader.number("reused_parts")
    systems = _systems(given, reader)
    lacking = list(reader.missing[before:]) + ([] if ready else ["arrives"])
    effort = None
    lines: list[Part] = []
    made_of: tuple[Working, ...] = ()
    note = ""
    if not lacking and not reader.faults:
        assert steps is not None and decisions is not None and variants is not None
        assert languages is not None and parts is not None and systems is not None
        days = factors.effort
        rows = [("To begin with", days["to begin with"], "")]
        rows += [
            (name, number * days[each], f"{text_of(number, 0)}{more} × {plain(days[each])}")
            for name, number, more, each in (
                ("Steps", steps, "", "a step"),
                ("Decisions", decisions, "", "a decision"),
                ("Variants", variants - 1, " more", "a further variant"),
                ("Languages", languages - 1, " more", "a further language"),
            )
        ]
        rows += [(f"System {name}", factors.access[access], access) for name, access in systems]
        base = sum((days for _, days, _ in rows), Fraction(0))
        form = factors.hard_times["hard to read input"] if factors.is_hard(ready[1]) else Fraction(1)
        reuse = min(factors.reuse["at most"], parts * factors.reuse["a part of ours"])
        effort = next_half(base * form * (1 - reuse))
        found = Working(
            "Days for what the work is made of",
            text_of(base, 2),
            "person-days",
            "sum of its parts",
            parts=tuple(Part(name, text_of(days, 2) or "", said) for name, days, said in rows),
        )
        made_of = (found,)
        lines = [
            Part("Hard to read input", f"× {plain(form)}", "mail, scans and the like"),
            Part("Left after reuse", f"× {plain(1 - reuse)}", f"{text_of(parts, 0)} parts of ours"),
        ]
        note = f"By {factors.name}."
    working = Working(
        "Build effort",
        text_of(effort, 1),
        "person-days",
        "days for what the work is made of × hard to read input × left after reuse, up to the next half day",
        parts=tuple(lines),
        steps=made_of,
        missing=tuple(dict.fromkeys(lacking)),
        note=note,
    )
    return effort, working


def size(given: dict[str, Any], working_days: int, factors: Factors = STANDARD) -> Sized:
    """Computes what can be computed from the facts given so far (rules §2).

    `given` has volume, rhythm, handling_minutes, judged_share, unsuitable_share, arrives, systems,
    steps, decisions, variants, languages, reused_parts, and optionally share_override and effort_override.
    `factors`: the version that the idea stands by. Raises InputFaults with every fault.
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
    computed, share_working, ready = _share(reader, given, factors)
    effort, effort_working = _effort(reader, given, ready, factors)
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
        "items × times a year",
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
        None if effort is None else factors.band_of(effort),
        tuple(dict.fromkeys(reader.missing)),
        share_working,
        effort_working,
        volume_working,
    )
