"""How much a release changes: what may break a set-up is breaking, whatever it is called."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tallyman.core.workshop.changes import (
    Change,
    Declared,
    Number,
    changes,
    next_number,
    promised,
    promises_less,
    weight_of,
)
from tallyman.core.workshop.schema_changes import of_schemas

LIST = {"type": "string", "title": "List"}


def table(required: tuple[str, ...] = (), **names: Any) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": names,
        "required": list(required),
        "additionalProperties": False,
    }


BEFORE = Declared(
    inputs=table(list=LIST, most={"type": "integer", "minimum": 1, "maximum": 50, "default": 10}),
    outputs=table(("sent",), sent={"type": "integer"}, state={"type": "string", "enum": ["all", "some"]}),
    entry="main.py",
    about="Letters about hydrants",
    tags=frozenset({"letters"}),
    secrets=frozenset({"letter-seal"}),
    counts=frozenset({"letters"}),
    checkpoints=True,
    requirements={"ledgerlines": "1.2"},
    files={"main.py": "a", "words.md": "b"},
)


def found(**but: Any) -> list[tuple[str, str, str, str]]:
    rows = changes(BEFORE, replace(BEFORE, **but))
    return [(one.weight, one.kind, one.name, one.words) for one in rows]


def inputs(required: tuple[str, ...] = (), **but: Any) -> list[tuple[str, str, str, str]]:
    return found(inputs=table(required, **{**BEFORE.inputs["properties"], **but}))


def test_nothing_differs_and_is_a_fix() -> None:
    assert changes(BEFORE, BEFORE) == []
    assert weight_of([]) == "fix"


def test_an_input_that_is_required_now_breaks() -> None:
    assert inputs(("list",)) == [("breaking", "input", "list", "is required now")]
    assert inputs(("street",), street=LIST) == [("breaking", "input", "street", "is new, and required")]
    assert inputs(street=LIST) == [("addition", "input", "street", "is new, and may be left out")]


def test_an_input_that_is_gone_breaks() -> None:
    gone = table(list=LIST)
    assert found(inputs=gone) == [("breaking", "input", "most", "is not taken any more")]


def test_bounds_break_where_less_is_allowed() -> None:
    most = BEFORE.inputs["properties"]["most"]
    assert inputs(most={**most, "maximum": 40}) == [
        ("breaking", "input", "most", "must be at most 40 now, and was at most 50")
    ]
    assert inputs(most={**most, "maximum": 60})[0][0] == "addition"
    loose = {key: value for key, value in most.items() if key != "minimum"}
    assert inputs(most=loose) == [("addition", "input", "most", "has no bound of at least 1 any more")]
    assert inputs(list={**LIST, "maxLength": 9})[0][3] == "must be 9 characters at most now"


def test_another_default_is_an_addition_since_nothing_stops_at_it() -> None:
    most = BEFORE.inputs["properties"]["most"]
    assert inputs(most={**most, "default": 20}) == [
        ("addition", "input", "most", "is 20 where it is left out, and was 10")
    ]


def test_outputs_break_the_other_way_round() -> None:
    wide = {"type": "string", "enum": ["all", "some", "none"]}
    one = table(("sent",), sent={"type": "integer"}, state=wide)
    assert found(outputs=one) == [("breaking", "output", "state", "may be none too")]
    narrow = table(("sent",), sent={"type": "integer"}, state={"type": "string", "enum": ["all"]})
    assert found(outputs=narrow)[0][:1] == ("addition",)
    loose = table((), sent={"type": "integer"}, state=BEFORE.outputs["properties"]["state"])
    assert found(outputs=loose) == [("breaking", "output", "sent", "does not always come any more")]
    assert found(outputs=table(("sent",), sent={"type": "number"}))[0][0] == "breaking"


def test_what_is_asked_of_its_surroundings_breaks_when_it_comes() -> None:
    assert found(secrets=frozenset({"letter-seal", "post-key"})) == [
        ("breaking", "secret", "post-key", "must be there before a routine of it starts")
    ]
    assert found(tags=frozenset())[0][:3] == ("addition", "tag", "letters")
    assert found(counts=frozenset())[0] == ("breaking", "count", "letters", "is counted no more")
    assert found(checkpoints=False)[0][0] == "breaking"


def test_what_nobody_sets_up_by_is_a_fix() -> None:
    rows = found(
        about="Letters",
        entry="start.py",
        requirements={"ledgerlines": "1.3", "papermill-lines": "2"},
        files={"start.py": "a", "words.md": "c"},
    )
    assert {row[0] for row in rows} == {"fix"}
    assert [row[2:] for row in rows if row[1] == "requirement"] == [
        ("ledgerlines", "1.2 → 1.3"),
        ("papermill-lines", "is required in 2"),
    ]
    assert [row[2:] for row in rows if row[1] == "file"] == [
        ("main.py", "is gone"),
        ("start.py", "is new"),
        ("words.md", "is changed"),
    ]


def test_places_within_lists_and_tables_are_named() -> None:
    line = {"type": "object", "properties": {"amount": {"type": "number"}}, "required": []}
    was = table(lines={"type": "array", "items": line})
    now = table(lines={"type": "array", "items": {**line, "required": ["amount"]}})
    rows = of_schemas("given", was, now)
    assert [(one.weight, one.place, one.words) for one in rows] == [
        ("breaking", "lines, each, amount", "is required now")
    ]


def test_the_heaviest_stands_first() -> None:
    rows = changes(BEFORE, replace(BEFORE, about="x", tags=frozenset(), secrets=frozenset({"other"})))
    assert [one.weight for one in rows] == ["breaking", "addition", "addition", "fix"]
    assert weight_of(rows) == "breaking"


@pytest.mark.parametrize(
    ("number", "says"),
    [
        ("1.4.2", None),
        ("1.4.1", None),
        ("1.4.3", "fix"),
        ("1.5.0", "addition"),
        ("2.0.0", "breaking"),
        ("1.6.9", "addition"),
    ],
)
def test_what_a_number_says(number: str, says: str | None) -> None:
    assert promised(Number.read("1.4.2"), Number.read(number)) == says


def test_the_next_number_says_what_changed() -> None:
    before = Number.read("1.4.2")
    for weight, number in (("fix", "1.4.3"), ("addition", "1.5.0"), ("breaking", "2.0.0")):
        assert str(next_number(before, weight)) == number  # type: ignore[arg-type]
        assert promised(before, next_number(before, weight)) == weight  # type: ignore[arg-type]
    assert promises_less("fix", "addition") and not promises_less("breaking", "fix")


# Schemas with some words each, and values that may or may not fit them.
_bounds = st.dictionaries(
    st.sampled_from(["minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum"]), st.integers(-3, 9)
)
_numbers = st.builds(
    lambda kind, more: {"type": kind, **more}, st.sampled_from(["integer", "number"]), _bounds
)
_lengths = st.dictionaries(st.sampled_from(["minLength", "maxLength"]), st.integers(0, 4))
_texts = st.builds(
    lambda more, listed: {"type": "string", **more, **({"enum": listed} if listed else {})},
    _lengths,
    st.lists(st.sampled_from(["a", "ab", "abc", "abcd"]), unique=True),
)
_lists = st.builds(
    lambda one, more: {"type": "array", "items": one, **more},
    _numbers | _texts,
    st.dictionaries(st.sampled_from(["minItems", "maxItems"]), st.integers(0, 3)),
)
_tables = st.builds(
    lambda names, needed: table(tuple(one for one in names if one in needed), **names),
    st.dictionaries(st.sampled_from(["list", "most", "state"]), _numbers | _texts | _lists),
    st.sets(st.sampled_from(["list", "most", "state"])),
)
_one = st.integers(-4, 10) | st.floats(-4, 10, width=16) | st.sampled_from(["", "a", "ab", "abc", "abcd"])
_values = st.dictionaries(st.sampled_from(["list", "most", "state"]), _one | st.lists(_one, max_size=4))


def fits(schema: dict[str, Any], value: Any) -> bool:
    return bool(jsonschema.Draft202012Validator(schema).is_valid(value))


@settings(max_examples=400, deadline=None)
@given(was=_tables, now=_tables, value=_values)
def test_whoever_gave_what_was_allowed_can_go_on_unless_it_is_called_breaking(
    was: dict[str, Any], now: dict[str, Any], value: Any
) -> None:
    if fits(was, value) and not fits(now, value):
        assert "breaking" in {one.weight for one in of_schemas("given", was, now)}
    if fits(now, value) and not fits(was, value) and not set(value) - set(was["properties"]):
        assert "breaking" in {one.weight for one in of_schemas("gives", was, now)}


@given(was=_tables)
def test_a_schema_does_not_differ_from_itself(was: dict[str, Any]) -> None:
    assert of_schemas("given", was, was) == []
    assert of_schemas("gives", was, was) == []


def test_changes_are_rows(before: Declared = BEFORE) -> None:
    assert changes(before, replace(before, about="")) == [
        Change("fix", "package", "", "says otherwise what it is for")
    ]
