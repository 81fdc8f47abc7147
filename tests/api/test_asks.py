"""Asks for work whose runner hung up: nothing is taken for them late, and nothing taken is lost."""

from __future__ import annotations

import asyncio
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace
from typing import Any

import httpx
import pytest

from tallyman.api.runs import runner
from tallyman.config import read_clock
from tallyman.services.context import PROGRAM, Ctx
from tallyman.services.runs import dispatch
from tests.conftest import Databases
from tests.patience import patience
from tests.serving import Serving, serving
from tests.world import World

KEY = "a" * 32


@pytest.fixture(scope="module")
def server(databases: Databases) -> Iterator[Serving]:
    db = databases.connect()
    with serving(db, ()) as one:
        yield one
    db.close()


@pytest.fixture
def made(server: Serving, databases: Databases) -> World:
    databases.empty()
    world = World(server.db, read_clock())
    world.host = world.machine()
    world.number = world.routine()
    return world


def ask(server: Serving, world: World) -> httpx.Response:
    heads = {"Authorization": f"Bearer {world.token}"}
    url = f"{server.url}/api/v1/runner/work"
    return httpx.post(url, json={"key": KEY}, headers=heads, timeout=patience(20))


def test_an_ask_is_given_what_an_earlier_one_under_its_key_took_meanwhile(
    server: Serving, made: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(runner, "WAIT_SECONDS", 1.5)
    with ThreadPoolExecutor() as pool:
        waiting = pool.submit(ask, server, made)
        run = made.start(made.number)
        now = Ctx(made.db, read_clock(), PROGRAM)
        dispatch.take(now, made.host, KEY)
        answer = waiting.result()
    assert answer.status_code == 200
    assert answer.json()["run"] == run
    assert made.rows("SELECT run_id FROM run_segment") == [{"run_id": run}]


def test_an_ask_whose_time_is_over_takes_nothing(made: World) -> None:
    run = made.start(made.number)
    now = Ctx(made.db, read_clock(), PROGRAM)

    async def look(ends: float) -> Any:
        state = SimpleNamespace(looking=asyncio.Semaphore(1))
        request: Any = SimpleNamespace(app=SimpleNamespace(state=state))
        over = asyncio.get_running_loop().time() + ends
        return await runner._take(request, now, made.host, runner.Ask(key=KEY), over)

    assert asyncio.run(look(-1)) is None
    assert made.row("SELECT state FROM run WHERE id = %(r)s", r=run)["state"] == "waiting"
    found = asyncio.run(look(5))
    assert found.run == run
