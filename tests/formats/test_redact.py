from __future__ import annotations

import base64
import json
from urllib.parse import quote

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tallyman.formats.redact import SHOWN, Redactor

SECRET = "otter/in the reeds=7"


@pytest.mark.parametrize(
    "text",
    [
        SECRET,
        quote(SECRET, safe=""),
        json.dumps({"word": SECRET}),
        SECRET.encode().hex(),
        base64.b64encode(SECRET.encode()).decode(),
        base64.b64encode(f"clerk:{SECRET}".encode()).decode(),
        base64.urlsafe_b64encode(f"a:{SECRET}".encode()).decode(),
        base64.b64encode(f"ab:{SECRET} and more".encode()).decode(),
    ],
)
def test_a_secret_is_found_in_its_plain_encodings(text: str) -> None:
    shown = Redactor([SECRET]).text(f"signed in with {text}!")
    assert SHOWN in shown
    assert "otter" not in shown
    assert len(shown) < len(f"signed in with {text}!")


def test_a_short_secret_goes_where_it_stands_alone() -> None:
    redactor = Redactor(["x", "77"])
    assert redactor.text("the word is x, the code 77; next six 177") == (
        f"the word is {SHOWN}, the code {SHOWN}; next six 177"
    )


def test_names_and_numbers_are_no_way_out() -> None:
    redactor = Redactor(["483921", "otter-word"])
    found = redactor.value({"otter-word": 483921, "list": [{"a": "otter-word"}], "rows": 3, "on": True})
    assert found == {SHOWN: SHOWN, "list": [{"a": SHOWN}], "rows": 3, "on": True}


def test_one_that_holds_another_goes_whole() -> None:
    assert Redactor(["reeds", "otter-in-the-reeds"]).text("otter-in-the-reeds") == SHOWN


@given(st.text(min_size=4, max_size=30), st.text(max_size=20), st.text(max_size=20))
def test_whatever_it_is_and_wherever_it_stands(secret: str, before: str, after: str) -> None:
    shown = Redactor([secret]).text(before + secret + after)
    assert secret not in shown.replace(SHOWN, "") or secret in SHOWN
