"""Everybody against every route: one person for each role and reach, one object of each kind, dry calls.

A dry call runs in full and is rolled back, so that all of them meet the same world.
"""

from __future__ import annotations

import asyncio
import json
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, timedelta
from pathlib import Path
from types import SimpleNamespace
from typing import Any, TypeVar

import httpx

from tallyman import config
from tallyman.api.app import create_app
from tallyman.api.common import COOKIE
from tallyman.config import HOME, read_clock
from tallyman.core.access.permissions import ROLES
from tallyman.services import access, people, robots, runs, safe
from tallyman.services.context import Ctx
from tallyman.services.house import areas, systems, views
from tallyman.services.ideas import drafts, file_views, helpers, rules_set, sheets, talk
from tallyman.services.people import token_digest, tokens
from tallyman.services.people.tokens import START
from tallyman.services.robots import seat_lots
from tallyman.services.selfservice import publishing
from tallyman.services.starts import addresses, by_hand, triggers
from tallyman.services.workshop import rollouts
from tallyman.signed import make_key
from tallyman.store import files
from tallyman.store.db import Database, Tx
from tests.access_bodies import BODIES
from tests.world import World, as_is, picture

T = TypeVar("T")
TABLE = HOME / "docs" / "access-table.md"
COMPANY, AREA, OTHER = "C", "A", "O"
REACHES = (COMPANY, AREA, OTHER)
# Held open for ever, or not for people: each is tested elsewhere.
LEFT_OUT = {
    ("get", "/api/v1/events"): "a stream; what it tells is tested with the hints",
}
HEAD = """# Who may call what

Every route of the API against every built-in role. A cell says for what the role must be held so that the
call is allowed: `C` for the whole company, `A` for the area where the object lies, `O` even when it is
held for another area only; `–` means never. Where it matters, a route has two rows: the object is the
caller's own, or somebody else's. *anyone* is allowed without signing in, *runner* asks for a runner's token.

The table is compared with what the routes do, by tests/api/test_access_table.py; a new route without a row
fails there. `TALLYMAN_WRITE_TABLE=1 pytest tests/api/test_access_table.py -k write` writes it anew, to be read before
it is kept.

"""


class Dry(Database):
    """A database where nothing is kept: each transaction is rolled back at its end."""

    def transact(self, work: Callable[[Tx], T]) -> T:
        """Runs the work and takes everything back."""
        with self._connection() as connection:
            try:
                return work(Tx(connection))
            finally:
                connection.rollback()


class Everybody:
    """The world of the table, and the calls."""

    def __init__(self, db: Database, dry: Database, keys: Path) -> None:
        config.settings().keys_file = str(keys)
        self.world = world = World(db, read_clock())
        self.tokens: dict[tuple[str, str], str] = {}
        self.persons: dict[tuple[str, str], int] = {}
        self.keys_of: dict[str, int] = {}
        self._objects()
        self.handed = world.db.transact(self._handed)
        self.release_after = world.release("1.1.0")
        given = publishing.Given("Count", "Counts.", "", ["rows"], world.number("Sol Marin"))
        self.page = publishing.publish(world.ctx("Sol Marin"), self.routine, given)
        twice = by_hand.Given(times=2)
        addresses.give(world.ctx("Sol Marin"), self.routine, addresses.Given())
        self.started = by_hand.start(world.ctx("Sol Marin"), self.routine, twice, "together").group
        first = rollouts.Given(
            [rollouts.Chosen(self.routine)], "staged", "It counts more", first_robot=self.robot
        )
        self.rollout = rollouts.roll_out(world.ctx("Sol Marin"), self.release_after, first)
        lead = world.ctx("Ines Varga")
        roles = {row.name: row.id for row in access.listed(lead)}
        for role in ROLES:
            for reach in REACHES:
                area = {COMPANY: None, AREA: self.area, OTHER: self.far}[reach]
                self._person(lead, role, roles[role], reach, area)
        world.settle()
        app = create_app(dry)
        app.state.presence = SimpleNamespace(clock_is_right=True, apart_ms=0)
        transport = httpx.ASGITransport(app, raise_app_exceptions=False)
        self.client = httpx.AsyncClient(
            transport=transport, base_url="http://testserver", headers={"X-Tallyman": "1"}
        )
        self.loop = asyncio.Runner()

    def _objects(self) -> None:
        world = self.world
        sol = world.ctx("Sol Marin")
        self.host_row, self.idea, self.routine = world.live()
        self.area = world.area
        self.far = areas.add_area(sol, "Street works", None)
        helpers.set_area(world.ctx("Tom Okafor"), self.idea, self.area)
        self.release = world.row("SELECT MIN(id) AS id FROM package_release")["id"]
        self.run = runs.start(sol, self.routine, "table")
        world.db.transact(self._pictured)
        self.trigger = triggers.add(sol, self.routine, triggers.Given({"expr": "0 6 * * *"}, "UTC"))
        self.robot = world.row("SELECT MIN(id) AS id FROM robot")["id"]
        self.host = self.host_row.id
        dipper = robots.view(sol).robots[0]
        robots.change_robot(sol, dipper.id, as_is(dipper, account="clerk"), dipper.version)
        robots.passwords.put(world.ctx("Ines Varga"), self.host, "clerk", "reed-and-rush")
        self.open = world.noted("Burst-main notices to homes")
        helpers.set_area(world.ctx("Tom Okafor"), self.open, self.area)
        self.file = drafts.attach(world.ctx("Ada Pell"), self.open, "how.png", "how-to", picture())
        self.rate = world.row("SELECT MIN(id) AS id FROM rate WHERE kind = 'minutes_by_hand'")["id"]
        lead = world.ctx("Ines Varga")
        self.group = access.add_group(lead, "Desk", "", "", [])
        self.role = access.add_role(lead, access.RoleGiven("Own", "", frozenset({"run.see"})))
        asker = world.stranger("Bela Kiss")
        self.asker = asker.actor.person_id
        self.request = access.ask(asker, "run.see", self.area, "to see")
        self.held = access.give(lead, self.role, self.asker, None, self.area).id
        self.invited = people.invite(lead, people.Invited("guest@merrowdale.example", "Guest"))
        self.secret = safe.make(lead, safe.Given("table-login", "package", "a value", self.area))
        given = safe.own_values.GivenOwn("host", self.host, "reed-and-rush-7")
        safe.own_values.put(lead, self.secret, given)
        self.own_value = world.row("SELECT id FROM secret WHERE own_of IS NOT NULL")["id"]
        self.divide = world.divisions["Networks"]
        self.other_division = world.divisions["Customers & Metering"]
        self.token = tokens.make(lead, "Sender", ["idea.see"], (world.now + timedelta(days=9)).date()).id
        self.hitch = world.db.transact(
            lambda tx: (
                tx.execute(
                    "INSERT INTO hitch (work, row_key, tries, first_at, last_at, due_at, fault) "
                    "VALUES ('triggers', '0', 3, %(n)s, %(n)s, %(n)s, 'no such zone')",
                    {"n": world.now + timedelta(days=9)},
                ).lastrowid
            )
        )
        rules_set.keep_thanks(lead, ["screened"], "for a start", 0)
        self.view = views.add(lead, "ideas", "Mine", "stage=noted", False)
        self.sheet = sheets.upload(lead, "list.csv", b"title,what\nOne,It is done\n")
        self.errand = sheets.begin(lead, self.sheet, 1)
        file_views.look_into(Ctx(world.db, world.now))
        self.comment = talk.say(world.ctx("Ada Pell"), self.open, "How many?", [])
        self.lot = seat_lots.buy(sol, seat_lots.Given("builder", 9, date(2026, 1, 1), None, None, ""))
        self.system = systems.add(lead, systems.Given("Fettle", "web"))
        count = {"i": self.idea, "p": self.asker, "n": world.now, "d": world.now.date()}
        self.count = world.db.transact(
            lambda tx: int(
                tx.execute(
                    "INSERT INTO idea_count (idea_id, first_on, last_on, units, evidence, source, person_id, at) "
                    "VALUES (%(i)s, %(d)s, %(d)s, 3, 'the book', 'by hand', %(p)s, %(n)s)",
                    count,
                ).lastrowid
            )
        )
        first = {"k": "sizing", "p": self.asker, "n": world.now}
        self.sizing_link = world.db.transact(
            lambda tx: int(
                tx.execute(
                    "INSERT INTO link (kind, person_id, made_at, ends_at) VALUES (%(k)s, %(p)s, %(n)s, %(n)s)",
                    first,
                ).lastrowid
            )
        )
        self.of_open = world.db.transact(lambda tx: self._of_case(tx, self.open, int(self.asker or 0)))
        self.soon = (world.now + timedelta(days=5)).date()
        self.area_version = world.row("SELECT version FROM area WHERE id = %(a)s", a=self.area)["version"]

    def _person(self, lead: Any, role: str, role_id: int, reach: str, area: int | None) -> None:
        world = self.world
        name = f"{role} {reach}"
        ctx = world.stranger(name)
        person = ctx.actor.person_id
        assert person is not None
        in_areas = area is None or role != "proposer"
        if in_areas:
            access.give(lead, role_id, person, None, area)
        token = f"{role}-{reach}"
        world.db.transact(
            lambda tx: tx.write(
                "people.add_session",
                token=token_digest(token),
                person=person,
                now=world.now,
                ends=world.now + timedelta(hours=5),
                address="-",
                agent="",
                how="password",
                outside=None,
            )
        )
        self.tokens[role, reach], self.persons[role, reach] = token, person
        key = {"name": "Desk", "public": make_key()[1], "now": world.now}
        self.keys_of[token] = world.db.transact(
            lambda tx: tx.insert("signing_keys.add", person=person, **key)
        )

    def own_idea(self, person: int) -> int:
        """A noted idea of one person, somewhere else."""
        copy = (
            "INSERT INTO idea (title, what, proposer_id, owner_id, stage, stage_since, made_at, changed_at, area_id) "
            "SELECT title, what, %(p)s, %(p)s, stage, stage_since, made_at, changed_at, NULL FROM idea WHERE id = %(i)s"
        )

        def work(tx: Tx) -> int:
            number = int(tx.execute(copy, {"p": person, "i": self.open}).lastrowid)
            answers = (
                "INSERT INTO idea_answer (idea_id, question, value_json, state, person_id, at) "
                "SELECT %(n)s, question, value_json, 'given', %(p)s, at FROM idea_answer WHERE idea_id = %(i)s"
            )
            tx.execute(answers, {"n": number, "p": person, "i": self.open})
            file = (
                "INSERT INTO idea_file (idea_id, digest, name, kind, size, person_id, at) "
                "SELECT %(n)s, digest, name, kind, size, %(p)s, at FROM idea_file WHERE id = %(f)s"
            )
            self.of_own = self._of_case(tx, number, person)
            self.own_file = int(tx.execute(file, {"n": number, "p": person, "f": self.file}).lastrowid)
            return number

        return self.world.db.transact(work)

    def _of_case(self, tx: Tx, idea: int, person: int) -> dict[str, int]:
        """A variant, a point and a request of an idea, by the names that routes give them."""
        made = {"i": idea, "p": person, "n": self.world.now, "l": self.sizing_link}
        return {
            name: int(tx.execute(f"INSERT INTO {into}", made).lastrowid)
            for name, into in (
                (
                    "variant",
                    "case_variant (idea_id, name, input_json, person_id, at) VALUES (%(i)s, 'Own', '{}', %(p)s, %(n)s)",
                ),
                (
                    "point",
                    "sizing_point (idea_id, field, words, made_by, made_at) VALUES (%(i)s, 'steps', 'few', %(p)s, %(n)s)",
                ),
                (
                    "request",
                    "sizing_request (idea_id, person_id, asked_by, fields_json, link_id, state, asked_at) "
                    "VALUES (%(i)s, %(p)s, %(p)s, '[]', %(l)s, 'open', %(n)s)",
                ),
            )
        }

    def call(self, verb: str, path: str, who: str, own: int | None = None) -> int:
        """The status that somebody (a session's token, or nothing) gets."""
        filled, body, more = self.asked(verb, path, own)
        # Of one's own sign-ins, this one.
        filled = filled.replace("0" * 16, token_digest(who)[:16]) if "sessions/" in path else filled
        filled = filled.replace("keys/0", f"keys/{self.keys_of.get(who, 0)}")
        heads = {"If-Match": '"1"', "Idempotency-Key": "k", **more.pop("headers", {})}
        if who.startswith(START):
            heads["Authorization"] = f"Bearer {who}"
        elif who:
            heads["Cookie"] = f"{COOKIE}={who}"
        answer = self.loop.run(self.client.request(verb, filled, headers=heads, json=body, **more))
        if answer.status_code == 422 and "runner" not in path:
            self.misfits.setdefault((verb, path), answer.text[:300])
        return answer.status_code

    misfits: dict[tuple[str, str], str] = {}
    own_file = 0
    of_own: dict[str, int] = {}

    def _pictured(self, tx: Tx) -> None:
        """The run's screen was pictured, as if it had stalled."""
        digest, now = files.put(tx, picture(), self.world.now), self.world.now
        given = {"run": self.run, "now": now, "digest": digest}
        row = "(run_id, stalled_at, at, digest) VALUES (%(run)s, %(now)s, %(now)s, %(digest)s)"
        tx.execute(f"INSERT INTO run_screen {row}", given)

    def _handed(self, tx: Tx) -> int:
        """A file that the run handed over."""
        digest, now = files.put(tx, b"Dear street", self.world.now), self.world.now
        given = {"run": self.run, "name": "letters.txt", "digest": digest, "size": 11, "now": now}
        tx.write("handed.keep", **given)
        (row,) = tx.execute("SELECT id FROM run_file").fetchall()
        return int(row["id"])

    def asked(self, verb: str, path: str, own: int | None) -> tuple[str, Any, dict[str, Any]]:
        """The address with its numbers, a body that fits, and what else the call takes."""
        numbers: dict[str, Any] = {
            "question": "title",
            "account": "clerk",
            "line": 2,
            "file": self.handed,
            "file_id": self.own_file if own else self.file,
            "other": self.idea,
            "trigger": self.trigger,
            "month": "2026-01",
            "digest": "0" * 64,
            "day": "2030-01-01",
            "person": self.asker,
            "kind": "invitation",
            "token": f"1-{'0' * 40}",
            "handle": "0" * 16,
            "comment": self.comment,
            "key": "money-1",
            "of": "ideas",
            "form": "xlsx",
            "ending": "csv",
            "own": self.own_value,
            "year": 2027,
            **(self.of_own if own else self.of_open),
        }
        if "/differences" in path:
            numbers["other"] = self.release
        if "/uses/" in path:
            numbers |= {"kind": "routine", "key": self.routine}
        if "/rules/" in path:
            numbers |= {"kind": "thanks" if "versions" in path else "full", "number": 1}
        for prefix, number in (
            ("/ideas/", own or self.open),
            ("/value/ideas/", own or self.idea),
            ("/value/runs/", self.run),
            ("/routines/", self.routine),
            ("/runs/", self.run),
            ("/my-computer/runs/", self.run),
            ("/self-service/", self.page),
            ("/self-service/runs/", self.run),
            ("/service-pages/", self.page),
            ("/run-groups/", self.started),
            ("/rollouts/", self.rollout),
            ("/robots/", self.robot),
            ("/hosts/", self.host),
            ("/releases/", self.release_after if "/differences" in path else self.release),
            ("/profile/keys/", 0),
            ("/rates/", self.rate),
            ("/areas/", self.area),
            ("/access/groups/", self.group),
            ("/access/roles/", self.role),
            ("/access/holders/", self.held),
            ("/access/people/", self.asker),
            ("/access/requests/", self.request),
            ("/people/", self.invited if "invitations" in path else self.asker),
            ("/health/", self.hitch),
            ("/secrets/", self.secret),
            ("/divisions/", self.divide),
            ("/tokens/", self.token),
            ("/views/", self.view),
            ("/counts/", self.count),
            ("/sheets/", self.sheet),
            ("/errands/", self.errand),
            ("/systems/", self.system),
            ("/seats/lots/", self.lot),
        ):
            if path.startswith(f"/api/v1{prefix}"):
                numbers["number"] = number
        if "/history/" in path:
            numbers |= {"subject": "routine", "number": self.routine}
        filled = re.sub(r"\{(\w+)\}", lambda found: str(numbers[found.group(1)]), path)
        body, more = BODIES.get((verb, path.removeprefix("/api/v1")), (None, {}))
        if isinstance(body, str):
            body = json.loads(re.sub(r"\$(\w+)", lambda found: str(getattr(self, found.group(1))), body))
        query = re.sub(r"\$(\w+)", lambda found: str(getattr(self, found.group(1))), more.get("query", ""))
        rest = {key: value for key, value in more.items() if key != "query"}
        return filled + query, body, rest

    def cell(self, verb: str, path: str, role: str, own: bool) -> str:
        """For which reaches of a role a call is allowed."""
        found = ""
        for reach in REACHES:
            number = self.own_idea(self.persons[role, reach]) if own else None
            status = self.call(verb, path, self.tokens[role, reach], number)
            if status >= 500:
                raise AssertionError(f"{verb} {path} as {role}: {status}")
            found += reach if status not in (401, 403, 404) else ""
        return found or "–"

    def row(self, verb: str, path: str, own: bool) -> list[str]:
        """A route's cells in the order of the roles."""
        if "/runner/" in path:
            return ["runner"] * len(ROLES)
        if "/called/" in path:
            return ["its token"] * len(ROLES)
        status = self.call(verb, path, "")
        if status != 401 or path.startswith("/api/v1/session"):
            return ["anyone"] * len(ROLES)
        return [self.cell(verb, path, role, own) for role in ROLES]


def variants() -> list[tuple[str, str, bool]]:
    """Every route, twice where the object can be one's own."""
    paths = create_app().openapi()["paths"]
    found = []
    for path, verbs in sorted(paths.items()):
        for verb in sorted(verbs):
            if (verb, path) in LEFT_OUT:
                continue
            found.append((verb, path, False))
            if path.startswith("/api/v1/ideas/{number}"):
                found.append((verb, path, True))
    return found


def label(verb: str, path: str, own: bool) -> str:
    """How a row is headed."""
    mine = ", own" if own else ", somebody else's" if path.startswith("/api/v1/ideas/{number}") else ""
    return f"`{verb.upper()} {path.removeprefix('/api/v1')}`{mine}"


def kept() -> dict[str, list[str]]:
    """The rows of the reviewed table."""
    rows = {}
    for line in TABLE.read_text(encoding="utf-8").splitlines():
        cells = [cell.strip() for cell in line.strip("|").split("|")]
        if line.startswith("| `"):
            rows[cells[0]] = cells[1:]
    return rows


@contextmanager
def everybody(databases: Any, keys: Path) -> Iterator[Everybody]:
    """The world and its calls on an empty database."""
    databases.empty()
    db = databases.connect()
    dry = Dry(**{**databases.settings(), "size": 8})
    before = config.settings().keys_file
    found = Everybody(db, dry, keys)
    try:
        yield found
    finally:
        found.loop.run(found.client.aclose())
        found.loop.close()
        config.settings().keys_file = before
        db.close()
        dry.close()
