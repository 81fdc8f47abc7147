"""The house as it stands: every subject is one room per layer, and shows the others only its face."""

from __future__ import annotations

import ast
import subprocess
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[1] / "src" / "tallyman"

LAYERS = ("core", "services", "api")


def rooms(layer: str) -> set[str]:
    return {path.parent.name for path in (SOURCE / layer).glob("*/__init__.py")}


def foreign(layer: str) -> Iterator[tuple[Path, str, str, list[str], list[str]]]:
    """Imports of a room from another: file, layer and room of the other, the way into it, and the names."""
    for path in sorted((SOURCE / layer).glob("*/**/*.py")):
        own = path.relative_to(SOURCE / layer).parts[0]
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith("tallyman."):
                continue
            _, to, *rest = (node.module or "").split(".")
            if to in LAYERS and rest and rest[0] in rooms(to) and rest[0] != own:
                yield path, to, rest[0], rest[1:], [alias.name for alias in node.names]


@pytest.mark.parametrize("layer", LAYERS)
def test_what_one_subject_needs_of_another_is_on_its_face(layer: str) -> None:
    hidden = []
    for path, to, room, way, names in foreign(layer):
        shown = import_module(f"tallyman.{to}.{room}").__all__
        if way or not set(names) <= set(shown):
            hidden.append(f"{path.relative_to(SOURCE)}: {to}.{'.'.join([room, *way])}: {', '.join(names)}")
    assert not hidden


@pytest.mark.parametrize("layer", ["core", "services"])
def test_a_face_shows_nothing_that_nobody_asks_for(layer: str) -> None:
    used: dict[str, set[str]] = {}
    for path in [*SOURCE.rglob("*.py"), *(SOURCE.parents[1] / "tests").rglob("*.py")]:
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom):
                used.setdefault(node.module or "", set()).update(alias.name for alias in node.names)
            elif isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
                used.setdefault(f"tallyman.{layer}.{node.value.id}", set()).add(node.attr)
    idle = [
        f"{layer}.{room}.{name}"
        for room in sorted(rooms(layer))
        for name in getattr(import_module(f"tallyman.{layer}.{room}"), "__all__", [])
        if name not in used.get(f"tallyman.{layer}.{room}", set())
    ]
    assert not idle


# They take over methods of libraries and pass on what those give, whatever it is.
PASSES_ON = {
    "services/house/pinned.py": {"send", "build_connection_pool_key_attributes", "request"},
    "api/edge/connections.py": {"__init__"},
    "api/routing.py": {"__init__", "__getattr__"},
}


@pytest.mark.parametrize("layer", ["services", "api"])
def test_only_json_that_is_really_free_goes_without_a_type(layer: str) -> None:
    untyped = []
    for path in sorted((SOURCE / layer).rglob("*.py")):
        name = str(path.relative_to(SOURCE))
        tree = ast.parse(path.read_text())
        passed_on = {
            id(one)
            for node in ast.walk(tree)
            if isinstance(node, ast.FunctionDef) and node.name in PASSES_ON.get(name, ())
            for one in ast.walk(node)
        }
        untyped += [
            f"{name}:{one.lineno}"
            for one in ast.walk(tree)
            if isinstance(one, ast.Name) and one.id == "Any" and id(one) not in passed_on
        ]
    assert not untyped


def test_health_knows_every_loop_s_rows_in_words() -> None:
    """The web process names what the engine is stuck at, though it runs none of its loops."""
    ask = "from tallyman.services.upkeep.hitches import WORKS; print(sorted(WORKS))"
    known = {
        which: subprocess.run(
            [sys.executable, "-c", f"import {which}; {ask}"], capture_output=True, text=True, check=True
        ).stdout
        for which in ("tallyman.api.app", "tallyman.engine.loops")
    }
    assert known["tallyman.api.app"] == known["tallyman.engine.loops"]


# Loaded where they are used: each costs a start of the web process a twentieth of a second or more.
HEAVY = ("numpy", "polars", "requests", "authlib", "joserfc", "icalendar", "jsonschema", "segno", "holidays")
HEAVY_PARTS = ("openpyxl", "xlsxwriter", "weasyprint", "matplotlib", "ortools", "docx", "PIL", "typer")


def test_a_start_of_the_web_process_loads_nothing_heavy() -> None:
    code = "import sys, tallyman.api.app; print(*{name.partition('.')[0] for name in sys.modules})"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert not {*HEAVY, *HEAVY_PARTS} & set(loaded.stdout.split())
