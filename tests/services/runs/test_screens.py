"""Pictures of the screen when a run stalls: where an area wants them, once a stall, seen like the log."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from datetime import timedelta

import pytest

from tallyman.errors import Forbidden, InputFaults, NotFound
from tallyman.services.context import Actor
from tallyman.services.house import areas
from tallyman.services.runs import page as run_page
from tallyman.services.runs import screens, uploads
from tests.services.runs.test_stalling import MINUTE, beat
from tests.world import World, picture


@pytest.fixture
def stalled(world: World) -> World:
    """A run that gives no sign since it began, twenty minutes ago, in an area below one that wants pictures."""
    world.host = world.machine()
    routine = world.routine("Hydrant letters")
    world.start(routine)
    world.work = world.take(world.host)
    return world


def wants(world: World, on: bool = True) -> None:
    areas.set_screens(world.ctx("Sol Marin"), world.area, on)


def asked(world: World, later: timedelta) -> list[int]:
    """For which runs a heartbeat asks for a picture."""
    return beat(world, later, later).screens


def sent(world: World, data: bytes) -> str:
    digest = hashlib.sha256(data).hexdigest()
    uploads.begin(world.program(), world.host, digest, len(data))
    uploads.put(world.program(), world.host, digest, 0, data)
    return digest


def keep(world: World, digest: str | None, said: str = "") -> None:
    screens.keep(world.program(12 * MINUTE), world.host, world.work.run, world.work.fence, digest, said)


def test_it_is_asked_for_where_its_area_or_one_above_wants_it(stalled: World) -> None:
    assert asked(stalled, 11 * MINUTE) == []
    wants(stalled)
    # Called stalled with one heartbeat, pictured after the next.
    assert asked(stalled, 12 * MINUTE) == [stalled.work.run]
    above = areas.add_area(stalled.ctx("Ines Varga"), "Merrowdale", None)
    wants(stalled, False)
    areas.move(stalled.ctx("Ines Varga"), stalled.area, above, 1)
    areas.set_screens(stalled.ctx("Ines Varga"), above, True)
    assert asked(stalled, 13 * MINUTE) == [stalled.work.run]


def test_the_screen_of_a_persons_own_computer_is_never_pictured(stalled: World) -> None:
    wants(stalled)
    stalled.db.transact(
        lambda tx: tx.execute(
            "UPDATE run SET attended = 'answer' WHERE id = %(id)s", {"id": stalled.work.run}
        )
    )
    asked(stalled, 11 * MINUTE)
    assert asked(stalled, 12 * MINUTE) == []
    keep(stalled, sent(stalled, picture()))
    assert run_page.one(stalled.ctx("Sol Marin", 12 * MINUTE), stalled.work.run).screen is None


def test_it_is_seen_by_whoever_may_read_the_log_and_by_nobody_else(stalled: World) -> None:
    wants(stalled)
    asked(stalled, 11 * MINUTE)
    keep(stalled, sent(stalled, picture()))
    sol = stalled.ctx("Sol Marin", 12 * MINUTE)
    shown = run_page.one(sol, stalled.work.run).screen
    assert shown is not None and (shown.there, shown.said) == (True, "")
    assert screens.picture(sol, stalled.work.run) == picture()
    with pytest.raises(Forbidden):
        screens.picture(stalled.ctx("Ada Pell"), stalled.work.run)
    elsewhere = replace(
        sol,
        actor=Actor(None, "Elsewhere", permissions=frozenset({"run.see"}), reach={"run.see": frozenset()}),
    )
    with pytest.raises((Forbidden, NotFound)):
        screens.picture(elsewhere, stalled.work.run)
    # One a stall.
    assert asked(stalled, 13 * MINUTE) == []
    told = stalled.rows("SELECT words FROM audit WHERE object = %(o)s", o=f"run:{stalled.work.run}")
    assert "Took a picture of its screen" in [row["words"] for row in told]


def test_why_there_is_none_is_said_once(stalled: World) -> None:
    wants(stalled)
    asked(stalled, 11 * MINUTE)
    keep(stalled, None, "its package draws on no screen that can be seen from here")
    sol = stalled.ctx("Sol Marin", 12 * MINUTE)
    shown = run_page.one(sol, stalled.work.run).screen
    assert shown is not None and not shown.there
    assert shown.said.startswith("its package draws on no screen")
    assert asked(stalled, 13 * MINUTE) == []
    with pytest.raises(NotFound):
        screens.picture(sol, stalled.work.run)


def test_only_pictures_that_this_host_sent_and_that_are_wanted_are_kept(stalled: World) -> None:
    wants(stalled)
    asked(stalled, 11 * MINUTE)
    for digest in (sent(stalled, b"GIF89a of old"), "0" * 64):
        with pytest.raises(InputFaults, match="PNG"):
            keep(stalled, digest)
    wants(stalled, False)
    keep(stalled, sent(stalled, picture()))
    assert run_page.one(stalled.ctx("Sol Marin"), stalled.work.run).screen is None


def test_only_who_may_change_an_area_says_so(stalled: World) -> None:
    with pytest.raises(Forbidden):
        areas.set_screens(stalled.ctx("Ada Pell"), stalled.area, True)
    wants(stalled)
    wants(stalled)
    told = stalled.rows("SELECT words FROM audit WHERE action = 'area changed'")
    assert [row["words"] for row in told] == [
        "When a run in Metering stalls, a picture of its screen is taken from now on"
    ]
