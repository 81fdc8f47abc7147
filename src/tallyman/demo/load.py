"""Loads the demo: ideas by way of the use cases, two years of runs by bulk writers fed from the rules."""

from __future__ import annotations

import secrets
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any

from tallyman.core.access.permissions import permissions_of
from tallyman.demo import by_hand, casework, history, machines, works, world
from tallyman.demo.calls import calls
from tallyman.demo.crowd import Crowd
from tallyman.demo.past import Past
from tallyman.demo.releases import Releases
from tallyman.demo.rollouts import Rollouts
from tallyman.demo.selfservice import SelfService
from tallyman.engine import loops
from tallyman.services import access, people, robots, safe, tally
from tallyman.services.cases import business_case, fact_keeping, promises, sizing
from tallyman.services.context import PROGRAM, Actor, Ctx, Database
from tallyman.services.house.areas import add_area
from tallyman.services.ideas import drafts, moves, owners, review, talk
from tallyman.services.people import hash_password
from tallyman.services.starts import triggers
from tallyman.services.workshop import routines
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea
from tallyman.store.records.people import PeopleByEmail
from tallyman.store.records.tally import TallyMonths, TallyNewestMinutesRate

# Files of evidence need some content; these are what a proposer might have scribbled.
NOTES = {
    "how-to": ("how-to.md", b"1. Open the list.\n2. Take the next row.\n3. Do what the row says.\n"),
    "drawing": ("drawing.md", b"list -> check -> letter -> job book\n"),
    "example in": ("example-in.csv", b"number,value\n1,42\n2,17\n"),
    "example out": ("example-out.csv", b"number,result\n1,in order\n2,asked back\n"),
}


class Loader(Past):
    """Plays the story of the demo, day by day in the past."""

    def __init__(self, db: Database, now: datetime) -> None:
        super().__init__(db, now, NOTES)

    def play(self) -> list[dict[str, str]]:
        """The whole story; gives the sign-ins."""
        rows = self.people()
        self.machines()
        self.secret()
        casework.enter_systems(self)
        for tale in world.TALES:
            self.ideas.append(self.tell_idea(tale))
        self.move_about()
        self.put_in_service()
        crowd = Crowd(self)
        crowd.play()
        casework.write(self)
        by_hand.play(self, crowd.by_hand)
        # What was counted stands in its own months before those are signed.
        self._settle(0)
        self.close_months()
        machines.play(self, self.areas)
        self.own.play()
        self.finish()
        return rows

    def people(self) -> list[dict[str, str]]:
        """Company, closed days, divisions and people; gives the sign-ins."""
        began = self.now - timedelta(days=790)
        hashed = hash_password(world.PASSWORD)

        def work(tx: Tx) -> list[dict[str, str]]:
            tx.write("common.set_company", name=world.COMPANY, zone=world.ZONE, currency=world.CURRENCY)
            for day, name in closed_days(self.now.year):
                tx.write("common.add_closed_day", day=day, name=name)
            divisions = {
                name: tx.insert("people.add_division", name=name, parent=None) for name in world.DIVISIONS
            }
            rows = []
            crowd = [
                (name, works.DIVISION_OF[key], ("proposer",))
                for key, names in works.PROPOSERS.items()
                for name in names
            ]
            for name, division, roles in (*world.PEOPLE, *crowd):
                email = address(name)
                person = tx.insert(
                    "people.add",
                    name=name,
                    email=email,
                    password_hash=hashed,
                    zone=world.ZONE,
                    division=divisions[division],
                    now=began,
                )
                for role in roles:
                    tx.write("people.give_role", person=person, role=role, now=began)
                self.actors[name] = Actor(person, name, world.ZONE, email, roles, permissions_of(roles))
                rows.append({"email": email, "name": name, "role": roles[0]})
            for name, division in world.NEWCOMERS:
                person = tx.insert(
                    "people.add",
                    name=name,
                    email=address(name),
                    password_hash=hashed,
                    zone=world.ZONE,
                    division=divisions[division],
                    now=began,
                )
                self.actors[name] = Actor(person, name, world.ZONE, address(name), (), permissions_of([]))
                rows.append({"email": address(name), "name": name, "role": "no role in person"})
            self.divisions = divisions
            self._rates(tx, began)
            return rows

        return self.db.transact(work)

    def _rates(self, tx: Tx, began: datetime) -> None:
        mei, ines = self.actors["Mei Tanaka"].person_id, self.actors["Ines Varga"].person_id
        for kind, what, division, value, days in world.RATES:
            tx.insert(
                "tally.add_rate",
                kind=kind,
                idea=0,
                what=what,
                division=self.divisions[division] if division else 0,
                value=Decimal(value),
                since=(self.now - timedelta(days=days)).date(),
                state="approved",
                source="finance, yearly table",
                person=mei,
                now=began,
                approved_by=ines,
                approved_at=began,
            )

    def machines(self) -> None:
        """Areas, hosts and robots."""
        ctx = self.ctx("Sol Marín", 700)
        areas: dict[str, int] = {}
        for name, above in world.AREAS:
            areas[name] = add_area(ctx, name, areas.get(above) if above else None)
        hosts = {name: robots.add_host(ctx, name, seats).id for name, seats in world.HOSTS}
        for name, host, tags, allowed in world.ROBOTS:
            robots.add_robot(
                ctx, robots.Given(name, hosts[host], list(tags), [areas[one] for one in allowed])
            )
        self.areas = areas
        self.db.transact(self._place_divisions)
        self._group()

    def _place_divisions(self, tx: Tx) -> None:
        for division, area in world.PLACES.items():
            tx.write("people.place_division", id=self.divisions[division], area=self.areas[area])

    def _group(self) -> None:
        """A group that holds a role for one area."""
        lead = self.ctx("Ines Varga", 400)
        name, role, area, members = world.GROUP
        ids = [number for one in members if (number := self.actors[one].person_id) is not None]
        group = access.add_group(lead, name, "Looks after the laboratory's robots", world.GROUP_CLAIM, ids)
        role_id = next(row.id for row in access.listed(lead) if row.name == role)
        access.give(lead, role_id, None, group, self.areas[area])

    def secret(self) -> None:
        """What a package asks for: a secret, which ends soon, and a named value with another on one robot."""
        name, area, about, days = world.SECRET
        ctx = self.ctx("Sol Marín", 300)
        ends = self.now.date() + timedelta(days=days)
        value = secrets.token_hex(16)
        safe.make(ctx, safe.Given(name, "package", value, self.areas[area], about, ends))
        name, area, about, value = world.NAMED
        named = safe.make(ctx, safe.Given(name, "named", value, self.areas[area], about))
        robot, own = world.NAMED_ON
        number = next(one.id for one in robots.view(ctx).robots if one.name == robot)
        safe.own_values.put(ctx, named, safe.own_values.GivenOwn("robot", number, own))

    def tell_idea(self, tale: world.Tale) -> int:
        """One idea, from its draft as far as it came."""
        day = float(tale.began)
        idea_id = drafts.start(self.ctx(tale.proposer, day), f"demo-{tale.title}")
        self._answer(tale, idea_id, day)
        if tale.stage == "draft":
            return idea_id
        self._settle(day)
        drafts.hand_in(self.ctx(tale.proposer, day - 0.1), idea_id)
        if tale.stage == "noted":
            return idea_id
        if tale.owner and tale.stage not in ("declined", "screened"):
            owners.confirm(self.ctx(tale.owner, day - 1), idea_id)
        self._review(tale, idea_id, day - 2)
        if tale.stage in ("declined", "screened"):
            return idea_id
        analyst = self.ctx("Mei Tanaka", day - 6)
        facts = {**tale.facts, **world.ends_of(tale.minutes, tale.volume[0])}
        fact_keeping.keep(analyst, idea_id, facts, {}, "talk with the work owner")
        sizing.offer(analyst, idea_id)
        if tale.stage == "offered":
            return idea_id
        sizing.settle(self.ctx("Ines Varga", day - 8), idea_id, True, "")
        if tale.stage == "sized":
            return idea_id
        promises.back(self.ctx("Ines Varga", day - 11), idea_id, "Worth it, and small enough to begin with")
        if tale.stage == "backed":
            return idea_id
        business_case.take_up(self.ctx("Jonas Lindqvist", day - 13), idea_id)
        return idea_id

    def _answer(self, tale: world.Tale, idea_id: int, day: float) -> None:
        ctx = self.ctx(tale.proposer, day)
        division = next(row.id for row in people.divisions(ctx) if row.name == tale.division)
        owner = self.actors[tale.owner].person_id if tale.owner else None
        values: dict[str, Any] = {
            "title": tale.title,
            "what": tale.what,
            "division": division,
            "volume": {"amount": tale.volume[0], "rhythm": tale.volume[1]},
            "minutes": tale.minutes,
            "judge": str(tale.judge),
            "off": str(tale.off),
            "arrives": [{"kind": kind, "part": str(part)} for kind, part in tale.arrives],
            "changed": tale.changed,
            "announced": tale.announced,
            "owner": owner,
        }
        for question, value in values.items():
            if question not in tale.unanswered:
                drafts.answer(ctx, idea_id, question, value, None)
        for kind in tale.evidence:
            name, data = NOTES[kind]
            drafts.attach(ctx, idea_id, name, kind, data)

    def _review(self, tale: world.Tale, idea_id: int, day: float) -> None:
        ctx = self.ctx("Tom Okafor", day)

        def matches(tx: Tx) -> list[int]:
            idea = tx.one(Idea, "ideas.by_id", id=idea_id)
            assert idea is not None
            return [one.id for one in review.matches_of(tx, ctx, idea)]

        for other in self.db.transact(matches):
            review.settle(ctx, idea_id, other, "other")
        if tale.stage == "declined":
            words = "Twelve sheets a month by hand; the new training list does away with them in spring."
            review.decline(ctx, idea_id, "too little volume", words)
        else:
            review.screen(ctx, idea_id, None)

    def _settle(self, days_ago: float) -> None:
        while loops.effects(self.program(days_ago)):
            pass

    def move_about(self) -> None:
        """What people said, who joined, and ideas that left the way."""
        at = {tale.title: number for tale, number in zip(world.TALES, self.ideas, strict=True)}
        for title, who, days, (amount, rhythm), note in world.VOICES:
            volume = {"amount": amount, "rhythm": rhythm}
            # Whoever works in the field reads what is handed in there.
            talk.join(self.with_all(who, days), at[title], volume, note)
        for title, who, days, text in world.TALK:
            talk.say(self.with_all(who, days), at[title], text, [])
        tom = self.actors["Tom Okafor"]
        parked, merged, routed = (self.tell_idea(tale) for tale in (world.PARKED, world.MERGED, world.ROUTED))
        self._settle(30)
        until = (self.now + timedelta(days=40)).date()
        moves.park(
            Ctx(self.db, self.now - timedelta(days=20), tom), parked, until, "the new visit app comes then"
        )
        ctx = self.ctx("Tom Okafor", 18)
        moves.merge(ctx, merged, at["Street-works permit requests"], "the same portal, the same form")
        hanne = self.actors["Hanne Vik"].person_id
        assert hanne is not None
        due = (self.now + timedelta(days=25)).date()
        words = "One card for each part; the counter asks before it makes another"
        moves.take_route(self.ctx("Tom Okafor", 16), routed, "changed procedure", words, hanne, due)

    def put_in_service(self) -> None:
        """Releases, routines, trial runs, going live, and the runs since."""
        plans, made, rolled = [], Releases(self), Rollouts(self)
        for name, index, package, area, count, a_day, expression in world.ROUTINES:
            idea_id, tale = self.ideas[index], world.TALES[index]
            live = tale.began - 60
            release = made.first(package, live + 20)
            given = routines.Given(
                name, self.areas[area], release, {}, [], idea_id=idea_id, basis="count", count_name=count
            )
            routine_id = routines.add(self.ctx("Sol Marín", live + 15), given)
            self._approve_minutes(idea_id, live + 10)
            history.trial(self.db, routine_id, release, self.now - timedelta(days=live + 5))
            self._settle(live + 4)
            routines.go_live(self.ctx("Sol Marín", live), routine_id)
            newer = made.newer(package, 150)
            plans.append(history.Plan(routine_id, idea_id, release, newer, count, a_day, live))
            rolled.at_once(newer, routine_id)
            triggers.add(
                self.ctx("Sol Marín", 0), routine_id, triggers.Given({"expr": expression}, world.ZONE)
            )
        staged = rolled.in_stages(made, plans[0].newer_release_id, self.areas)
        made.worked_on(self.areas)
        self.own = SelfService(self)
        history.write(self.db, plans, self.now, staged + self.own.set_up(self.areas))
        calls(self, plans[0].routine_id)
        rolled.left_behind(plans[1].release_id, self.areas)

    def _approve_minutes(self, idea_id: int, days_ago: float) -> None:
        """The lead approves the minutes by hand that the set-up proposed."""
        ines = self.actors["Ines Varga"].person_id
        at = self.now - timedelta(days=days_ago)

        def work(tx: Tx) -> None:
            rate = tx.one(TallyNewestMinutesRate, "tally.newest_minutes_rate", idea=idea_id)
            assert rate is not None
            tx.write("tally.settle_rate", id=rate.id, state="approved", person=ines, now=at)

        self.db.transact(work)

    def close_months(self) -> None:
        """All months but the last two are signed off."""
        first = self.now.date().replace(day=1)
        last = (first - timedelta(days=20)).strftime("%Y-%m")
        for row in self.db.transact(lambda tx: tx.all(TallyMonths, "tally.months")):
            if row.month < last:
                tally.close_month(self.ctx("Ruth Abernathy", 0), row.month)
        while tally.month_ends(self.ctx("Ines Varga", 0)):
            pass

    def finish(self) -> None:
        """Carries out what is left, and counts mails of the past as sent."""
        self._settle(0)
        self.db.transact(lambda tx: tx.write("demo.mails_sent", before=self.now - timedelta(days=3)))
        self.db.transact(
            lambda tx: tx.write("demo.notices_read", before=self.now - timedelta(days=5), now=self.now)
        )


def closed_days(year: int) -> list[tuple[date, str]]:
    """Closed days from two years ago to two years ahead; the names are the world's own."""
    rows = []
    for one in range(year - 2, year + 3):
        rows += [
            (date(one, 1, 1), "New Year"),
            (date(one, 5, 1), "May day"),
            (date(one, 9, 14), "Founders' day"),
            (date(one, 12, 25), "Midwinter"),
            (date(one, 12, 26), "Second day of midwinter"),
        ]
    return rows


def address(name: str) -> str:
    """The mail address of somebody."""
    plain = name.lower().replace("í", "i").replace(" ", ".")
    return f"{plain}@{world.DOMAIN}"


def load(db: Database, now: datetime) -> dict[str, Any]:
    """Loads everything; gives password, people and hosts."""
    loader = Loader(db, now)
    rows = loader.play()
    # Penstock waits for somebody to start a runner there.
    hosts = [name for name, _ in (*world.HOSTS, *world.NEWER_HOSTS) if name != "Penstock"]
    hosts.append(world.OWN_COMPUTER[1])
    return {"password": world.PASSWORD, "people": rows, "hosts": hosts}


def outsiders() -> list[dict[str, Any]]:
    """Who can sign in at the identity stand-in, as its claims."""
    return [
        {**one, "email": f"{one['email']}@{world.DOMAIN}", "email_verified": True} for one in world.OUTSIDERS
    ]


def single_sign_on(db: Database, now: datetime, issuer: str, client: str, secret: str) -> None:
    """Single sign-on by the identity stand-in, set up by the lead; one set up otherwise since is left."""
    lead = db.transact(lambda tx: tx.one(PeopleByEmail, "people.by_email", email=address("Ines Varga")))
    if lead is None:
        return
    actor = db.transact(lambda tx: people.actor_of(tx, Ctx(db, now), lead.id))
    ctx = Ctx(db, now, actor)
    kept = people.single_sign_on.shown(ctx)
    if kept.version and not kept.issuer.startswith("http://127.0.0.1:"):
        return
    role = next(row.id for row in access.listed(ctx) if row.name == "proposer")
    wanted = people.single_sign_on.Given(True, "Merrowdale sign-in", issuer, client, "groups", role, secret)
    people.single_sign_on.keep(ctx, wanted, kept.version)


def fresh_codes(db: Database, now: datetime, names: list[str]) -> dict[str, str]:
    """New one-time codes for the demo's hosts that are not connected yet."""
    wanted = set(names)
    found = {}
    ctx = Ctx(db, now, PROGRAM)
    for host in robots.view(ctx).hosts:
        if host.name in wanted:
            found[host.name] = robots.new_code(ctx, host.id).code
    return found
