"""Named values, which are no secrets: given to packages by name, and read by whoever sees the list."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tallyman.errors import InputFaults
from tallyman.services import safe
from tallyman.services.runs import reports
from tallyman.services.safe import own_values
from tallyman.services.workshop import packages
from tests.world import MANIFEST, World, package

ASKING = 'secrets = ["meter-store-address"]\n' + MANIFEST
ADDRESS, ON_WEIR = "http://store.merrowdale.example", "5"


@pytest.fixture
def named(world: World) -> World:
    """A routine whose package asks for a named value."""
    world.host = world.machine()
    release = packages.release(
        world.ctx("Jonas Lindqvist"), package(manifest=ASKING), packages.Given("First")
    )
    world.number = world.routine(release=release)
    world.second = safe.make(
        world.ctx("Ines Varga"), safe.Given("meter-store-address", "named", ADDRESS, world.area)
    )
    return world


def shown(world: World) -> str | None:
    (row,) = safe.listed(world.ctx("Ines Varga")).secrets
    return row.value


def got(world: World, key: str) -> str:
    world.start(world.number, key)
    work = world.take(world.host)
    handed = reports.secrets_of(world.program(), world.host, work.run, work.fence)
    world.finish(world.host, work, later=timedelta())
    assert handed.named == ["meter-store-address"]
    return handed.values["meter-store-address"]


def test_a_run_is_given_it_and_whoever_sees_the_list_reads_it(named: World) -> None:
    assert shown(named) == ADDRESS == got(named, "a")
    assert safe.one(named.ctx("Ines Varga"), named.second).uses[0].what.startswith("R-")
    # Reading the list is no use of it.
    assert len(safe.one(named.ctx("Ines Varga"), named.second).uses) == 1


def test_one_of_its_own_for_a_host_may_be_short_and_stands_there_too(named: World) -> None:
    ines = named.ctx("Ines Varga")
    own_values.put(ines, named.second, own_values.GivenOwn("host", named.host.id, ON_WEIR))
    assert [one.value for one in safe.one(ines, named.second).own] == [ON_WEIR]
    assert got(named, "b") == ON_WEIR


def test_it_is_not_taken_out_of_what_a_run_says(named: World) -> None:
    ines = named.ctx("Ines Varga")
    own_values.put(ines, named.second, own_values.GivenOwn("host", named.host.id, ON_WEIR))
    cleaned = named.db.transact(
        lambda tx: safe.redactor(tx, ["meter-store-address"]).text(f"15 rows from {ADDRESS}")
    )
    assert cleaned == f"15 rows from {ADDRESS}"


def test_its_history_says_what_it_was(named: World) -> None:
    safe.change(named.ctx("Ines Varga"), named.second, safe.Change("http://other", "", None, named.area), 1)
    assert shown(named) == "http://other"
    told = named.rows("SELECT words FROM audit WHERE object = %(o)s ORDER BY id", o=f"secret:{named.second}")
    assert [row["words"] for row in told] == [
        f"Gave the named value meter-store-address: {ADDRESS}",
        "Changed the named value meter-store-address: http://other",
    ]


def test_a_name_stands_for_one_value_secret_or_not(named: World) -> None:
    given = safe.Given("meter-store-address", "package", "reed-1-reed")
    with pytest.raises(InputFaults, match="of this name"):
        safe.make(named.ctx("Ines Varga"), given)


def test_secrets_never_stand_in_the_list(named: World) -> None:
    ines = named.ctx("Ines Varga")
    number = safe.make(ines, safe.Given("billing-login", "package", "reed-1-reed"))
    own_values.put(ines, number, own_values.GivenOwn("host", named.host.id, "weir-2-weir"))
    values = {row.name: row.value for row in safe.listed(ines).secrets}
    assert values == {"billing-login": None, "meter-store-address": ADDRESS}
    assert [one.value for one in safe.one(ines, number).own] == [None]
