"""Keeping facts: each with its source, a conflict shown, and what follows recomputed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tallyman.errors import Conflict, Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.ideas.base import find_to, move, obj, ref
from tallyman.services.ideas.cases import keep_worth
from tallyman.services.ideas.facts import LABELS, SIZING, check_fact
from tallyman.services.ideas.sizing import compute, set_state, sizing_sheet
from tallyman.store.db import Row, Tx, dump


def keep(ctx: Ctx, idea_id: int, given: Mapping[str, Any], seen: Mapping[str, int], source: str) -> None:
    """Keeps facts on an idea. `seen` holds the version of each field the writer saw (0: none).

    Raises InputFaults for faults, Conflict (with the other's value) when a field changed meanwhile.
    """
    ctx.require("sizing.make")
    kept: dict[str, Any] = {}
    faults: list[Fault] = []
    for field, value in given.items():
        try:
            kept[field] = None if value in (None, "") else check_fact(field, value)
        except InputFaults as error:
            faults += error.faults
    if faults:
        raise InputFaults(faults)

    def work(tx: Tx) -> None:
        tx.one("ideas.lock", id=idea_id)
        idea = find_to(tx, ctx, idea_id, "sizing.make")
        if idea["stage"] not in ("screened", "sized"):
            raise Refused(
                f"{ref(idea_id)} is {idea['stage']}; its sizing and case are not open to change.",
                "Sizing is open from screening until the idea is backed.",
            )
        for field, value in kept.items():
            _keep_one(tx, ctx, idea, field, value, seen.get(field, 0), source)
        if "systems" in kept:
            keep_systems(tx, idea_id, kept["systems"] or [])
        _after_change(tx, ctx, idea, any(field in SIZING for field in kept))
        changed(tx, ctx, "ideas", idea_id)

    ctx.db.transact(work)


def keep_systems(tx: Tx, idea_id: int, systems: list[dict[str, Any]]) -> None:
    """The systems of an idea's sizing, by name, so that lists can ask for them."""
    tx.write("finding.drop_systems", idea=idea_id)
    for row in systems:
        tx.write("finding.add_system", idea=idea_id, name=row["name"])


def _keep_one(tx: Tx, ctx: Ctx, idea: Row, field: str, value: Any, seen: int, source: str) -> None:
    old = tx.one("ideas.fact", idea=idea["id"], field=field)
    if old and old["version"] != seen and old["value"] != value:
        raise Conflict(
            f"{old['person']} changed “{LABELS[field]}” meanwhile.",
            "Look at both values, then save yours again or keep theirs.",
            field=field,
            theirs=old["value"],
            yours=value,
            version=old["version"],
        )
    if value is None:
        tx.write("ideas.drop_fact", idea=idea["id"], field=field)
    else:
        tx.write(
            "ideas.put_fact",
            idea=idea["id"],
            field=field,
            value=dump(value),
            source=source[:200],
            person=ctx.actor.person_id,
            now=ctx.now,
        )
    before = {field: old["value"]} if old else None
    audit(tx, ctx, "fact given", obj(idea["id"]), LABELS[field], before, {field: value})


def _after_change(tx: Tx, ctx: Ctx, idea: Row, sizing_changed: bool) -> None:
    """Recomputes worth and effort; a changed sizing is no longer agreed."""
    sheet = sizing_sheet(tx, idea)
    compute(tx, ctx, sheet)
    if sizing_changed and idea["sizing_state"] in ("offered", "agreed"):
        set_state(tx, ctx, idea, "open", None)
        if idea["stage"] == "sized":
            move(tx, ctx, idea, "screened", "The sizing was changed, so it has to be agreed again")
    keep_worth(tx, ctx, idea["id"])
