from __future__ import annotations

import threading
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import Fault, InputFaults
from tallyman.formats import package_zip, schemas
from tests.world import CODE, MANIFEST


def of(**properties: Any) -> dict[str, Any]:
    return {"type": "object", "properties": properties, "required": []}


def wrong(schema: Any) -> list[str]:
    return [fault.field for fault in schemas.faults_of(schema, "inputs")]


@pytest.mark.parametrize(
    ("declared", "field"),
    [
        ({"type": "string", "$ref": "http://127.0.0.1:1/x"}, "inputs.a.$ref"),
        ({"type": "string", "$ref": "file:///etc/passwd"}, "inputs.a.$ref"),
        ({"type": "string", "$dynamicRef": "#x"}, "inputs.a.$dynamicRef"),
        ({"type": "string", "$id": "http://x"}, "inputs.a.$id"),
        ({"type": "string", "$schema": "http://x"}, "inputs.a.$schema"),
        ({"type": "object", "patternProperties": {"(a+)+$": {}}}, "inputs.a.patternProperties"),
        ({"type": "string", "anyOf": [{"$ref": "#/"}]}, "inputs.a.anyOf"),
        ({"type": "array", "uniqueItems": True}, "inputs.a.uniqueItems"),
        ({"type": "string", "pattern": r"(a)\1"}, "inputs.a.pattern"),
        ({"type": "string", "pattern": "(?=a)b"}, "inputs.a.pattern"),
        ({"type": "string", "pattern": "(((x{100}){100}){100})"}, "inputs.a.pattern"),
        ({"type": "string", "pattern": "a" * 301}, "inputs.a.pattern"),
        ({"type": "string", "format": "uri"}, "inputs.a.format"),
        ({"type": "string", "default": float("nan")}, "inputs.a.default"),
        ({"type": "string", "enum": ["half \ud800"]}, "inputs.a.enum"),
        ({"type": "array", "items": {"type": "colour"}}, "inputs.a.items.type"),
        ({"type": "string", "minLength": "two"}, "inputs.a.minLength"),
        ({"type": "null"}, "inputs.a.type"),
        ("text", "inputs.a.type"),
    ],
)
def test_what_leads_elsewhere_or_takes_for_ever_is_refused_by_name(declared: Any, field: str) -> None:
    assert field in wrong(of(a=declared))


def test_size_and_depth_are_bounded() -> None:
    deep: dict[str, Any] = {"type": "string"}
    for _ in range(20):
        deep = {"type": "array", "items": deep}
    assert wrong(of(a=deep))
    assert wrong(of(**{f"n{n}": {"type": "string"} for n in range(501)}))
    assert wrong(of(a={"type": "string", "enum": ["x" * 1000] * 40}))


def test_a_pattern_that_backtracks_is_matched_in_no_time() -> None:
    done = threading.Event()
    schema = of(a={"type": "string", "pattern": "^(a+)+$"})
    found: list[Any] = []

    def look() -> None:
        found.extend(schemas.misfits(schema, {"a": "a" * 50_000 + "b"}))
        done.set()

    threading.Thread(target=look, daemon=True).start()
    assert done.wait(5)
    assert [fault.field for fault in found] == ["inputs.a"]
    assert schemas.misfits(schema, {"a": "aaa"}) == []


def test_a_schema_kept_before_is_never_followed() -> None:
    """A release from before the check: what it refers to is not looked up, and the run is told so."""
    for ref in ("http://127.0.0.1:1/x", "file:///etc/passwd", "#/$defs/none"):
        found = schemas.misfits({**of(), "properties": {"a": {"$ref": ref}}}, {"a": 1}, "outputs")
        assert "release a version without it" in found[0].message
        assert "passwd" not in found[0].message


def test_faults_are_counted_up_to_twenty() -> None:
    schema = of(a={"type": "array", "items": {"type": "integer"}})
    assert len(schemas.misfits(schema, {"a": ["x"] * 10_000})) == schemas.MOST_FAULTS


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(max_size=8),
        lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
        max_leaves=12,
    )
)
def test_whatever_is_declared_or_given_has_an_answer(anything: Any) -> None:
    schemas.faults_of(anything, "inputs")
    schema = of(a={"type": "object", "properties": {"b": {"type": "array", "items": {"type": "string"}}}})
    schemas.misfits(schema, anything)


def manifest(text: str) -> bytes:
    return package_zip.pack({"package.toml": (MANIFEST + text).encode(), "main.py": CODE.encode()})


@pytest.mark.parametrize(
    "text",
    [
        "\nx = " + "[" * 5000,
        "\n[inputs.a]\ntype = 'integer'\nminimum = " + "9" * 5000,
        "\n[inputs.a]\ntype = 'integer'\ndefault = nan",
        "\n[inputs.a]\ntype = 'string'\ndefault = 2026-03-01",
        "\n[inputs.a]\ntype = 'string'\n'$ref' = 'file:///etc/passwd'",
        "\n# " + "x" * 200_000,
    ],
)
def test_a_hostile_manifest_is_refused_in_words(text: str) -> None:
    with pytest.raises(InputFaults) as refused:
        package_zip.read_package(manifest(text))
    assert all(fault.message for fault in refused.value.faults)


@pytest.mark.parametrize(
    ("schema", "value", "said"),
    [
        ({"type": "integer", "title": "Most m³ a day"}, "x", "Most m³ a day “x”: is to be a whole number"),
        ({"type": "number", "minimum": 1}, 0, "most_m3 “0”: allowed: 1 or more"),
        ({"type": "string", "maxLength": 2}, "abc", "most_m3 “abc”: up to 2 characters"),
        ({"type": "string", "enum": ["dry", "wet"]}, "damp", "most_m3 “damp”: allowed: dry, wet"),
        ({"type": "string", "pattern": "^a"}, "b", "most_m3 'b' does not match '^a'"),
    ],
)
def test_what_does_not_fit_is_said_in_plain_words(schema: dict[str, Any], value: Any, said: str) -> None:
    whole = {"type": "object", "properties": {"most_m3": schema}}
    (fault,) = schemas.misfits(whole, {"most_m3": value})
    assert fault.field == "inputs.most_m3"
    assert schemas.called(whole, fault) == said


def test_inputs_that_lack_and_that_are_too_many_are_named_each() -> None:
    whole = {
        "type": "object",
        "properties": {"most_m3": {"type": "integer", "title": "Most m³ a day"}},
        "required": ["most_m3"],
        "additionalProperties": False,
    }
    found = schemas.misfits(whole, {"old": 1, "older": 2})
    assert {fault.field: fault.message for fault in found} == {
        "inputs.most_m3": "is needed",
        "inputs.old": "is not taken by this release",
        "inputs.older": "is not taken by this release",
    }


def test_what_is_left_out_is_what_the_schema_declares_for_it_also_within_tables() -> None:
    limits = {
        "type": "object",
        "properties": {"most": {"type": "integer", "default": 5}},
        "required": ["most"],
    }
    schema = {
        "type": "object",
        "properties": {
            "text": {"type": "string", "default": "one"},
            "limits": limits,
            "any": {"type": "string"},
        },
        "required": ["text"],
    }
    assert schemas.with_defaults(schema, {}) == {"text": "one"}
    assert schemas.with_defaults(schema, {"text": "", "limits": {}}) == {"text": "", "limits": {"most": 5}}
    schemas.check_inputs(schema, {"limits": {}})
    left: dict[str, Any] = {"limits": {}}
    schemas.with_defaults(schema, left)
    assert left == {"limits": {}}


@pytest.mark.parametrize(
    ("form", "fits", "not_"),
    [
        ("date", ["2026-10-02"], ["02.10.2026", "2026-13-01", "soon"]),
        ("time", ["09:30", "09:30:15"], ["half past nine", "25:00"]),
        (
            "date-time",
            ["2026-10-02T09:30:00+01:00", "2026-10-02T08:30:00Z"],
            ["2026-10-02T09:30:00", "2026-10-02"],
        ),
        ("file", ["file:abc/list.csv"], []),
    ],
)
def test_days_times_and_moments_are_written_as_such(form: str, fits: list[str], not_: list[str]) -> None:
    schema = {"type": "object", "properties": {"when": {"type": "string", "format": form}}}
    assert [one for one in fits if schemas.misfits(schema, {"when": one})] == []
    for one in not_:
        (fault,) = schemas.misfits(schema, {"when": one})
        assert (fault.field, fault.value) == ("inputs.when", one)
        assert fault.message.startswith("is to be a "), fault.message


def test_examples_are_kept_and_are_a_list() -> None:
    one = {"type": "string", "examples": ["Weir", "Sluice"]}
    assert schemas.faults_of({"type": "object", "properties": {"host": one}}, "inputs") == []
    wrong = schemas.faults_of(
        {"type": "object", "properties": {"host": one | {"examples": "Weir"}}}, "inputs"
    )
    assert [fault.field for fault in wrong] == ["inputs.host.examples"]


def test_what_is_left_out_is_filled_in_however_deep_it_lies() -> None:
    row = {"type": "object", "properties": {"street": {"type": "string"}, "most": {"default": 3}}}
    schema = {"type": "object", "properties": {"rows": {"type": "array", "items": row}}}
    given = {"rows": [{"street": "Weir Lane"}, {"most": 5}, "no row"]}
    assert schemas.with_defaults(schema, given) == {
        "rows": [{"street": "Weir Lane", "most": 3}, {"most": 5}, "no row"]
    }


@pytest.mark.parametrize(
    ("field", "words"),
    [
        ("inputs.streets.1.name", "Streets 2, Name is needed"),
        ("inputs.streets.0.note", "Streets 1, note is needed"),
        ("inputs.streets.3", "Streets 4 is needed"),
        ("inputs.other.2.x", "other, 2, x is needed"),
        ("inputs", "inputs is needed"),
    ],
)
def test_a_fault_is_called_by_the_titles_on_the_way_to_it(field: str, words: str) -> None:
    street = of(name={"type": "string", "title": "Name"}, note={"type": "string"})
    schema = of(streets={"type": "array", "title": "Streets", "items": street})
    assert schemas.called(schema, Fault(field, None, "is needed")) == words
