"""Whether a working gives its figure: its formula, reckoned from the lines that stand below it.

A formula is words whose names are those of the lines: inputs, parts and steps. Where a formula is no
reckoning of that kind, its parts are to add up to the figure. Lines are shown rounded, so that a figure may
lie as far off as their rounding allows.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Callable
from fractions import Fraction
from math import ceil

from tallyman.core.exact import exact
from tallyman.core.working import Working

# A value as far as it is known: it was rounded, so it lies between two ends.
Span = tuple[Fraction, Fraction]
NUMBER = re.compile(r"^[×±]?\s*([−-]?\d+(?:\.\d+)?)\s*(%)?$")
RANGE = re.compile(r"^(.+?)(?:–| to )(.+)$")
LOW, HIGH = 0, 1
# What a formula may say at its end, and what it does to the outcome.
ENDS: dict[str, Callable[[Fraction], Fraction]] = {
    ", up to the next half day": lambda value: Fraction(ceil(value * 2), 2),
    ", up to the next whole robot": lambda value: Fraction(ceil(value)),
    ", at most 100 %": lambda value: min(Fraction(1), value),
}
PRODUCT = "the lines below"
SIGNS = {"×": "*", "÷": "/", "−": "-", "to the power of": "**"}


def _number(text: str) -> Span | None:
    found = NUMBER.match(text.strip())
    if not found:
        return None
    digits = found.group(1).replace("−", "-")
    value, half = exact(digits), Fraction(1, 2 * 10 ** len(digits.partition(".")[2]))
    if found.group(2):
        value, half = value / 100, half / 100
    return value - half, value + half


def read(text: str | None, end: int = LOW) -> Span | None:
    """A shown value as a span; of a range the end that is asked for; None for what is no number."""
    if text is None:
        return None
    found = RANGE.match(text)
    return _number(text) or (_number(found.group(end + 1)) if found else None)


def _times(one: Span, other: Span) -> Span:
    ends = [left * right for left in one for right in other]
    return min(ends), max(ends)


def _power(one: Span, other: Span) -> Span:
    whole = round(other[0])
    ends = [one[0] ** whole, one[1] ** whole]
    return min(ends), max(ends)


def _parted(one: Span, other: Span) -> Span:
    if other[0] <= 0 <= other[1]:
        raise ZeroDivisionError
    return _times(one, (1 / other[1], 1 / other[0]))


def _reckon(node: ast.expr, names: dict[str, Span]) -> Span:
    if isinstance(node, ast.Constant):
        value = exact(str(node.value))
        return value, value
    if isinstance(node, ast.Name):
        return names[node.id]
    if isinstance(node, ast.UnaryOp):
        low, high = _reckon(node.operand, names)
        return (-high, -low) if isinstance(node.op, ast.USub) else (low, high)
    assert isinstance(node, ast.BinOp)
    one, other = _reckon(node.left, names), _reckon(node.right, names)
    if isinstance(node.op, ast.Add):
        return one[0] + other[0], one[1] + other[1]
    if isinstance(node.op, ast.Sub):
        return one[0] - other[1], one[1] - other[0]
    if isinstance(node.op, ast.Mult):
        return _times(one, other)
    return _parted(one, other) if isinstance(node.op, ast.Div) else _power(one, other)


def _lines(working: Working, end: int) -> dict[str, Span]:
    shown: list[tuple[str, str | None]] = [(one.name, one.value) for one in working.inputs]
    shown += [(one.name, one.value) for one in working.parts]
    shown += [(one.name, one.outcome) for one in working.steps]
    found = {name.lower(): value for name, text in shown if (value := read(text, end)) is not None}
    times = [read(one.value) for one in working.parts if one.value.startswith("×")]
    product: Span = (Fraction(1), Fraction(1))
    for one in times:
        product = _times(product, one) if one else product
    return {**found, PRODUCT: product} if PRODUCT in working.formula else found


def _by_formula(working: Working, end: int) -> Span | None:
    """The outcome as the formula reckons it; None for a formula that names what is not below it."""
    text, _, _ = working.formula.lower().partition(";")
    ends = [words for words in ENDS if text.endswith(words)]
    for words in ends:
        text = text.removesuffix(words)
    names: dict[str, Span] = {}
    for number, (name, value) in enumerate(
        sorted(_lines(working, end).items(), key=lambda one: -len(one[0]))
    ):
        if name in text:
            names[f"_{number}_"] = value
            text = text.replace(name, f" _{number}_ ")
    text = re.sub(r"(\d+(?:\.\d+)?) %", r"(\1 ÷ 100)", text)
    for sign, python in SIGNS.items():
        text = text.replace(sign, python)
    text = text.replace("±", "-" if end == LOW else "+")
    if not names or re.search(r"[a-z%]", text):
        return None
    try:
        low, high = _reckon(ast.parse(text.strip(), mode="eval").body, names)
    except (SyntaxError, ZeroDivisionError, AssertionError):
        return None
    for words in ends:
        low, high = ENDS[words](low), ENDS[words](high)
    return low, high


def _by_parts(working: Working, end: int) -> Span | None:
    """The sum of the parts; None where they do not all stand as numbers."""
    found = [read(part.value, end) for part in working.parts]
    if not found or None in found:
        return None
    spans = [one for one in found if one is not None]
    return sum((low for low, _ in spans), Fraction(0)), sum((high for _, high in spans), Fraction(0))


def _by_sum(working: Working, end: int) -> Span | None:
    """The sum of what a formula says to be one: of its steps where it has no parts, of its inputs where it
    has no steps either, 0 of none."""
    if working.parts or not working.formula.startswith("sum of"):
        return None
    texts = [step.outcome for step in working.steps] or [used.value for used in working.inputs]
    found = [value for text in texts if (value := read(text, end)) is not None]
    return sum((low for low, _ in found), Fraction(0)), sum((high for _, high in found), Fraction(0))


WAYS = (_by_formula, _by_parts, _by_sum)


def _end(working: Working, end: int, in_words_of_before: bool) -> str:
    """What is wrong with one end of a figure; empty if nothing."""
    figure = read(working.outcome, end)
    if figure is None:
        return ""
    found = [one for way in WAYS if (one := way(working, end)) is not None]
    if not found and in_words_of_before:
        return ""
    if not found:
        return f"{working.name}: nothing below it gives {working.outcome} by “{working.formula}”"
    if any(low <= figure[1] and high >= figure[0] for low, high in found):
        return ""
    shown = " or ".join(f"{float(low):.4f} to {float(high):.4f}" for low, high in found)
    return f"{working.name}: {working.outcome} is shown, “{working.formula}” gives {shown}"


def faults(working: Working, in_words_of_before: bool = False) -> list[str]:
    """Every figure of a working, its steps included, that does not follow from what stands below it.

    `in_words_of_before`: a formula that names no line is left alone; one that gives another figure is not.
    """
    found = (
        [_end(working, end, in_words_of_before) for end in (LOW, HIGH)] if working.outcome is not None else []
    )
    own = list(dict.fromkeys(one for one in found if one))
    return [*own, *(fault for step in working.steps for fault in faults(step, in_words_of_before))]
