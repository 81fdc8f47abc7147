"""Every loop with a row among the others that raises anything at all, and with two engines at once.

Each scene lays three rows of one loop. `spoil` makes what is done with one of them raise; `done` tells
which were done, each as often as it was, so that nothing done twice passes.
"""

from __future__ import annotations

import asyncio
import threading
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

import pytest

from tallyman.api import hub as hub_module
from tallyman.api.hub import Hint, Hub
from tallyman.engine import loops
from tallyman.engine.supervisor import Loop, Supervisor
from tallyman.errors import Away, Refused
from tallyman.services import (
    dispatch,
    effects,
    errands,
    handing,
    health,
    hitches,
    mailing,
    robots,
    runs,
    safe,
    starting,
    tokens_of_hosts,
    triggers,
)
from tallyman.services.context import Ctx, tell
from tallyman.services.ideas import drafts, factoring, finding, importing, moving, showing
from tallyman.services.tally import posting
from tallyman.services.wanted import Wants
from tallyman.store.db import Database
from tests.conftest import NOW, Databases
from tests.services.test_idea_rules import content
from tests.world import World

MINUTE = timedelta(minutes=1)
Poison = Callable[[pytest.MonkeyPatch, str, BaseException], None]


@dataclass
class Scene:
    """Three rows of one loop: how they are laid, spoilt, gone through, and told from each other."""

    work: hitches.Work
    lay: Callable[[World], list[str]]
    step: Callable[[Ctx], object]
    spoil: Poison
    done: Callable[[World], list[str]]
    later: timedelta = timedelta()
    # Whether the row that fails is given up by the loop itself, after its last try.
    ends_by_itself: bool = False


def patched(owner: Any, name: str, key: Callable[..., object]) -> Poison:
    """Has a function raise for one row, which `key` tells by what the function is given."""

    def spoil(patch: pytest.MonkeyPatch, bad: str, error: BaseException) -> None:
        real = getattr(owner, name)

        def act(*given: Any, **named: Any) -> Any:
            if str(key(*given, **named)) == bad:
                raise error
            return real(*given, **named)

        patch.setattr(owner, name, act)

    return spoil


def column(sql: str) -> Callable[[World], list[str]]:
    return lambda world: [str(next(iter(row.values()))) for row in world.rows(sql)]


def three_runs(world: World, **more: Any) -> list[int]:
    world.machine(seats=3, robots_=3)
    routine = world.routine(run_limit=3, **more)
    return [world.start(routine, f"run {n}") for n in range(3)]


# ---- one scene for each loop -------------------------------------------------------------------------


def lay_triggers(world: World) -> list[str]:
    world.machine()
    routine = world.routine()
    given = triggers.Given({"expr": "0 10 10 3 *"}, "UTC")
    return [str(triggers.add(world.ctx("Sol Marin"), routine, given)) for _ in range(3)]


def lay_handed(world: World) -> list[str]:
    numbers = three_runs(world)
    host = tokens_of_hosts.host_of(world.program(), world.token)
    for _ in numbers:
        assert dispatch.take(world.program(), host, begins=True) is not None
    return [str(number) for number in numbers]


def lay_leases(world: World) -> list[str]:
    numbers = three_runs(world)
    host = tokens_of_hosts.host_of(world.program(), world.token)
    for _ in numbers:
        world.take(host)
    return [str(number) for number in numbers]


def lay_lapses(world: World) -> list[str]:
    numbers = three_runs(world)
    world.db.transact(lambda tx: tx.execute("UPDATE run SET lapses_at = %(at)s", {"at": NOW + MINUTE}))
    return [str(number) for number in numbers]


def lay_hosts(world: World) -> list[str]:
    made = [robots.add_host(world.ctx("Sol Marin"), f"Weir {n}", 1) for n in range(3)]
    for one in made:
        token = tokens_of_hosts.connect(world.program(), one["code"], 1, "robot", {})["token"]
        host = tokens_of_hosts.host_of(world.program(), token)
        dispatch.heartbeat(world.program(), host, dispatch.Beat(NOW, []))
    return [f"host:{one['id']}" for one in made]


def lay_effects(world: World) -> list[str]:
    tom = world.ctx("Tom Okafor")
    person = world.actors["Ada Pell"].person_id
    assert person is not None
    objects = [f"idea:{n}" for n in (1, 2, 3)]
    for obj in objects:
        world.db.transact(lambda tx, obj=obj: tell(tx, tom, [person], f"News of {obj}", "/", obj))
    return objects


def lay_mails(world: World) -> list[str]:
    addresses = [f"{name}@merrowdale.example" for name in ("a", "b", "c")]
    given = {"effect": None, "body": "b", "now": NOW, "kind": "news", "person": None}
    for to in addresses:
        world.db.transact(lambda tx, to=to: tx.insert("common.mail", to=to, subject="A\nB", **given))
    return addresses


def lay_digests(world: World) -> list[str]:
    names = ("Ada Pell", "Tom Okafor", "Mei Tanaka")
    people = [str(world.actors[name].person_id) for name in names]
    for n, person in enumerate(people):
        given = {"person": person, "effect": n, "now": NOW, "text": "News", "link": "/", "kind": "news"}
        world.db.transact(lambda tx, given=given: tx.insert("common.notify", digest=NOW - MINUTE, **given))
    return people


def lay_month_ends(world: World) -> list[str]:
    """Three ideas in service since February, one of them by the way of all ideas, two made like it."""
    world.live()
    first = world.row("SELECT id FROM idea")["id"]

    def work(tx: Any) -> None:
        for table in ("idea", "promise"):
            rows = tx.execute(f"SHOW COLUMNS FROM {table}").fetchall()
            names = [row["Field"] for row in rows if row["Field"] not in ("id", "idea_id")]
            columns = ", ".join(f"`{name}`" for name in names)
            for n in (1, 2):
                key = "id" if table == "idea" else "idea_id"
                tx.execute(
                    f"INSERT INTO {table} ({key}, {columns}) SELECT {key} + %(n)s, {columns} "
                    f"FROM {table} WHERE {key} = %(first)s",
                    {"n": n, "first": first},
                )
        tx.execute("UPDATE idea SET live_on = '2026-02-10'")
        tx.execute("INSERT INTO tally_month (month, state) VALUES ('2026-02', 'open')")

    world.db.transact(work)
    return [str(first + n) for n in range(3)]


def lay_secrets(world: World) -> list[str]:
    for n in range(3):
        given = safe.Given(f"login-{n}", "package", "willow-24-b", expires_on=date(2026, 3, 12))
        safe.make(world.ctx("Ines Varga"), given)
    return column("SELECT id FROM secret ORDER BY id")(world)


def lay_parked(world: World) -> list[str]:
    ideas = [world.screened(f"{name} list") for name in ("Valve", "Tanker", "Bore-hole")]
    for idea in ideas:
        moving.park(world.ctx("Tom Okafor"), idea, (NOW + timedelta(days=2)).date(), "later in spring")
    return [str(idea) for idea in ideas]


def lay_errands(world: World) -> list[str]:
    ada = world.ctx("Ada Pell")
    return [str(world.db.transact(lambda tx: errands.add(tx, ada, "work", 1, {}))) for _ in range(3)]


HANDLERS: dict[str, errands.Handler] = {"work": lambda ctx, errand: errands.Piece(1, "all", whole=True)}


def spoil_errand(patch: pytest.MonkeyPatch, bad: str, error: BaseException) -> None:
    def work(ctx: Ctx, errand: Any) -> errands.Piece:
        if str(errand["id"]) == bad:
            raise error
        return errands.Piece(1, "all", whole=True)

    patch.setitem(HANDLERS, "work", work)


def lay_lines(world: World) -> list[str]:
    tom = world.ctx("Tom Okafor")
    text = b"title,what\nValve list,typed over\nMeter note,read and kept\nTank log,written down\n"
    sheet = importing.upload(tom, "l.csv", text)
    importing.begin(tom, sheet, importing.view(tom, sheet)["version"])
    return column("SELECT line FROM idea_line ORDER BY line")(world)


def lay_first_looks(world: World) -> list[str]:
    ideas = [world.noted(f"{name} list") for name in ("Valve", "Tanker", "Bore-hole")]
    lead = world.ctx("Ines Varga")
    factoring.keep(lead, content(screen="0.5"), "screens break too often", 0)
    factoring.begin_anew(lead)
    return [str(idea) for idea in ideas]


def lay_files(world: World) -> list[str]:
    idea = world.noted("Valve list")
    for n in range(3):
        drafts.attach(world.ctx("Ada Pell"), idea, f"steps {n}.md", "how-to", f"lantern {n}".encode())
    return column("SELECT id FROM idea_file ORDER BY id")(world)


def lay_texts(world: World) -> list[str]:
    ideas = [world.noted(f"{name} list") for name in ("Valve", "Tanker", "Bore-hole")]
    world.db.transact(lambda tx: tx.execute("DELETE FROM idea_text"))
    return [str(idea) for idea in ideas]


SCENES = [
    Scene(
        hitches.TRIGGERS,
        lay_triggers,
        starting.start_due,
        patched(starting, "_fire", lambda tx, ctx, trigger_id: trigger_id),
        column("SELECT trigger_id FROM run"),
        timedelta(hours=1),
    ),
    Scene(
        hitches.HANDED,
        lay_handed,
        handing.take_back_late,
        patched(handing, "take_back", lambda tx, ctx, run_id, fence, why: run_id),
        column("SELECT id FROM run WHERE handed_until IS NULL"),
        MINUTE,
    ),
    Scene(
        hitches.LEASES,
        lay_leases,
        runs.lose_silent,
        patched(runs, "lose", lambda tx, ctx, run_id, why="": run_id),
        column("SELECT id FROM run WHERE state = 'lost'"),
        timedelta(hours=1),
    ),
    Scene(
        hitches.LAPSES,
        lay_lapses,
        runs.lapse,
        patched(runs, "_end_still", lambda tx, ctx, run_id, *_: run_id),
        column("SELECT id FROM run WHERE state = 'lapsed'"),
        timedelta(hours=1),
    ),
    Scene(
        hitches.SILENCE,
        lay_hosts,
        robots.tell_silent,
        patched(robots, "audit", lambda tx, ctx, action, obj, words: obj),
        column("SELECT object FROM audit WHERE action = 'host silent'"),
        timedelta(minutes=5),
    ),
    Scene(
        hitches.EFFECTS,
        lay_effects,
        effects.carry_out,
        patched(effects, "_one", lambda tx, ctx, effect: effect["object"]),
        column("SELECT e.object FROM notification n JOIN effect e ON e.id = n.effect_id"),
    ),
    Scene(
        hitches.MAILS,
        lay_mails,
        effects.send_mails,
        patched(mailing, "hand_over", lambda server, to, subject, body, message_id: to),
        column("SELECT to_address FROM mail WHERE sent_at IS NOT NULL"),
    ),
    Scene(
        hitches.DIGESTS,
        lay_digests,
        effects.digests,
        patched(effects, "_digest", lambda tx, ctx, person_id: person_id),
        column("SELECT person_id FROM mail WHERE kind = 'digest'"),
    ),
    Scene(
        hitches.MONTH_ENDS,
        lay_month_ends,
        posting.month_ends,
        patched(posting, "_post_idea_costs", lambda tx, ctx, month, row: row["idea_id"]),
        column("SELECT idea_id FROM tally_entry WHERE line = 'support' AND idea_id IS NOT NULL"),
    ),
    Scene(
        hitches.SECRETS,
        lay_secrets,
        safe.tell_ending,
        patched(safe, "_tell_ending", lambda tx, ctx, row, today: row["id"]),
        column("SELECT SUBSTRING_INDEX(object, ':', -1) FROM effect WHERE object LIKE 'secret:%%'"),
    ),
    Scene(
        hitches.PARKED,
        lay_parked,
        moving.come_back,
        patched(moving, "_come_back", lambda tx, ctx, idea_id: idea_id),
        column("SELECT idea_id FROM idea_stage WHERE from_stage = 'parked'"),
        timedelta(days=3),
    ),
    Scene(
        hitches.ERRANDS,
        lay_errands,
        lambda ctx: errands.carry_on(ctx, "a" * 32, HANDLERS),
        spoil_errand,
        column("SELECT id FROM errand WHERE state = 'done'"),
    ),
    Scene(
        hitches.SHEET_LINES,
        lay_lines,
        lambda ctx: errands.carry_on(ctx, "a" * 32, loops.ERRANDS),
        patched(importing, "_bring_in", lambda tx, ctx, sheet, columns, known, row: row["line"]),
        column("SELECT l.line FROM idea_line l JOIN idea i ON i.id = l.idea_id WHERE l.state = 'in'"),
        ends_by_itself=True,
    ),
    Scene(
        hitches.FIRST_LOOKS,
        lay_first_looks,
        lambda ctx: errands.carry_on(ctx, "a" * 32, loops.ERRANDS),
        patched(factoring, "_anew", lambda tx, ctx, idea_id, version: idea_id),
        column("SELECT SUBSTRING_INDEX(object, ':', -1) FROM audit WHERE action = 'first look anew'"),
    ),
    Scene(
        hitches.FILES,
        lay_files,
        showing.look_into,
        patched(showing, "_one", lambda ctx, row: row["id"]),
        column("SELECT id FROM idea_file WHERE looked_into"),
    ),
    Scene(
        hitches.TEXTS,
        lay_texts,
        showing.look_into,
        patched(finding, "keep_text", lambda tx, idea_id: idea_id),
        column("SELECT idea_id FROM idea_text"),
    ),
]
NAMES = [scene.work.name for scene in SCENES]


@pytest.fixture(autouse=True)
def caught(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """Mails go nowhere; the list says to whom they would have gone."""
    sent: list[str] = []

    def hand_over(server: object, to: str, subject: str, body: str, message_id: str) -> str:
        mailing.written("tallyman@merrowdale.example", to, subject, body, message_id)
        sent.append(to)
        return "taken"

    monkeypatch.setattr(mailing, "hand_over", hand_over)
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
    if scene.work is hitches.ERRANDS and isinstance(error, Refused):
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
    if scene.work is hitches.FIRST_LOOKS:
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
        gate.wait(timeout=30)
        try:
            act(db)
        except BaseException as error:
            raised.append(error)

    threads = [threading.Thread(target=engine, args=(db,)) for db in pools]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(timeout=60)
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
    if scene.work is hitches.MAILS:
        assert sorted(caught[before:]) == sorted(rows)


# ---- what no scene holds -----------------------------------------------------------------------------


def test_a_hundred_effects_behind_a_failed_one_keep_no_other_from_being_done(world: World) -> None:
    tom, person = world.ctx("Tom Okafor"), world.actors["Ada Pell"].person_id
    assert person is not None
    world.db.transact(
        lambda tx: tx.write("common.effect", kind="nothing", object="idea:1", payload={}, now=NOW)
    )
    for n in range(120):
        world.db.transact(lambda tx, n=n: tell(tx, tom, [person], f"News {n}", "/", "idea:1"))
    world.db.transact(lambda tx: tell(tx, tom, [person], "Of another", "/", "idea:2"))
    assert effects.carry_out(world.program()) == 0
    assert effects.carry_out(world.program()) == 1
    assert [row["text"] for row in world.rows("SELECT text FROM notification")] == ["Of another"]


def test_each_thing_that_is_tidied_up_is_so_by_itself(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    world.db.transact(lambda tx: tx.write("common.changed", subject="ideas", id=1, now=NOW))
    health.seen(world.program(), health.Process("a" * 32, "engine", "weir", 7, "0.3.0", NOW))

    def fail(tx: Any, ctx: Ctx) -> None:
        raise TypeError("anything")

    monkeypatch.setitem(effects.TIDIED, "sessions", fail)
    effects.tidy(world.program(timedelta(hours=2)))
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

    def fail(self: Wants, row: Any, due: Any) -> Any:
        if row["routine_id"] == bad and (where == "routine" or "id" in row):
            raise TypeError("anything")
        return real(self, row, due)

    monkeypatch.setattr(Wants, "of", fail)
    dispatch.heartbeat(world.program(MINUTE), host, dispatch.Beat(NOW + MINUTE, []))
    assert dispatch.who_may_take(world.program(MINUTE), {host["id"]}) == {host["id"]}
    assert world.take(host, MINUTE)["run"] == second
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
    assert world.take(host, MINUTE)["run"] == second
    assert world.row("SELECT row_key FROM hitch")["row_key"] == f"run:{first}"


def test_what_could_not_be_reckoned_anew_is_said_by_the_work_that_ends(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    scene = next(one for one in SCENES if one.work is hitches.FIRST_LOOKS)
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
    scene = next(one for one in SCENES if one.work is hitches.SHEET_LINES)
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
    scene = next(one for one in SCENES if one.work is hitches.ERRANDS)
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


# ---- mails: once, and what is unknown is said --------------------------------------------------------


def test_a_subject_of_several_lines_goes_out_in_one() -> None:
    mail = mailing.written(
        "t@merrowdale.example", "a@merrowdale.example", "Asked back:\r\nWhich\nform?", "b", "7"
    )
    assert mail["Subject"] == "Asked back: Which form?"
    assert mail["Message-ID"] == "<7@merrowdale.example>"


def one_mail(world: World) -> None:
    given = {"effect": None, "to": "a@merrowdale.example", "subject": "s", "body": "b"}
    world.db.transact(lambda tx: tx.insert("common.mail", **given, now=NOW, kind="news", person=None))


def test_a_mail_handed_over_by_an_engine_that_died_goes_again_as_the_same_mail(world: World) -> None:
    one_mail(world)
    ids: list[str] = []

    class Killed(BaseException):
        pass

    def hand_over(to: str, subject: str, body: str, message_id: str) -> str:
        ids.append(message_id)
        if len(ids) == 1:
            raise Killed
        return "250 taken"

    def die(*_: Any, **__: Any) -> int:
        raise Killed

    with pytest.MonkeyPatch.context() as patch, pytest.raises(Killed):
        real = effects._note
        patch.setattr(
            effects, "_note", lambda ctx, name, **more: real(ctx, name, **more) if "claim" in name else die()
        )
        effects.send_mails(world.program(), hand_over)
    # Another engine leaves it alone as long as the first may still be at it.
    assert effects.send_mails(world.program(MINUTE), hand_over) == 0
    assert effects.send_mails(world.program(6 * MINUTE), hand_over) == 1
    assert ids[0] == ids[1]
    answer = world.row("SELECT answer FROM mail")["answer"]
    assert (
        answer
        == "250 taken; also handed over at 10 Mar 09:00 UTC, when no answer was heard: it may come twice"
    )


def test_a_mail_that_nobody_answered_for_says_so_when_it_goes_again(world: World) -> None:
    one_mail(world)

    def unheard(*_: str) -> str:
        raise mailing.Unheard("the connection ended")

    assert effects.send_mails(world.program(), unheard) == 0
    assert effects.send_mails(world.program(MINUTE), lambda *_: "taken") == 1
    assert "it may come twice" in world.row("SELECT answer FROM mail")["answer"]


def test_a_mail_server_that_is_away_is_no_mails_fault(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    one_mail(world)

    def away(*_: str) -> str:
        raise Away("The mail server weir takes no mails")

    for _ in range(hitches.MAILS.most_tries + 1):
        with pytest.raises(Away):
            effects.send_mails(world.program(), away)
    assert world.rows("SELECT id FROM hitch") == []
    assert effects.send_mails(world.program(), lambda *_: "taken") == 1
    assert world.row("SELECT answer FROM mail")["answer"] == "taken"


# ---- the supervisor and the hub ----------------------------------------------------------------------


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
        assert turns.acquire(timeout=20) and turns.acquire(timeout=20)
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
