"""JSON and text made sane: refused at the edge of the server, mended where a package wrote it."""

from __future__ import annotations

import json
import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.core.faults import InputFaults
from tallyman.formats.sane import MOST_FAULTS, read_json
from tallyman.formats.sound import MOST_DEPTH, Mender, is_sound, one_line, sound

texts = st.text(st.characters(codec=None, categories=None), max_size=30)
values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | texts,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(texts, inner, max_size=4),
    max_leaves=20,
)


def refused(data: bytes) -> list[tuple[str, str]]:
    with pytest.raises(InputFaults) as found:
        read_json(data)
    return [(fault.field, fault.message) for fault in found.value.faults]


def keepable(value: Any) -> bool:
    """Whether a database, a page and a file can hold it."""
    if isinstance(value, str):
        return is_sound(value)
    if isinstance(value, dict):
        return all(is_sound(key) and keepable(one) for key, one in value.items())
    if isinstance(value, list):
        return all(map(keepable, value))
    return not isinstance(value, float) or math.isfinite(value)


@pytest.mark.parametrize(
    ("data", "field", "words"),
    [
        (b'{"a": "\xff"}', "body", "not UTF-8 at byte 7"),
        (b'{"a": ', "body", "no JSON"),
        (b'{"a": [1, NaN]}', "a.1", "no finite number"),
        (b'{"a": {"b": 1e999}}', "a.b", "no finite number"),
        (b'{"a": ' + b"9" * 40 + b"}", "a", "too many digits"),
        (b'{"a": ' + b"9" * 5000 + b"}", "body", "too many digits"),
        (rb'{"a": "half \ud800"}', "a", "half a character"),
        (rb'{"a": "end\u0000"}', "a", "or NUL"),
        (b"[" * 60 + b"]" * 60, ".".join(["0"] * (MOST_DEPTH + 1)), "within brackets"),
        (b"[" * 100_000, "body", "within brackets"),
        (json.dumps({str(n): n for n in range(5001)}).encode(), "body", "too many fields"),
        (json.dumps({"a": [0] * 50_001}).encode(), "a", "too many values"),
    ],
)
def test_what_no_program_should_take_is_refused_by_its_place(data: bytes, field: str, words: str) -> None:
    [(place, message)] = refused(data)
    assert place == field
    assert words in message


def test_faults_are_named_together_up_to_a_bound() -> None:
    assert len(refused(json.dumps([math.nan] * 100).encode())) == MOST_FAULTS
    assert sorted(refused(b'{"a": NaN, "b": Infinity}'))[0][0] == "a"


@given(values)
def test_what_is_read_can_be_kept_and_what_is_not_has_a_reason(value: Any) -> None:
    try:
        found = read_json(json.dumps(value).encode())
    except InputFaults as error:
        assert all(fault.field and fault.message for fault in error.faults)
        return
    assert keepable(found)


@given(values)
def test_what_is_mended_can_be_kept_and_sound_values_stay(value: Any) -> None:
    mender = Mender()
    found = mender.value(value, "the value")
    assert keepable(found)
    if not mender.notes:
        assert json.dumps(found) == json.dumps(value)


def test_mending_says_each_kind_of_change_once() -> None:
    mender = Mender(longest_text=10, most_depth=3, most_values=50)
    value = {"deep": [[[["x"]]]], "long": "y" * 30, "numbers": [math.nan, math.inf], "half": "\ud800"}
    found = mender.value(value, "its outputs")
    assert found == {"deep": [[[None]]], "long": "y" * 9 + "…", "numbers": [None, None], "half": "\ufffd"}
    assert mender.notes == [
        "its outputs was cut: too deep or too many values",
        "its outputs was cut to 10 characters",
        "its outputs held a number that is none or too long, which was left out",
        "its outputs held characters that are none",
    ]


def test_counting_begins_anew_for_each_value() -> None:
    mender = Mender(most_values=3)
    assert mender.value([1, 2, 3, 4], "a") == [1, 2, None]
    mender.begin()
    assert mender.value([1, 2], "b") == [1, 2]


@pytest.mark.parametrize("mark", ["\n", "\r\n", "\t", "\x0b", "\x7f", "\x85", "\u2028", "\u2029"])
def test_one_line_has_no_end_of_line_inside(mark: str) -> None:
    assert one_line(f"a{mark}b").split() == ["a", "b"]
    assert len(one_line(f"a{mark}b").splitlines()) == 1


def test_sound_text_stays_as_it_is() -> None:
    assert sound("Água, 水, 😀") == "Água, 水, 😀"
    assert sound("a\x00b\udfff") == "a\ufffdb\ufffd"
