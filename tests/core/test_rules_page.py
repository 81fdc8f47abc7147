"""The page of rules: its examples are what the program gives, and whatever the code names stands there."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest

from tallyman.cli import KINDS

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "rules.md").read_text(encoding="utf-8")
EXAMPLE = re.compile(r"```json calc (\S+)\n(.*?)\n```.*?```json gives\n(.*?)\n```", re.DOTALL)
NAMED = re.compile(r"rules ((?:§\d+(?:, )?)+)")


def examples() -> list[Any]:
    return [pytest.param(*found, id=found[0]) for found in EXAMPLE.findall(PAGE)]


@pytest.mark.parametrize(("kind", "given", "wanted"), examples())
def test_an_example_of_the_page_gives_what_it_says(kind: str, given: str, wanted: str) -> None:
    result, said = KINDS[kind](json.loads(given)), json.loads(wanted)
    assert {key: result[key] for key in said} == said


def test_every_kind_has_an_example() -> None:
    assert {found[0] for found in EXAMPLE.findall(PAGE)} == set(KINDS)


def test_every_rule_that_the_code_names_stands_on_the_page() -> None:
    there = set(re.findall(r"^## (\d+) ", PAGE, re.MULTILINE))
    named = {
        number
        for path in (ROOT / "src").rglob("*.py")
        for found in NAMED.findall(path.read_text(encoding="utf-8"))
        for number in re.findall(r"\d+", found)
    }
    assert named == there


def test_every_module_that_the_page_names_is_there() -> None:
    core = ROOT / "src" / "tallyman"
    named = re.findall(r"`(core/[a-z_/.]+)`", PAGE)
    assert named
    assert [name for name in named if not (core / name).exists()] == []
