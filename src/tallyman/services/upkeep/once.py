"""What is asked for twice under one key is done once; a key belongs to its sender, route and words."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass

from tallyman.errors import Fault, InputFaults
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.upkeep import OnceFound


@dataclass(frozen=True)
class Once:
    """A start as its sender names it: where it was asked for, under which key, with which words."""

    what: str
    key: str
    said: object = None

    def _key(self, ctx: Ctx) -> str:
        # By its digest, so that keys are compared exactly, whatever the database thinks alike.
        text = json.dumps([ctx.actor.person_id, self.what, self.key])
        return hashlib.sha256(text.encode()).hexdigest()

    def _said(self) -> str:
        text = json.dumps(self.said, sort_keys=True, default=str)
        return hashlib.sha256(text.encode()).hexdigest()

    def known(self, tx: Tx, ctx: Ctx) -> int | None:
        """What it made before; None if it is new. InputFaults if the key was used for something else."""
        row = tx.one(OnceFound, "once.found", key=self._key(ctx))
        if row is None:
            return None
        if row.said_digest != self._said():
            message = "was sent with something else before; send a new key for each start"
            raise InputFaults([Fault("Idempotency-Key", self.key[:60], message)])
        return int(row.object)

    def made(self, tx: Tx, ctx: Ctx, number: int) -> None:
        """Notes what it made. Clash if another transaction did meanwhile."""
        said = self._said()
        tx.write("once.claim", key=self._key(ctx), object=str(number), said=said, now=ctx.now)
