"""What packages may declare of their inputs and outputs: a closed part of JSON Schema, checked on arrival.

No word of it leads anywhere: no references, to files or addresses or within; patterns are matched in
linear time; size and depth are bounded. A schema that says more is refused by name, also when it was
kept before this was checked.
"""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Iterator
from datetime import date, datetime, time
from functools import cache, lru_cache
from itertools import islice
from typing import TYPE_CHECKING, Any

import re2

from tallyman.core.faults import Fault, InputFaults, unknown_word
from tallyman.formats.sound import is_sound

# What checks values by schemas is loaded with the first value.
if TYPE_CHECKING:
    from jsonschema import ValidationError

TYPES = ("string", "integer", "number", "boolean", "array", "object")
ABOUT = ("type", "title", "description", "default", "examples", "enum", "const")
OF_TYPE = {
    "string": ("minLength", "maxLength", "pattern", "format"),
    "integer": ("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "multipleOf"),
    "number": ("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "multipleOf"),
    "boolean": (),
    "array": ("items", "minItems", "maxItems"),
    "object": ("properties", "required", "additionalProperties"),
}
FORMATS = ("file", "date", "time", "date-time")
READ: dict[str, Callable[[str], object]] = {
    "date": date.fromisoformat,
    "time": time.fromisoformat,
    "date-time": datetime.fromisoformat,
}
FORMAT_SAID = {
    "date": "a day such as 2026-10-02",
    "time": "a time such as 09:30",
    "date-time": "a moment with its distance from UTC, such as 2026-10-02T09:30:00+01:00",
}
LARGEST = 32_000
MOST_PLACES = 500
MOST_DEPTH = 8
LONGEST_PATTERN = 300
LONGEST_NAME = 60
PATTERN_MEMORY = 1_000_000
MOST_FAULTS = 20


@lru_cache(maxsize=500)
def _compiled(pattern: str) -> Any:
    options = re2.Options()
    options.max_mem = PATTERN_MEMORY
    options.log_errors = False
    return re2.compile(pattern, options)


def _matches(_: Any, pattern: str, instance: Any, __: Any) -> Iterator[ValidationError]:
    from jsonschema import ValidationError

    if isinstance(instance, str) and not _compiled(pattern).search(instance):
        yield ValidationError(f"{instance[:60]!r} does not match {pattern!r}")


def _formed(_: Any, form: str, instance: Any, __: Any) -> Iterator[ValidationError]:
    from jsonschema import ValidationError

    if form not in READ or not isinstance(instance, str):
        return
    try:
        read = READ[form](instance)
    except ValueError:
        yield ValidationError("")
        return
    if isinstance(read, datetime) and read.tzinfo is None:
        yield ValidationError("")


def _nowhere(_: Any) -> str:
    """The name of a schema: none has one, so that none can be referred to."""
    return ""


KEYWORDS = {word for words in OF_TYPE.values() for word in words} | {"type", "enum", "const"}


@cache
def _validator() -> Any:
    from jsonschema import Draft202012Validator
    from jsonschema.validators import create

    return create(
        meta_schema=Draft202012Validator.META_SCHEMA,
        validators={
            **{word: Draft202012Validator.VALIDATORS[word] for word in KEYWORDS - {"format"}},
            "pattern": _matches,
            "format": _formed,
        },
        type_checker=Draft202012Validator.TYPE_CHECKER,
        id_of=_nowhere,
    )


def _is_json(value: Any) -> bool:
    """Whether a value of a manifest can be kept as JSON."""
    if value is None or isinstance(value, bool):
        return True
    if isinstance(value, str):
        return is_sound(value)
    if isinstance(value, int | float):
        return not isinstance(value, float) or math.isfinite(value)
    if isinstance(value, list):
        return all(_is_json(one) for one in value)
    return isinstance(value, dict) and all(is_sound(key) and _is_json(one) for key, one in value.items())


class _Checked:
    """Goes through one schema and gathers what is not allowed."""

    def __init__(self) -> None:
        self.faults: list[Fault] = []
        self.places = 0

    def _fault(self, place: str, value: Any, message: str) -> None:
        self.faults.append(Fault(place, value, message))

    def look(self, schema: Any, place: str, depth: int) -> None:
        """One schema and those within it."""
        self.places += 1
        if depth > MOST_DEPTH or self.places > MOST_PLACES:
            message = f"at most {MOST_PLACES} schemas, {MOST_DEPTH} within each other"
            self._fault(place, None, message)
            return
        kind = schema.get("type") if isinstance(schema, dict) else None
        if not isinstance(schema, dict) or kind not in TYPES:
            shown = kind if isinstance(schema, dict) else str(schema)[:40]
            self._fault(f"{place}.type", shown, f"allowed types: {', '.join(TYPES)}")
            return
        allowed = (*ABOUT, *OF_TYPE[kind])
        for word, said in schema.items():
            if word not in allowed:
                fault = unknown_word(f"{place}.{word}"[:120], None, allowed)
                self._fault(fault.field, None, f"not kept for a {kind}; {fault.message}")
            elif word not in ("properties", "items", "additionalProperties") and not _is_json(said):
                self._fault(f"{place}.{word}", str(said)[:40], "is no JSON value; write dates as texts")
        self._pattern(schema.get("pattern"), place)
        if schema.get("format") not in (None, *FORMATS):
            self._fault(f"{place}.format", schema["format"], f"allowed: {', '.join(FORMATS)}")
        self._within(schema, place, depth)

    def _pattern(self, pattern: Any, place: str) -> None:
        if pattern is None:
            return
        if not isinstance(pattern, str) or len(pattern) > LONGEST_PATTERN:
            self._fault(f"{place}.pattern", None, f"a text of up to {LONGEST_PATTERN} characters")
            return
        try:
            _compiled(pattern)
        except re2.error as error:
            words = error.args[0] if error.args else b""
            why = words.decode(errors="replace") if isinstance(words, bytes) else str(words)
            message = f"cannot be matched in linear time: {why}; leave out looking around and referring back"
            self._fault(f"{place}.pattern", pattern[:80], message[:300])

    def _within(self, schema: dict[str, Any], place: str, depth: int) -> None:
        properties = schema.get("properties", {})
        if not isinstance(properties, dict):
            self._fault(f"{place}.properties", None, "write one schema for each name")
            return
        for name, inner in properties.items():
            if len(name) > LONGEST_NAME or not is_sound(name):
                self._fault(f"{place}.{name[:40]}", None, f"a name of up to {LONGEST_NAME} characters")
            self.look(inner, f"{place}.{name}"[:200], depth + 1)
        if "items" in schema:
            self.look(schema["items"], f"{place}.items", depth + 1)
        if not isinstance(schema.get("additionalProperties", True), bool):
            self.look(schema["additionalProperties"], f"{place}.additionalProperties", depth + 1)


def faults_of(schema: Any, place: str) -> list[Fault]:
    """Everything in a schema that is not kept, each with its place under that name."""
    from jsonschema import Draft202012Validator
    from jsonschema.exceptions import SchemaError

    checked = _Checked()
    checked.look(schema, place, 0)
    if checked.faults:
        return checked.faults[:MOST_FAULTS]
    if len(json.dumps(schema)) > LARGEST:
        return [Fault(place, None, f"at most {LARGEST // 1000} kB in all")]
    try:
        Draft202012Validator.check_schema(schema)
    except SchemaError as error:
        where = ".".join(str(part) for part in error.path if part != "properties")
        return [Fault(f"{place}.{where}" if where else place, None, error.message[:200])]
    return []


TYPE_SAID = {
    "string": "a text",
    "integer": "a whole number",
    "number": "a number",
    "boolean": "yes or no (true, false)",
    "array": "a list",
    "object": "values by name",
}
# What a value must be, by the word of the schema that it breaks.
SAID = {
    "minimum": "allowed: {} or more",
    "maximum": "allowed: {} or less",
    "exclusiveMinimum": "allowed: more than {}",
    "exclusiveMaximum": "allowed: less than {}",
    "multipleOf": "allowed: multiples of {}",
    "minLength": "at least {} characters",
    "maxLength": "up to {} characters",
    "minItems": "at least {} in the list",
    "maxItems": "up to {} in the list",
    "const": "allowed: {}",
}


def _said(error: ValidationError) -> str:
    """A misfit in words for people; what the library says where there are none."""
    wanted: Any = error.validator_value
    if error.validator == "type":
        return f"is to be {TYPE_SAID[str(wanted)]}"
    if error.validator == "enum":
        return f"allowed: {', '.join(str(one) for one in wanted)}"
    if error.validator == "format":
        return f"is to be {FORMAT_SAID[str(wanted)]}"
    words = SAID.get(str(error.validator))
    return error.message if words is None else words.format(wanted)


LONGEST_SHOWN = 40


def _titled(schema: Any, field: str) -> str:
    """A place within some inputs by the titles on the way there: of streets.1.name “Streets 2, Name”."""
    words: list[str] = []
    for part in field.split(".") if field else []:
        known = schema if isinstance(schema, dict) else {}
        if words and part.isdigit() and known.get("type") == "array":
            words[-1] += f" {int(part) + 1}"
            schema = known.get("items")
            continue
        properties = known.get("properties")
        schema = properties.get(part) if isinstance(properties, dict) else None
        title = schema.get("title") if isinstance(schema, dict) else None
        words.append(title if isinstance(title, str) and title else part)
    return ", ".join(words)


def called(schema: dict[str, Any], fault: Fault) -> str:
    """A fault as a sentence: the input by its title, or its name, its value, and what is wrong with it."""
    _, _, field = fault.field.partition(".")
    title = _titled(schema, field)
    value = "" if fault.value is None else str(fault.value)
    if len(value) > LONGEST_SHOWN:
        value = f"{value[: LONGEST_SHOWN - 1]}…"
    # Where the message says the value itself, once is enough.
    shown = f" “{value}”:" if value and f"'{value}'" not in fault.message else ""
    return f"{title or field or fault.field}{shown} {fault.message}"


@lru_cache(maxsize=256)
def _wrong_once(schema: str, place: str) -> tuple[Fault, ...]:
    """What of a schema, as JSON, is not kept: looked for once, however many values are held against it."""
    return tuple(faults_of(json.loads(schema), place))


def misfits(schema: dict[str, Any], given: Any, place: str = "inputs") -> list[Fault]:
    """What of a value does not fit a schema, at most twenty faults; one that is not kept fits nothing."""
    wrong = _wrong_once(json.dumps(schema, sort_keys=True), place)
    if wrong:
        words = f"the package declares what is not kept ({wrong[0].field}: {wrong[0].message})"
        return [Fault(place, None, f"{words}; release a version without it")]
    faults: list[Fault] = []
    for error in islice(_validator()(schema).iter_errors(given), MOST_FAULTS):
        field = ".".join(str(part) for part in error.path)
        if error.validator == "required":
            lacking = [name for name in error.validator_value if name not in error.instance]
            before = f"{place}.{field}" if field else place
            faults += [Fault(f"{before}.{name}", None, "is needed") for name in lacking]
        elif error.validator == "additionalProperties" and error.validator_value is False:
            before = f"{place}.{field}" if field else place
            extra = error.instance.keys() - error.schema.get("properties", {}).keys()
            faults += [
                Fault(f"{before}.{name}", None, "is not taken by this release") for name in sorted(extra)
            ]
        else:
            value = error.instance if field else None
            faults.append(Fault(f"{place}.{field}" if field else place, value, _said(error)[:200]))
    return list({(fault.field, fault.message): fault for fault in faults}.values())


def with_defaults(schema: dict[str, Any], given: dict[str, Any]) -> dict[str, Any]:
    """What is given, with what a schema declares for each name that is left out, however deep."""
    known = {name: one for name, one in schema.get("properties", {}).items() if isinstance(one, dict)}
    whole = {name: one["default"] for name, one in known.items() if "default" in one} | given
    return {name: _filled(known.get(name, {}), value) for name, value in whole.items()}


def _filled(schema: Any, value: Any) -> Any:
    """A value with what lies within it filled in by its schema; what is of another type stays as it is."""
    kind = schema.get("type") if isinstance(schema, dict) else None
    if kind == "object" and isinstance(value, dict):
        return with_defaults(schema, value)
    if kind == "array" and isinstance(value, list):
        return [_filled(schema.get("items"), one) for one in value]
    return value


def check_inputs(schema: dict[str, Any], given: dict[str, Any]) -> None:
    """Raises InputFaults naming every input that does not fit a schema; defaults count as given."""
    faults = misfits(schema, with_defaults(schema, given))
    if faults:
        raise InputFaults(faults)
