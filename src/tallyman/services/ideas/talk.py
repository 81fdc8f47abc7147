"""Talk on an idea and voices for it: comments that mention, joining with one's own volume, following."""

from __future__ import annotations

from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.core.ideas import way
from tallyman.core.ideas.questions import check_volume
from tallyman.errors import Fault, Forbidden, InputFaults, NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas import answers
from tallyman.services.ideas.base import (
    find,
    keep_look,
    may_see,
    move,
    named,
    obj,
    own,
    ref,
    tell_followers,
    tell_of,
)
from tallyman.services.ideas.review import matches_of
from tallyman.services.ideas.search import keep_text
from tallyman.services.people import actor_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Comment, Idea, IdeasLock, TalkComments, TalkVoices
from tallyman.store.records.people import Person

LONGEST_COMMENT = 4000
LONGEST_NOTE = 1000
MOST_MENTIONS = 20
MOST_COMMENTS = 1000
SAID_AGAIN = timedelta(minutes=1)


def _text(text: str) -> str:
    clean = text.strip()
    if not clean:
        raise InputFaults([Fault("text", text, "write at least a word")])
    if len(clean) > LONGEST_COMMENT:
        raise InputFaults([Fault("text", clean[:40] + "…", f"up to {LONGEST_COMMENT:,} characters")])
    return clean


def _mentioned(tx: Tx, ctx: Ctx, idea: Idea, people: list[int]) -> list[int]:
    """The people mentioned, each of whom may see the idea. Raises InputFaults naming who may not."""
    faults = []
    wanted = sorted(set(people))
    if len(wanted) > MOST_MENTIONS:
        faults.append(Fault("mentions", len(wanted), f"at most {MOST_MENTIONS} people"))
    for number in wanted[:MOST_MENTIONS]:
        person = tx.one(Person, "people.by_id", id=number)
        if person is None or person.state not in ("active", "invited"):
            faults.append(Fault("mentions", number, "there is no such person"))
        elif not may_see(tx, Ctx(ctx.db, ctx.now, actor_of(tx, ctx, number)), idea):
            message = "may not see this idea; ask them to help with it first"
            faults.append(Fault("mentions", person.name, message))
    if faults:
        raise InputFaults(faults)
    return wanted


def comments(tx: Tx, ctx: Ctx, idea: Idea) -> list[answers.Comment]:
    """What was said about an idea, as its page shows it."""
    rows = tx.all(TalkComments, "talk.comments", idea=idea.id)
    return [answers.Comment(**row.as_dict(), mine=row.person_id == ctx.actor.person_id) for row in rows]


@in_transaction
def say(tx: Tx, ctx: Ctx, idea_id: int, text: str, mentions: list[int]) -> int:
    """Says something about an idea that one may see; gives the comment's number.

    The same said twice within a minute, as by a second click, is said once.
    """
    clean = _text(text)
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    since = ctx.now - SAID_AGAIN
    said = tx.value(int, "talk.same", idea=idea_id, person=ctx.actor.person_id, text=clean, since=since)
    if said is not None:
        return int(said)
    if len(tx.all(TalkComments, "talk.comments", idea=idea_id)) >= MOST_COMMENTS:
        raise Refused(f"There are {MOST_COMMENTS:,} comments already.", "Go on in a meeting.")
    people = _mentioned(tx, ctx, idea, mentions)
    number = tx.insert(
        "talk.say",
        idea=idea_id,
        person=ctx.actor.person_id,
        text=clean,
        mentions=people,
        now=ctx.now,
    )
    audit(tx, ctx, "comment made", obj(idea_id), f"Said: {clean[:200]}")
    _tell_of(tx, ctx, idea, clean, people)
    keep_text(tx, idea_id)
    changed(tx, ctx, "ideas", idea_id)
    return number


def _tell_of(tx: Tx, ctx: Ctx, idea: Idea, text: str, mentioned: list[int]) -> None:
    """Who is mentioned is asked; proposer, owner, builder and followers hear of it."""
    short = text if len(text) <= 160 else text[:159] + "…"
    said: dict[str, object] = {"text": short}
    tell_of(tx, ctx, kinds.MENTIONED, idea, *mentioned, **said)
    tell(tx, ctx, kinds.SAID, idea, (), mentioned, idea=named(idea), **said)
    tell_followers(tx, ctx, kinds.FOLLOWED_TALK, idea, *mentioned, idea.builder_id, **said)


def _own_comment(tx: Tx, ctx: Ctx, idea_id: int, number: int) -> Comment:
    find(tx, ctx, idea_id)
    row = tx.one(Comment, "talk.comment", id=number, idea=idea_id)
    if row is None:
        raise NotFound("There is no such comment on this idea.", "Load the page again.")
    if row.person_id != ctx.actor.person_id:
        raise Forbidden("Only who wrote a comment changes it.", "Answer it instead.")
    if row.taken_back_at is not None:
        raise Refused("This comment was taken back.", "Write a new one.")
    return row


@in_transaction
def edit(tx: Tx, ctx: Ctx, idea_id: int, number: int, text: str, mentions: list[int]) -> None:
    """Another text for one's own comment; that it was edited is shown."""
    clean = _text(text)
    row = _own_comment(tx, ctx, idea_id, number)
    idea = find(tx, ctx, idea_id)
    people = _mentioned(tx, ctx, idea, mentions)
    tx.write("talk.edit", id=number, text=clean, mentions=people, now=ctx.now)
    before, after = {"text": row.text}, {"text": clean}
    audit(tx, ctx, "comment edited", obj(idea_id), "Edited a comment", before, after)
    keep_text(tx, idea_id)
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def take_back(tx: Tx, ctx: Ctx, idea_id: int, number: int) -> None:
    """Takes one's own comment back; that there was one is shown."""
    _own_comment(tx, ctx, idea_id, number)
    tx.write("talk.take_back", id=number, now=ctx.now)
    audit(tx, ctx, "comment taken back", obj(idea_id), "Took a comment back")
    keep_text(tx, idea_id)
    changed(tx, ctx, "ideas", idea_id)


# ---- voices ------------------------------------------------------------------------------------------


def voices(tx: Tx, idea: Idea) -> list[answers.Voice]:
    """Who joined an idea, how much of the work they do, and why."""
    return [
        answers.Voice(**row.as_dict() | {"volume": row.volume and answers.Volume(**row.volume)})
        for row in tx.all(TalkVoices, "talk.voices", idea=idea.id)
    ]


def _may_join(tx: Tx, ctx: Ctx, idea: Idea, draft: Idea | None) -> bool:
    """Whoever may see an idea, and whoever is just writing one like it."""
    if may_see(tx, ctx, idea):
        return True
    return draft is not None and idea.id in {one.id for one in matches_of(tx, ctx, draft)}


@in_transaction
def join(tx: Tx, ctx: Ctx, idea_id: int, volume: object, note: str, draft_id: int | None = None) -> None:
    """Joins an idea instead of repeating it; with a volume of one's own it counts for the hours in reach.

    An idea that one may not see can be joined from a draft (`draft_id`) that is like it; the draft is
    withdrawn then, its answers stay readable. Who joined sees the idea.
    """
    ctx.require("idea.make")
    kept = check_volume("volume", volume)
    if len(note) > LONGEST_NOTE:
        raise InputFaults([Fault("note", note[:40] + "…", f"up to {LONGEST_NOTE:,} characters")])
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    draft = own(tx, ctx, draft_id) if draft_id is not None else None
    open_to_join = idea is not None and idea.stage in way.TAKES_IN
    if idea is None or not open_to_join or not _may_join(tx, ctx, idea, draft):
        raise NotFound(f"There is no idea {ref(idea_id)} to join.", "Load the page again.")
    if idea.proposer_id == ctx.actor.person_id:
        raise Refused(f"You proposed {ref(idea_id)} yourself.", "Your volume stands in its answers.")
    tx.write(
        "talk.join",
        idea=idea_id,
        person=ctx.actor.person_id,
        does_it=kept is not None,
        volume=kept,
        note=note.strip(),
        source=None,
        now=ctx.now,
    )
    words = "does the same work and joined" if kept else "supports it"
    audit(tx, ctx, "idea joined", obj(idea_id), f"{ctx.actor.name} {words}", None, {"volume": kept})
    _counted_anew(tx, ctx, idea)
    tell_of(tx, ctx, kinds.JOINED, idea, how=words)
    changed(tx, ctx, "ideas", idea_id)
    if draft is not None and draft.stage == "draft":
        move(tx, ctx, draft, "withdrawn", f"joined {ref(idea_id)} {idea.title} instead")


@in_transaction
def leave(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """Takes one's voice back."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    if tx.write("talk.leave", idea=idea_id, person=ctx.actor.person_id):
        audit(tx, ctx, "idea left", obj(idea_id), f"{ctx.actor.name} took their voice back")
        _counted_anew(tx, ctx, idea)
        changed(tx, ctx, "ideas", idea_id)


def _counted_anew(tx: Tx, ctx: Ctx, idea: Idea) -> None:
    """Volumes of those who joined count as long as the answers do; later the sizing's facts hold."""
    if idea.stage in way.OPEN:
        keep_look(tx, ctx, idea.id)


@in_transaction
def follow(tx: Tx, ctx: Ctx, idea_id: int, on: bool) -> None:
    """Hears of an idea that one may see, or no more."""
    find(tx, ctx, idea_id)
    if on:
        tx.write("talk.follow", idea=idea_id, person=ctx.actor.person_id, now=ctx.now)
    else:
        tx.write("talk.unfollow", idea=idea_id, person=ctx.actor.person_id)
    changed(tx, ctx, "ideas", idea_id)
