"""How two schemas of the same values differ, in words, and how heavy each difference is.

`given`: values that others give (inputs), which break where less is allowed. `gives`: values that others get
(outputs), which break where more may come, or something comes no more.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from tallyman.core.workshop.words import Weight

Side = Literal["given", "gives"]
Way = Literal["narrower", "wider"]
# What each bound is called, and whether more is allowed when it grows.
BOUNDS: Mapping[str, tuple[str, bool]] = {
    "minimum": ("at least", False),
    "exclusiveMinimum": ("more than", False),
    "maximum": ("at most", True),
    "exclusiveMaximum": ("less than", True),
    "minLength": ("characters at least", False),
    "maxLength": ("characters at most", True),
    "minItems": ("entries at least", False),
    "maxItems": ("entries at most", True),
}
FORMS: Mapping[str, str] = {"pattern": "pattern", "format": "form", "multipleOf": "step"}
TYPES: Mapping[str, str] = {
    "string": "a text",
    "integer": "a whole number",
    "number": "a number",
    "boolean": "yes or no",
    "array": "a list",
    "object": "a table",
}


@dataclass(frozen=True)
class SchemaChange:
    """One difference at a place, such as `list` or `lines, each, amount`."""

    weight: Weight
    place: str
    words: str


@dataclass(frozen=True)
class _Pair:
    side: Side
    place: str
    was: Mapping[str, Any]
    now: Mapping[str, Any]

    def change(self, way: Way, words: str) -> SchemaChange:
        """One way of differing; both narrower and wider are said as two."""
        broken = (self.side == "given") == (way == "narrower")
        return SchemaChange("breaking" if broken else "addition", self.place, words)

    def within(self, name: str, was: Any, now: Any) -> _Pair:
        """The same for what lies within."""
        return _Pair(self.side, f"{self.place}, {name}" if self.place else name, was, now)


def of_schemas(side: Side, was: Mapping[str, Any], now: Mapping[str, Any]) -> list[SchemaChange]:
    """Every difference of two schemas of objects, name by name, in the order of the new one."""
    return list(_objects(_Pair(side, "", was, now)))


def _said(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return ", ".join(_said(one) for one in value) if isinstance(value, list) else str(value)


def _of(pair: _Pair) -> Iterator[SchemaChange]:
    was, now = pair.was.get("type"), pair.now.get("type")
    if was != now:
        yield from _type(pair, str(was), str(now))
        return
    yield from _values(pair)
    yield from _bounds(pair)
    yield from _forms(pair)
    yield from _default(pair)
    if now == "array":
        yield from _of(pair.within("each", pair.was.get("items", {}), pair.now.get("items", {})))
    if now == "object":
        yield from _objects(pair)
    if any(pair.was.get(word, "") != pair.now.get(word, "") for word in ("title", "description")):
        yield SchemaChange("fix", pair.place, "is described otherwise")


def _type(pair: _Pair, was: str, now: str) -> Iterator[SchemaChange]:
    words = f"is {TYPES.get(now, 'anything')} now, and was {TYPES.get(was, 'anything')}"
    if (was, now) in (("integer", "number"), ("number", "integer")):
        yield pair.change("wider" if now == "number" else "narrower", words)
    elif "None" in (was, now):
        yield pair.change("wider" if now == "None" else "narrower", words)
    else:
        yield SchemaChange("breaking", pair.place, words)


def _values(pair: _Pair) -> Iterator[SchemaChange]:
    """Values that are listed, one by one; one that must be is a list of one."""
    was, now = _listed(pair.was), _listed(pair.now)
    if was is None and now is not None:
        yield pair.change("narrower", f"must be one of {_said(now)} now")
    elif now is None and was is not None:
        yield pair.change("wider", "may be anything now, not only what was listed")
    elif was is not None and now is not None:
        gone, come = [one for one in was if one not in now], [one for one in now if one not in was]
        if gone:
            yield pair.change("narrower", f"may not be {_said(gone)} any more")
        if come:
            yield pair.change("wider", f"may be {_said(come)} too")


def _listed(schema: Mapping[str, Any]) -> list[Any] | None:
    if "const" in schema:
        return [schema["const"]]
    found = schema.get("enum")
    return found if isinstance(found, list) else None


def _bounds(pair: _Pair) -> Iterator[SchemaChange]:
    for word, (called, upper) in BOUNDS.items():
        was, now = pair.was.get(word), pair.now.get(word)
        if was == now:
            continue
        if now is None:
            yield pair.change("wider", f"has no bound of {_bound(called, was)} any more")
        elif was is None:
            yield pair.change("narrower", f"must be {_bound(called, now)} now")
        else:
            way: Way = "wider" if (now > was) == upper else "narrower"
            yield pair.change(way, f"must be {_bound(called, now)} now, and was {_bound(called, was)}")


def _bound(called: str, value: Any) -> str:
    first, _, rest = called.partition(" ")
    # "at least 3", but "3 characters at least".
    return (
        f"{value} {called}"
        if first in ("characters", "entries")
        else f"{first} {rest} {value}".replace("  ", " ")
    )


def _forms(pair: _Pair) -> Iterator[SchemaChange]:
    for word, called in FORMS.items():
        was, now = pair.was.get(word), pair.now.get(word)
        if was == now:
            continue
        if now is None:
            yield pair.change("wider", f"has no {called} {_said(was)} any more")
        elif was is None:
            yield pair.change("narrower", f"must have the {called} {_said(now)} now")
        else:
            yield SchemaChange(
                "breaking", pair.place, f"must have the {called} {_said(now)} now, and had {_said(was)}"
            )


def _default(pair: _Pair) -> Iterator[SchemaChange]:
    was, now = pair.was.get("default"), pair.now.get("default")
    if pair.side == "gives" or was == now:
        return
    if now is None:
        words = f"is nothing where it is left out, and was {_said(was)}"
    else:
        words = f"is {_said(now)} where it is left out" + ("" if was is None else f", and was {_said(was)}")
    # Who leaves it out gets another value, and no error.
    yield SchemaChange("addition", pair.place, words)


def _objects(pair: _Pair) -> Iterator[SchemaChange]:
    was, now = pair.was.get("properties", {}), pair.now.get("properties", {})
    needed_was, needed_now = set(pair.was.get("required", ())), set(pair.now.get("required", ()))
    for name, schema in now.items():
        within = pair.within(name, was.get(name, {}), schema)
        if name not in was:
            yield _new(within, name in needed_now)
            continue
        yield from _needed(within, name in needed_was, name in needed_now)
        yield from _of(within)
    for name in was:
        if name not in now:
            words = "is not taken any more" if pair.side == "given" else "is not given any more"
            yield SchemaChange("breaking", pair.within(name, {}, {}).place, words)
    if pair.was.get("additionalProperties") != pair.now.get("additionalProperties") and pair.place:
        closed = pair.now.get("additionalProperties") is False
        words = "takes no other names any more" if closed else "takes other names too"
        yield pair.change("narrower" if closed else "wider", words)


def _new(pair: _Pair, needed: bool) -> SchemaChange:
    if pair.side == "given" and needed:
        return SchemaChange("breaking", pair.place, "is new, and required")
    return SchemaChange(
        "addition", pair.place, "is new" if pair.side == "gives" else "is new, and may be left out"
    )


def _needed(pair: _Pair, was: bool, now: bool) -> Iterator[SchemaChange]:
    if was == now:
        return
    if pair.side == "given":
        yield pair.change("narrower" if now else "wider", "is required now" if now else "may be left out now")
    else:
        yield pair.change(
            "narrower" if now else "wider", "always comes now" if now else "does not always come any more"
        )
