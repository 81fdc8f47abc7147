"""Where do I begin? Typical work to choose from, each a start for a draft of one's own."""

from __future__ import annotations

from tallyman.core.faults import unknown_word
from tallyman.core.ideas import candidates
from tallyman.errors import InputFaults, NotFound
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, in_transaction
from tallyman.services.ideas import drafts
from tallyman.services.ideas.answers import CandidateOut, CandidatesOut
from tallyman.store.db import Tx
from tallyman.store.records.ideas import IdeasAnswers


def listed(ctx: Ctx, kind: str | None, touches: str | None) -> CandidatesOut:
    """Typical work of a kind that touches something, with what it mostly amounts to."""
    ctx.require("idea.make")
    faults = []
    if kind is not None and kind not in candidates.KINDS:
        faults.append(unknown_word("kind", kind, candidates.KINDS))
    if touches is not None and touches not in candidates.TOUCHES:
        faults.append(unknown_word("touches", touches, candidates.TOUCHES))
    if faults:
        raise InputFaults(faults)
    rows = []
    for one in candidates.fitting(kind, touches):
        low, high = one.hours_a_year
        rows.append(
            CandidateOut(
                key=one.key,
                kind=candidates.KINDS[one.kind],
                title=one.title,
                what=one.what,
                touches=[candidates.TOUCHES[word] for word in one.touches],
                a_month=list(one.a_month),
                minutes=list(one.minutes),
                hours_low=round(low),
                hours_high=round(high),
            )
        )
    return CandidatesOut(
        kinds=[Choice(value=key, words=words) for key, words in candidates.KINDS.items()],
        touches=[Choice(value=key, words=words) for key, words in candidates.TOUCHES.items()],
        rows=rows,
    )


@in_transaction
def begin(tx: Tx, ctx: Ctx, key: str, start_key: str) -> int:
    """A draft that begins with a candidate's title and words; gives its number.

    The same start once more gives the same draft, and what was typed into it since stays.
    """
    one = candidates.BY_KEY.get(key)
    if one is None:
        raise NotFound("There is no such beginning.", "Choose one from the list.")
    ctx.require("idea.make")
    number = drafts.start_in(tx, ctx, start_key, what="candidate", said=key)
    given = {row.question for row in tx.all(IdeasAnswers, "ideas.answers", idea=number)}
    for question, value in (("title", one.title), ("what", one.what)):
        if question not in given:
            drafts.answer_in(tx, ctx, number, question, value)
    return number
