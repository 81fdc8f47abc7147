"""Health: processes, stuck effects and mails, and what mends them."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from prometheus_client.parser import text_string_to_metric_families

from tallyman.api.metrics import Requests
from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.services import effects, health
from tallyman.services.context import Ctx
from tests.conftest import NOW
from tests.world import World

MINUTE = timedelta(minutes=1)


def process(kind: str = "engine", **more: Any) -> health.Process:
    return health.Process("a" * 31 + kind[0], kind, "weir", 7, "0.3.0", NOW, **more)


def points(world: World, later: timedelta = timedelta()) -> dict[str, dict[str, Any]]:
    found = health.page(world.ctx("Sol Marin", later))["points"]
    return {point["words"]: point for point in found}


def alive(world: World, loops: dict[str, Any] | None = None) -> None:
    health.seen(world.program(), process(loops=loops or {}))
    world.db.transact(lambda tx: tx.execute("UPDATE process SET apart_ms = 0"))


def test_without_an_engine_it_is_said_first(world: World) -> None:
    found = health.page(world.ctx("Sol Marin"))["points"][0]
    assert (found["words"], found["met"], found["mend"]) == (
        "An engine works",
        False,
        "Start one: ./tallyman engine",
    )
    alive(world)
    assert points(world)["An engine works"]["met"]


def test_a_process_that_fell_silent_or_ill_is_named(world: World) -> None:
    alive(world, {"clock": {"fault": "no such routine", "turns": 1, "took_ms": 1, "late_ms": 0, "did": 0}})
    assert points(world)["Every process is well"]["fact"] == "engine 7: clock: no such routine"
    assert points(world, MINUTE)["Every process is well"]["fact"] == "engine 7: silent"


def test_a_clock_that_is_apart_from_the_database_is_told(world: World) -> None:
    assert abs(health.seen(world.program(), process())) > 2000
    found = health.page(world.ctx("Sol Marin"))["processes"][0]
    assert "so it starts nothing" in found["says"]
    assert not found["well"]


def test_a_process_that_ends_in_order_is_gone(world: World) -> None:
    alive(world)
    health.gone(world.program(), process())
    assert health.page(world.ctx("Sol Marin"))["processes"] == []


def stuck(world: World) -> int:
    """An effect that cannot be carried out, with another waiting behind it."""
    for _ in range(2):
        world.db.transact(
            lambda tx: tx.write(
                "common.effect", kind="tell", object="run:1", payload={"people": "x"}, now=NOW
            )
        )
    world.db.transact(lambda tx: tx.execute("UPDATE effect SET payload_json = '{}' ORDER BY id LIMIT 1"))
    effects.carry_out(world.program())
    return int(world.row("SELECT MIN(id) AS id FROM effect")["id"])


def test_a_failing_effect_is_tried_with_growing_pauses_and_holds_up_its_object(world: World) -> None:
    number = stuck(world)
    dues = []
    later = timedelta()
    for _ in range(4):
        row = world.row("SELECT tries, due_at FROM effect WHERE id = %(i)s", i=number)
        dues.append(row["due_at"] - NOW - later)
        later = row["due_at"] - NOW
        effects.carry_out(world.program(later))
    assert dues == sorted(dues)
    found = health.page(world.ctx("Sol Marin", later))
    assert found["stuck_effects"][0]["behind"] == 1
    assert "KeyError" in found["stuck_effects"][0]["fault"]
    assert world.row("SELECT COUNT(*) AS n FROM effect WHERE done_at IS NOT NULL")["n"] == 0


def test_a_stuck_effect_is_tried_now_or_set_aside_with_the_reason(world: World) -> None:
    number = stuck(world)
    sol = world.ctx("Sol Marin", MINUTE)
    health.try_again(sol, number)
    assert world.row("SELECT due_at FROM effect WHERE id = %(i)s", i=number)["due_at"] == sol.now
    with pytest.raises(InputFaults, match="say why"):
        health.set_aside(sol, number, "")
    health.set_aside(sol, number, "the person left long ago")
    found = health.page(sol)
    assert (found["set_aside"][0]["aside_why"], found["set_aside"][0]["person"]) == (
        "the person left long ago",
        "Sol Marin",
    )
    assert len(world.rows("SELECT 1 FROM audit WHERE action = 'effect set aside'")) == 1
    with pytest.raises(NotFound):
        health.set_aside(sol, number, "again")
    with pytest.raises(NotFound):
        health.try_again(sol, number)


def test_a_refused_mail_is_shown_with_the_answer_and_tried_again(world: World) -> None:
    world.db.transact(
        lambda tx: tx.write(
            "common.mail",
            effect=1,
            to="a@merrowdale.example",
            subject="s",
            body="b",
            now=NOW,
            kind="news",
            person=None,
        )
    )

    def refuse(*_: str) -> str:
        raise OSError("mailbox full")

    effects.send_mails(world.program(), refuse)
    found = health.page(world.ctx("Sol Marin"))
    assert found["stuck_mails"][0]["answer"] == "mailbox full"
    assert not points(world)["Mails leave"]["met"]
    health.mail_again(world.ctx("Sol Marin"), found["stuck_mails"][0]["id"])
    assert effects.send_mails(world.program(), lambda *_: "taken") == 1
    with pytest.raises(NotFound):
        health.mail_again(world.ctx("Sol Marin"), found["stuck_mails"][0]["id"])


def test_health_is_for_those_who_may(world: World) -> None:
    with pytest.raises(Forbidden, match=r"health\.see"):
        health.page(world.ctx("Ada Pell"))
    with pytest.raises(Forbidden, match=r"health\.change"):
        health.set_aside(Ctx(world.db, NOW, world.actors["Mei Tanaka"]), 1, "because")


def test_the_metrics_are_the_figures_of_the_page(world: World) -> None:
    alive(world)
    world.machine()
    world.start(world.routine())
    text = Requests().text(world.program(MINUTE)).decode()
    found = {
        (sample.name, *sample.labels.values()): sample.value
        for family in text_string_to_metric_families(text)
        for sample in family.samples
    }
    assert found[("tallyman_runs", "waiting")] == 1
    assert found[("tallyman_oldest_waiting_seconds",)] == 60
    assert found[("tallyman_hosts_connected",)] == 1
    assert found[("tallyman_hosts_silent",)] == 1
    assert found[("tallyman_processes", "engine")] == 0
