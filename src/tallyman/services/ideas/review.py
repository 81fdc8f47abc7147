"""The review desk: settle close matches, accept or send back answers, screen or decline."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import islice

from tallyman.core.alerts import kinds
from tallyman.core.ideas import matching
from tallyman.core.ideas.questions import BY_KEY
from tallyman.core.ideas.way import DECLINE_REASONS, TAKES_IN
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, everyone_with, in_transaction
from tallyman.services.ideas import rules
from tallyman.services.ideas.answers import Alike, Match
from tallyman.services.ideas.answers_of_reviews import ReviewQueue, Waiting
from tallyman.services.ideas.base import ask_back, find, find_to, may_see, move, obj, ref, tell_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import (
    Idea,
    IdeasAlike,
    IdeasAnswers,
    IdeasLock,
    IdeasMatches,
    IdeasToReview,
)

LONGEST_NOTE = 1000
# So many of the closest are weighed by their words, and so many words at most.
LOOKED_AT, MOST_WORDS = 12, 60
MOST_WAITING = 2000


def matches_of(tx: Tx, ctx: Ctx, idea: Idea, *, seen_only: bool = False) -> list[Match]:
    """The closest other ideas, with what was settled about each; not the one that an amendment changes."""
    mine = matching.Text(idea.id, idea.title, idea.what)
    return close_matches(tx, ctx, mine, idea.amends_id, seen_only=seen_only)


def close_matches(
    tx: Tx, ctx: Ctx, mine: matching.Text, but: int | None = None, *, seen_only: bool = False
) -> list[Match]:
    """The closest other ideas to a text, with what was settled about each.

    `seen_only`: among those that the actor may see, as only these can be settled by them.
    """
    beginnings = matching.beginnings(mine)
    rows = tx.all(IdeasAlike, "ideas.alike", words=beginnings) if beginnings else []
    apart = {mine.number, but}
    others = {row.id: row for row in rows if row.id not in apart}
    texts = [matching.Text(row.id, row.title, row.what) for row in others.values()]
    found = matching.closest(mine, texts, most=len(texts))
    if seen_only:
        found = list(islice((one for one in found if _is_seen(tx, ctx, one.number)), LOOKED_AT))
    rarities = _rarities(tx, found[:LOOKED_AT])
    settled = {row.other_id: row for row in tx.all(IdeasMatches, "ideas.matches", idea=mine.number)}
    shown = [
        _match(matching.by_rarity(one, rarities), others[one.number], settled.get(one.number), rarities)
        for one in found[:LOOKED_AT]
    ]
    # The likeliest first, whatever their likeness as texts.
    weights = {one.number: matching.evidence(one, rarities) for one in found[:LOOKED_AT]}
    shown.sort(key=lambda one: -weights[one.id])
    likely = [one for one in shown if one.plausible or one.verdict]
    return [*likely[: matching.MOST], *(one for one in shown if one not in likely)][: 2 * matching.MOST]


def _match(
    one: matching.Match, other: IdeasAlike, settled: IdeasMatches | None, rarities: dict[str, float]
) -> Match:
    return Match(
        id=one.number,
        title=other.title,
        what=other.what,
        stage=other.stage,
        score=one.score,
        words=list(one.words),
        plausible=matching.is_plausible(one, rarities),
        verdict=settled.verdict if settled else None,
        by=settled.person if settled else None,
    )


def _rarities(tx: Tx, found: Sequence[matching.Match]) -> dict[str, float]:
    """How rare the words are that some matches rest on, among all ideas."""
    words = list(dict.fromkeys(word for one in found for word in one.words))[:MOST_WORDS]
    ideas = tx.count("ideas.count_alike") if words else 0
    return {
        word: matching.rarity(tx.count("ideas.count_with_word", word=f"{word}*"), ideas) for word in words
    }


def _is_seen(tx: Tx, ctx: Ctx, idea_id: int) -> bool:
    if ctx.actor.may_at("idea.see", None):
        return True
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    return idea is not None and may_see(tx, ctx, idea)


@in_transaction
def similar(tx: Tx, ctx: Ctx, title: str, what: str, but: int) -> list[Alike]:
    """Ideas like the one being typed: those that may be seen with title and stage.

    Of the others nothing is told but the words that whoever asks typed too, so that they can be joined.
    """
    ctx.require("idea.make")
    found = close_matches(tx, ctx, matching.Text(but, title, what))
    return [_as_typing(tx, ctx, one) for one in found]


def _as_typing(tx: Tx, ctx: Ctx, one: Match) -> Alike:
    idea = tx.one(Idea, "ideas.by_id", id=one.id)
    seen = idea is not None and may_see(tx, ctx, idea)
    return Alike(
        id=one.id,
        title=one.title if seen else None,
        stage=one.stage if seen else None,
        words=one.words,
        may_join=one.stage in TAKES_IN,
    )


def _noted(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    ctx.require("idea.decide")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "idea.decide")
    if idea.stage != "noted":
        raise Refused(f"{ref(idea_id)} is {idea.stage}, not waiting for a review.", "Load again.")
    return idea


@in_transaction
def queue(tx: Tx, ctx: Ctx) -> ReviewQueue:
    """The ideas that wait for a review, the first due first, but for those whose proposer was asked back.

    All of them, so that whoever goes through them reaches each; at most `MOST_WAITING`, with how many more.
    """
    ctx.require("idea.decide")
    rows = tx.all(IdeasToReview, "ideas.to_review", **ctx.scope("idea.decide"))
    return ReviewQueue(
        rows=[Waiting(id=row.id, title=row.title, due=row.due_on) for row in rows[:MOST_WAITING]],
        more=max(0, len(rows) - MOST_WAITING),
    )


@in_transaction
def settle(tx: Tx, ctx: Ctx, idea_id: int, other_id: int, verdict: str) -> None:
    """Says whether a close match is the same work or other work."""
    if verdict not in ("same", "other"):
        raise InputFaults([Fault("verdict", verdict, "allowed: same, other")])
    _noted(tx, ctx, idea_id)
    find(tx, ctx, other_id)
    if other_id == idea_id:
        raise InputFaults([Fault("other", other_id, "an idea is not its own match")])
    _settled(tx, ctx, idea_id, [other_id], verdict)


@in_transaction
def settle_others(tx: Tx, ctx: Ctx, idea_id: int) -> int:
    """Says of every close match that waits for a verdict that it is other work; gives how many."""
    idea = _noted(tx, ctx, idea_id)
    return _others(tx, ctx, idea)


def _others(tx: Tx, ctx: Ctx, idea: Idea) -> int:
    waiting = [
        one.id for one in matches_of(tx, ctx, idea, seen_only=True) if one.plausible and not one.verdict
    ]
    _settled(tx, ctx, idea.id, waiting, "other")
    return len(waiting)


def _settled(tx: Tx, ctx: Ctx, idea_id: int, others: Sequence[int], verdict: str) -> None:
    for other in others:
        person = ctx.actor.person_id
        tx.write("ideas.settle", idea=idea_id, other=other, verdict=verdict, person=person, now=ctx.now)
        words = f"Settled: {ref(other)} is {'the same' if verdict == 'same' else 'other'} work"
        audit(tx, ctx, "match settled", obj(idea_id), words)
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def judge_answer(tx: Tx, ctx: Ctx, idea_id: int, question: str, accepted: bool, note: str) -> None:
    """Accepts an answer, or sends it back with a question to its proposer."""
    note = note.strip()
    if not accepted and not note:
        raise InputFaults([Fault("note", note, "say what you would like to know")])
    if len(note) > LONGEST_NOTE:
        raise InputFaults([Fault("note", note[:40] + "…", f"up to {LONGEST_NOTE} characters")])
    idea = _noted(tx, ctx, idea_id)
    given = {row.question: row for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea_id)}
    known = rules.known_question(tx, idea, question)
    if known is None and question not in given:
        raise InputFaults([Fault("question", question, f"allowed: {', '.join(BY_KEY)}")])
    if question not in given:
        tx.write(
            "ideas.put_answer",
            idea=idea_id,
            question=question,
            value=None,
            remark=None,
            person=idea.proposer_id,
            now=ctx.now,
        )
    state = "accepted" if accepted else "sent back"
    tx.write("ideas.set_answer_state", idea=idea_id, question=question, state=state, note=note or None)
    ask_back(tx, ctx, idea_id)
    asked = known.text if known else question
    audit(tx, ctx, f"answer {state}", obj(idea_id), f"{asked} {note}".strip())
    if not accepted:
        tell_of(tx, ctx, kinds.SENT_BACK, idea, note=note)
    changed(tx, ctx, "ideas", idea_id)


def _asked(tx: Tx, idea: Idea, key: str) -> str:
    known = rules.known_question(tx, idea, key)
    return known.text if known else key


def _open_points(tx: Tx, ctx: Ctx, idea: Idea) -> list[str]:
    """What a reviewer must settle before screening."""
    matches = matches_of(tx, ctx, idea, seen_only=True)
    waiting = [one for one in matches if one.plausible and not one.verdict]
    points = [f"settle {ref(one.id)} {one.title}" for one in waiting]
    back = [row for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea.id) if row.state == "sent back"]
    points += [f"wait for the answer to “{_asked(tx, idea, row.question)}”" for row in back]
    same = [one for one in matches if one.verdict == "same"]
    points += [f"merge it into {ref(one.id)}, which is the same work" for one in same]
    points += [f"give “{one['words']}”" for one in rules.lacking(tx, idea, "screened")]
    return points


@in_transaction
def screen(tx: Tx, ctx: Ctx, idea_id: int, expert_id: int | None, others: bool = False) -> None:
    """Noted → screened, once every plausible match is settled and no answer is sent back.

    `others`: every match that still waits for a verdict is other work.
    """
    idea = _noted(tx, ctx, idea_id)
    if others:
        _others(tx, ctx, idea)
    points = _open_points(tx, ctx, idea)
    if points:
        raise Refused(f"{ref(idea_id)} cannot be screened yet.", f"First: {'; '.join(points)}.", open=points)
    move(tx, ctx, idea, "screened")
    tell_of(tx, ctx, kinds.SCREENED, idea)
    sizers = [expert_id] if expert_id else everyone_with(tx, "sizing.make", idea.area_id)
    tell_of(tx, ctx, kinds.TO_SIZE, idea, *sizers)


@in_transaction
def decline(tx: Tx, ctx: Ctx, idea_id: int, reason: str, words: str) -> None:
    """An open idea → declined with a chosen reason, explained to the proposer."""
    words = words.strip()
    faults = []
    if reason not in DECLINE_REASONS:
        faults.append(Fault("reason", reason, f"allowed: {', '.join(DECLINE_REASONS)}"))
    if not words:
        faults.append(Fault("words", words, "explain it to the proposer in a sentence"))
    if len(words) > LONGEST_NOTE:
        faults.append(Fault("words", words[:40] + "…", f"up to {LONGEST_NOTE} characters"))
    if faults:
        raise InputFaults(faults)
    ctx.require("idea.decide")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "idea.decide")
    move(tx, ctx, idea, "declined", f"{reason}. {words}")
    tell_of(tx, ctx, kinds.DECLINED, idea, reason=reason, why=words)
