"""Carrying out what follows from changes, each once and in order per object."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial

from tallyman.services.context import Ctx
from tallyman.services.upkeep.hitches import Rows, Work
from tallyman.store.db import Tx
from tallyman.store.records.upkeep import DueEffect, EffectsFirst, HitchesFind


def _drop(tx: Tx, ctx: Ctx, row: HitchesFind, why: str) -> None:
    first = tx.one(EffectsFirst, "effects.first", object=row.row_key)
    if first is not None:
        given = {"person": ctx.actor.person_id, "why": why, "fault": row.fault, "now": ctx.now}
        tx.write("effects.set_aside", id=first.id, **given)


EFFECTS = Work("effects", "what follows from a change", drop=_drop)


@dataclass(frozen=True)
class Carrier:
    """How effects of one kind are carried out, in the transaction that marks them done; and what that is."""

    words: str
    act: Callable[[Tx, Ctx, DueEffect], None]


def carry_out(ctx: Ctx, carriers: Mapping[str, Carrier]) -> int:
    """Every open effect whose time has come, in order per object. Gives how many were done."""
    done, turn = 0, Rows(ctx, EFFECTS)
    failed: set[str] = set()
    for effect in ctx.db.transact(lambda tx: tx.all(DueEffect, "effects.due", now=ctx.now)):
        obj = effect.object
        if obj in failed:
            continue
        act = partial(ctx.db.transact, partial(_one, ctx=ctx, effect=effect, carriers=carriers))
        about = carriers[effect.kind].words if effect.kind in carriers else effect.kind
        tried = turn.go(obj, act, about=about, obj=obj)
        if tried.failed:
            failed.add(obj)
        done += tried.done
    return done


def _one(tx: Tx, ctx: Ctx, effect: DueEffect, carriers: Mapping[str, Carrier]) -> int | None:
    first = tx.one(EffectsFirst, "effects.first", object=effect.object)
    if first is None or first.id != effect.id:
        return None
    if not tx.write("effects.take", id=effect.id, now=ctx.now):
        return None
    carriers[effect.kind].act(tx, ctx, effect)
    return 1
