"""What a browser reads before a page stands: little at first, and little more for each page."""

from __future__ import annotations

import gzip
import json
from functools import cache
from typing import Any

from tallyman.config import HOME

DIST = HOME / "web" / "dist"
FIRST_KB, PAGE_KB = 120, 60
# Parts of the band, which every page has; they are read once the first page stands.
BAND = ("SearchBox.vue", "KeyHelp.vue", "UndoBar.vue", "Leaving.vue")
# What draws pictures is read by a page that draws one, once it stands.
DRAWING = "src/shared/echarts.ts"

Parts = dict[str, dict[str, Any]]


def parts() -> Parts:
    found: Parts = json.loads((DIST / ".vite" / "manifest.json").read_text())
    return found


@cache
def kilobytes(name: str) -> float:
    return len(gzip.compress((DIST / name).read_bytes(), 6)) / 1000


def needed(all_parts: Parts, key: str, seen: set[str] | None = None) -> set[str]:
    """The files that a part needs before it stands."""
    seen = seen if seen is not None else set()
    if key in seen:
        return set()
    seen.add(key)
    part = all_parts[key]
    files = {part["file"], *part.get("css", [])}
    return files.union(*(needed(all_parts, one, seen) for one in part.get("imports", [])))


def weigh(files: set[str]) -> float:
    return sum(kilobytes(one) for one in files)


def test_the_first_load_and_each_page_s_own_part_are_small() -> None:
    all_parts = parts()
    first = needed(all_parts, next(key for key, one in all_parts.items() if one.get("isEntry")))
    there = first.union(*(needed(all_parts, key) for key in all_parts if key.endswith(BAND)))
    own = {
        key: weigh(needed(all_parts, key) - there)
        for key, one in all_parts.items()
        if one.get("isDynamicEntry") and key != DRAWING
    }
    heavy = sorted(own.items(), key=lambda pair: -pair[1])
    print(f"first load {weigh(first):.1f} kB, with the band {weigh(there):.1f} kB")
    for key, weight in heavy[:12]:
        print(f"{weight:6.1f} kB  {key}")
    assert weigh(first) <= FIRST_KB
    assert [key for key, weight in heavy if weight > PAGE_KB] == []


def test_what_draws_is_no_part_of_any_page() -> None:
    all_parts = parts()
    drawing = all_parts[DRAWING]["file"]
    assert [key for key in all_parts if key != DRAWING and drawing in needed(all_parts, key)] == []
