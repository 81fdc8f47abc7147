"""Starts by address over HTTP: waited for, repeated, and refused without a word too many."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import httpx
import pytest

from tallyman.config import read_clock
from tallyman.services.starts import addresses
from tests.conftest import Databases
from tests.patience import patience
from tests.serving import Serving, serving
from tests.world import World


@pytest.fixture(scope="module")
def server(databases: Databases) -> Iterator[Serving]:
    db = databases.connect()
    with serving(db, ()) as one:
        yield one
    db.close()


class Caller:
    """A routine with an address, called over HTTP as another program does."""

    def __init__(self, server: Serving, world: World) -> None:
        self.world, self.host = world, world.machine()
        self.routine = world.routine(inputs={"rows": 4})
        token = addresses.give(world.ctx("Sol Marin"), self.routine, addresses.Given()).token
        heads = {"Authorization": f"Bearer {token}"}
        self.client = httpx.Client(base_url=f"{server.url}/api/v1", headers=heads, timeout=patience(60))

    def call(self, key: str, query: str = "", **more: object) -> httpx.Response:
        heads = {"Idempotency-Key": key}
        return self.client.post(f"/called/{self.routine}{query}", headers=heads, **more)  # type: ignore[arg-type]


@pytest.fixture
def caller(server: Serving, world: World) -> Iterator[Caller]:
    one = Caller(server, world)
    yield one
    one.client.close()


def test_it_answers_with_the_run_and_once_more_with_the_same(caller: Caller) -> None:
    first, again = caller.call("one"), caller.call("one")
    assert (first.status_code, again.status_code) == (201, 200)
    assert first.json()["run"] == again.json()["run"]
    run = first.json()["run"]
    told = caller.client.get(f"/called/{caller.routine}/runs/{run}").json()
    assert (told["state"], told["ended_at"]) == ("waiting", None)


def test_it_waits_for_the_outcome_if_asked(caller: Caller) -> None:
    with ThreadPoolExecutor() as pool:
        waits = pool.submit(caller.call, "one", "?wait=60")
        later = read_clock() - caller.world.now + timedelta(seconds=5)

        def taken() -> bool:
            rows = caller.world.rows("SELECT id FROM run")
            return bool(rows)

        while not taken():
            assert not waits.done()
        work = caller.world.take(caller.host, later)
        caller.world.finish(caller.host, work, later=later, outputs={"rows": 4})
        told = waits.result().json()["told"]
    assert (told["state"], told["outputs"]) == ("done", {"rows": 4})


def test_a_wait_that_is_over_says_how_the_run_stands(caller: Caller) -> None:
    assert caller.call("one", "?wait=1").json()["told"]["state"] == "waiting"
    assert caller.call("two", "?wait=61").status_code == 422


def test_all_that_is_wrong_comes_back_as_a_problem(caller: Caller) -> None:
    answer = caller.call("", "?call_back=ftp://x", json={"rows": -1})
    assert answer.status_code == 422
    assert [one["field"] for one in answer.json()["errors"]] == [
        "Idempotency-Key",
        "call_back",
        "inputs.rows",
    ]


def test_without_its_token_a_large_body_is_not_even_read(caller: Caller) -> None:
    large = {"rows": "x" * 300_000}
    wrong = {"Authorization": "Bearer tally_start_wrong"}
    answer = caller.client.post(f"/called/{caller.routine}", headers=wrong, json=large)
    assert answer.status_code in (401, 413)
    assert caller.call("large", json=large).status_code == 422
