"""Values that a secret has of its own for one host or robot: who gets which, and what becomes of them."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound, Refused
from tallyman.services import robots, safe
from tallyman.services.robots import HostByToken
from tallyman.services.runs import reports
from tallyman.services.safe import own_values
from tallyman.services.workshop import packages
from tests.world import MANIFEST, World, package

ASKING = 'secrets = ["billing-login"]\n' + MANIFEST
FOR_ALL, OF_HOST, OF_ROBOT = "reed-for-all-1", "weir-of-host-2", "heron-of-robot-3"


@pytest.fixture
def asking(world: World) -> World:
    """A routine whose package asks for a secret, with two robots on one host."""
    world.host = world.machine(seats=2, robots_=2)
    release = packages.release(
        world.ctx("Jonas Lindqvist"), package(manifest=ASKING), packages.Given("First")
    )
    world.number = world.routine(release=release, run_limit=2)
    world.second = safe.make(world.ctx("Ines Varga"), safe.Given("billing-login", "package", FOR_ALL))
    return world


def put(world: World, whose: own_values.Whose, number: int, value: str, **more: object) -> None:
    own_values.put(world.ctx("Ines Varga"), world.second, own_values.GivenOwn(whose, number, value, **more))


def got(world: World, host: HostByToken, key: str) -> tuple[str, str]:
    """Which robot took the next run, and which value it got."""
    world.start(world.number, key)
    work = world.take(host)
    value = reports.secrets_of(world.program(), host, work.run, work.fence).values["billing-login"]
    world.finish(host, work, later=timedelta())
    return work.robot, value


def robot(world: World, name: str) -> int:
    return int(world.row("SELECT id FROM robot WHERE name = %(n)s", n=name)["id"])


def test_a_robots_own_goes_before_its_hosts_own_and_that_before_the_one_for_all(asking: World) -> None:
    assert got(asking, asking.host, "a")[1] == FOR_ALL
    put(asking, "host", asking.host.id, OF_HOST)
    assert got(asking, asking.host, "b")[1] == OF_HOST
    name, _ = got(asking, asking.host, "c")
    put(asking, "robot", robot(asking, name), OF_ROBOT)
    values = {got(asking, asking.host, f"more {n}") for n in range(8)}
    assert {value for who, value in values if who == name} <= {OF_ROBOT}
    assert {value for who, value in values if who != name} <= {OF_HOST}
    other = robots.add_host(asking.ctx("Sol Marin"), "Sluice", 1)
    put(asking, "host", other.id, "sluice-of-host-4")
    assert "sluice-of-host-4" not in {got(asking, asking.host, f"again {n}")[1] for n in range(3)}


def test_it_stands_below_its_secret_and_its_uses_are_told_there(asking: World) -> None:
    put(asking, "host", asking.host.id, OF_HOST)
    assert [row.name for row in safe.listed(asking.ctx("Ines Varga")).secrets] == ["billing-login"]
    got(asking, asking.host, "a")
    shown = safe.one(asking.ctx("Ines Varga"), asking.second)
    assert [(one.host, one.robot, one.used_at is not None) for one in shown.own] == [("Weir", None, True)]
    assert len(shown.uses) == 1
    own_values.take_out(asking.ctx("Ines Varga"), asking.second, shown.own[0].id)
    after = safe.one(asking.ctx("Ines Varga"), asking.second)
    assert (after.own, len(after.uses)) == ([], 1)
    assert got(asking, asking.host, "b")[1] == FOR_ALL
    # The host may have one of its own again, and its value is gone from the database meanwhile.
    assert asking.row("SELECT sealed FROM secret WHERE own_of IS NOT NULL")["sealed"] == b""
    put(asking, "host", asking.host.id, "weir-of-host-5")
    assert got(asking, asking.host, "c")[1] == "weir-of-host-5"
    with pytest.raises(NotFound):
        own_values.take_out(asking.ctx("Ines Varga"), asking.second, shown.own[0].id)


def test_put_in_again_it_is_replaced(asking: World) -> None:
    put(asking, "host", asking.host.id, OF_HOST)
    put(asking, "host", asking.host.id, "weir-of-host-6")
    assert asking.row("SELECT COUNT(*) AS n FROM secret WHERE own_of IS NOT NULL")["n"] == 1
    assert got(asking, asking.host, "a")[1] == "weir-of-host-6"
    acts = asking.rows("SELECT words FROM audit WHERE action = 'secret changed' ORDER BY id")
    assert [row["words"] for row in acts] == [
        "A value of billing-login of its own for the host Weir",
        "Another value of billing-login of its own for the host Weir",
    ]


def test_what_a_run_says_is_cleaned_of_every_value_of_its_secrets(asking: World) -> None:
    put(asking, "host", asking.host.id, OF_HOST)
    cleaner = asking.db.transact(lambda tx: safe.redactor(tx, ["billing-login"]))
    told = cleaner.text(f"signed in with {OF_HOST}, not {FOR_ALL}")
    assert OF_HOST not in told and FOR_ALL not in told


def test_its_end_is_told_with_whose_it_is(asking: World) -> None:
    ends = (asking.now + timedelta(days=3)).date()
    put(asking, "host", asking.host.id, OF_HOST, expires_on=ends)
    assert safe.tell_ending(asking.program()) == 1
    asking.settle()
    told = asking.rows("SELECT DISTINCT text FROM notification WHERE text LIKE '%%billing-login%%'")
    assert [row["text"] for row in told] == [
        "The secret billing-login of Weir ends on 13 Mar 2026; put in a new value"
    ]


def test_they_go_with_their_secret_to_another_area(asking: World) -> None:
    put(asking, "host", asking.host.id, OF_HOST)
    moved = safe.Change(None, "", None, asking.area)
    safe.change(asking.ctx("Ines Varga"), asking.second, moved, 1)
    areas = asking.rows("SELECT DISTINCT area_id FROM secret")
    assert [row["area_id"] for row in areas] == [asking.area]


def test_a_new_key_wraps_them_too_and_they_go_with_their_secret(asking: World) -> None:
    put(asking, "robot", robot(asking, "Dipper 1"), OF_ROBOT)
    key = safe.rotate(asking.program())["key"]
    assert {row["key_id"] for row in asking.rows("SELECT key_id FROM secret")} == {key}
    with pytest.raises(Refused, match="is asked for by"):
        safe.retire(asking.ctx("Ines Varga"), asking.second)
    free = safe.make(asking.ctx("Ines Varga"), safe.Given("quill-login", "package", FOR_ALL))
    given = own_values.GivenOwn("host", asking.host.id, OF_HOST)
    own_values.put(asking.ctx("Ines Varga"), free, given)
    safe.retire(asking.ctx("Ines Varga"), free)
    left = asking.rows("SELECT sealed FROM secret WHERE id = %(id)s OR own_of = %(id)s", id=free)
    assert [row["sealed"] for row in left] == [b"", b""]


@pytest.mark.parametrize(
    ("whose", "number", "value", "field"),
    [("host", 9999, OF_HOST, "host"), ("robot", 9999, OF_HOST, "robot"), ("host", 0, "short", "value")],
)
def test_what_does_not_fit_names_its_field(
    asking: World, whose: own_values.Whose, number: int, value: str, field: str
) -> None:
    with pytest.raises(InputFaults) as refused:
        put(asking, whose, number or asking.host.id, value)
    assert [fault.field for fault in refused.value.faults] == [field]


def test_only_who_may_change_the_secret_does(asking: World) -> None:
    given = own_values.GivenOwn("host", asking.host.id, OF_HOST)
    with pytest.raises(Forbidden):
        own_values.put(asking.ctx("Ada Pell"), asking.second, given)
    account = safe.make(asking.ctx("Ines Varga"), safe.Given("meterbot", "run-as", "reed-and-rush-7"))
    with pytest.raises(Refused, match="password of one account"):
        own_values.put(asking.ctx("Ines Varga"), account, given)
