"""The safe: values are sealed, shown to nobody, opened for use, noted, and wrapped anew under load."""

from __future__ import annotations

import json
import threading
import zlib
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest

from tallyman import config
from tallyman.core.runs import Need
from tallyman.errors import Conflict, Forbidden, InputFaults, Refused, Unavailable
from tallyman.formats.envelope import CannotOpen, Sealed, new_key, seal, unseal
from tallyman.services import safe
from tallyman.services.context import Ctx
from tallyman.services.house import areas
from tallyman.services.runs import reports
from tallyman.services.starts import routine_page
from tests.conftest import NOW
from tests.world import MANIFEST, World, package

VALUE = "heron-on-the-weir-4"


@pytest.fixture(autouse=True)
def keys(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(config.settings(), "keys_file", str(tmp_path / "keys.json"))


def put(world: World, name: str = "billing-login", value: str = VALUE, **more: Any) -> int:
    return safe.make(world.ctx("Ines Varga"), safe.Given(name, "package", value, **more))


def opened(world: World, name: str = "billing-login") -> str | None:
    ctx = world.program()
    return world.db.transact(lambda tx: safe.open_secret(tx, ctx, "package", name, "a test"))


def test_a_value_is_nowhere_in_the_database_and_in_no_answer(world: World) -> None:
    number = put(world)
    kept = world.row("SELECT * FROM secret")
    trail = world.rows("SELECT * FROM audit")
    assert VALUE not in str(kept) and VALUE.encode() not in kept["sealed"]
    assert VALUE not in str(trail)
    ines = world.ctx("Ines Varga")
    assert VALUE not in str(safe.listed(ines)) + str(safe.one(ines, number))
    assert opened(world) == VALUE


def test_uses_are_noted_by_whom_for_what_once_within_the_hour(world: World) -> None:
    number = put(world)
    opened(world)
    opened(world)
    later = world.program(timedelta(hours=2))
    world.db.transact(lambda tx: safe.open_secret(tx, later, "package", "billing-login", "a test"))
    uses = safe.one(world.ctx("Ines Varga"), number).uses
    assert [(row.who, row.what) for row in uses] == [("Tallyman", "a test")] * 2


@pytest.mark.parametrize(
    ("field", "given"),
    [
        ("name", {"name": "Billing Login"}),
        ("value", {"value": ""}),
        ("value", {"value": "x" * 9000}),
        ("about", {"about": "x" * 400}),
        ("area", {"area_id": 999_999}),
    ],
)
def test_what_does_not_fit_is_refused_by_field_without_the_value(
    world: World, field: str, given: dict[str, Any]
) -> None:
    with pytest.raises(InputFaults) as caught:
        put(world, **{"name": "billing-login", **given})
    assert [fault.field for fault in caught.value.faults] == [field]
    if field == "value":
        assert caught.value.faults[0].value == "…"


def test_a_name_is_taken_once_and_free_again_after_retiring(world: World) -> None:
    number = put(world)
    with pytest.raises(InputFaults, match="choose another name"):
        put(world)
    safe.retire(world.ctx("Ines Varga"), number)
    assert opened(world) is None
    assert world.row("SELECT sealed FROM secret")["sealed"] == b""
    put(world)


def test_two_who_change_one_secret_are_told(world: World) -> None:
    number = put(world)
    ines = world.ctx("Ines Varga")
    safe.change(ines, number, safe.Change("otter-under-bridge-5", "new login", None, None), 1)
    with pytest.raises(Conflict):
        safe.change(ines, number, safe.Change("late-value-6", "", None, None), 1)
    assert opened(world) == "otter-under-bridge-5"


def test_only_those_with_the_permission_there_know_of_a_secret(world: World) -> None:
    number = put(world)
    for name in ("Ada Pell", "Mei Tanaka", "Ruth Abernathy"):
        with pytest.raises(Forbidden):
            safe.listed(world.ctx(name))
        with pytest.raises(Forbidden):
            safe.one(world.ctx(name), number)


def test_a_sealed_value_opens_only_as_what_it_is_and_only_with_its_key() -> None:
    ring = config.key_ring()
    sealed = seal(ring, b"value", "package:one")
    assert unseal(ring, sealed, "package:one") == b"value"
    with pytest.raises(CannotOpen):
        unseal(ring, sealed, "package:two")
    with pytest.raises(CannotOpen):
        unseal(ring, Sealed(sealed.key_id, sealed.wrapped, sealed.body[:-1] + b"x"), "package:one")
    with pytest.raises(CannotOpen):
        unseal(type(ring)("k9", {"k9": new_key()}, b""), sealed, "package:one")


def test_keys_are_rotated_under_load_without_losing_a_value(world: World) -> None:
    names = [f"secret-{n}" for n in range(60)]
    for name in names:
        put(world, name, f"value of {name}")
    stop, faults = threading.Event(), []
    newest = {name: f"value of {name}" for name in names}
    lock = threading.Lock()

    def read() -> None:
        at = 0
        while not stop.is_set():
            name = names[at % len(names)]
            at += 7
            with lock:
                if (found := opened(world, name)) != newest[name]:
                    faults.append((name, found))

    def write() -> None:
        at = 0
        ines = world.ctx("Ines Varga")
        while not stop.is_set():
            name = names[at % len(names)]
            at += 11
            with lock:
                row = world.row("SELECT id, version FROM secret WHERE name = %(n)s", n=name)
                newest[name] = f"value {at} of {name}"
                safe.change(ines, row["id"], safe.Change(newest[name], "", None, None), row["version"])

    def guarded(work: Any) -> None:
        try:
            work()
        except Exception as error:
            faults.append(("thread", repr(error)))

    threads = [threading.Thread(target=guarded, args=(work,)) for work in (read, write, read)]
    for thread in threads:
        thread.start()
    done = [safe.rotate(world.program()) for _ in range(5)]
    stop.set()
    for thread in threads:
        thread.join()
    assert faults == []
    assert [one["key"] for one in done] == ["k2", "k3", "k4", "k5", "k6"]
    assert done[0]["wrapped"] >= 1
    safe.rewrap_all(world.program())
    assert world.rows("SELECT DISTINCT key_id FROM secret") == [{"key_id": "k6"}]
    assert safe.forget_former_keys(world.program()) == ["k1", "k2", "k3", "k4", "k5"]
    assert {name: opened(world, name) for name in names} == newest


def test_a_rotation_cut_short_is_finished_by_the_next(world: World) -> None:
    put(world)
    config.add_key()
    assert world.row("SELECT key_id FROM secret") == {"key_id": "k1"}
    assert opened(world) == VALUE
    assert safe.forget_former_keys(world.program()) == ["k1"]
    assert opened(world) == VALUE


def test_a_lost_key_is_said_and_nothing_else_breaks(world: World) -> None:
    put(world)
    Path(config.settings().keys_file).unlink()
    with pytest.raises(Unavailable, match="billing-login cannot be opened"):
        opened(world)


def test_those_who_can_change_it_are_told_early_once_and_again_when_it_ended(world: World) -> None:
    put(world, expires_on=date(2026, 3, 20))
    put(world, "far-off", expires_on=date(2027, 3, 20))
    assert safe.tell_ending(world.program()) == 1
    assert safe.tell_ending(world.program(timedelta(days=1))) == 0
    assert safe.tell_ending(world.program(timedelta(days=10))) == 1
    assert safe.tell_ending(world.program(timedelta(days=11))) == 0
    world.settle(timedelta(days=12))
    texts = world.rows("SELECT DISTINCT text FROM notification ORDER BY text")
    assert [row["text"] for row in texts] == [
        "The secret billing-login ended on 20 Mar 2026; put in a new value",
        "The secret billing-login ends on 20 Mar 2026; put in a new value",
    ]


# ---- what packages ask for ---------------------------------------------------------------------------

ASKING = 'secrets = ["billing-login"]\n' + MANIFEST


def ask(world: World) -> tuple[Any, int]:
    host = world.machine()
    from tallyman.services.workshop import packages

    data = package(manifest=ASKING)
    release = packages.release(world.ctx("Jonas Lindqvist"), data, packages.Given("First"))
    return host, world.routine(release=release)


def pre_check(world: World, routine: int) -> Need:
    found = routine_page.one(world.ctx("Sol Marin"), routine).pre_check
    return next(need for need in found if need.key == "secrets")


def test_the_pre_check_names_secrets_that_are_not_there(world: World) -> None:
    _, routine = ask(world)
    assert not pre_check(world, routine).met
    put(world, area_id=world.area)
    assert pre_check(world, routine).met


def test_a_secret_of_another_area_is_not_given_out(world: World) -> None:

    host, routine = ask(world)
    put(world, area_id=areas.add_area(world.ctx("Ines Varga"), "Laboratory", None))
    assert not pre_check(world, routine).met
    world.start(routine)
    work = world.take(host)
    with pytest.raises(Refused, match="billing-login"):
        reports.secrets_of(world.program(), host, work.run, work.fence)


def test_the_runs_own_host_gets_the_values_and_the_use_is_noted(world: World) -> None:
    host, routine = ask(world)
    number = put(world)
    world.start(routine)
    work = world.take(host)
    assert work.secrets == ["billing-login"]
    runner = Ctx(world.db, NOW, world.program().actor)
    assert reports.secrets_of(runner, host, work.run, work.fence).values == {"billing-login": VALUE}
    uses = safe.one(world.ctx("Ines Varga"), number).uses
    assert uses[0].what == f"R-{work.run} of Count rows"
    world.finish(host, work, outputs={"rows": 3})
    with pytest.raises(Exception, match="not this host's"):
        reports.secrets_of(runner, host, work.run, work.fence)


def test_a_value_that_a_runner_lets_through_is_taken_out_on_arrival(world: World) -> None:
    host, routine = ask(world)
    put(world)
    run = world.start(routine)
    work = world.take(host)
    line = {"at": NOW.isoformat(), "level": "info", "text": f"signed in with {VALUE}"}
    step = {"n": 1, "name": f"Sign in {VALUE}", "started_at": NOW, "data_in": {"word": VALUE}}
    reports.report(world.program(), host, run, work.fence, 1, [line], [step])
    ctx = world.program(timedelta(minutes=1))
    reports.outcome(
        ctx,
        host,
        run,
        work.fence,
        reports.Outcome("failed", True, f"{VALUE} was refused", {"rows": VALUE}, {}),
    )
    packed = world.row("SELECT lines_packed FROM run_report")["lines_packed"]
    assert json.loads(zlib.decompress(packed))[0]["text"] == "signed in with •••"
    everything = str(world.rows("SELECT * FROM run")) + str(world.rows("SELECT * FROM run_step"))
    assert VALUE not in everything
    assert "••• was refused" in everything


def test_a_secret_that_a_routine_asks_for_is_not_taken_out(world: World) -> None:
    _, routine = ask(world)
    number = put(world)
    assert routine
    with pytest.raises(Refused, match="Count rows"):
        safe.retire(world.ctx("Ines Varga"), number)
