"""The past of the demo: its people, and the requests they made some days ago."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta

from tallyman.services import people
from tallyman.services.context import PROGRAM, Actor, Ctx, Database


class Past:
    """Who acts in the demo, when, and on which ideas; what the parts of its story share."""

    def __init__(self, db: Database, now: datetime, notes: Mapping[str, tuple[str, bytes]]) -> None:
        self.db = db
        self.now = now
        self.notes = notes
        self.actors: dict[str, Actor] = {}
        self.ideas: list[int] = []
        self.divisions: dict[str, int] = {}

    def ctx(self, name: str, days_ago: float) -> Ctx:
        """A request of one person, some days ago."""
        return Ctx(self.db, self.now - timedelta(days=days_ago), self.actors[name])

    def program(self, days_ago: float) -> Ctx:
        """A turn of the program itself, some days ago."""
        return Ctx(self.db, self.now - timedelta(days=days_ago), PROGRAM)

    def with_all(self, name: str, days_ago: float) -> Ctx:
        """A request of one person with the roles they hold by now."""
        ctx = self.ctx(name, days_ago)
        person = ctx.actor.person_id
        assert person is not None
        return Ctx(self.db, ctx.now, self.db.transact(lambda tx: people.actor_of(tx, ctx, person)))
