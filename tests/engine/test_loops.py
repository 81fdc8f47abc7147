"""Every loop with a row among the others that raises anything at all, and with two engines at once."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from tallyman.core.alerts.kinds import Kind
from tallyman.engine import loops, wiring
from tallyman.errors import Refused
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx
from tallyman.services.house import mail_server, mails
from tallyman.services.ideas import factors, sheet_coming
from tallyman.services.runs import dispatch
from tallyman.services.upkeep import errands, health
from tallyman.services.workshop.wants import Ask, Wants
from tallyman.store.db import Database
from tests.conftest import NOW, Databases
from tests.engine.scenes import MINUTE, NAMES, SCENES, Scene
from tests.patience import patience
from tests.world import World

NEWS = Kind("news", "news", "{text}", "/", "idea")


@pytest.fixture(autouse=True)
def caught(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """Mails go nowhere; the list says to whom they would have gone."""
    sent: list[str] = []

    def hand_over(server: object, to: str, subject: str, body: str, message_id: str) -> str:
        mail_server.written("tallyman@merrowdale.example", to, subject, body, message_id)
        sent.append(to)
        return "taken"

    monkeypatch.setattr(mail_server, "hand_over", hand_over)
    yield sent


def go(scene: Scene, world: World, later: timedelta, turns: int = 3) -> None:
    for _ in range(turns):
        scene.step(world.program(later))


# ---- a row that raises anything ----------------------------------------------------------------------


@pytest.mark.parametrize("scene", SCENES, ids=NAMES)
@pytest.mark.parametrize(
    "error",
    [TypeError("anything"), SystemExit(1), Refused("It may not be.")],
    ids=["fault", "exit", "refusal"],
)
def test_a_row_that_raises_stops_no_other_and_is_stuck_in_the_end(
    world: World, monkeypatch: pytest.MonkeyPatch, scene: Scene, error: BaseException
) -> None:
    rows = scene.lay(world)
    bad = rows[1]
    if scene.work is errands.ERRANDS and isinstance(error, Refused):
        pytest.skip("an errand that is refused has ended")
    with monkeypatch.context() as patch:
        scene.spoil(patch, bad, error)
        go(scene, world, scene.later)
        assert sorted(scene.done(world)) == sorted({*rows} - {bad})
        hitch = world.row("SELECT work, tries, stuck, fault FROM hitch")
        assert (hitch["work"], hitch["tries"], hitch["stuck"]) == (scene.work.name, 1, 0)
        later = scene.later
        for _ in range(scene.work.most_tries - 1):
            later = world.row("SELECT due_at FROM hitch")["due_at"] - NOW
            go(scene, world, later)
        if scene.ends_by_itself:
            assert world.rows("SELECT id FROM hitch") == []
            return
        hitch = world.row("SELECT id, tries, stuck FROM hitch")
        assert (hitch["tries"], hitch["stuck"]) == (scene.work.most_tries, 1)
    # Mended, it is tried again when somebody says so, and not before.
    go(scene, world, later + timedelta(hours=1))
    assert bad not in scene.done(world)
    health.try_again(world.ctx("Sol Marin", later), hitch["id"])
    go(scene, world, later + timedelta(hours=1))
    if scene.work is factors.FIRST_LOOKS:
        # The errand is over; whoever begins it anew gets the rest.
        return
    assert sorted(scene.done(world)) == sorted(rows)
    assert world.rows("SELECT id FROM hitch") == []


# ---- two engines -------------------------------------------------------------------------------------


def together(pools: list[Database], act: Callable[[Database], object]) -> list[BaseException]:
    """The same step by several engines that begin at one moment; gives what they raised."""
    gate = threading.Barrier(len(pools))
    raised: list[BaseException] = []

    def engine(db: Database) -> None:
        gate.wait(timeout=patience(30))
        try:
            act(db)
        except BaseException as error:
            raised.append(error)

    threads = [threading.Thread(target=engine, args=(db,)) for db in pools]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(timeout=patience(60))
    return raised


@pytest.mark.parametrize("scene", SCENES, ids=NAMES)
def test_two_engines_do_each_row_once(
    world: World, databases: Databases, caught: list[str], scene: Scene
) -> None:
    rows = scene.lay(world)
    before = len(caught)
    pools = [databases.connect() for _ in range(2)]
    try:
        for _ in range(4):
            raised = together(pools, lambda db: scene.step(replace(world.program(scene.later), db=db)))
            assert raised == []
    finally:
        for pool in pools:
            pool.close()
    assert Counter(scene.done(world)) == Counter(rows)
    assert world.rows("SELECT work, fault FROM hitch") == []
    if scene.work is mails.MAILS:
        assert sorted(caught[before:]) == sorted(rows)


# ---- what no scene holds -----------------------------------------------------------------------------


def test_a_hundred_effects_behind_a_failed_one_keep_no_other_from_being_done(world: World) -> None:
    tom, person = world.ctx("Tom Okafor"), world.actors["Ada Pell"].person_id
    assert person is not None
    world.db.transact(
        lambda tx: tx.write("common.effect", kind="nothing", object="idea:1", payload={}, now=NOW)
    )
    for n in range(120):
        world.db.transact(lambda tx, n=n: tell(tx, tom, NEWS, {"id": 1}, [person], text=f"News {n}"))
    world.db.transact(lambda tx: tell(tx, tom, NEWS, {"id": 2}, [person], text="Of another"))
    assert loops.effects(world.program()) == 0
    assert loops.effects(world.program()) == 1
    assert [row["text"] for row in world.rows("SELECT text FROM notification")] == ["Of another"]


def test_each_thing_that_is_tidied_up_is_so_by_itself(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    world.db.transact(lambda tx: tx.write("common.changed", subject="ideas", id=1, now=NOW))
    health.seen(world.program(), health.Process("a" * 32, "engine", "weir", 7, "0.3.0", NOW))

    def fail(tx: Any, ctx: Ctx) -> None:
        raise TypeError("anything")

    monkeypatch.setitem(wiring.TIDIED, "sessions", fail)
    loops.tidy(world.program(timedelta(hours=2)))
    assert world.rows("SELECT id FROM change_note WHERE subject = 'ideas'") == []
    assert world.rows("SELECT id FROM process") == []
    assert world.row("SELECT about FROM hitch")["about"] == "sessions"


@pytest.mark.parametrize("where", ["routine", "run"])
def test_a_run_that_cannot_be_handed_out_keeps_no_other_waiting(
    world: World, monkeypatch: pytest.MonkeyPatch, where: str
) -> None:
    host = world.machine()
    release = world.release()
    bad = world.routine("Bad", release)
    good = world.routine("Good", release)
    first, second = world.start(bad), world.start(good, later=MINUTE)
    real = Wants.of

    def fail(self: Wants, ask: Ask, due: Any) -> Any:
        if ask.routine_id == bad and (where == "routine" or ask.run_id is not None):
            raise TypeError("anything")
        return real(self, ask, due)

    monkeypatch.setattr(Wants, "of", fail)
    dispatch.heartbeat(world.program(MINUTE), host, dispatch.Beat(NOW + MINUTE, []))
    assert dispatch.who_may_take(world.program(MINUTE), {host.id}) == {host.id}
    work = world.take(host, MINUTE)
    assert work.run == second
    key = f"routine:{bad}" if where == "routine" else f"run:{first}"
    assert [(row["work"], row["row_key"]) for row in world.rows("SELECT work, row_key FROM hitch")] == [
        ("claims", key)
    ]


def test_a_run_whose_claim_raises_is_passed_over(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    host = world.machine()
    routine = world.routine(run_limit=2)
    first, second = world.start(routine, "a"), world.start(routine, "b", later=MINUTE)
    real = dispatch._give

    def fail(tx: Any, *given: Any, run_id: int, **named: Any) -> Any:
        if run_id == first:
            raise AssertionError("anything")
        return real(tx, *given, run_id=run_id, **named)

    monkeypatch.setattr(dispatch, "_give", fail)
    work = world.take(host, MINUTE)
    assert work.run == second
    assert world.row("SELECT row_key FROM hitch")["row_key"] == f"run:{first}"
    # Mended, it is handed out like any other, and nothing is left of it on Health.
    monkeypatch.setattr(dispatch, "_give", real)
    world.finish(host, work, later=2 * MINUTE)
    assert world.take(host, 2 * MINUTE).run == first
    assert world.rows("SELECT id FROM hitch") == []


def test_what_could_not_be_reckoned_anew_is_said_by_the_work_that_ends(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    scene = next(one for one in SCENES if one.work is factors.FIRST_LOOKS)
    bad = scene.lay(world)[1]
    scene.spoil(monkeypatch, bad, TypeError("anything"))
    for later in (0, 5, 30, 60):
        scene.step(world.program(timedelta(seconds=later)))
    row = world.row("SELECT state, words FROM errand")
    assert (row["state"], row["words"]) == (
        "done",
        "2 of 3 ideas reckoned anew; 1 could not be, which Health shows with the reason",
    )


def test_a_line_that_always_fails_stays_out_and_says_why(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    scene = next(one for one in SCENES if one.work is sheet_coming.SHEET_LINES)
    bad = scene.lay(world)[1]
    scene.spoil(monkeypatch, bad, TypeError("anything"))
    for later in (0, 5, 30, 60):
        scene.step(world.program(timedelta(seconds=later)))
    assert world.row("SELECT state, words FROM errand") == {
        "state": "done",
        "words": "2 came in; 1 stayed out",
    }
    said = world.row("SELECT said_json FROM idea_line WHERE state = 'fault'")["said_json"]
    assert "Tallyman failed at this line 3 times (TypeError: anything)" in said


def test_an_errand_that_is_stuck_says_so_and_is_given_up_with_a_reason(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    scene = next(one for one in SCENES if one.work is errands.ERRANDS)
    bad = scene.lay(world)[0]
    scene.spoil(monkeypatch, bad, TypeError("anything"))
    later = timedelta()
    for _ in range(scene.work.most_tries):
        scene.step(world.program(later))
        later = world.row("SELECT due_at FROM hitch")["due_at"] - NOW
    row = world.row("SELECT state, words FROM errand WHERE id = %(i)s", i=bad)
    assert row["state"] == "running"
    assert "stopped after 10 tries: TypeError: anything" in row["words"]
    sol = world.ctx("Sol Marin")
    health.set_aside(sol, world.row("SELECT id FROM hitch")["id"], "begin it anew")
    row = world.row("SELECT state, words FROM errand WHERE id = %(i)s", i=bad)
    assert (row["state"], row["words"]) == ("failed", "given up: begin it anew")
