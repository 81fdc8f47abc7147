"""The first look at an idea: fit as a range, its width set by the evidence (rules §1)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from tallyman.core.exact import Reader, text_of
from tallyman.core.faults import Fault, InputFaults, is_one_of, unknown_word
from tallyman.core.ideas.factors import READINESS, STANDARD, Factors
from tallyman.core.working import Part, Swing, Used, Working

# A drawing and a walkthrough show the same thing, so they count once together.
EVIDENCE = {
    "how-to": "how-to",
    "drawing": "drawing or walkthrough",
    "walkthrough": "drawing or walkthrough",
    "example in": "example in",
    "example out": "example out",
    "owner confirmed": "owner confirmed",
    "event-log study": "event-log study",
}


@dataclass(frozen=True)
class Span:
    """What one answer may multiply the fit by: a single value, or all that it could be."""

    name: str
    low: Fraction
    high: Fraction
    said: str

    @property
    def known(self) -> bool:
        """Whether the question was answered."""
        return self.low == self.high


@dataclass(frozen=True)
class Answers:
    """The checked answers of one interview."""

    volume: Fraction | None
    minutes: Fraction | None
    spans: tuple[Span, ...]
    evidence: frozenset[str]
    missing: tuple[str, ...]
    factors: Factors = STANDARD


def readiness_of(
    arrives: Any,
    reader: Reader,
    field: str = "arrives",
    readiness: Mapping[str, Fraction] = READINESS,
) -> tuple[Fraction, list[tuple[str, Fraction, Fraction]]] | None:
    """Σ part × readiness with parts scaled to 1, and (kind, scaled part, readiness) of each."""
    if not arrives:
        reader.missing.append(field)
        return None
    if not isinstance(arrives, list):
        reader.faults.append(Fault(field, arrives, "give a list of kinds with their parts"))
        return None
    rows: list[tuple[str, Fraction]] = []
    for index, row in enumerate(arrives):
        place = f"{field}[{index}]"
        kind = str(row.get("kind")) if isinstance(row, dict) else ""
        if kind not in readiness:
            reader.faults.append(unknown_word(f"{place}.kind", kind, readiness))
            continue
        inner = Reader(row, f"{place}.")
        part = inner.number("part")
        reader.faults += inner.faults
        if part is None and not inner.faults:
            reader.faults.append(Fault(f"{place}.part", None, "give its part, such as 1"))
        if part is not None:
            rows.append((kind, part))
    total = sum((part for _, part in rows), Fraction(0))
    if reader.faults:
        return None
    if total == 0:
        reader.faults.append(Fault(field, arrives, "the parts add up to 0; give at least one"))
        return None
    scaled = [(kind, part / total, readiness[kind]) for kind, part in rows]
    return sum((part * ready for _, part, ready in scaled), Fraction(0)), scaled


def _share_left(reader: Reader, name: str, weight: Fraction, words: str) -> Span:
    """1 − weight × answer / 10, or everything that it could be while unanswered."""
    answer = reader.number(name, high=10)
    if answer is None:
        return Span(words, 1 - weight, Fraction(1), "not answered")
    left = 1 - weight * answer / 10
    return Span(words, left, left, f"{text_of(answer, 0)} of 10")


def _chosen(reader: Reader, name: str, table: Mapping[str, Fraction], words: str) -> Span:
    value = reader.source.get(name)
    if value is None or value == "":
        reader.missing.append(name)
        return Span(words, min(table.values()), max(table.values()), "not answered")
    if value not in table:
        reader.faults.append(unknown_word(name, value, table))
        return Span(words, Fraction(1), Fraction(1), "")
    return Span(words, table[value], table[value], str(value))


def read_answers(given: dict[str, Any], factors: Factors = STANDARD) -> Answers:
    """Checks the answers of `calc first-look`; raises InputFaults with every fault."""
    if not isinstance(given, dict):
        raise InputFaults([Fault("input", given, "give one JSON object")])
    reader = Reader(given)
    volume = reader.number("volume_per_year")
    minutes = reader.number("minutes")
    judge = _share_left(reader, "judge", factors.weights["judge"], "No judgement needed")
    off = _share_left(reader, "off", factors.weights["off"], "Goes the usual way")
    found = readiness_of(given.get("arrives"), reader, readiness=factors.readiness)
    if found is None:
        low, high = min(factors.readiness.values()), max(factors.readiness.values())
        ready = Span("Readable by a robot", low, high, "not answered")
    else:
        said = ", ".join(f"{kind} {text_of(part * 100, 0)} %" for kind, part, _ in found[1])
        ready = Span("Readable by a robot", found[0], found[0], said)
    changed = _chosen(reader, "changed", factors.changed, "Changed last year")
    announced = _chosen(reader, "announced", factors.announced, "Announced changes")
    evidence = given.get("evidence") or []
    if not isinstance(evidence, list):
        reader.faults.append(Fault("evidence", evidence, "give a list"))
        evidence = []
    for index, piece in enumerate(evidence):
        if not is_one_of(piece, EVIDENCE):
            reader.faults.append(unknown_word(f"evidence[{index}]", piece, EVIDENCE))
    if reader.faults:
        raise InputFaults(reader.faults)
    spans = (judge, off, ready, changed, announced)
    return Answers(volume, minutes, spans, frozenset(evidence), tuple(reader.missing), factors)


def width(evidence: Iterable[str], factors: Factors = STANDARD) -> Fraction:
    """w of rules §1: 0.40 × Π (1 − weight) over the pieces of evidence on file."""
    w = factors.weights["width"]
    for group in {EVIDENCE[piece] for piece in evidence}:
        w *= 1 - factors.evidence[group]
    return w


@dataclass(frozen=True)
class FirstLook:
    """Fit and hours in reach, exact; None where an answer is missing."""

    fit_low: Fraction
    fit_middle: Fraction | None
    fit_high: Fraction
    width: Fraction
    hours: Fraction | None
    answers: Answers

    @property
    def hours_low(self) -> Fraction | None:
        """Low end of the hours in reach a year; ideas rank by it."""
        return None if self.hours is None else self.hours * self.fit_low

    @property
    def hours_high(self) -> Fraction | None:
        """High end of the hours in reach a year."""
        return None if self.hours is None else self.hours * self.fit_high


def look(answers: Answers) -> FirstLook:
    """The first look at checked answers (rules §1)."""
    low = high = Fraction(1)
    for span in answers.spans:
        low *= span.low
        high *= span.high
    w = width(answers.evidence, answers.factors)
    middle = low if all(span.known for span in answers.spans) else None
    hours = None
    if answers.volume is not None and answers.minutes is not None:
        hours = answers.volume * answers.minutes / 60
    return FirstLook(low * (1 - w), middle, min(Fraction(1), high * (1 + w)), w, hours, answers)


def _percent(value: Fraction) -> str:
    return f"{text_of(value * 100, 0)} %"


def _hours_span(seen: FirstLook) -> str | None:
    if seen.hours_low is None or seen.hours_high is None:
        return None
    return f"{text_of(seen.hours_low, 0)}–{text_of(seen.hours_high, 0)}"


def _lifts(answers: Answers) -> list[Swing]:
    """What would lift the low end: evidence that is not on file, and answers that are missing, best first."""
    now = look(answers)
    have = {EVIDENCE[piece] for piece in answers.evidence}
    found: dict[str, FirstLook] = {}
    for piece, group in EVIDENCE.items():
        if group not in have:
            more = replace(answers, evidence=answers.evidence | {piece})
            found.setdefault(f"Put on file: {group}", look(more))
    for index, span in enumerate(answers.spans):
        if not span.known:
            spans = list(answers.spans)
            spans[index] = replace(span, low=span.high)
            found[f"Answer: {span.name.lower()}, at best"] = look(replace(answers, spans=tuple(spans)))
    rows = []
    for name, then in found.items():
        gain = then.fit_low - now.fit_low
        low, high = _percent(now.fit_low), _percent(then.fit_low)
        unit = "low end of the fit, now and then"
        if now.hours is not None:
            low, high = text_of(now.hours_low, 0) or "", text_of(then.hours_low, 0) or ""
            unit = "low end, hours a year, now and then"
        if gain:
            rows.append((gain, Swing(name, low, high, unit)))
    return [swing for _, swing in sorted(rows, key=lambda row: -row[0])]


def working(seen: FirstLook, standing: str = "") -> Working:
    """What each answer and each missing piece of evidence costs, and what would lift the low end."""
    answers = seen.answers
    spans = [
        Part(
            span.name,
            _percent(span.low) if span.known else f"{_percent(span.low)} to {_percent(span.high)}",
            span.said,
        )
        for span in answers.spans
    ]
    have = {EVIDENCE[piece] for piece in answers.evidence}
    widest = _percent(answers.factors.weights["width"])
    pieces = tuple(
        Part(
            group[0].upper() + group[1:],
            f"× {text_of(1 - weight, 2)}" if group in have else "not on file",
            "on file" if group in have else f"would narrow it by {_percent(weight)}",
        )
        for group, weight in answers.factors.evidence.items()
    )
    shares = " × ".join(span.name.lower() for span in answers.spans)
    fit = Working(
        "Fit",
        f"{_percent(seen.fit_low)} to {_percent(seen.fit_high)}",
        formula=f"{shares} × (1 ± width of the range), at most 100 %",
        parts=tuple(spans),
        steps=(
            Working(
                "Width of the range",
                f"± {_percent(seen.width)}",
                formula=f"{widest} × the lines below; each piece of evidence on file narrows it",
                parts=pieces,
            ),
        ),
        note="An unanswered question widens the range by everything it could be." if answers.missing else "",
    )
    return Working(
        "Hours in reach a year",
        _hours_span(seen),
        "h",
        formula="volume a year × minutes each ÷ 60 × fit",
        inputs=(
            Used("Volume a year", text_of(answers.volume, 0), "items", "interview"),
            Used("Minutes each", text_of(answers.minutes, 2), "min", "interview"),
            Used("Hours a year by hand", text_of(seen.hours, 1), "h", "volume × minutes ÷ 60"),
        ),
        swings=tuple(_lifts(answers)),
        missing=answers.missing,
        note=" ".join(part for part in (standing, f"Reckoned by {answers.factors.name}.") if part),
        steps=(fit,),
    )


def first_look(given: dict[str, Any]) -> dict[str, Any]:
    """`calc first-look`: shares to 4 digits, hours to 1, with what is missing and the working."""
    seen = look(read_answers(given))
    return {
        "fit": {
            "low": text_of(seen.fit_low, 4),
            "middle": text_of(seen.fit_middle, 4),
            "high": text_of(seen.fit_high, 4),
        },
        "hours_per_year": text_of(seen.hours, 1),
        "hours_in_reach": {"low": text_of(seen.hours_low, 1), "high": text_of(seen.hours_high, 1)},
        "missing": list(seen.answers.missing),
        "rules_version": seen.answers.factors.name,
        "working": working(seen).as_dict(),
    }
