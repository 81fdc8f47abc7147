"""The owner of the work: confirms the answers, or says who is to be asked instead."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.errors import Fault, Forbidden, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas.base import find, keep_look, obj, ref, tell_of
from tallyman.services.ideas.drafts import check_links, copy_heads
from tallyman.store.db import Tx, dump
from tallyman.store.records.ideas import Idea, IdeasLock
from tallyman.store.records.people import Person

LONGEST_WHY = 500


def _owned(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    idea = find(tx, ctx, idea_id)
    if not ctx.actor.is_or_stands_in_for(idea.owner_id):
        raise Forbidden(
            f"Only the work owner, {idea.owner or 'nobody named yet'}, confirms it.",
            "The proposer can name another owner in the answers.",
        )
    return idea


@in_transaction
def confirm(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """The work owner confirms the answers, which narrows the first look."""
    _owned(tx, ctx, idea_id)
    if tx.write("ideas.confirm_owner", id=idea_id, now=ctx.now):
        audit(tx, ctx, "owner confirmed", obj(idea_id), "Confirmed the answers as work owner")
        keep_look(tx, ctx, idea_id)
        changed(tx, ctx, "ideas", idea_id)


@in_transaction
def not_mine(tx: Tx, ctx: Ctx, idea_id: int, person_id: int | None, why: str) -> None:
    """Whoever was named as owner says that it is not their work, and who is to be asked, if they know.

    The one named next is asked to confirm; the proposer is told. Raises InputFaults.
    """
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = _owned(tx, ctx, idea_id)
    why = why.strip()
    faults = []
    if not 1 <= len(why) <= LONGEST_WHY:
        faults.append(Fault("why", why[:40], f"say in 1 to {LONGEST_WHY} characters why it is not yours"))
    if person_id is not None and person_id == idea.owner_id:
        faults.append(Fault("person", person_id, "is the one named now; choose another, or nobody"))
    if faults:
        raise InputFaults(faults)
    if idea.owner_confirmed_at is not None:
        raise Refused(
            f"The answers of {ref(idea_id)} are confirmed already.", "Tell the analyst what is wrong."
        )
    check_links(tx, "owner", person_id)
    person = tx.one(Person, "people.by_id", id=person_id) if person_id is not None else None
    value = None if person_id is None else dump(person_id)
    mine = {"idea": idea_id, "question": "owner", "person": ctx.actor.person_id, "now": ctx.now}
    tx.write("ideas.put_answer", **mine, value=value, remark=why)
    copy_heads(tx, ctx, idea, "owner", person_id)
    keep_look(tx, ctx, idea_id)
    whom = f"; ask {person.name}" if person else ""
    audit(tx, ctx, "owner changed", obj(idea_id), f"Not their work{whom}: {why}", {"owner": idea.owner}, None)
    again = tx.one(Idea, "ideas.by_id", id=idea_id)
    assert again is not None
    tell_of(tx, ctx, kinds.NOT_MINE, again, whom=whom, why=why)
    if person_id is not None:
        tell_of(tx, ctx, kinds.OWNER_NAMED, again)
    changed(tx, ctx, "ideas", idea_id)
