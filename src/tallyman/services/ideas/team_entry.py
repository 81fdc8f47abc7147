"""Other ways in than the interview: the team enters an idea past the first review, registers what runs
already, and turns an idea into an amendment of something in service and back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from datetime import date

from tallyman.core.alerts import kinds
from tallyman.core.ideas.questions import CHECKS
from tallyman.core.said import day_said
from tallyman.errors import Fault, Forbidden, InputFaults, Refused
from tallyman.services.answers import Choice
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.ideas import drafts, rules
from tallyman.services.ideas.answers import EntryQuestion
from tallyman.services.ideas.base import check_needs, find, move, named, obj, ref, tell_of
from tallyman.services.upkeep import Once
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasLock

LONGEST_WHY = 1000
LONGEST_RUNS_ON = 200
ENTER = "entry.make"
# What the keys of entries are for.
KEYS_FOR = "entry"


@dataclass(frozen=True)
class Entry:
    """An idea as the team enters it: answers by question; where it begins: *noted*, *screened*, or
    *in service* for an automation that runs already since a day."""

    answers: Mapping[str, object]
    stage: str = "screened"
    why: str = ""
    since: date | None = None
    runs_on: str = ""
    source: str = "the team"
    proposer_id: int | None = None
    remarks: Mapping[str, str] = field(default_factory=dict)
    # What was known of it where it comes from: when it was handed in, and that it is off its way there.
    handed_in_on: date | None = None
    off: str = ""
    back_on: date | None = None
    declined_for: str = ""


STAGES = ("noted", "screened", "in service")


def _check(entry: Entry) -> None:
    faults = []
    if entry.stage not in STAGES:
        faults.append(Fault("stage", entry.stage, f"allowed: {', '.join(STAGES)}"))
    for key in ("title", "what"):
        if not entry.answers.get(key):
            faults.append(Fault(key, None, "needed to find it again and talk about it"))
    faults += [
        Fault(key, None, f"there is no such question; known: {', '.join(CHECKS)}")
        for key in entry.answers
        if key not in CHECKS and not key.startswith("own-")
    ]
    why = entry.why.strip()
    if entry.stage != "noted" and not why:
        runs = entry.stage == "in service"
        said = "say how you know that it runs" if runs else "say why it skips the review"
        faults.append(Fault("why", entry.why, f"{said}; it is recorded"))
    if len(why) > LONGEST_WHY:
        faults.append(Fault("why", why[:40] + "…", f"up to {LONGEST_WHY:,} characters"))
    if entry.stage == "in service" and entry.since is None:
        faults.append(Fault("since", None, "say since when it runs"))
    if len(entry.runs_on) > LONGEST_RUNS_ON:
        faults.append(Fault("runs_on", entry.runs_on[:40] + "…", f"up to {LONGEST_RUNS_ON} characters"))
    if faults:
        raise InputFaults(faults)


def enter(ctx: Ctx, entry: Entry, key: str) -> int:
    """Enters an idea in one go; the same key gives the same one again. Gives its number."""
    ctx.require(ENTER)
    _check(entry)
    return ctx.db.transact(lambda tx: enter_in(tx, ctx, entry, key))


def enter_in(tx: Tx, ctx: Ctx, entry: Entry, key: str) -> int:
    """As `enter`, within a transaction; the entry is checked already."""
    said = asdict(entry)
    known = Once(KEYS_FOR, key, said).known(tx, ctx)
    if known is not None:
        return known
    today = company_day(tx, ctx)
    if entry.since is not None and entry.since > today:
        raise InputFaults([Fault("since", entry.since.isoformat(), "lies ahead; give a day up to today")])
    number = drafts.start_in(tx, ctx, key, source=entry.source, what=KEYS_FOR, said=said)
    for question, value in entry.answers.items():
        drafts.answer_in(tx, ctx, number, question, value, entry.remarks.get(question))
    idea = find(tx, ctx, number)
    ctx.require_at(ENTER, idea.area_id)
    if entry.proposer_id is not None and entry.proposer_id != ctx.actor.person_id:
        tx.write("ideas.set_proposer", id=number, person=entry.proposer_id)
    if entry.handed_in_on is not None:
        tx.write("ideas.set_handed_in", id=number, day=entry.handed_in_on)
    _place(tx, ctx, tx.one(Idea, "ideas.by_id", id=number) or idea, entry)
    if entry.off:
        _take_off(tx, ctx, find(tx, ctx, number), entry)
    return number


def _take_off(tx: Tx, ctx: Ctx, idea: Idea, entry: Entry) -> None:
    """Parks or declines an entered idea, as it is where it comes from."""
    if entry.off == "declined":
        move(tx, ctx, idea, "declined", f"{entry.declined_for}. {entry.why.strip()}")
        return
    until = entry.back_on
    assert until is not None
    move(tx, ctx, idea, "parked", f"until {day_said(until)}. {entry.why.strip()}")
    tx.write("ideas.set_parked", id=idea.id, until=until)


def _place(tx: Tx, ctx: Ctx, idea: Idea, entry: Entry) -> None:
    """Moves an entered idea to where it begins, and tells whom it concerns."""
    number = idea.id
    by = f"entered by {ctx.actor.name}"
    if entry.stage == "noted":
        check_needs(tx, idea, "noted")
        move(tx, ctx, idea, "noted", entry.why.strip() or by)
    elif entry.stage == "screened":
        move(tx, ctx, idea, "screened", f"{by}, past the first review: {entry.why.strip()}")
    else:
        since = entry.since
        assert since is not None
        move(tx, ctx, idea, "in service", f"runs since {day_said(since)}, {by}: {entry.why.strip()}")
        tx.write("ideas.set_running", id=number, runs_on=entry.runs_on.strip(), day=since)
    audit(tx, ctx, "idea entered", obj(number), f"{by} as {entry.stage}: {entry.why}".strip(": "))
    if entry.stage == "screened":
        tell_of(tx, ctx, kinds.ENTERED_TO_SIZE, idea, stage=entry.stage)
    tell_of(tx, ctx, kinds.ENTERED, idea, stage=entry.stage)
    changed(tx, ctx, "ideas", number)


@in_transaction
def amend(tx: Tx, ctx: Ctx, idea_id: int, amended: int | None) -> None:
    """Says that an idea is a wanted change to something in service; with None, an idea of its own again."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find(tx, ctx, idea_id)
    mine = idea.proposer_id == ctx.actor.person_id and idea.stage == "draft"
    if not mine and not ctx.actor.may_at("idea.decide", idea.area_id):
        raise Forbidden(
            f"Only reviewers say what {ref(idea_id)} amends, once it is handed in.",
            "Say it in the talk; the permission idea.decide comes with the role reviewer.",
            permission="idea.decide",
        )
    if idea.stage not in ("draft", "noted", "screened", "sized"):
        raise Refused(f"{ref(idea_id)} is {idea.stage}; what it amends is settled.", "Load again.")
    if amended == idea_id:
        raise InputFaults([Fault("amends", ref(idea_id), "an idea does not amend itself")])
    other = drafts.check_amended(tx, ctx, amended) if amended else None
    if tx.write("ideas.set_amends", id=idea_id, amends=amended, now=ctx.now):
        words = f"Is an amendment to {ref(other.id)} {other.title}" if other else "Is an idea of its own"
        audit(tx, ctx, "amends set", obj(idea_id), words, {"amends": idea.amends_id}, {"amends": amended})
        changed(tx, ctx, "ideas", idea_id)
        if other and other.owner_id:
            tell_of(tx, ctx, kinds.CHANGE_WANTED, idea, other.owner_id, other=named(other))


@in_transaction
def questions(tx: Tx, ctx: Ctx) -> list[EntryQuestion]:
    """What the team is asked when it enters an idea: the questions of the whole interview."""
    ctx.require(ENTER)
    found = rules.interview(tx, "full")
    assert found is not None
    return [
        EntryQuestion(
            key=question.key,
            step=step.title,
            text=question.text,
            help=question.help,
            kind=question.kind,
            needed=question.key in ("title", "what"),
            choices=[Choice(value=value, words=words) for value, words in question.choices],
        )
        for step in found.steps
        for question in step.questions
        if question.kind != "files"
    ]
