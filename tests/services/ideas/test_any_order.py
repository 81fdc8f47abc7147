"""Ideas moved in any order by anybody: each move is made or refused as the way says, and leaves one trace."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from itertools import count
from typing import ClassVar

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test

from tallyman.core.ideas import way
from tallyman.errors import Forbidden, InputFaults, Refused
from tallyman.services.cases import business_case, fact_keeping, promises, sizing
from tallyman.services.context import Ctx
from tallyman.services.ideas import moves, review
from tests.conftest import NOW, Databases
from tests.world import World

NUMBERS = count(1)
picks = st.integers(0, 5)


class Ideas(RuleBasedStateMachine):
    """Some ideas, where each stands, and what it did so far; the way alone says what may come next."""

    world: ClassVar[World]

    def __init__(self) -> None:
        super().__init__()
        self.ideas: list[int] = []
        self.way: dict[int, list[str]] = {}
        self.later = timedelta()
        self.note()

    def as_(self, name: str) -> Ctx:
        return self.world.ctx(name, self.later)

    @rule()
    def note(self) -> None:
        """Hands in one more idea, like no other one."""
        if len(self.ideas) == 3:
            return
        words = " ".join(f"{chr(97 + n % 26) * 3}{next(NUMBERS)}" for n in range(4))
        idea = self.world.noted(words, what=f"{words} only")
        self.ideas.append(idea)
        self.way[idea] = ["draft", "noted"]

    def moved(
        self, pick: int, to: str, act: Callable[[int], object], only: tuple[str, ...] = way.PATH
    ) -> None:
        """Moves an idea, or is refused where the way does not lead there."""
        idea = self.ideas[pick % len(self.ideas)]
        stage = self.way[idea][-1]
        if stage in only and way.may_move(stage, to):
            act(idea)
            self.way[idea].append(to)
        else:
            with pytest.raises((Refused, Forbidden, InputFaults)):
                act(idea)

    @rule(pick=picks)
    def screen(self, pick: int) -> None:
        def act(idea: int) -> None:
            for other in self.world.matches_of(idea):
                review.settle(self.as_("Tom Okafor"), idea, other, "other")
            review.screen(self.as_("Tom Okafor"), idea, None)

        self.moved(pick, "screened", act, ("noted",))

    @rule(pick=picks)
    def size(self, pick: int) -> None:
        def act(idea: int) -> None:
            fact_keeping.keep(
                self.as_("Mei Tanaka"), idea, {"steps": str(next(NUMBERS))}, self.seen(idea), "talk"
            )
            sizing.offer(self.as_("Mei Tanaka"), idea)
            sizing.settle(self.as_("Ines Varga"), idea, True, "")

        idea = self.ideas[pick % len(self.ideas)]
        if self.way[idea][-1] == "screened":
            self.whole(idea)
            self.moved(pick, "sized", act)

    def whole(self, idea: int) -> None:
        """Every fact that a case needs, once."""
        if not self.seen(idea):
            fact_keeping.keep(self.as_("Mei Tanaka"), idea, World.FACTS, {}, "talk")

    def seen(self, idea: int) -> dict[str, int]:
        rows = self.world.rows("SELECT field, version FROM fact WHERE idea_id = %(i)s", i=idea)
        return {row["field"]: row["version"] for row in rows}

    @rule(pick=picks)
    def back(self, pick: int) -> None:
        self.moved(pick, "backed", lambda idea: promises.back(self.as_("Ruth Abernathy"), idea, ""))

    @rule(pick=picks)
    def take_up(self, pick: int) -> None:
        self.moved(
            pick,
            "building",
            lambda idea: business_case.take_up(self.as_("Jonas Lindqvist"), idea),
            ("backed",),
        )

    @rule(pick=picks)
    def take_another_route(self, pick: int) -> None:
        def act(idea: int) -> None:
            owner = self.world.actors["Corin Dahl"].person_id
            assert owner is not None
            due = (NOW + self.later + timedelta(days=30)).date()
            moves.take_route(self.as_("Tom Okafor"), idea, "training", "Teach it", owner, due)

        self.moved(pick, "building", act, way.OPEN)

    @rule(pick=picks)
    def measure_is_done(self, pick: int) -> None:
        idea = self.ideas[pick % len(self.ideas)]
        routes = self.world.row("SELECT route FROM idea WHERE id = %(i)s", i=idea)
        only = ("building",) if routes["route"] == "training" else ()
        self.moved(
            pick, "in service", lambda idea: moves.measure_done(self.as_("Corin Dahl"), idea, "Taught"), only
        )

    @rule(pick=picks)
    def retire(self, pick: int) -> None:
        self.moved(pick, "retired", lambda idea: moves.retire(self.as_("Ines Varga"), idea, "It is over"))

    @rule(pick=picks, days=st.integers(1, 60))
    def park(self, pick: int, days: int) -> None:
        until = (NOW + self.later + timedelta(days=days)).date()
        self.moved(
            pick,
            "parked",
            lambda idea: moves.park(self.as_("Tom Okafor"), idea, until, "It waits for spring"),
        )

    @rule(pick=picks)
    def decline(self, pick: int) -> None:
        reason = way.DECLINE_REASONS[0]
        self.moved(
            pick, "declined", lambda idea: review.decline(self.as_("Tom Okafor"), idea, reason, "Too few")
        )

    @rule(pick=picks)
    def withdraw(self, pick: int) -> None:
        self.moved(pick, "withdrawn", lambda idea: moves.withdraw(self.as_("Ada Pell"), idea, "Not needed"))

    @rule(pick=picks)
    def reopen(self, pick: int) -> None:
        idea = self.ideas[pick % len(self.ideas)]
        stages = self.way[idea]
        before = stages[-2]
        self.moved(
            pick,
            before,
            lambda idea: moves.reopen(self.as_("Tom Okafor"), idea, "It is needed"),
            way.OFF_THE_WAY,
        )

    @rule(pick=picks, into=picks)
    def merge(self, pick: int, into: int) -> None:
        idea, other = self.ideas[pick % len(self.ideas)], self.ideas[into % len(self.ideas)]
        if idea != other:
            only = way.PATH if self.way[other][-1] in way.TAKES_IN else ()
            self.moved(
                pick,
                "merged",
                lambda idea: moves.merge(self.as_("Tom Okafor"), idea, other, "The same"),
                only,
            )

    @rule(days=st.integers(1, 40))
    def time_passes(self, days: int) -> None:
        """Parked ideas whose day has come are back."""
        self.later += timedelta(days=days)
        today = (NOW + self.later).date()
        due = [
            idea
            for idea in self.ideas
            if self.way[idea][-1] == "parked"
            and self.world.row("SELECT parked_until AS d FROM idea WHERE id = %(i)s", i=idea)["d"] <= today
        ]
        while moves.come_back(self.world.program(self.later)):
            pass
        for idea in due:
            self.way[idea].append(self.way[idea][-2])

    @invariant()
    def each_stands_where_its_way_leads(self) -> None:
        for idea in self.ideas:
            rows = self.world.rows(
                "SELECT from_stage, stage FROM idea_stage WHERE idea_id = %(i)s ORDER BY id", i=idea
            )
            assert [row["stage"] for row in rows] == self.way[idea]
            assert [row["from_stage"] for row in rows[1:]] == self.way[idea][:-1]
            now = self.world.row("SELECT stage, parked_until, merged_into FROM idea WHERE id = %(i)s", i=idea)
            assert now["stage"] == self.way[idea][-1]
            assert (now["parked_until"] is not None) == (now["stage"] == "parked")
            assert (now["merged_into"] is not None) == (now["stage"] == "merged")

    @invariant()
    def what_was_backed_has_its_promise_for_good(self) -> None:
        for idea in self.ideas:
            promised = self.world.rows("SELECT 1 FROM promise WHERE idea_id = %(i)s", i=idea)
            assert bool(promised) == ("backed" in self.way[idea])


def test_ideas_go_their_way_in_any_order(databases: Databases) -> None:
    databases.empty()
    db = databases.connect()
    Ideas.world = World(db, NOW)
    run_state_machine_as_test(
        Ideas,
        settings=settings(
            max_examples=25,
            stateful_step_count=40,
            deadline=None,
            derandomize=True,
            suppress_health_check=list(HealthCheck),
        ),
    )
    db.close()
