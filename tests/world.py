"""A small Merrowdale Water for tests: some people, an area, a host, packages, and short ways through."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import datetime, timedelta
from decimal import Decimal
from typing import Any

from PIL import Image

from tallyman.core.access.permissions import permissions_of
from tallyman.core.ideas.matching import Text
from tallyman.engine import loops
from tallyman.engine.wiring import ERRANDS
from tallyman.formats.package_zip import pack
from tallyman.services import people, robots, runs
from tallyman.services.cases import business_case, fact_keeping, promises, sizing
from tallyman.services.context import PROGRAM, Actor, Ctx
from tallyman.services.house import areas
from tallyman.services.ideas import browsing, drafts, review
from tallyman.services.people import hash_password
from tallyman.services.rates import rates
from tallyman.services.robots import HostByToken, host_tokens
from tallyman.services.robots.answers import Robot
from tallyman.services.runs import dispatch, reports
from tallyman.services.runs.answers import WorkGiven
from tallyman.services.upkeep import errands
from tallyman.services.workshop import packages, routines
from tallyman.store.db import Database, Row, Tx

PASSWORD = "meadow-and-weir-9"
HASHED = hash_password(PASSWORD)
ROLES = {
    "Ada Pell": "proposer",
    "Tom Okafor": "reviewer",
    "Mei Tanaka": "analyst",
    "Ines Varga": "lead",
    "Jonas Lindqvist": "builder",
    "Sol Marin": "operator",
    "Corin Dahl": "work owner",
    "Ruth Abernathy": "backer",
}
RATES = {
    "hour_cost": "38",
    "robot_hour": "6",
    "day_rate": "560",
    "seat_year": "5200",
    "support_share": "0.1",
    "other_software": "0",
    "discount_rate": "0.06",
    "robot_hours_day": "18",
    "robot_days_year": "250",
}
MANIFEST = """
name = "count-rows"
version = "{version}"
entry = "main.py"
tags = [{tags}]

[inputs.rows]
type = "integer"
title = "Rows"
minimum = 0

[outputs.rows]
type = "integer"
"""
CODE = """
import tallyman_kit as job

rows = job.inputs.get("rows", 3)
with job.step("Count", rows=rows) as step:
    job.log(f"{rows} rows")
    step.out(counted=rows)
job.count("rows", rows)
job.output(rows=rows)
"""


def picture(colour: str = "white", width: int = 40) -> bytes:
    """A small picture."""
    out = io.BytesIO()
    Image.new("RGB", (width, 20), colour).save(out, "PNG")
    return out.getvalue()


def as_is(robot: Robot, **but: object) -> robots.Given:
    """A robot set up as it is, but for what is said."""
    now = robots.Given(robot.name, robot.host_id, robot.tags, [one.id for one in robot.areas], robot.account)
    return replace(now, **but)


def package(version: str = "1.0.0", code: str = CODE, tags: str = "", manifest: str = MANIFEST) -> bytes:
    files = {"package.toml": manifest.format(version=version, tags=tags), "main.py": code}
    return pack({name: text.encode() for name, text in files.items()})


# As many numbered rows as wanted, to fill tables with.
NUMBERS = (
    "(WITH RECURSIVE n AS (SELECT 1 AS seq UNION ALL SELECT seq + 1 FROM n WHERE seq < 100) "
    "SELECT a.seq + 100 * (b.seq - 1) AS seq FROM n a JOIN n b)"
)


class World:
    """People by name, and the steps of the thread as one-line calls."""

    # What a module's own world made for its tests.
    idea: int
    offer: int
    number: int
    run: int
    second: int
    host: HostByToken

    def __init__(self, db: Database, now: datetime) -> None:
        self.db = db
        self.now = now
        self.actors: dict[str, Actor] = {}
        self.divisions: dict[str, int] = {}
        db.transact(self._people)

    def _people(self, tx: Tx) -> None:
        tx.write("common.set_company", name="Merrowdale Water", zone="Europe/Lisbon", currency="EUR")
        for name in ("Networks", "Customers & Metering"):
            self.divisions[name] = tx.insert("people.add_division", name=name, parent=None)
        for name, role in ROLES.items():
            email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
            person = tx.insert(
                "people.add",
                name=name,
                email=email,
                password_hash=HASHED,
                zone="Europe/Lisbon",
                division=self.divisions["Networks"],
                now=self.now,
            )
            tx.write("people.give_role", person=person, role=role, now=self.now)
            self.actors[name] = Actor(person, name, "Europe/Lisbon", email, (role,), permissions_of([role]))
        for kind, value in RATES.items():
            self._rate(tx, kind, value)
        # All live in one division; what they see of each other's ideas is told by roles and parts alone.
        tx.write(
            "rule_sets.add",
            kind=browsing.RULE,
            version=1,
            content={"reach": browsing.NOBODY},
            note="for a start",
            by=self.actors["Ines Varga"].person_id,
            now=self.now,
        )

    def _rate(self, tx: Tx, kind: str, value: str) -> None:
        lead = self.actors["Ines Varga"].person_id
        tx.insert(
            "tally.add_rate",
            kind=kind,
            idea=0,
            what="",
            division=0,
            value=Decimal(value),
            since=(self.now - timedelta(days=400)).date(),
            state="approved",
            source="finance",
            person=self.actors["Mei Tanaka"].person_id,
            now=self.now,
            approved_by=lead,
            approved_at=self.now,
        )

    def stranger(self, name: str) -> Ctx:
        """A request of somebody new, who holds no role."""
        email = f"{name.lower().replace(' ', '.')}@merrowdale.example"
        number = self.db.transact(
            lambda tx: tx.insert(
                "people.add",
                name=name,
                email=email,
                password_hash=HASHED,
                zone="Europe/Lisbon",
                division=None,
                now=self.now,
            )
        )
        self.actors[name] = Actor(number, name, "Europe/Lisbon", email, (), permissions_of([]))
        return self.again(name)

    def again(self, name: str) -> Ctx:
        """A request of somebody with the roles they hold by now."""
        ctx, person = self.ctx(name), self.actors[name].person_id
        assert person is not None
        return replace(ctx, actor=self.db.transact(lambda tx: people.actor_of(tx, ctx, person)))

    def number(self, name: str) -> int:
        """Somebody's number."""
        number = self.actors[name].person_id
        assert number is not None
        return number

    def ctx(self, name: str, later: timedelta = timedelta()) -> Ctx:
        return Ctx(self.db, self.now + later, self.actors[name])

    def program(self, later: timedelta = timedelta()) -> Ctx:
        return Ctx(self.db, self.now + later, PROGRAM)

    def settle(self, later: timedelta = timedelta()) -> None:
        while loops.effects(self.program(later)):
            pass

    def work_off(self, later: timedelta = timedelta()) -> None:
        """Does all long work that somebody began."""
        while errands.carry_on(self.program(later), "a" * 32, ERRANDS, people.actor_of):
            pass

    def reckon(self, later: timedelta = timedelta()) -> None:
        """Reckons anew what ideas are worth, as the engine does."""
        while loops.what_ideas_are_worth(self.program(later)):
            pass

    def row(self, sql: str, **params: Any) -> Row:
        rows = self.rows(sql, **params)
        assert len(rows) == 1, rows
        return rows[0]

    def rows(self, sql: str, **params: Any) -> list[Row]:
        return self.db.transact(lambda tx: list(tx.execute(sql, params).fetchall()))

    def draft(self, title: str = "Leak allowance claims", **answers: Any) -> int:
        ctx = self.ctx("Ada Pell")
        idea = drafts.start(ctx, title)
        given: dict[str, Any] = {
            "title": title,
            "what": "Check a claim against the repair job and write the letter.",
            "division": self.divisions["Networks"],
            "volume": {"amount": "100", "rhythm": "week"},
            "minutes": "11",
            "judge": "2",
            "off": "1",
            "arrives": [{"kind": "screen", "part": "1"}],
            "changed": "nothing",
            "announced": "nothing",
            "owner": self.actors["Corin Dahl"].person_id,
        }
        given.update(answers)
        for question, value in given.items():
            if value is not None:
                drafts.answer(ctx, idea, question, value, None)
        return idea

    def noted(self, title: str = "Leak allowance claims", **answers: Any) -> int:
        idea = self.draft(title, **answers)
        drafts.hand_in(self.ctx("Ada Pell"), idea)
        return idea

    def screened(self, title: str = "Leak allowance claims") -> int:
        idea = self.noted(title)
        tom = self.ctx("Tom Okafor")
        for other in self.matches_of(idea):
            review.settle(tom, idea, other, "other")
        review.screen(tom, idea, None)
        return idea

    def matches_of(self, idea: int) -> list[int]:
        ctx = self.ctx("Tom Okafor")
        row = self.row("SELECT id, title, what FROM idea WHERE id = %(i)s", i=idea)
        text = Text(row["id"], row["title"], row["what"])
        return [one.id for one in self.db.transact(lambda tx: review.close_matches(tx, ctx, text))]

    FACTS: dict[str, Any] = {
        "unsuitable_share": "0.05",
        "rework_share": "0.05",
        "rework_minutes": "20",
        "steps": "20",
        "decisions": "4",
        "systems": [{"name": "Fettlebook", "access": "web"}],
        "robot_minutes": "3",
        "robot_exception_share": "0.06",
        "robot_exception_minutes": "9",
    }

    def offered(self, title: str = "Leak allowance claims") -> int:
        idea = self.screened(title)
        fact_keeping.keep(self.ctx("Mei Tanaka"), idea, self.FACTS, {}, "talk")
        sizing.offer(self.ctx("Mei Tanaka"), idea)
        return idea

    def backed(self, title: str = "Leak allowance claims") -> int:
        idea = self.offered(title)
        sizing.settle(self.ctx("Ines Varga"), idea, True, "")
        promises.back(self.ctx("Ines Varga"), idea, "worth it")
        return idea

    def building(self, title: str = "Leak allowance claims") -> int:
        idea = self.backed(title)
        business_case.take_up(self.ctx("Jonas Lindqvist"), idea)
        return idea

    def machine(self, seats: int = 1, robots_: int = 1, tags: tuple[str, ...] = ()) -> HostByToken:
        """An area, a connected host and its robots; gives the host's row."""
        ctx = self.ctx("Sol Marin")
        self.area = areas.add_area(ctx, "Metering", None)
        made = robots.add_host(ctx, "Weir", seats)
        self.code = made.code
        token = host_tokens.connect(self.program(), made.code, 1, "robot", {})["token"]
        self.token = token
        for n in range(robots_):
            robots.add_robot(ctx, robots.Given(f"Dipper {n + 1}", made.id, list(tags), [self.area]))
        return host_tokens.host_of(self.program(), token)

    def release(self, version: str = "1.0.0", code: str = CODE, tags: str = "") -> int:
        return packages.release(
            self.ctx("Jonas Lindqvist"), package(version, code, tags), packages.Given("First")
        )

    def routine(self, name: str = "Count rows", release: int | None = None, **more: Any) -> int:
        given = routines.Given(name, self.area, release or self.release(), {}, [])
        return routines.add(self.ctx("Sol Marin"), replace(given, **more))

    def start(self, routine: int, key: str = "k", later: timedelta = timedelta()) -> int:
        return runs.start(self.ctx("Sol Marin", later), routine, f"{key} of {routine}")

    def take(self, host: HostByToken, later: timedelta = timedelta()) -> WorkGiven:
        if later:
            dispatch.heartbeat(self.program(later), host, dispatch.Beat(self.now + later, []))
        found = dispatch.take(self.program(later), host)
        assert found is not None
        return found

    def finish(
        self,
        host: HostByToken,
        work: WorkGiven,
        state: str = "done",
        later: timedelta = timedelta(minutes=2),
        counts: dict[str, str] | None = None,
        outputs: dict[str, Any] | None = None,
        worked: bool = True,
    ) -> str:
        ctx = self.program(later)
        return reports.outcome(
            ctx,
            host,
            work.run,
            work.fence,
            reports.Outcome(state, worked, "", outputs or {}, counts or {}),
        )

    def live(
        self, basis: str = "count", places: int = 1, release: bytes | None = None
    ) -> tuple[HostByToken, int, int]:
        """An idea in service: its host with so many robots and seats, the idea and its routine."""
        idea = self.building()
        host = self.machine(places, places)
        kept = (
            None
            if release is None
            else packages.release(self.ctx("Jonas Lindqvist"), release, packages.Given("First"))
        )
        routine = self.routine(
            release=kept,
            run_limit=places,
            idea_id=idea,
            basis=basis,
            count_name="rows" if basis == "count" else "",
        )
        self.start(routine, "trial")
        self.finish(host, self.take(host))
        rate = self.row("SELECT id FROM rate WHERE kind = 'minutes_by_hand'")
        rates.settle(self.ctx("Ines Varga"), rate["id"], True)
        routines.go_live(self.ctx("Sol Marin"), routine)
        return host, idea, routine
