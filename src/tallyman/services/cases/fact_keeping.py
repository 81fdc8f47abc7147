"""Keeping facts: each with its source, a conflict shown, and what follows recomputed."""

from __future__ import annotations

from collections.abc import Mapping

from tallyman.core.cases.facts import LABELS, SIZING, check_fact
from tallyman.core.exact import exact
from tallyman.core.free import Free, FreeObject
from tallyman.core.ideas import OPEN_STAGES
from tallyman.errors import Conflict, Fault, InputFaults, Refused
from tallyman.services.cases.sizing import compute, set_state, sizing_sheet
from tallyman.services.cases.worths import keep_worth
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.house import meet_system
from tallyman.services.ideas import find_to, move, obj, ref
from tallyman.store.db import Tx, dump
from tallyman.store.records.ideas import Idea, IdeasFact, IdeasLock

# A sizing that somebody looks at, or agreed to, is open again as soon as it is changed.
FROZEN_BY = ("offered", "agreed")
# From backing on a changed fact changes what is now expected; the promise stays.


def checked(given: Mapping[str, object]) -> dict[str, object]:
    """Facts in their kept form, None for one that is taken back. Raises InputFaults with every fault."""
    kept: dict[str, object] = {}
    faults: list[Fault] = []
    for field, value in given.items():
        try:
            kept[field] = None if value in (None, "") else check_fact(field, value)
        except InputFaults as error:
            faults += error.faults
    if faults:
        raise InputFaults(faults)
    return kept


@in_transaction
def keep(
    tx: Tx, ctx: Ctx, idea_id: int, given: Mapping[str, object], seen: Mapping[str, int], source: str
) -> None:
    """Keeps facts on an idea. `seen` holds the version of each field the writer saw (0: none).

    Raises InputFaults for faults, Conflict (with the other's value) when a field changed meanwhile.
    """
    ctx.require("sizing.make")
    kept = checked(given)
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    if idea.stage not in OPEN_STAGES:
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; its sizing and case are not open to change.",
            "They are open from screening on; what is changed once an idea is backed changes what is now "
            "expected, never the promise.",
        )
    keep_in(tx, ctx, idea, kept, seen, source)


def keep_in(
    tx: Tx, ctx: Ctx, idea: Idea, kept: Mapping[str, Free], seen: Mapping[str, int], source: str
) -> None:
    """As `keep`, within a transaction that locked the idea; the facts are checked already."""
    check_ends(tx, idea, kept)
    for field, value in kept.items():
        _keep_one(tx, ctx, idea, field, value, seen.get(field, 0), source)
        tx.write("points.met", idea=idea.id, field=field, person=ctx.actor.person_id, now=ctx.now)
    if "systems" in kept:
        keep_systems(tx, ctx, idea.id, kept["systems"] or [])
    _after_change(tx, ctx, idea, any(field in SIZING for field in kept))
    changed(tx, ctx, "ideas", idea.id)


def keep_from_outside(tx: Tx, ctx: Ctx, idea: Idea, given: Mapping[str, Free], source: str) -> None:
    """Keeps facts that came with an idea from elsewhere, in the transaction in which it comes in."""
    tx.one(IdeasLock, "ideas.lock", id=idea.id)
    keep_in(tx, ctx, idea, checked(given), {}, source)


# The points of an item that have to rise.
RISING = (
    ("minutes_low", "handling_minutes", "minutes_high"),
    ("volume_low", "volume", "volume_high"),
    ("share_low", "share_override", "share_high"),
    ("effort_low", "effort_override", "effort_high"),
)


def check_ends(tx: Tx, idea: Idea, kept: Mapping[str, Free]) -> None:
    """Raises InputFaults for an end that lies on the wrong side of the other end, naming both."""
    touched = [names for names in RISING if any(name in kept for name in (names[0], names[2]))]
    if not touched:
        return
    sheet = {field: known.value for field, known in sizing_sheet(tx, idea).items()} | dict(kept)
    for low, _, high in touched:
        if sheet.get(low) in (None, "") or sheet.get(high) in (None, ""):
            continue
        if exact(sheet[low]) > exact(sheet[high]):
            wrong = low if low in kept else high
            other = high if wrong == low else low
            message = f"{LABELS[low]} is to be no more than {LABELS[high]}, which is {sheet[other]}"
            if wrong == high:
                message = f"{LABELS[high]} is to be no less than {LABELS[low]}, which is {sheet[other]}"
            raise InputFaults([Fault(wrong, sheet[wrong], message)])


def keep_systems(tx: Tx, ctx: Ctx, idea_id: int, systems: list[FreeObject]) -> None:
    """The systems of an idea's sizing, by name; one that the inventory lacks is entered there as new."""
    tx.write("search.drop_systems", idea=idea_id)
    for row in systems:
        meet_system(tx, ctx, row["name"], row["access"])
        tx.write("search.add_system", idea=idea_id, name=row["name"])


def _keep_one(tx: Tx, ctx: Ctx, idea: Idea, field: str, value: object, seen: int, source: str) -> None:
    old = tx.one(IdeasFact, "ideas.fact", idea=idea.id, field=field)
    if old and old.version != seen and old.value != value:
        raise Conflict(
            f"{old.person} changed “{LABELS[field]}” meanwhile.",
            "Look at both values, then save yours again or keep theirs.",
            field=field,
            theirs=old.value,
            yours=value,
            version=old.version,
        )
    if value is None:
        tx.write("ideas.drop_fact", idea=idea.id, field=field)
    else:
        tx.write(
            "ideas.put_fact",
            idea=idea.id,
            field=field,
            value=dump(value),
            source=source[:200],
            person=ctx.actor.person_id,
            now=ctx.now,
        )
    before = {field: old.value} if old else None
    audit(tx, ctx, "fact given", obj(idea.id), LABELS[field], before, {field: value})


def _after_change(tx: Tx, ctx: Ctx, idea: Idea, sizing_changed: bool) -> None:
    """Recomputes worth and effort; a changed sizing is no longer agreed."""
    sheet = sizing_sheet(tx, idea)
    compute(tx, ctx, idea, sheet)
    if sizing_changed and idea.stage in ("screened", "sized") and idea.sizing_state in FROZEN_BY:
        set_state(tx, ctx, idea, "open", None)
        if idea.stage == "sized":
            move(tx, ctx, idea, "screened", "The sizing was changed, so it has to be agreed again")
    keep_worth(tx, ctx, idea.id)
    tx.write("ideas.touch", id=idea.id, now=ctx.now)
