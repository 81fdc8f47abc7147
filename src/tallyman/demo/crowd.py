"""The hundred ideas of the many: handed in, reviewed, sized, stuck, let go; each by way of the use cases."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from tallyman.core.exact import exact
from tallyman.core.ideas.way import ROUTES
from tallyman.core.volume import yearly_volume
from tallyman.demo import casework, works
from tallyman.demo.by_hand import Brought
from tallyman.demo.past import Past
from tallyman.demo.works import WORKS, Work
from tallyman.demo.world import ends_of
from tallyman.services.cases import business_case, fact_keeping, promises, ranges, sizing
from tallyman.services.context import Actor, Ctx, Database
from tallyman.services.house import views
from tallyman.services.ideas import drafts, moves, review, sheets, talk, team_entry
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea

# Where an idea waits, it came there some days ago: never longer than this, so that most are in time.
WAITS = {"noted": 9, "screened": 24, "sized": 26, "backed": 12, "building": 60, "stuck": 75}
# Days that its way so far took, from handing in.
TOOK = {"noted": 0, "screened": 4, "sized": 14, "backed": 24, "building": 34, "stuck": 34}
WORKING_DAYS = 252
EVIDENCE = ("how-to", "drawing", "example in", "example out")


class Crowd:
    """Plays the ideas of the many among the people of the demo."""

    def __init__(self, loader: Past) -> None:
        self.loader = loader
        self.db: Database = loader.db
        self.numbers: dict[str, int] = {}
        # What runs without a robot, to be counted by hand.
        self.by_hand: list[Brought] = []

    def ctx(self, name: str, days_ago: float) -> Ctx:
        """A request of one person, some days ago."""
        return self.loader.ctx(name, days_ago)

    def play(self) -> None:
        """All of them, the oldest first; the views that the team shares."""
        for n, work in enumerate(WORKS):
            self.numbers[work.title] = self.tell(n, work)
        self.amend()
        sheets.upload(self.ctx("Tom Okafor", 1), works.LIST_NAME, works.LIST.encode())
        tom = self.ctx("Tom Okafor", 60)
        views.add(tom, "ideas", "Waits too long", "late=1&sort=due&cols=stage-due-since", True)
        views.add(tom, "ideas", "Large and screened", "stage=screened&reach_from=200&sort=reach", True)

    def tell(self, n: int, work: Work) -> int:
        """One idea, as far as it came."""
        stage = work.stage.partition(":")[0]
        if stage == "in service" and n % 2:
            return self.register(n, work)
        waits = (work.days * 7 + n) % WAITS.get(stage, 1) if stage in WAITS else work.days
        day = float(waits + TOOK.get(stage, 0) + 1)
        number = self.hand_in(n, work, day)
        if stage == "noted":
            self.note(n, number, day)
        else:
            self.go_on(n, work, number, stage, day)
        self.say(n, work, number, max(day - 2.5, 0.2))
        return number

    def hand_in(self, n: int, work: Work, day: float) -> int:
        """The interview in one go, by whoever does the work."""
        people = works.PROPOSERS[work.division]
        ctx = self.ctx(people[n % len(people)], day)
        values = self.answers(n, work)

        def work_in(tx: Tx) -> int:
            number = drafts.start_in(tx, ctx, f"crowd-{n}", "short" if n % 7 == 3 else "full")
            for question, value in values.items():
                drafts.answer_in(tx, ctx, number, question, value)
            return number

        number = self.db.transact(work_in)
        for kind in EVIDENCE[: (n * 5 + 1) % 4 - 1 if n % 4 else 0]:
            name, data = self.loader.notes[kind]
            drafts.attach(ctx, number, name, kind, data + f"{work.title}\n".encode())
        drafts.hand_in(ctx, number)
        return number

    def answers(self, n: int, work: Work) -> dict[str, Any]:
        """What its proposer answered; now and then something is not known."""
        owner: Actor = self.loader.actors[works.OWNER_OF[work.division]]
        arrives = []
        for piece in work.arrives.split(","):
            kind, _, part = piece.strip().rpartition(" ")
            arrives.append({"kind": kind, "part": part})
        values: dict[str, Any] = {
            "title": work.title,
            "what": work.what,
            "volume": {"amount": work.volume, "rhythm": work.rhythm},
            "minutes": work.minutes,
            "judge": str(work.judge),
            "off": str(work.off),
            "arrives": arrives,
            "changed": ("nothing", "small", "nothing", "large")[n % 4],
            "announced": "small" if n % 9 == 0 else "nothing",
            "division": self.loader.divisions[works.DIVISION_OF[work.division]],
            "owner": owner.person_id,
        }
        for left_out, every in (("announced", 6), ("judge", 11), ("owner", 8)):
            if n % every == 2:
                values.pop(left_out)
        return values

    def note(self, n: int, number: int, day: float) -> None:
        """Some of those that wait were asked back."""
        if n % 5 == 1 and day > 3:
            review.judge_answer(self.ctx("Tom Okafor", day - 2), number, "off", False, works.ASKED)

    def go_on(self, n: int, work: Work, number: int, stage: str, day: float) -> None:
        """From the review on."""
        tom = self.ctx("Tom Okafor", day - 2)
        if stage == "same":
            other = self.numbers[work.stage.partition(":")[2]]
            moves.merge(
                self.ctx("Tom Okafor", min(day - 2, 4)), number, other, "The same work, handed in once more"
            )
        elif stage == "declined":
            reason, words = works.DECLINED[n % len(works.DECLINED)]
            review.decline(tom, number, reason, words)
        elif stage == "withdrawn":
            people = works.PROPOSERS[work.division]
            moves.withdraw(self.ctx(people[n % len(people)], day - 3), number, "We stopped doing this")
        elif stage == "parked":
            until = (self.loader.now + timedelta(days=20 + n)).date()
            moves.park(self.ctx("Tom Okafor", min(day - 2, 60)), number, until, works.PARKED)
        elif stage == "in service":
            self.other_route(n, work, number, day)
        else:
            self.screen(number, day - 3)
            if stage != "screened":
                self.size(n, work, number, stage, day)

    def screen(self, number: int, day: float) -> None:
        """Every close match is other work; then it is screened."""
        ctx = self.ctx("Tom Okafor", day)

        def matches(tx: Tx) -> list[int]:
            idea = tx.one(Idea, "ideas.by_id", id=number)
            assert idea is not None
            return [one.id for one in review.matches_of(tx, ctx, idea)]

        for other in self.db.transact(matches):
            review.settle(ctx, number, other, "other")
        review.screen(ctx, number, None)

    def size(self, n: int, work: Work, number: int, stage: str, day: float) -> None:
        """Sized by the analyst, agreed by the lead, backed, built, stuck."""
        systems = works.SYSTEMS_OF[work.division]
        named = [
            {"name": name, "access": ("web", "desktop", "API")[(n + m) % 3]} for m, name in enumerate(systems)
        ]
        facts = {
            "steps": str(8 + n % 17),
            "decisions": str(1 + n % 5),
            "systems": named[: 1 + n % 3],
            "role": casework.ROLES[works.DIVISION_OF[work.division]],
            "people": str(2 + n % 4),
            "mends": {"cost": 4 - n % 3, "errors": 2 + n % 3, "waiting": 3, "relief of staff": 1},
            "unsuitable_share": "0.05",
            "rework_share": f"0.0{2 + n % 6}",
            "rework_minutes": "12",
            "robot_minutes": str(1 + n % 3),
            "robot_exception_share": "0.06",
            "robot_exception_minutes": "7",
            # What the proposer did not say, the analyst asked for.
            "judged_share": f"0.{work.judge}",
            "handling_minutes": work.minutes,
            **ends_of(work.minutes, self.volume_of(number)),
        }
        analyst = self.ctx("Mei Tanaka", day - 8)
        fact_keeping.keep(analyst, number, facts, {}, "talk with the work owner")
        sizing.offer(analyst, number)
        if stage == "sized" and n % 3 == 0:
            return
        ines = self.ctx("Ines Varga", day - 13)
        sizing.settle(ines, number, True, "")
        if stage == "sized":
            return
        promises.back(self.ctx("Ines Varga", day - 23), number, "Funded in the round")
        if stage == "backed":
            return
        builder = "Priya Raman" if n % 2 else "Jonas Lindqvist"
        business_case.take_up(self.ctx(builder, day - 30), number)
        if stage == "stuck":
            moves.set_stuck(self.ctx(builder, max(day - 50, 9)), number, works.STUCK[n % len(works.STUCK)])

    def volume_of(self, number: int) -> str:
        """The items of an idea with those of whoever joined it, as its sizing has them."""
        found = ranges.view(self.ctx("Mei Tanaka", 0), number).fields
        return str(next(row.value for row in found if row.field == "volume"))

    def other_route(self, n: int, work: Work, number: int, day: float) -> None:
        """Another remedy than a robot, carried out."""
        owner: Actor = self.loader.actors[works.OWNER_OF[work.division]]
        assert owner.person_id is not None
        due = (self.loader.now - timedelta(days=day - 40)).date()
        tom = self.ctx("Tom Okafor", day - 4)
        words = "The form asks for it once, and the list is sent as a data feed"
        moves.take_route(tom, number, ROUTES[n % 3], words, owner.person_id, due)
        moves.measure_done(self.ctx(owner.name, day - 45), number, "It is done so in all depots")
        since = (self.loader.now - timedelta(days=day - 45)).date()
        self.by_hand.append(self._brought(work, number, since, owner.name))

    def _brought(self, work: Work, number: int, since: date, owner: str) -> Brought:
        a_year = yearly_volume(exact(work.volume), work.rhythm, WORKING_DAYS)
        return Brought(number, since, owner, a_year, exact(work.minutes))

    def register(self, n: int, work: Work) -> int:
        """What a desk automated by itself, long before there was a team."""
        answers = self.answers(n, work)
        since = (self.loader.now - timedelta(days=work.days + 200)).date()
        entry = team_entry.Entry(
            answers, "in service", "found in the round of the desks", since, works.RUNNING, "runs already"
        )
        number = team_entry.enter(self.ctx("Tom Okafor", float(work.days)), entry, f"crowd-{n}")
        owner = works.OWNER_OF[work.division] if "owner" in answers else "Tom Okafor"
        self.by_hand.append(self._brought(work, number, since, owner))
        return number

    def say(self, n: int, work: Work, number: int, day: float) -> None:
        """Some are talked about, some are joined."""
        if n % 6 == 0:
            talk.say(self.ctx("Mei Tanaka", day), number, works.TALK[n % len(works.TALK)], [])
        if n % 8 == 5 and work.stage in ("noted", "screened", "sized"):
            owner = self.loader.with_all(works.OWNER_OF[work.division], day)
            talk.join(owner, number, {"amount": "12", "rhythm": work.rhythm}, "At our end as well")

    def amend(self) -> None:
        """A wanted change to something in service."""
        ctx = self.ctx("Ada Pell", 4)
        readings = self.loader.ideas[0]

        def work_in(tx: Tx) -> int:
            number = drafts.start_in(tx, ctx, "crowd-amendment", "short", readings)
            said = {
                "title": "Readings of shared meters apart",
                "what": "Meters that several homes share should be looked at by their own limits.",
                "volume": {"amount": "12", "rhythm": "working day"},
                "minutes": "3",
            }
            for question, value in said.items():
                drafts.answer_in(tx, ctx, number, question, value)
            return number

        drafts.hand_in(ctx, self.db.transact(work_in))
