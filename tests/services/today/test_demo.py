"""The demo world: always the same but for the dates, told through the rules, with something to find."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

import pytest

from tallyman.core.access.permissions import ROLES
from tallyman.core.ideas.way import PATH
from tallyman.core.workshop.changes import changes
from tallyman.demo import history, load, releases, world
from tallyman.formats.package_zip import read_package
from tallyman.services import portfolio, runs, tally
from tallyman.services.cases import worths
from tallyman.services.context import Actor, Ctx, Database
from tallyman.services.holding import scope
from tallyman.services.ideas import page, sheets
from tallyman.services.portfolio import ranking
from tallyman.services.today import desk
from tallyman.services.workshop import releasing
from tallyman.store.records.ideas import StageCount
from tests.conftest import NOW, Databases


@pytest.fixture(scope="module")
def demo(databases: Databases) -> Iterator[tuple[Database, load.Loader]]:
    databases.empty()
    db = databases.connect()
    loader = load.Loader(db, NOW)
    loader.play()
    yield db, loader
    db.close()


def ctx(demo: tuple[Database, load.Loader], name: str = "Ines Varga") -> Ctx:
    return Ctx(demo[0], NOW, demo[1].actors[name])


def test_nothing_is_wrong_with_it(demo: tuple[Database, load.Loader]) -> None:
    assert tally.verify(Ctx(demo[0], NOW, Actor(None, "x"))) == []


def test_every_figure_agrees_wherever_it_stands_and_follows_from_its_working(
    demo: tuple[Database, load.Loader],
) -> None:
    while worths.carry_on(Ctx(demo[0], NOW)):
        pass
    assert portfolio.verify(ctx(demo)) == []


def test_ideas_stand_in_every_stage(demo: tuple[Database, load.Loader]) -> None:
    rows = demo[0].transact(lambda tx: tx.all(StageCount, "ideas.by_stage", **scope(None)))
    stages = {row.stage for row in rows}
    # Drafts are nobody's business but their proposers', so they are not counted.
    assert set(PATH) - stages == {"retired", "draft"}
    assert {"declined", "parked", "merged"} <= stages
    drafted = demo[0].transact(lambda tx: tx.execute("SELECT id FROM idea WHERE stage = 'draft'").fetchall())
    assert drafted


def test_there_are_some_hundred_and_twenty_ideas_from_every_way_in(
    demo: tuple[Database, load.Loader],
) -> None:
    rows = demo[0].transact(
        lambda tx: tx.execute("SELECT source, amends_id, hours_low, stage FROM idea").fetchall()
    )
    # The last one is what a colleague wished for on a self-service page.
    assert len(rows) == 121
    assert {row["source"] for row in rows} >= {"interview", "runs already"}
    assert any(row["amends_id"] for row in rows)
    ranked = [row for row in rows if row["stage"] in ("noted", "screened", "sized", "backed")]
    # A wish says nothing of volumes yet; its hours come with the answers.
    assert all(row["hours_low"] is not None for row in ranked if row["amends_id"] is None)
    late = page.page_of_ideas(ctx(demo), page.Wanted(late=True)).rows
    assert 3 <= len(late) <= 25


def test_a_list_waits_to_be_brought_in(demo: tuple[Database, load.Loader]) -> None:
    mine = sheets.mine(ctx(demo, "Tom Okafor"))[0].id
    counts = sheets.view(ctx(demo, "Tom Okafor"), mine).counts
    assert counts == {"in": 4, "here": 0, "repeat": 0, "conflict": 1, "fault": 4}


def test_every_role_has_somebody(demo: tuple[Database, load.Loader]) -> None:
    assert {role for _, _, roles in world.PEOPLE for role in roles} == set(ROLES)


def test_some_deliver_below_their_promise_and_one_well_over(demo: tuple[Database, load.Loader]) -> None:
    rows = [row for row in tally.overview(ctx(demo)).rows if row.live_on]
    shares = {row.title: Decimal(row.saved) / Decimal(row.promised) for row in rows}
    assert shares["Hydrant inspection letters"] < Decimal("0.9")
    assert shares["Laboratory certificates into the job book"] > Decimal("1.3")


def test_the_cause_can_be_found_in_what_was_handed_back(demo: tuple[Database, load.Loader]) -> None:
    rows = demo[0].transact(
        lambda tx: tx.execute(
            "SELECT l.version, SUM(e.units) AS units, SUM(e.line = 'handed back') AS back FROM tally_entry e "
            "JOIN run r ON r.id = e.run_id JOIN package_release l ON l.id = r.release_id "
            "JOIN package p ON p.id = l.package_id WHERE p.name = 'hydrant-letters' GROUP BY l.version ORDER BY 1"
        ).fetchall()
    )
    often = {row["version"]: row["back"] / row["units"] for row in rows}
    assert often["1.1.0"] > 3 * often["1.0.0"]


def test_runs_of_two_years_lie_in_the_order_of_time(demo: tuple[Database, load.Loader]) -> None:
    rows = runs.page_of_runs(ctx(demo), state=None, routine=None, robot=None, after=None, limit=200).rows
    # Those wait that a call or a colleague started just now, and the one that asks for somebody's computer.
    assert [row.state for row in rows if row.started_at is None] == ["waiting"] * 4 and len(rows) == 200
    found = [row for row in rows if row.started_at is not None]
    ended = [row.ended_at for row in found]
    assert [row.started_at for row in found] == sorted((row.started_at for row in found), reverse=True)
    assert max(ended) < NOW


def test_the_outage_left_a_gap(demo: tuple[Database, load.Loader]) -> None:
    first, last = history.OUTAGE
    row = demo[0].transact(
        lambda tx: tx.execute(
            "SELECT COUNT(*) AS n FROM run WHERE started_at BETWEEN %(now)s - INTERVAL %(a)s DAY "
            "AND %(now)s - INTERVAL %(b)s DAY",
            {"now": NOW, "a": first - 1, "b": last},
        ).fetchone()
    )
    assert row == {"n": 0}


def test_a_rate_changed_once_and_entries_keep_theirs(demo: tuple[Database, load.Loader]) -> None:
    rows = demo[0].transact(
        lambda tx: tx.execute(
            "SELECT DISTINCT ROUND(money / hours) AS an_hour FROM tally_entry WHERE line = 'time saved' AND hours > 0"
        ).fetchall()
    )
    assert {int(row["an_hour"]) for row in rows} <= {36, 38}
    assert len(rows) == 2


@pytest.mark.parametrize("package", ["check-readings", "hydrant-letters", "lab-sheets"])
def test_sample_packages_pass_the_check_on_arrival(package: str) -> None:
    found = read_package(releases.zipped(package, "3.2.1"))
    assert (found.name, found.version) == (package, "3.2.1")


def test_everyone_finds_something_on_today(demo: tuple[Database, load.Loader]) -> None:
    for name in ("Ines Varga", "Tom Okafor", "Mei Tanaka", "Jonas Lindqvist", "Ada Pell"):
        assert desk.view(ctx(demo, name)).waits, name


def test_there_is_something_to_decide(demo: tuple[Database, load.Loader]) -> None:
    rows = ranking.view(ctx(demo)).rows
    assert sum(row.may_back for row in rows) >= 5


def test_old_months_are_closed_and_two_are_open(demo: tuple[Database, load.Loader]) -> None:
    months = tally.overview(ctx(demo)).months
    assert [row.state for row in months[-3:]] == ["closed", "open", "open"]


@pytest.mark.parametrize("package", list(releases.NEXT))
def test_what_is_worked_on_is_an_addition(package: str) -> None:
    folder = releases.PACKAGES / package
    for name, now, _ in releases.NEXT[package]:
        assert (folder / name).read_text().count(now) == 1, f"{package}: {name}"
    before, after = (releases.zipped(package, one) for one in ("1.1.0", releases.NUMBERLESS))
    found = changes(*(releasing.declared(one, read_package(one)) for one in (before, after)))
    assert {"addition"} <= {one.weight for one in found} <= {"addition", "fix"}


@pytest.mark.parametrize("package", list(releases.SINCE))
def test_every_edit_since_the_first_release_is_one(package: str) -> None:
    folder = releases.PACKAGES / package
    for name, now, _ in releases.SINCE[package]:
        assert now in (folder / name).read_text(encoding="utf-8"), now
    assert read_package(releases.zipped(package, "1.0.0")).version == "1.0.0"
