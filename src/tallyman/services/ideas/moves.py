"""Taking an idea off its way and back: parked, merged, withdrawn, reopened; another route; stuck builds."""

from __future__ import annotations

from datetime import date

from tallyman.core.alerts import kinds
from tallyman.core.ideas import way
from tallyman.core.said import day_said
from tallyman.errors import Fault, Forbidden, InputFaults, Refused
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.ideas.answers import Moves
from tallyman.services.ideas.base import (
    find,
    find_to,
    keep_look,
    move,
    named,
    obj,
    own,
    ref,
    tell_followers,
    tell_of,
)
from tallyman.services.ideas.search import keep_text
from tallyman.services.upkeep import Work, each
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasAnswers, IdeasLock
from tallyman.store.records.people import Person

PARKED = Work("parked", "a parked idea whose day has come")

LONGEST_WORDS = 1000
LONGEST_PARK_DAYS = 731


def _words(field: str, text: str, asked: str) -> str:
    """A sentence that is needed. Raises InputFaults."""
    clean = text.strip()
    if not clean:
        raise InputFaults([Fault(field, text, asked)])
    if len(clean) > LONGEST_WORDS:
        raise InputFaults([Fault(field, clean[:40] + "…", f"up to {LONGEST_WORDS:,} characters")])
    return clean


def _open(tx: Tx, ctx: Ctx, idea_id: int, stages: tuple[str, ...] = way.OPEN) -> Idea:
    """An idea, locked, that the actor reviews and that stands in one of some stages."""
    ctx.require("idea.decide")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "idea.decide")
    if idea.stage not in stages:
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; this is for ideas that are {', '.join(stages)}.",
            "Load the page again to see where it stands.",
        )
    return idea


# ---- parked ------------------------------------------------------------------------------------------


@in_transaction
def park(tx: Tx, ctx: Ctx, idea_id: int, until: date, why: str) -> None:
    """Puts an idea aside until a day, on which it comes back by itself to where it stood."""
    why = _words("why", why, "say what it waits for")
    today = company_day(tx, ctx)
    if not 0 < (until - today).days <= LONGEST_PARK_DAYS:
        message = "choose a day after today, within two years"
        raise InputFaults([Fault("until", until.isoformat(), message)])
    idea = _open(tx, ctx, idea_id, (*way.OPEN, "backed"))
    move(tx, ctx, idea, "parked", f"until {day_said(until)}. {why}")
    tx.write("ideas.set_parked", id=idea_id, until=until)
    tell_of(tx, ctx, kinds.PARKED, idea, until=day_said(until), why=why)


def come_back(ctx: Ctx) -> int:
    """Brings back the parked ideas whose day has come; gives how many."""

    def due(tx: Tx) -> list[int]:
        return tx.values(int, "ideas.due_back", today=company_day(tx, ctx), now=ctx.now)

    return each(ctx, PARKED, ctx.db.transact(due), lambda tx, row: _come_back(tx, ctx, row), "idea")


def _come_back(tx: Tx, ctx: Ctx, idea_id: int) -> int:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    # A second engine finds it back already.
    if idea is None or idea.stage != "parked":
        return 0
    _reopen(tx, ctx, idea, "the day until which it was parked has come")
    tell_of(tx, ctx, kinds.COME_BACK, idea)
    return 1


# ---- reopened, withdrawn -----------------------------------------------------------------------------


def _reopen(tx: Tx, ctx: Ctx, idea: Idea, why: str) -> str:
    came_from = tx.value(str, "ideas.came_from", idea=idea.id)
    stage = way.reopened(idea.stage, came_from)
    if stage is None:
        raise Refused(
            f"{ref(idea.id)} is {idea.stage} and does not come back.",
            "Open the idea it was merged into." if idea.stage == "merged" else "Hand in a new one.",
        )
    move(tx, ctx, idea, stage, why)
    tx.write("ideas.set_parked", id=idea.id, until=None)
    return stage


@in_transaction
def reopen(tx: Tx, ctx: Ctx, idea_id: int, why: str) -> None:
    """Brings an idea back to the stage it stood in: parked and declined ones by a reviewer, withdrawn ones
    by whoever proposed them as well."""
    why = _words("why", why, "say why it comes back")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    mine = idea.stage == "withdrawn" and idea.proposer_id == ctx.actor.person_id
    if not mine:
        ctx.require_at("idea.decide", idea.area_id)
    stage = _reopen(tx, ctx, idea, why)
    tell_of(tx, ctx, kinds.REOPENED, idea, stage=stage, why=why)


@in_transaction
def withdraw(tx: Tx, ctx: Ctx, idea_id: int, why: str) -> None:
    """Gives up an idea that one proposed; it stays readable, and can come back."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = own(tx, ctx, idea_id)
    draft = idea.stage == "draft"
    reason = why.strip() if draft else _words("why", why, "say why, for those who worked on it")
    move(tx, ctx, idea, "withdrawn", reason[:LONGEST_WORDS])
    if not draft:
        tell_of(tx, ctx, kinds.WITHDRAWN, idea, why=reason)


# ---- merged ------------------------------------------------------------------------------------------


@in_transaction
def merge(tx: Tx, ctx: Ctx, idea_id: int, into_id: int, why: str) -> None:
    """Lets an idea go on in another that is the same work.

    Who proposed, joined or followed it does so at the other one, with the volume they gave; what was
    said and shown stays on its own page, which both link to.
    """
    if idea_id == into_id:
        raise InputFaults([Fault("into", into_id, "choose another idea; it cannot go into itself")])
    # Locked in the order of their numbers, so that two that are merged into each other meet here.
    for number in sorted((idea_id, into_id)):
        tx.one(IdeasLock, "ideas.lock", id=number)
    idea = _open(tx, ctx, idea_id)
    into = find(tx, ctx, into_id)
    if into.stage not in way.TAKES_IN:
        message = f"it is {into.stage}; choose one that is alive"
        raise InputFaults([Fault("into", ref(into_id), message)])
    reason = f"into {ref(into_id)} {into.title}. {why.strip()}".strip()[:LONGEST_WORDS]
    move(tx, ctx, idea, "merged", reason)
    tx.write("ideas.set_merged", id=idea_id, into=into_id)
    _carry_over(tx, ctx, idea, into)
    words = f"{ref(idea_id)} {idea.title} by {idea.proposer} went into it"
    audit(tx, ctx, "idea took another in", obj(into_id), words)
    changed(tx, ctx, "ideas", into_id)
    tell_of(tx, ctx, kinds.MERGED, idea, into=named(into), into_id=into_id)
    came: dict[str, object] = {"other": named(idea), "by": idea.proposer}
    tell_of(tx, ctx, kinds.TOOK_IN, into, **came)
    tell_followers(tx, ctx, kinds.FOLLOWED_TOOK_IN, into, idea.proposer_id, **came)


def _carry_over(tx: Tx, ctx: Ctx, idea: Idea, into: Idea) -> None:
    """Voices, volumes and followers move over; the proposer becomes one who does the work as well."""
    ends = {"idea": idea.id, "into": into.id}
    tx.write("talk.move_voices", **ends, proposer=into.proposer_id)
    tx.write("talk.move_followers", **ends, now=ctx.now)
    if idea.proposer_id != into.proposer_id:
        given = {row.question: row.value for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea.id)}
        tx.write(
            "talk.join",
            idea=into.id,
            person=idea.proposer_id,
            does_it=True,
            volume=given.get("volume"),
            note=idea.what[:LONGEST_WORDS],
            source=idea.id,
            now=ctx.now,
        )
    if into.stage in way.OPEN:
        keep_look(tx, ctx, into.id)


# ---- another route -----------------------------------------------------------------------------------


@in_transaction
def take_route(tx: Tx, ctx: Ctx, idea_id: int, route: str, measure: str, owner_id: int, due: date) -> None:
    """Sends an idea another way than a robot: a measure that somebody answers for by a day."""
    faults = []
    if route not in way.ROUTES:
        faults.append(Fault("route", route, f"allowed: {', '.join(way.ROUTES)}"))
    if not measure.strip() or len(measure) > LONGEST_WORDS:
        faults.append(
            Fault("measure", measure[:60], f"say what is to be done, up to {LONGEST_WORDS:,} characters")
        )
    if faults:
        raise InputFaults(faults)
    idea = _open(tx, ctx, idea_id)
    person = tx.one(Person, "people.by_id", id=owner_id)
    if person is None or person.state not in ("active", "invited"):
        raise InputFaults([Fault("owner", owner_id, "there is no such person; choose one")])
    if due <= company_day(tx, ctx):
        raise InputFaults([Fault("due", due.isoformat(), "choose a day after today")])
    move(tx, ctx, idea, "building", f"another route, {route}: {measure.strip()}", building="open")
    tx.write(
        "ideas.set_route",
        id=idea_id,
        route=route,
        measure=measure.strip(),
        owner=owner_id,
        due=due,
        now=ctx.now,
    )
    keep_text(tx, idea_id)
    tell_of(tx, ctx, kinds.OTHER_ROUTE, idea, route=route, measure=measure.strip())
    tell_of(tx, ctx, kinds.MEASURE_ASKED, idea, owner_id, due=day_said(due))


def _may_build(ctx: Ctx, idea: Idea) -> bool:
    """Whoever builds it, answers for its measure, or takes up builds where it belongs."""
    mine = ctx.actor.is_or_stands_in_for(idea.builder_id, idea.measure_owner_id)
    return mine or ctx.actor.may_at("build.make", idea.area_id)


def _being_built(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    if not _may_build(ctx, idea):
        who = idea.measure_owner or idea.builder or "nobody yet"
        raise Forbidden(
            f"Only {who}, who sees to it, and those who take up builds say how {ref(idea_id)} stands.",
            "Tell them in the talk.",
        )
    if idea.stage != "building":
        raise Refused(f"{ref(idea_id)} is {idea.stage}, not being built.", "Load the page again.")
    return idea


@in_transaction
def set_stuck(tx: Tx, ctx: Ctx, idea_id: int, why: str) -> None:
    """Says that a build or measure is stuck, and at what; with no words it goes on."""
    words = why.strip()
    if len(words) > LONGEST_WORDS:
        raise InputFaults([Fault("why", words[:40] + "…", f"up to {LONGEST_WORDS:,} characters")])
    idea = _being_built(tx, ctx, idea_id)
    if not words and idea.building != "stuck":
        raise Refused(f"{ref(idea_id)} is not stuck.", "Load the page again.")
    on = "taken up" if idea.builder_id or idea.route != way.ROBOT else "open"
    state = "stuck" if words else on
    tx.write("ideas.set_stuck", id=idea_id, building=state, why=words, now=ctx.now)
    said = f"stuck: {words}" if words else "goes on"
    before = {"building": idea.building}
    audit(
        tx,
        ctx,
        "build stuck" if words else "build goes on",
        obj(idea_id),
        said,
        before,
        {"building": state},
    )
    changed(tx, ctx, "ideas", idea_id)
    tell_of(tx, ctx, kinds.BUILD_STANDS, idea, said=f"{'is ' if words else ''}{said}")


@in_transaction
def measure_done(tx: Tx, ctx: Ctx, idea_id: int, words: str, since: date | None = None) -> None:
    """Another route's measure is carried out: the idea is in service, from today or a day before."""
    said = _words("words", words, "say what was done, in a sentence")
    today = company_day(tx, ctx)
    if since is not None and since > today:
        raise InputFaults([Fault("since", since.isoformat(), "lies ahead; give a day up to today")])
    idea = _being_built(tx, ctx, idea_id)
    if idea.route == way.ROBOT:
        raise Refused(
            f"{ref(idea_id)} goes the way of a robot.", "It is in service when its routine goes live."
        )
    move(tx, ctx, idea, "in service", said)
    tx.write("ideas.set_live", id=idea_id, day=since or today)
    tell_of(tx, ctx, kinds.MEASURE_DONE, idea, said=said)


@in_transaction
def retire(tx: Tx, ctx: Ctx, idea_id: int, why: str) -> None:
    """Takes an idea out of service, for good: what it costs by the month ends today. What it was promised
    and what it delivered stays, and a routine that still runs for it is still tallied."""
    said = _words("why", why, "say why it ends, in a sentence")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "case.decide")
    if idea.stage != "in service":
        raise Refused(f"{ref(idea_id)} is {idea.stage}, not in service.", "Load the page again.")
    move(tx, ctx, idea, "retired", said)
    tx.write("ideas.set_retired", id=idea_id, day=company_day(tx, ctx))
    tell_of(tx, ctx, kinds.RETIRED, idea, said=said)


def choices(tx: Tx, ctx: Ctx, idea: Idea) -> Moves:
    """What may be done about where an idea stands, for its page."""
    reviewer = ctx.actor.may_at("idea.decide", idea.area_id)
    mine = idea.proposer_id == ctx.actor.person_id
    off = idea.stage in ("parked", "declined", "withdrawn")
    return Moves(
        park=reviewer and way.may_move(idea.stage, "parked"),
        merge=reviewer and way.may_move(idea.stage, "merged"),
        decline=reviewer and idea.stage in way.OPEN,
        route=reviewer and idea.stage in way.OPEN,
        reopen=off and (reviewer or (mine and idea.stage == "withdrawn")),
        amend=idea.stage in ("draft", *way.OPEN) and (reviewer or (mine and idea.stage == "draft")),
        withdraw=mine and way.may_move(idea.stage, "withdrawn"),
        stuck=idea.stage == "building" and _may_build(ctx, idea),
        measure=idea.stage == "building" and idea.route != way.ROBOT and _may_build(ctx, idea),
        retire=idea.stage == "in service" and ctx.actor.may_at("case.decide", idea.area_id),
    )
