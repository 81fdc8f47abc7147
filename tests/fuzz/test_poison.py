"""Each route with a body that fits, in which one value after the other is poisoned: no fault of ours, ever."""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tallyman.core.cases.facts import LABELS
from tallyman.core.ideas.questions import CHECKS
from tests.access_bodies import BODIES
from tests.access_world import Everybody, everybody
from tests.conftest import Databases

# Raw JSON, as no sane writer would write it, and values that are sane JSON and yet seldom right.
POISON = (
    "NaN",
    "Infinity",
    "1e999",
    "9" * 5000,
    '"half \\ud800"',
    '"a\\u0000b"',
    "null",
    "true",
    "-1",
    "1e15",
    "0.000000000001",
    '""',
    '"NaN"',
    '"1e999"',
    '"-0"',
    '"https://["',
    '"https://x:y/"',
    '"line\\nbreak\\r\\nX: y"',
    '"=1+1"',
    '"2026-02-30"',
    '"9999-12-31"',
    '"0001-01-01"',
    '"' + "x" * 3000 + '"',
    '"\\u202e%s{0}\\\\u0000../../etc"',
    "[]",
    "{}",
    '[[[[["a"]]]]]',
    '{"__proto__": 1, "$ref": "file:///etc/passwd"}',
)
MARK = "@@poison@@"
LEFT_OUT = {("post", "/session"), ("post", "/session/second"), ("post", "/forgotten"), ("post", "/first")}


def places(body: Any, before: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where a value of a body stands, each value and each part of it."""
    if before:
        yield before
    items = body.items() if isinstance(body, dict) else enumerate(body) if isinstance(body, list) else ()
    for key, one in items:
        yield from places(one, (*before, key))


def poisoned(body: Any, place: tuple[Any, ...], raw: str) -> bytes:
    """The body with raw JSON in one place."""
    copied = copy.deepcopy(body)
    inner = copied
    for key in place[:-1]:
        inner = inner[key]
    inner[place[-1]] = MARK
    return json.dumps(copied).replace(f'"{MARK}"', raw).encode()


@pytest.fixture(scope="module")
def all_of_them(databases: Databases, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Everybody]:
    with everybody(databases, Path(tmp_path_factory.mktemp("keys")) / "keys.json") as found:
        yield found


def bodies(verb: str, path: str, body: Any) -> list[Any]:
    """The body of a route; for facts one for each field that there is, and for some that there are not."""
    if not path.endswith("/facts"):
        return [body]
    return [{**body, "values": {field: "3"}} for field in (*LABELS, "title", "what", "nothing")]


def addresses(filled: str) -> list[str]:
    """The address of a route; of answers, one for each question."""
    before, found, after = filled.partition("/answers/title")
    return [f"{before}/answers/{key}{after}" for key in CHECKS] if found else [filled]


WITH_BODIES = sorted(
    one for one, (body, _) in BODIES.items() if isinstance(body, str) and one not in LEFT_OUT
)


@pytest.mark.parametrize(("verb", "path"), WITH_BODIES)
def test_no_value_of_a_body_is_a_fault_of_ours(all_of_them: Everybody, verb: str, path: str) -> None:
    world = all_of_them
    filled, body, more = world.asked(verb, f"/api/v1{path}", None)
    heads = {"If-Match": '"1"', "Content-Type": "application/json", **more.pop("headers", {})}
    faults = []
    # What stands beside the one value that differs is the same in every body: once is enough.
    tried = {
        (address, place): (address, one, place)
        for address in addresses(filled)
        for one in bodies(verb, path, body)
        for place in places(one)
    }.values()
    for role in ("lead", "analyst"):
        heads["Cookie"] = f"tallyman_session={world.tokens[role, 'C']}"
        for n, (address, one, place) in enumerate(tried):
            for m, raw in enumerate(POISON):
                heads["Idempotency-Key"] = f"{n}-{m}"
                data = poisoned(one, place, raw)
                answer = world.loop.run(world.client.request(verb, address, headers=heads, content=data))
                # An identity provider that is not there is no fault of ours, and is said so.
                if answer.status_code >= 500 and answer.json()["code"] != "unavailable":
                    faults.append(f"{address} {place} of {json.dumps(one)[:200]} as {raw[:40]}")
                assert "Traceback" not in answer.text
    assert faults == []
