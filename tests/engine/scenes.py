"""A scene for each loop of the engine: three rows, how one of them is spoilt, and which were done."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import pytest

from tallyman.core.alerts.kinds import Kind
from tallyman.engine import loops, wiring
from tallyman.services import alerts, robots, runs, safe
from tallyman.services.alerts import tell, telling
from tallyman.services.context import Ctx
from tallyman.services.house import mail_server, mails
from tallyman.services.ideas import drafts, factors, file_views, moves, search, sheet_coming, sheets
from tallyman.services.people import actor_of
from tallyman.services.robots import host_tokens, hosts
from tallyman.services.runs import dispatch, handover, life
from tallyman.services.safe import keys
from tallyman.services.starts import called, kinds, starting, triggers
from tallyman.services.tally import posting
from tallyman.services.upkeep import effects, errands, hitches
from tallyman.services.workshop import rolling, rollouts, withdrawing
from tests.conftest import NOW
from tests.services.ideas.test_rules import content
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
    host = host_tokens.host_of(world.program(), world.token)
    for _ in numbers:
        assert dispatch.take(world.program(), host, begins=True) is not None
    return [str(number) for number in numbers]


def lay_leases(world: World) -> list[str]:
    numbers = three_runs(world)
    host = host_tokens.host_of(world.program(), world.token)
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
        token = host_tokens.connect(world.program(), one.code, 1, "robot", {})["token"]
        host = host_tokens.host_of(world.program(), token)
        dispatch.heartbeat(world.program(), host, dispatch.Beat(NOW, []))
    return [f"host:{one.id}" for one in made]


def lay_effects(world: World) -> list[str]:
    tom = world.ctx("Tom Okafor")
    person = world.actors["Ada Pell"].person_id
    assert person is not None
    news = Kind("news", "news", "News of {id}", "/", "idea")
    for n in (1, 2, 3):
        world.db.transact(lambda tx, n=n: tell(tx, tom, news, {"id": n}, [person]))
    return [f"idea:{n}" for n in (1, 2, 3)]


def lay_mails(world: World) -> list[str]:
    addresses = [f"{name}@merrowdale.example" for name in ("a", "b", "c")]
    given = {"effect": None, "body": "b", "now": NOW, "kind": "news", "person": None}
    for to in addresses:
        world.db.transact(lambda tx, to=to: tx.insert("mails.add", to=to, subject="A\nB", **given))
    return addresses


def lay_digests(world: World) -> list[str]:
    names = ("Ada Pell", "Tom Okafor", "Mei Tanaka")
    people = [str(world.actors[name].person_id) for name in names]
    for n, person in enumerate(people):
        given = {"person": person, "effect": n, "now": NOW, "text": "News", "link": "/", "kind": "news"}
        world.db.transact(lambda tx, given=given: tx.insert("alerts.notify", digest=NOW - MINUTE, **given))
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
        moves.park(world.ctx("Tom Okafor"), idea, (NOW + timedelta(days=2)).date(), "later in spring")
    return [str(idea) for idea in ideas]


def lay_rollouts(world: World) -> list[str]:
    """Three roll-outs whose release was withdrawn since."""
    world.machine()
    first, later = world.release(), world.release("1.1.0")
    robot = world.row("SELECT id FROM robot")["id"]
    found = []
    for n in range(3):
        routine = world.routine(f"Count {n}", first)
        given = rollouts.Given([rollouts.Chosen(routine)], "staged", "It counts more", first_robot=robot)
        found.append(str(rollouts.roll_out(world.ctx("Sol Marin"), later, given)))
    withdrawing.withdraw(world.ctx("Jonas Lindqvist"), later, "It counts twice")
    return found


def spoil_call_back(patch: pytest.MonkeyPatch, bad: str, error: BaseException) -> None:
    real = called._json_of

    def refuses(told: Any) -> Any:
        if str(told.run) == bad:
            raise error
        return real(told)

    patch.setattr(called, "_json_of", refuses)


def lay_call_backs(world: World) -> list[str]:
    """Three runs that ended, each of whose callers wants to be told."""
    host = world.machine(1, 1)
    routine = world.routine()
    found = []
    for n in range(3):
        run = world.start(routine, str(n))
        world.finish(host, world.take(host))
        world.db.transact(
            lambda tx, run=run: tx.write("called.call_back", run=run, address="https://x.example")
        )
        found.append(str(run))
    return found


def lay_errands(world: World) -> list[str]:
    ada = world.ctx("Ada Pell")
    return [str(world.db.transact(lambda tx: errands.add(tx, ada, "work", 1, {}))) for _ in range(3)]


HANDLERS: dict[str, errands.Handler] = {"work": lambda ctx, errand: errands.Piece(1, "all", whole=True)}


def spoil_errand(patch: pytest.MonkeyPatch, bad: str, error: BaseException) -> None:
    def work(ctx: Ctx, errand: Any) -> errands.Piece:
        if str(errand.id) == bad:
            raise error
        return errands.Piece(1, "all", whole=True)

    patch.setitem(HANDLERS, "work", work)


def lay_lines(world: World) -> list[str]:
    tom = world.ctx("Tom Okafor")
    text = b"title,what\nValve list,typed over\nMeter note,read and kept\nTank log,written down\n"
    sheet = sheets.upload(tom, "l.csv", text)
    sheets.begin(tom, sheet, sheets.view(tom, sheet).version)
    return column("SELECT line FROM idea_line ORDER BY line")(world)


def lay_first_looks(world: World) -> list[str]:
    ideas = [world.noted(f"{name} list") for name in ("Valve", "Tanker", "Bore-hole")]
    lead = world.ctx("Ines Varga")
    factors.keep(lead, content(screen="0.5"), "screens break too often", 0)
    factors.begin_anew(lead)
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
        starting.TRIGGERS,
        lay_triggers,
        kinds.start_due,
        patched(starting, "_fire", lambda tx, ctx, trigger_id, kinds: trigger_id),
        column("SELECT trigger_id FROM run"),
        timedelta(hours=1),
    ),
    Scene(
        handover.HANDED,
        lay_handed,
        handover.take_back_late,
        patched(handover, "take_back", lambda tx, ctx, run_id, fence, why: run_id),
        column("SELECT id FROM run WHERE handed_until IS NULL"),
        MINUTE,
    ),
    Scene(
        life.LEASES,
        lay_leases,
        runs.lose_silent,
        patched(life, "lose", lambda tx, ctx, run_id, why="": run_id),
        column("SELECT id FROM run WHERE state = 'lost'"),
        timedelta(hours=1),
    ),
    Scene(
        life.LAPSES,
        lay_lapses,
        runs.lapse,
        patched(life, "_end_still", lambda tx, ctx, run_id, *_: run_id),
        column("SELECT id FROM run WHERE state = 'lapsed'"),
        timedelta(hours=1),
    ),
    Scene(
        hosts.SILENCE,
        lay_hosts,
        robots.tell_silent,
        patched(hosts, "audit", lambda tx, ctx, action, obj, words: obj),
        column("SELECT object FROM audit WHERE action = 'host silent'"),
        timedelta(minutes=5),
    ),
    Scene(
        effects.EFFECTS,
        lay_effects,
        loops.effects,
        patched(effects, "_one", lambda tx, ctx, effect, carriers: effect.object),
        column("SELECT e.object FROM notification n JOIN effect e ON e.id = n.effect_id"),
    ),
    Scene(
        mails.MAILS,
        lay_mails,
        mails.send_mails,
        patched(mail_server, "hand_over", lambda server, to, subject, body, message_id: to),
        column("SELECT to_address FROM mail WHERE sent_at IS NOT NULL"),
    ),
    Scene(
        telling.DIGESTS,
        lay_digests,
        alerts.digests,
        patched(telling, "_digest", lambda tx, ctx, person_id: person_id),
        column("SELECT person_id FROM mail WHERE kind = 'digest'"),
    ),
    Scene(
        posting.MONTH_ENDS,
        lay_month_ends,
        posting.month_ends,
        patched(posting, "_post_idea_costs", lambda tx, ctx, month, row: row.idea_id),
        column("SELECT idea_id FROM tally_entry WHERE line = 'support' AND idea_id IS NOT NULL"),
    ),
    Scene(
        keys.SECRETS,
        lay_secrets,
        safe.tell_ending,
        patched(keys, "_tell_ending", lambda tx, ctx, row, today: row.id),
        column("SELECT SUBSTRING_INDEX(object, ':', -1) FROM effect WHERE object LIKE 'secret:%%'"),
    ),
    Scene(
        moves.PARKED,
        lay_parked,
        moves.come_back,
        patched(moves, "_come_back", lambda tx, ctx, idea_id: idea_id),
        column("SELECT idea_id FROM idea_stage WHERE from_stage = 'parked'"),
        timedelta(days=3),
    ),
    Scene(
        rolling.ROLLOUTS,
        lay_rollouts,
        rolling.carry_on,
        patched(rolling, "_carry_on", lambda tx, ctx, rollout_id: rollout_id),
        column("SELECT id FROM rollout WHERE state = 'gone back'"),
    ),
    Scene(
        called.CALL_BACKS,
        lay_call_backs,
        lambda ctx: called.tell_callers(ctx, lambda address, body: "told"),
        spoil_call_back,
        column("SELECT run_id FROM run_call_back WHERE state = 'sent'"),
        timedelta(minutes=5),
    ),
    Scene(
        errands.ERRANDS,
        lay_errands,
        lambda ctx: errands.carry_on(ctx, "a" * 32, HANDLERS, actor_of),
        spoil_errand,
        column("SELECT id FROM errand WHERE state = 'done'"),
    ),
    Scene(
        sheet_coming.SHEET_LINES,
        lay_lines,
        lambda ctx: errands.carry_on(ctx, "a" * 32, wiring.ERRANDS, actor_of),
        patched(sheet_coming, "_bring_in", lambda tx, ctx, sheet, columns, known, row, keep_facts: row.line),
        column("SELECT l.line FROM idea_line l JOIN idea i ON i.id = l.idea_id WHERE l.state = 'in'"),
        ends_by_itself=True,
    ),
    Scene(
        factors.FIRST_LOOKS,
        lay_first_looks,
        lambda ctx: errands.carry_on(ctx, "a" * 32, wiring.ERRANDS, actor_of),
        patched(factors, "_anew", lambda tx, ctx, idea_id, version: idea_id),
        column("SELECT SUBSTRING_INDEX(object, ':', -1) FROM audit WHERE action = 'first look anew'"),
    ),
    Scene(
        file_views.FILES,
        lay_files,
        file_views.look_into,
        patched(file_views, "_one", lambda ctx, row: row.id),
        column("SELECT id FROM idea_file WHERE looked_into"),
    ),
    Scene(
        search.TEXTS,
        lay_texts,
        file_views.look_into,
        patched(search, "keep_text", lambda tx, idea_id: idea_id),
        column("SELECT idea_id FROM idea_text"),
    ),
]
NAMES = [scene.work.name for scene in SCENES]
