"""The supervisor and the hub outlive whatever a turn meets."""

from __future__ import annotations

import asyncio
import threading

import pytest

from tallyman.api.edge import hub as hub_module
from tallyman.api.edge.hub import Hint, Hub
from tallyman.engine.supervisor import Loop, Supervisor
from tallyman.services.context import Ctx
from tests.conftest import NOW
from tests.patience import patience
from tests.world import World


def test_a_turn_that_fails_is_logged_with_where_and_goes_on(
    world: World, capsys: pytest.CaptureFixture[str]
) -> None:
    turns = threading.Semaphore(0)

    def fail(ctx: Ctx) -> int:
        turns.release()
        raise TypeError("anything")

    one = Supervisor(world.db, lambda: NOW, (Loop("test", 0.01, fail),))
    one.start()
    try:
        assert turns.acquire(timeout=patience(20)) and turns.acquire(timeout=patience(20))
    finally:
        one.stop()
    assert "in fail" in capsys.readouterr().out


def test_the_hub_goes_on_after_anything_at_all(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(hub_module, "POLL_SECONDS", 0.01)
    real = Hub._tell

    def tell_one(hub: Hub, hint: Hint) -> None:
        if hint.number == 2:
            raise TypeError("anything")
        real(hub, hint)

    monkeypatch.setattr(Hub, "_tell", tell_one)

    async def work() -> list[int | None]:
        hub = Hub(world.db)
        listener = hub.listen()
        while hub.state()["hints"]["turns"] < 1:
            await asyncio.sleep(0)
        for n in (1, 2, 3):
            world.db.transact(lambda tx, n=n: tx.write("common.changed", subject="ideas", id=n, now=NOW))
        found = [await asyncio.wait_for(listener.get(), 20) for _ in range(2)]
        hub.leave(listener)
        return [hint.number for hint in found if hint]

    assert asyncio.run(work()) == [1, 3]
