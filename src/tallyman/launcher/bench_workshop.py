"""Measures a builder's and an operator's acts: a release, the form of a start, many starts, a roll-out."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import count

from tallyman.formats.package_zip import pack
from tallyman.launcher.bench_engine import median_ms
from tallyman.launcher.bench_installation import Installation
from tallyman.services.house import areas
from tallyman.services.starts import addresses, by_hand, called, routine_page
from tallyman.services.workshop import packages, rollouts, routines
from tallyman.services.workshop.rollouts import Chosen, Given

ROUTINES, ROWS, FILES = 100, 500, 40
TIMES = 5
MANIFEST = """name = "rows"
version = "{version}"
entry = "main.py"

[inputs.rows]
type = "integer"
title = "Rows"
"""


def _package(version: str) -> bytes:
    """A package of some files, as builders hand them over."""
    files = {f"part_{n}.py": (f"# {version}\n" + "x = 1\n" * 200).encode() for n in range(FILES)}
    return pack({"package.toml": MANIFEST.format(version=version).encode(), "main.py": b"", **files})


def _numbers() -> Iterator[str]:
    return (f"1.0.{n}" for n in count(1))


def measure(port: int = 9440) -> dict[str, dict[str, float]]:
    """What each act takes, in milliseconds, without the way to the browser."""
    one = Installation(port)
    try:
        return {f"releases and starts, {ROUTINES} routines, median ms": _measure(one)}
    finally:
        one.end()


def _measure(one: Installation) -> dict[str, float]:
    area = areas.add_area(one.ctx(), "Metering", None)
    one.hosts(20, area, "Weir")
    first = packages.release(one.ctx(), _package("1.0.0"), packages.Given("First"))
    ids = [
        routines.add(one.ctx(), routines.Given(f"Rows {n}", area, first, {"rows": n}, []))
        for n in range(ROUTINES)
    ]
    numbers, keys = _numbers(), count()
    last = packages.release(one.ctx(), _package(next(numbers)), packages.Given("More"))
    table = "rows\n" + "\n".join(str(n) for n in range(ROWS))
    token = addresses.give(one.ctx(), ids[0], addresses.Given(a_minute=600)).token

    def rolled_out_and_back() -> None:
        chosen = [Chosen(number) for number in ids]
        made = rollouts.roll_out(one.ctx(), last, Given(chosen, why="It counts more"))
        rollouts.back(one.ctx(), made)

    acts = {
        f"a release of {FILES} files, looked at": lambda: packages.look(one.ctx(), _package("1.9.0")),
        "the same, released": lambda: packages.release(
            one.ctx(), _package(next(numbers)), packages.Given("More")
        ),
        "form of a start, with its pre-check": lambda: (
            routine_page.one(one.ctx(), ids[0]),
            by_hand.look(one.ctx(), ids[0], by_hand.Given({"rows": 3})),
        ),
        f"{ROWS} rows looked at": lambda: by_hand.look_at_rows(one.ctx(), ids[0], table),
        f"{ROWS} rows started": lambda: by_hand.start_rows(
            one.ctx(), ids[0], table, by_hand.Given(), f"rows {next(keys)}"
        ),
        "a start by address": lambda: called.call(
            one.ctx(), ids[0], called.Call(token, {"rows": 3}, f"call {next(keys)}")
        ),
        f"a roll-out to {ROUTINES} routines looked at": lambda: rollouts.look(one.ctx(), last, []),
        "the same, and back": rolled_out_and_back,
    }
    return {what: median_ms(act, TIMES) for what, act in acts.items()}
