"""The house's settings: one row each, read where they matter, changed against the version that was seen."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.free import FreeObject
from tallyman.errors import Clash, Conflict
from tallyman.services.context import Ctx
from tallyman.store.db import Tx
from tallyman.store.records.safe import SafeSetting


def read(tx: Tx, name: str) -> tuple[FreeObject | None, int]:
    """A setting's value and version; None and 0 while nobody made it."""
    row = tx.one(SafeSetting, "safe.setting", name=name)
    return (row.value, row.version) if row else (None, 0)


def keep(tx: Tx, ctx: Ctx, name: str, value: Mapping[str, object], version: int) -> None:
    """Keeps a setting. Raises Conflict when somebody else changed it meanwhile."""
    params = {"name": name, "value": dict(value), "by": ctx.actor.person_id, "now": ctx.now}
    theirs, newest = read(tx, name)
    done = False
    if version == newest:
        try:
            if newest == 0:
                done = bool(tx.write("safe.add_setting", **params))
            else:
                done = bool(tx.write("safe.change_setting", **params, version=version))
        except Clash:
            done = False
    if not done:
        raise Conflict(
            "Somebody changed these settings meanwhile.",
            "Look at them now, then keep yours again.",
            theirs=theirs or {},
            yours=dict(value),
            version=newest,
        )
