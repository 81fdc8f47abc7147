"""Worked examples: input and expected output side by side."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tallyman.core.cases.calc import business_case
from tallyman.core.faults import InputFaults
from tallyman.core.house.workdays import workdays
from tallyman.core.ideas.first_look import first_look
from tallyman.core.starts import clock

RULES = {
    "business-case": business_case,
    "clock": clock,
    "first-look": first_look,
    "workdays": workdays,
}
FOLDER = Path(__file__).parent / "examples"


def cases() -> list[Any]:
    found = []
    for kind in RULES:
        for one in json.loads((FOLDER / f"{kind}.json").read_text()):
            found.append(pytest.param(kind, one, id=f"{kind}: {one['note']}"))
    return found


@pytest.mark.parametrize(("kind", "example"), cases())
def test_rule_gives_the_worked_figures(kind: str, example: dict[str, Any]) -> None:
    wanted = example["output"]
    if "errors" in wanted:
        with pytest.raises(InputFaults) as refused:
            RULES[kind](example["input"])
        found = [{"field": one.field, "value": one.value} for one in refused.value.faults]
        assert found == wanted["errors"]
        return
    result = RULES[kind](example["input"])
    assert {key: result[key] for key in wanted} == wanted
