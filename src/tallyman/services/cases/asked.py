"""A sizing sent to an expert as a link: just that sheet, answered without signing in, recorded by name."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields
from datetime import timedelta

from tallyman.core.alerts import kinds
from tallyman.core.cases.facts import LABELS, SIZING
from tallyman.errors import Fault, InputFaults, NotFound, Refused
from tallyman.services.cases import fact_keeping
from tallyman.services.cases.answers import AnsweredFact, AskedResults, AskedSizing, ExpertAsked
from tallyman.services.cases.facts import as_rows
from tallyman.services.cases.sizing import compute, results_of, sizing_sheet
from tallyman.services.context import Actor, Ctx, audit, changed, company_of, in_transaction
from tallyman.services.ideas import find_to, obj, ref, tell_of
from tallyman.services.people import links
from tallyman.store.db import Tx, dump
from tallyman.store.records.cases import AskedByLink, AskedOfIdea
from tallyman.store.records.house import SystemChoice
from tallyman.store.records.ideas import Idea, IdeasFacts, IdeasLock
from tallyman.store.records.people import Person

ASKED_FOR = timedelta(days=14)
KIND = "sizing"
MOST_OPEN = 20
LONGEST_WORDS = 1000


@in_transaction
def send(tx: Tx, ctx: Ctx, idea_id: int, person_id: int, words: str, fields: Sequence[str]) -> int:
    """Asks a person for facts of a sizing, all or some, by a mail with a link; gives the request's number."""
    ctx.require("sizing.make")
    words = words.strip()
    faults = [Fault("fields", name, "no such fact of a sizing") for name in fields if name not in SIZING]
    if len(words) > LONGEST_WORDS:
        faults.append(Fault("words", words[:40] + "…", f"at most {LONGEST_WORDS:,} characters"))
    if faults:
        raise InputFaults(faults)
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    _still_open(idea)
    person = tx.one(Person, "people.by_id", id=person_id)
    if person is None or person.state not in ("active", "invited"):
        raise InputFaults([Fault("person", person_id, "there is no such person; choose one")])
    there = tx.all(AskedOfIdea, "asked.of_idea", idea=idea_id)
    if any(row.person_id == person_id and row.state == "open" for row in there):
        message = "is asked already; take that back to ask anew"
        raise InputFaults([Fault("person", person.name, message)])
    if sum(row.state == "open" for row in there) >= MOST_OPEN:
        raise Refused(f"{MOST_OPEN} people are asked already.", "Take one back first.")
    link = _mail(tx, ctx, idea, person, words, fields)
    number = tx.insert(
        "asked.add",
        idea=idea_id,
        person=person_id,
        by=ctx.actor.person_id,
        words=words,
        fields=dump(list(fields)),
        link=link,
        now=ctx.now,
    )
    audit(tx, ctx, "expert asked", obj(idea_id), f"Asked {person.name} for facts of the sizing")
    changed(tx, ctx, "ideas", idea_id)
    return number


def _mail(tx: Tx, ctx: Ctx, idea: Idea, person: Person, words: str, fields: Sequence[str]) -> int:
    what = f"{len(fields)} facts" if fields else "what you know"
    said = f"{ctx.actor.name} writes: {words}\n\n" if words else ""
    body = (
        f"{person.name},\n\n{ctx.actor.name} asks you for {what} about {ref(idea.id)} {idea.title}: "
        "how often it is done, how long it takes, what goes off the usual way.\n\n"
        f"{said}The sheet opens here, without signing in:\n\n{{link}}\n\n"
        f"Each answer is kept as you type it, under your name. The link is yours alone and works for "
        f"{ASKED_FOR.days} days.\n"
    )
    subject = f"{ctx.actor.name} asks you about {ref(idea.id)} {idea.title}"
    return links.send(tx, ctx, KIND, person.id, person.email, ASKED_FOR, subject, body, only=False)


def _still_open(idea: Idea) -> None:
    if idea.stage != "screened":
        raise Refused(
            f"{ref(idea.id)} is {idea.stage}; experts are asked while it is being sized.",
            "Its sizing is open from screening until it is agreed.",
        )


@in_transaction
def take_back(tx: Tx, ctx: Ctx, idea_id: int, number: int) -> None:
    """Takes a request back; its link shows nothing any more."""
    ctx.require("sizing.make")
    find_to(tx, ctx, idea_id, "sizing.make")
    row = next((one for one in tx.all(AskedOfIdea, "asked.of_idea", idea=idea_id) if one.id == number), None)
    if row is None:
        raise NotFound("There is no such request.", "Load the page again.")
    if not _end(tx, ctx, row, "taken back", ""):
        raise Refused(f"{row.person} was asked; it is {row.state} by now.", "Load the page again.")
    audit(tx, ctx, "expert asked", obj(idea_id), f"Took the question to {row.person} back")
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def open_again(tx: Tx, ctx: Ctx, idea_id: int, number: int) -> None:
    """Sends the same questions to the same person once more, by a new link; what was given before stays.

    For one that was answered or taken back, and for a link that has run out.
    """
    ctx.require("sizing.make")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    _still_open(idea)
    there = tx.all(AskedOfIdea, "asked.of_idea", idea=idea_id)
    row = next((one for one in there if one.id == number), None)
    if row is None:
        raise NotFound("There is no such request.", "Load the page again.")
    mine = [one for one in there if one.person_id == row.person_id and _works(ctx, one)]
    if mine:
        raise Refused(f"{row.person} has a link that works already.", "Take it back to send another one.")
    person = tx.one(Person, "people.by_id", id=row.person_id)
    if person is None or person.state not in ("active", "invited"):
        raise Refused(f"{row.person} is not here any more.", "Ask somebody else.")
    link = _mail(tx, ctx, idea, person, row.words, row.fields)
    tx.write("asked.open_again", id=row.id, link=link)
    audit(tx, ctx, "expert asked", obj(idea_id), f"Opened the sheet for {row.person} again")
    changed(tx, ctx, "ideas", idea_id)


def _works(ctx: Ctx, row: AskedOfIdea) -> bool:
    return row.state == "open" and row.ends_at is not None and row.ends_at > ctx.now


def _end(tx: Tx, ctx: Ctx, row: AskedOfIdea | AskedByLink, state: str, remark: str) -> bool:
    done = tx.write("asked.end", id=row.id, state=state, remark=remark, now=ctx.now)
    tx.write("links.use", id=row.link_id, now=ctx.now)
    return bool(done)


def of_idea(tx: Tx, idea_id: int) -> list[ExpertAsked]:
    """Who was asked what, and which facts each gave since, with when."""
    rows = tx.all(AskedOfIdea, "asked.of_idea", idea=idea_id)
    given = tx.all(IdeasFacts, "ideas.facts", idea=idea_id) if rows else []
    return [
        ExpertAsked(
            id=row.id,
            person=row.person,
            asker=row.asker,
            words=row.words,
            labels=[LABELS[name] for name in row.fields],
            state=row.state,
            asked_at=row.asked_at,
            ends_at=row.ends_at,
            opened_at=row.opened_at,
            ended_at=row.ended_at,
            remark=row.remark,
            answered=[
                AnsweredFact(field=fact.field, label=LABELS[fact.field], at=fact.at)
                for fact in given
                if fact.person_id == row.person_id and fact.at >= row.asked_at and fact.field in SIZING
            ],
        )
        for row in rows
    ]


def _request(tx: Tx, ctx: Ctx, token: str) -> tuple[AskedByLink, Idea]:
    """The request that a link stands for, and its idea. Raises NotFound for any link that is not open."""
    link = links.open_link(tx, ctx, KIND, token)
    row = tx.one(AskedByLink, "asked.by_link", link=link.id)
    idea = tx.one(Idea, "ideas.by_id", id=row.idea_id) if row else None
    if row is None or idea is None or row.state != "open":
        raise NotFound("This link does not work any more.", "Ask whoever sent it for a new one.")
    return row, idea


def _as(ctx: Ctx, row: AskedByLink) -> Ctx:
    """The expert, who may do nothing but answer this sheet."""
    return Ctx(ctx.db, ctx.now, Actor(row.person_id, row.person, row.zone, address=ctx.actor.address))


@in_transaction
def look(tx: Tx, ctx: Ctx, token: str) -> AskedSizing:
    """The sheet that a link shows: the idea in words, the facts asked for, what follows from them."""
    row, idea = _request(tx, ctx, token)
    sheet = sizing_sheet(tx, idea)
    wanted = row.fields or list(SIZING)
    found = results_of(compute(tx, ctx, idea, sheet))
    return AskedSizing(
        idea=idea.id,
        title=idea.title,
        what=idea.what,
        person=row.person,
        asker=row.asker,
        words=row.words,
        asked_at=row.asked_at,
        zone=row.zone,
        company=company_of(tx).name,
        open=idea.stage == "screened",
        wanted=row.fields,
        fields=as_rows(sheet, {name: LABELS[name] for name in SIZING if name in wanted}),
        results=AskedResults(**{one.name: getattr(found, one.name) for one in fields(AskedResults)}),
        systems=tx.all(SystemChoice, "systems.names"),
    )


@in_transaction
def answer(tx: Tx, ctx: Ctx, token: str, given: Mapping[str, object], seen: Mapping[str, int]) -> None:
    """Keeps facts that an expert gave by a link. Raises InputFaults, and Conflict as a sizing sheet does."""
    kept = fact_keeping.checked(given)
    row, idea = _request(tx, ctx, token)
    asked = set(row.fields or SIZING)
    foreign = [Fault(name, None, "you were not asked for this") for name in kept if name not in asked]
    if foreign:
        raise InputFaults(foreign)
    tx.one(IdeasLock, "ideas.lock", id=idea.id)
    _still_open(idea)
    fact_keeping.keep_in(tx, _as(ctx, row), idea, kept, seen, "asked by link")
    tx.write("asked.opened", id=row.id, now=ctx.now)


@in_transaction
def done(tx: Tx, ctx: Ctx, token: str, remark: str) -> None:
    """The expert says that this is all; whoever asked is told."""
    remark = remark.strip()
    if len(remark) > LONGEST_WORDS:
        raise InputFaults([Fault("remark", remark[:40] + "…", f"at most {LONGEST_WORDS:,} characters")])
    row, idea = _request(tx, ctx, token)
    expert = _as(ctx, row)
    _end(tx, expert, row, "answered", remark)
    words = f"{row.person} answered" + (f": {remark}" if remark else "")
    audit(tx, expert, "expert answered", obj(idea.id), words)
    tell_of(tx, expert, kinds.EXPERT_ANSWERED, idea, row.asked_by)
    changed(tx, expert, "ideas", idea.id)
