"""Figures of the printed case are rounded as everywhere: half away from zero."""

from __future__ import annotations

import pytest

from tallyman.formats.case_page import _figure, money


@pytest.mark.parametrize(
    ("value", "unit", "text"),
    [
        ("0.485", "share", "49 %"),
        ("0.4845", "share", "48 %"),
        ("2.25", "months", "2.3 months"),
        (None, "share", "–"),
    ],
)
def test_halves_go_away_from_zero(value: str | None, unit: str, text: str) -> None:
    assert _figure(value, unit, "EUR") == text


def test_money_has_its_sign_before_the_currency() -> None:
    assert money("-1234.50", "EUR") == "−€ 1,235"
    assert money("12300", "EUR") == "€ 12,300"
