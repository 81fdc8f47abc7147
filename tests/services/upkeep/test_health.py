"""Health: processes, stuck effects and mails, and what mends them."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from prometheus_client.parser import text_string_to_metric_families

from tallyman.api.upkeep.metrics import Requests
from tallyman.engine import loops
from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.services.context import Ctx
from tallyman.services.house import mails
from tallyman.services.ideas import file_views
from tallyman.services.starts import starting
from tallyman.services.upkeep import health, hitches
from tallyman.services.upkeep.answers import Disk, Point
from tests.conftest import NOW
from tests.world import World

DISK = (Disk(2_000_000, 1_000_000), "1.0")

MINUTE = timedelta(minutes=1)


def process(kind: str = "engine", **more: Any) -> health.Process:
    return health.Process("a" * 31 + kind[0], kind, "weir", 7, "0.3.0", NOW, **more)


def points(world: World, later: timedelta = timedelta()) -> dict[str, Point]:
    found = health.page(world.ctx("Sol Marin", later), *DISK).points
    return {point.words: point for point in found}


def alive(world: World, loops: dict[str, Any] | None = None) -> None:
    health.seen(world.program(), process(loops=loops or {}))
    world.db.transact(lambda tx: tx.execute("UPDATE process SET apart_ms = 0"))


def test_without_an_engine_it_is_said_first(world: World) -> None:
    found = health.page(world.ctx("Sol Marin"), *DISK).points[0]
    assert (found.words, found.met, found.mend) == (
        "An engine works",
        False,
        "Start one: ./tallyman engine",
    )
    alive(world)
    assert points(world)["An engine works"].met


def test_a_process_that_fell_silent_or_ill_is_named(world: World) -> None:
    alive(world, {"clock": {"fault": "no such routine", "turns": 1, "took_ms": 1, "late_ms": 0, "did": 0}})
    assert points(world)["Every process is well"].fact == "engine 7: clock: no such routine"
    assert points(world, MINUTE)["Every process is well"].fact == "engine 7: silent"


def test_a_clock_that_is_apart_from_the_database_is_told(world: World) -> None:
    assert abs(health.seen(world.program(), process())) > 2000
    found = health.page(world.ctx("Sol Marin"), *DISK).processes[0]
    assert "so it starts nothing" in found.says
    assert not found.well


def test_a_process_that_ends_in_order_is_gone(world: World) -> None:
    alive(world)
    health.gone(world.program(), process())
    assert health.page(world.ctx("Sol Marin"), *DISK).processes == []


def stuck(world: World) -> int:
    """An effect that cannot be carried out, with another waiting behind it."""
    for _ in range(2):
        world.db.transact(
            lambda tx: tx.write(
                "common.effect", kind="tell", object="run:1", payload={"people": "x"}, now=NOW
            )
        )
    world.db.transact(lambda tx: tx.execute("UPDATE effect SET payload_json = '{}' ORDER BY id LIMIT 1"))
    loops.effects(world.program())
    return int(world.row("SELECT MIN(id) AS id FROM effect")["id"])


def test_a_failing_effect_is_tried_with_growing_pauses_and_holds_up_its_object(world: World) -> None:
    stuck(world)
    pauses = []
    later = timedelta()
    for _ in range(4):
        due = world.row("SELECT due_at FROM hitch")["due_at"]
        pauses.append(due - NOW - later)
        later = due - NOW
        loops.effects(world.program(later))
    assert pauses == [timedelta(seconds=n) for n in (2, 4, 8, 16)]
    hitch = health.page(world.ctx("Sol Marin", later), *DISK).hitches[0]
    assert (hitch.behind, hitch.tries, hitch.stuck) == (1, 5, False)
    assert "KeyError" in hitch.fault
    assert world.row("SELECT COUNT(*) AS n FROM effect WHERE done_at IS NOT NULL")["n"] == 0


def test_what_failed_is_tried_now_or_set_aside_with_the_reason(world: World) -> None:
    effect = stuck(world)
    number = world.row("SELECT id FROM hitch")["id"]
    sol = world.ctx("Sol Marin", timedelta(seconds=1))
    health.try_again(sol, number)
    assert world.row("SELECT due_at FROM hitch")["due_at"] == sol.now
    with pytest.raises(InputFaults, match="say why"):
        health.set_aside(sol, number, "")
    health.set_aside(sol, number, "the person left long ago")
    found = health.page(sol, *DISK)
    assert [(row.aside_why, row.person) for row in found.set_aside] == [
        ("the person left long ago", "Sol Marin")
    ]
    assert found.hitches == []
    row = world.row("SELECT done_at, aside_why FROM effect WHERE id = %(i)s", i=effect)
    assert (row["done_at"], row["aside_why"]) == (sol.now, "the person left long ago")
    assert len(world.rows("SELECT 1 FROM audit WHERE action = 'failed work set aside'")) == 1
    with pytest.raises(NotFound):
        health.set_aside(sol, number, "again")
    with pytest.raises(NotFound):
        health.try_again(sol, number)


def test_the_effect_behind_one_that_was_set_aside_goes_on_and_may_fail_by_itself(world: World) -> None:
    stuck(world)
    world.db.transact(lambda tx: tx.execute("UPDATE effect SET payload_json = '{}'"))
    sol = world.ctx("Sol Marin", MINUTE)
    health.set_aside(sol, world.row("SELECT id FROM hitch")["id"], "never")
    loops.effects(world.program(MINUTE))
    hitch = health.page(sol, *DISK).hitches[0]
    assert (hitch.tries, hitch.object, hitch.behind) == (1, "run:1", 0)
    world.db.transact(lambda tx: tx.execute("UPDATE effect SET payload_json = '{\"people\": []}'"))
    health.try_again(sol, hitch.id)
    assert loops.effects(world.program(MINUTE)) == 1
    assert health.page(sol, *DISK).hitches == []


def mail(world: World, **more: Any) -> int:
    """A mail in the outbox."""
    given = {
        "effect": None,
        "to": "a@merrowdale.example",
        "subject": "s",
        "body": "b",
        "now": NOW,
        "kind": "news",
        "person": None,
    }
    return world.db.transact(lambda tx: tx.insert("mails.add", **{**given, **more}))


def refuse(*_: str) -> str:
    raise OSError("mailbox full")


def test_a_refused_mail_is_shown_with_the_answer_and_tried_again(world: World) -> None:
    mail(world)
    mails.send_mails(world.program(), refuse)
    hitch = health.page(world.ctx("Sol Marin"), *DISK).hitches[0]
    assert (hitch.fault, hitch.about) == ("OSError: mailbox full", "s, to a@merrowdale.example")
    assert not points(world)["Mails leave"].met
    health.try_again(world.ctx("Sol Marin"), hitch.id)
    assert mails.send_mails(world.program(), lambda *_: "taken") == 1
    assert health.page(world.ctx("Sol Marin"), *DISK).hitches == []
    with pytest.raises(NotFound):
        health.try_again(world.ctx("Sol Marin"), hitch.id)


def test_a_mail_that_is_given_up_is_not_sent_and_not_waited_for(world: World) -> None:
    mail(world)
    mails.send_mails(world.program(), refuse)
    sol = world.ctx("Sol Marin", MINUTE)
    health.set_aside(sol, health.page(sol, *DISK).hitches[0].id, "no such mailbox")
    assert mails.send_mails(world.program(MINUTE), lambda *_: "taken") == 0
    assert health.page(sol, *DISK).mails.open == 0
    assert world.row("SELECT answer FROM mail")["answer"] == "given up: no such mailbox"


def test_mails_that_wait_long_are_told_although_none_was_refused(world: World) -> None:
    mail(world)
    assert points(world, 4 * MINUTE)["Mails leave"].met
    point = points(world, 6 * MINUTE)["Mails leave"]
    assert (point.met, point.fact) == (False, "1 open, 0 refused, the first waits for 6 min")


def test_what_else_failed_is_told_by_its_kind(world: World) -> None:
    turn = hitches.Rows(world.program(), starting.TRIGGERS)

    def fail() -> int:
        raise LookupError("no such zone")

    turn.go("7", fail, obj="routine:3")
    point = points(world)["Nothing else fails"]
    assert (point.met, point.fact) == (False, "a trigger: 1 failing, 0 stuck")


def test_more_than_the_page_shows_are_counted(world: World) -> None:
    turn = hitches.Rows(world.program(), file_views.FILES)

    def fail() -> int:
        raise LookupError("no")

    for n in range(health.MOST_SHOWN + 3):
        turn.go(str(n), fail)
    found = health.page(world.ctx("Sol Marin"), *DISK)
    assert (len(found.hitches), found.hitches_more) == (health.MOST_SHOWN, 3)


def test_health_is_for_those_who_may(world: World) -> None:
    with pytest.raises(Forbidden, match=r"health\.see"):
        health.page(world.ctx("Ada Pell"), *DISK)
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
