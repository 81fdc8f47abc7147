"""What those who use an idea's robot say of it: a voice for the idea, or an amendment that they wish for."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.core.ideas import way
from tallyman.services.context import Ctx, audit, changed
from tallyman.services.ideas import drafts, rules
from tallyman.services.ideas.base import keep_look, move, obj, ref, tell_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasLock

LONGEST_TITLE = 100
LONGEST_NOTE = 1000


def _idea(tx: Tx, idea_id: int) -> Idea | None:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    return tx.one(Idea, "ideas.by_id", id=idea_id)


def voice_from_use(tx: Tx, ctx: Ctx, idea_id: int, note: str) -> int | None:
    """A voice for an idea of whoever uses what came of it; gives the idea, or None where it takes none.

    Whoever proposed it has the first voice already.
    """
    idea = _idea(tx, idea_id)
    if idea is None or idea.stage not in way.TAKES_IN:
        return None
    if idea.proposer_id != ctx.actor.person_id:
        given = {"does_it": False, "volume": None, "source": None, "note": note[:LONGEST_NOTE]}
        tx.write("talk.join", idea=idea_id, person=ctx.actor.person_id, now=ctx.now, **given)
        words = f"{ctx.actor.name} uses it: {note}"
        audit(tx, ctx, "idea joined", obj(idea_id), words[:500])
        changed(tx, ctx, "ideas", idea_id)
    return idea_id


def wish_from_use(tx: Tx, ctx: Ctx, idea_id: int, of: str, text: str, key: str) -> int | None:
    """An amendment of an idea in service, as somebody wishes for it who uses it; None for any other idea.

    It is handed in at once where the house asks for nothing more, else it stays a draft of theirs.
    """
    idea = _idea(tx, idea_id)
    if idea is None or idea.stage != "in service" or not ctx.actor.may("idea.make"):
        return None
    voice_from_use(tx, ctx, idea_id, f"It would help me if {text}")
    number = drafts.start_in(
        tx, ctx, key, amends=idea_id, source="interview", what="wished amendment", said=[of, text]
    )
    title = f"{of}: {text}"
    short = title if len(title) <= LONGEST_TITLE else f"{title[: LONGEST_TITLE - 1]}…"
    drafts.answer_in(tx, ctx, number, "title", short)
    drafts.answer_in(tx, ctx, number, "what", f"It would help me if {text}")
    made = tx.one(Idea, "ideas.by_id", id=number)
    assert made is not None
    if not rules.lacking(tx, made, "noted"):
        keep_look(tx, ctx, number)
        move(tx, ctx, made, "noted", f"wished for by {ctx.actor.name}, who uses {ref(idea_id)}")
        tell_of(tx, ctx, kinds.HANDED_IN, made)
    return number


def stage_of(tx: Tx, idea_id: int) -> str:
    """The stage of an idea."""
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    return "" if idea is None else idea.stage
