"""How many statements a page takes does not grow with its rows."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

import pytest

from tallyman.services import access, people, robots, runs, tally
from tallyman.services.cases import business_case
from tallyman.services.house import areas, systems, trail
from tallyman.services.ideas import exports, page
from tallyman.services.portfolio import ranking
from tallyman.services.runs import dispatch
from tallyman.services.starts import triggers
from tallyman.services.today import desk
from tallyman.services.upkeep import health
from tallyman.services.upkeep.answers import Disk
from tallyman.services.workshop import packages, routines
from tallyman.store.db import Tx
from tallyman.store.records.common import ClosedDay
from tests.world import World

DISK = (Disk(2_000_000, 1_000_000), "1.0")


@contextmanager
def counted(patch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """The text of every statement that is run meanwhile."""
    found: list[str] = []
    real = Tx.execute

    def execute(self: Tx, sql: str, params: Any = None) -> Any:
        found.append(sql)
        return real(self, sql, params)

    with patch.context() as inner:
        inner.setattr(Tx, "execute", execute)
        yield found


def one_more(world: World, n: int) -> None:
    """One row more of nearly everything: an idea, a robot's host, a routine with a lock and a waiting run."""
    sol = world.ctx("Sol Marin")
    area = areas.add_area(sol, f"Area {n}", world.area)
    areas.close_day(sol, area, (world.now + timedelta(days=n)).date(), "a fair")
    host = robots.add_host(sol, f"Sluice {n}", 1).id
    robots.add_robot(sol, robots.Given(f"Heron {n}", host, [f"tag {n}"], [area]))
    number = world.routine(
        f"Routine {n}", world.release(f"2.0.{n}"), area_id=area, locks=(f"login {n}",), tags=["none"]
    )
    triggers.add(sol, number, triggers.Given({"expr": "0 9 * * 1"}, "UTC", on_closed="skip"))
    world.start(number, f"run {n}")
    world.noted(f"{chr(65 + n % 26)}{n} list of valves")
    world.stranger(f"Person {chr(65 + n)}")


def many(world: World, rows: int) -> None:
    for n in range(rows):
        one_more(world, n)
    world.settle()


PAGES: dict[str, Callable[[World], object]] = {
    "today": lambda world: desk.view(world.ctx("Ines Varga")),
    "ideas": lambda world: page.page_of_ideas(world.ctx("Ines Varga"), page.Wanted()),
    "own ideas": lambda world: page.mine(world.ctx("Ada Pell")),
    "the map of stages": lambda world: exports.stage_map(world.ctx("Ines Varga")),
    "runs": lambda world: runs.page_of_runs(
        world.ctx("Sol Marin"), state=None, routine=None, robot=None, after=None, limit=50
    ),
    "robots": lambda world: robots.view(world.ctx("Sol Marin")),
    "routines": lambda world: routines.listed(world.ctx("Sol Marin")),
    "packages": lambda world: packages.listed(world.ctx("Jonas Lindqvist")),
    "portfolio": lambda world: ranking.view(world.ctx("Ines Varga")),
    "value": lambda world: tally.overview(world.ctx("Ines Varga")),
    "health": lambda world: health.page(world.ctx("Sol Marin"), *DISK),
    "people": lambda world: people.listed(world.ctx("Ines Varga"), None),
    "access": lambda world: access.holders(world.ctx("Ines Varga")),
    "systems": lambda world: systems.listed(world.ctx("Ines Varga"), ""),
    "the trail": lambda world: trail.page(world.ctx("Ines Varga"), trail.Asked(), None, 50),
}


def test_no_page_takes_more_statements_with_more_rows(world: World, monkeypatch: pytest.MonkeyPatch) -> None:
    world.live()
    many(world, 3)

    def counts() -> dict[str, int]:
        found = {}
        for name, show in PAGES.items():
            with counted(monkeypatch) as statements:
                show(world)
            found[name] = len(statements)
        return found

    few = counts()
    for n in range(3, 14):
        one_more(world, n)
    world.settle()
    assert counts() == few


def test_a_robot_that_may_take_nothing_is_told_so_with_few_statements(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    host = world.machine()
    many(world, 2)

    def ask() -> int:
        with counted(monkeypatch) as statements:
            assert dispatch.take(world.program(), host) is None
        return len(statements)

    few = ask()
    for n in range(2, 12):
        one_more(world, n)
    assert ask() == few


def test_what_does_not_change_is_read_once_in_a_transaction(
    world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    idea = world.offered()
    with counted(monkeypatch) as statements:
        business_case.view(world.ctx("Mei Tanaka"), idea)
    assert [sql for sql in {*statements} if statements.count(sql) > 1 and "FROM closed_day" in sql] == []
    twice = {sql for sql in statements if statements.count(sql) > 1}
    assert not {sql for sql in twice if "idea_fact" in sql or "FROM company" in sql}


def test_rows_that_are_kept_are_read_anew_after_a_change(world: World) -> None:
    def work(tx: Tx) -> list[int]:
        before = len(tx.kept(ClosedDay, "common.closed_days"))
        same = len(tx.kept(ClosedDay, "common.closed_days"))
        tx.write("common.add_closed_day", day=world.now.date(), name="a fair")
        return [before, same, len(tx.kept(ClosedDay, "common.closed_days"))]

    assert world.db.transact(work) == [0, 0, 1]
