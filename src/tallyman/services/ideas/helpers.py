"""Where an idea belongs, and who was asked to work along on it."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.errors import Fault, Forbidden, InputFaults
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas.base import find, obj, ref, tell_of
from tallyman.store.db import Tx
from tallyman.store.records.house import Area
from tallyman.store.records.ideas import Idea
from tallyman.store.records.people import Person

LONGEST_TASK = 300


def may_ask_helpers(ctx: Ctx, idea: Idea) -> bool:
    """Its proposer and owner, and whoever changes ideas where it belongs."""
    mine = ctx.actor.is_or_stands_in_for(idea.proposer_id, idea.owner_id)
    return mine or ctx.actor.may_at("idea.change", idea.area_id)


def _asked_by(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    idea = find(tx, ctx, idea_id)
    if not may_ask_helpers(ctx, idea):
        raise Forbidden(
            f"You may not say who helps with {ref(idea_id)}: the permission idea.change is missing.",
            f"{idea.proposer} or {idea.owner or 'its owner'} may, too.",
            permission="idea.change",
            area=idea.area_id,
        )
    return idea


@in_transaction
def add_helper(tx: Tx, ctx: Ctx, idea_id: int, person_id: int, task: str) -> None:
    """Asks somebody to work along; they see the idea from now on, whatever their roles."""
    if len(task) > LONGEST_TASK:
        raise InputFaults([Fault("task", task[:40] + "…", f"at most {LONGEST_TASK} characters")])
    idea = _asked_by(tx, ctx, idea_id)
    person = tx.one(Person, "people.by_id", id=person_id)
    if person is None or person.state not in ("active", "invited"):
        raise InputFaults([Fault("person", person_id, "there is no such person; choose one")])
    tx.write(
        "ideas.add_helper",
        idea=idea_id,
        person=person_id,
        task=task.strip(),
        by=ctx.actor.person_id,
        now=ctx.now,
    )
    words = f"{person.name} helps: {task.strip() or 'no task named'}"
    audit(tx, ctx, "helper asked", obj(idea_id), words)
    named_task = f": {task.strip()}" if task.strip() else ""
    tell_of(tx, ctx, kinds.HELP_ASKED, idea, person_id, task=named_task)
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def drop_helper(tx: Tx, ctx: Ctx, idea_id: int, person_id: int) -> None:
    """Somebody helps no more; they may say so themselves."""
    if person_id == ctx.actor.person_id:
        find(tx, ctx, idea_id)
    else:
        _asked_by(tx, ctx, idea_id)
    if tx.write("ideas.drop_helper", idea=idea_id, person=person_id):
        person = tx.one(Person, "people.by_id", id=person_id)
        words = f"{person.name if person else person_id} helps no more"
        audit(tx, ctx, "helper let go", obj(idea_id), words)
        changed(tx, ctx, "ideas", idea_id)


@in_transaction
def set_area(tx: Tx, ctx: Ctx, idea_id: int, area_id: int | None) -> None:
    """Where an idea belongs, so that the roles held for that area reach it."""
    idea = find(tx, ctx, idea_id)
    ctx.require_at("idea.change", idea.area_id)
    area = None if area_id is None else tx.one(Area, "areas.area", id=area_id)
    if area_id is not None and area is None:
        raise InputFaults([Fault("area", area_id, "there is no such area; choose one")])
    tx.write("ideas.set_area", id=idea_id, area=area_id, now=ctx.now)
    words = f"Belongs to {area.name if area else 'the whole company'}"
    before, after = {"area": idea.area_id}, {"area": area_id}
    audit(tx, ctx, "idea placed", obj(idea_id), words, before, after)
    changed(tx, ctx, "ideas", idea_id)
