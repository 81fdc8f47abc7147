"""What every use case about ideas needs: who may see one, how one moves on, its first look."""

from __future__ import annotations

from datetime import date, timedelta

from tallyman.core.alerts import kinds
from tallyman.core.ideas import first_look, questions, way
from tallyman.errors import Forbidden, NotFound, Refused
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, calendar_of, changed, company_day, working_days_a_year
from tallyman.services.ideas import browsing, rules
from tallyman.services.ideas.search import keep_text
from tallyman.services.ideas.thanks import thank_for_stage
from tallyman.store.db import Tx
from tallyman.store.records.ideas import FileRow, Idea, IdeasAnswers


def ref(idea_id: int) -> str:
    """How an idea is referred to."""
    return f"I-{idea_id}"


def obj(idea_id: int) -> str:
    """How an idea is named in the audit trail and in effects."""
    return f"idea:{idea_id}"


def may_see(tx: Tx, ctx: Ctx, idea: Idea) -> bool:
    """Whoever has a part in it, always; others with idea.see at its area, once it is handed in, and as far
    as the house lets colleagues browse."""
    if ctx.actor.is_or_stands_in_for(idea.proposer_id, idea.owner_id):
        return True
    if idea.stage == "draft" or never_handed_in(tx, idea):
        return False
    if ctx.actor.may_at("idea.see", idea.area_id):
        return True
    if not ctx.actor.for_ideas:
        return False
    part = ctx.actor.is_or_stands_in_for(idea.expert_id, idea.builder_id)
    part = part or ctx.actor.is_or_stands_in_for(idea.measure_owner_id)
    part = part or tx.value(int, "ideas.has_part", id=idea.id, person=ctx.actor.person_id) is not None
    return part or browsing.browses(tx, ctx, idea)


def never_handed_in(tx: Tx, idea: Idea) -> bool:
    """Whether an idea was withdrawn as a draft: nobody but its proposer ever saw it."""
    return bool(idea.stage == "withdrawn" and tx.value(str, "ideas.came_from", idea=idea.id) == "draft")


def find(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    """The idea, if the actor may see it; otherwise NotFound, so that nothing leaks."""
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    if idea is None or not may_see(tx, ctx, idea):
        raise NotFound(
            f"There is no idea {ref(idea_id)} that you may see.",
            "Check the number; to see an idea without a part in it, the permission idea.see is needed.",
        )
    return idea


def find_to(tx: Tx, ctx: Ctx, idea_id: int, permission: str) -> Idea:
    """The idea, if the actor may see it and holds a permission where it belongs."""
    idea = find(tx, ctx, idea_id)
    ctx.require_at(permission, idea.area_id)
    return idea


# Until when its proposer changes the answers of an idea; what was registered as running never went that way.
ANSWERED_IN = ("draft", "noted", "screened")


def open_to_answers(idea: Idea) -> bool:
    """Whether the answers of an idea can still be given or changed by whoever proposed it."""
    registered = idea.stage == "in service" and idea.source == "runs already"
    return idea.stage in ANSWERED_IN or registered


def own(tx: Tx, ctx: Ctx, idea_id: int) -> Idea:
    """The idea, if the actor proposed it."""
    idea = find(tx, ctx, idea_id)
    if idea.proposer_id != ctx.actor.person_id:
        raise Forbidden(
            f"Only {idea.proposer}, who proposed it, changes the answers of {ref(idea_id)}.",
            f"Ask {idea.proposer}, or send the answer back with a question.",
        )
    return idea


def move(tx: Tx, ctx: Ctx, idea: Idea, stage: str, reason: str = "", building: str | None = None) -> None:
    """Moves an idea on, recorded; raises Refused if it stands elsewhere by now."""
    if not way.may_move(idea.stage, stage):
        raise Refused(
            f"{ref(idea.id)} is {idea.stage}; from there it does not become {stage}.",
            "Load the page again to see where it stands.",
        )
    check_needs(tx, idea, stage)
    calendar = calendar_of(tx)
    today = company_day(tx, ctx)
    due = way.next_of(stage, today, calendar, rules.stage_rules(tx)).due
    moved = tx.write(
        "ideas.move",
        id=idea.id,
        stage=stage,
        building=building,
        from_stage=idea.stage,
        due=due,
        now=ctx.now,
    )
    if not moved:
        raise Refused(f"Somebody else has just moved {ref(idea.id)} on.", "Load the page again.")
    tx.write(
        "ideas.add_stage",
        idea=idea.id,
        from_stage=idea.stage,
        stage=stage,
        now=ctx.now,
        person=ctx.actor.person_id,
        reason=reason,
    )
    words = f"{idea.stage} → {stage}" + (f": {reason}" if reason else "")
    audit(tx, ctx, "idea moved", obj(idea.id), words, {"stage": idea.stage}, {"stage": stage})
    changed(tx, ctx, "ideas", idea.id)
    tell_followers(tx, ctx, kinds.MOVED_ON, idea, stage=stage)
    thank_for_stage(tx, ctx, idea, stage)


def check_needs(tx: Tx, idea: Idea, stage: str) -> None:
    """Raises Refused naming each answer or fact that an idea needs before it reaches a stage."""
    lacking = rules.lacking(tx, idea, stage)
    if lacking:
        named = "; ".join(one["words"] for one in lacking)
        raise Refused(
            f"{ref(idea.id)} cannot become {stage} yet: {len(lacking)} needed "
            f"{'point is' if len(lacking) == 1 else 'points are'} missing.",
            f"Give first: {named}. House rules say what a stage needs.",
            needs=[one["key"] for one in lacking],
            open=[one["words"] for one in lacking],
        )


def named(idea: Idea) -> str:
    """An idea in a sentence: its reference and title."""
    return f"{ref(idea.id)} {idea.title}"


def tell_of(tx: Tx, ctx: Ctx, kind: kinds.Kind, idea: Idea, *to: int | None, **values: object) -> None:
    """Tells of something about an idea, whose name and reference the words may use."""
    tell(tx, ctx, kind, idea, to, idea=named(idea), ref=ref(idea.id), **values)


def tell_followers(
    tx: Tx, ctx: Ctx, kind: kinds.Kind, idea: Idea, *but: int | None, **values: object
) -> None:
    """Tells whoever follows an idea or joined it; its proposer and owner are told by each move themselves."""
    people = tx.values(int, "talk.followers", idea=idea.id)
    left_out = (idea.proposer_id, idea.owner_id, *but)
    tell(tx, ctx, kind, idea, people, left_out, idea=named(idea), ref=ref(idea.id), **values)


def answers_of(tx: Tx, idea_id: int) -> dict[str, object]:
    """The values of all answers by question."""
    return {row.question: row.value for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea_id)}


def evidence_of(tx: Tx, idea: Idea) -> list[str]:
    """The kinds of evidence on file."""
    kept: set[str] = {row.kind for row in tx.all(FileRow, "ideas.files", idea=idea.id)}
    found = [kind for kind in first_look.EVIDENCE if kind in kept]
    if idea.owner_confirmed_at is not None:
        found.append("owner confirmed")
    return found


def look_at(tx: Tx, ctx: Ctx, idea: Idea) -> first_look.FirstLook:
    """The first look computed from the answers and evidence on file."""
    days = working_days_a_year(calendar_of(tx), ctx.now.year)
    joined = tx.values(dict, "talk.volumes", idea=idea.id, until=None)
    given = questions.look_input(answers_of(tx, idea.id), evidence_of(tx, idea), days, joined)
    return first_look.look(first_look.read_answers(given, rules.factors_of(tx, idea)))


def keep_look(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """Computes the first look anew and keeps its ends for ranking; gathers what is written about the idea."""
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    assert idea is not None
    seen = look_at(tx, ctx, idea)
    keep_text(tx, idea_id)
    tx.write(
        "ideas.set_look",
        id=idea_id,
        fit_low=seen.fit_low,
        fit_high=seen.fit_high,
        hours_low=seen.hours_low,
        hours_high=seen.hours_high,
        factors=seen.answers.factors.version,
    )


def ask_back(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """The age stands still from the first question to the proposer on, and goes on with the last answer."""
    idea = tx.one(Idea, "ideas.by_id", id=idea_id)
    assert idea is not None
    open_ones = any(row.state == "sent back" for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea_id))
    today = company_day(tx, ctx)
    if open_ones and idea.asked_on is None:
        tx.write("ideas.set_asked", id=idea_id, asked=today, due=idea.due_on)
    elif not open_ones and idea.asked_on is not None:
        due = way.resumed(idea.due_on, idea.asked_on, today, calendar_of(tx))
        tx.write("ideas.set_asked", id=idea_id, asked=None, due=due)


def days_late(today: date, due: date | None, asked_on: date | None) -> int:
    """By how many days the next move of an idea is overdue on a day of the company; 0 if it is not."""
    # While the proposer is asked back, the age stands still.
    if asked_on is not None:
        return 0
    return 0 if due is None else max(0, (today - due) // timedelta(days=1))
