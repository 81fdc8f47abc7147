"""Reading ideas: the list, and one idea with its thread, answers, first look and what is next."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from tallyman.core.ideas import way
from tallyman.core.ideas.first_look import working
from tallyman.core.ideas.interviews import left_out
from tallyman.core.ideas.questions import BY_KEY, Question
from tallyman.core.ideas.way import AFTER_BACKING, OPEN_STAGES, PROMISED_STAGES
from tallyman.core.said import day_said
from tallyman.services.answers import AreaName, Choice
from tallyman.services.context import Ctx, company_day, in_transaction
from tallyman.services.holding import people_with
from tallyman.services.ideas import browsing, moves, rules, search, talk, worth_keys
from tallyman.services.ideas.answers import (
    Answer,
    Expert,
    IdeaMay,
    IdeaPage,
    IdeaRow,
    IdeaWhole,
    InterviewName,
    MyIdea,
    NextStep,
    SystemRow,
    ThreadStage,
)
from tallyman.services.ideas.base import days_late, find, look_at, open_to_answers
from tallyman.services.ideas.counted import by_hand, may_count, may_measure
from tallyman.services.ideas.helpers import may_ask_helpers
from tallyman.services.ideas.review import matches_of
from tallyman.store import lists
from tallyman.store.db import Tx
from tallyman.store.records.house import AreasTree
from tallyman.store.records.ideas import (
    AmendmentRow,
    FileRow,
    Helper,
    Idea,
    IdeasAnswers,
    IdeasOfPerson,
    IdeasStanding,
    ListIdeas,
    MergedIn,
    StageCount,
    WayStep,
)

THREAD = ("noted", "screened", "sized", "backed", "building", "in service")


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """Which ideas a list shows: nothing set, all that the actor may see."""

    stage: str | None = None
    text: str | None = None
    mine: bool = False
    division: int | None = None
    owner: int | None = None
    route: str | None = None
    reach_from: int | None = None
    late: bool = False
    asked: bool = False
    reach_to: int | None = None
    worth_from: int | None = None
    worth_to: int | None = None
    source: str | None = None
    system: str | None = None
    older_than: int | None = None
    amendments: bool = False
    ids: tuple[int, ...] = ()

    def by_figures(self, sort: str) -> bool:
        """Whether it asks for, or orders by, what an idea is worth."""
        return sort == "worth" or self.worth_from is not None or self.worth_to is not None

    def filters(self, tx: Tx, ctx: Ctx, sort: str = "") -> dict[str, object]:
        """As the list takes it, with what the actor may see.

        By what ideas are worth, only those whose worth they may see; raises Forbidden where that is of none.
        """
        ctx.require_for_ideas()
        me = ctx.actor.person_id
        areas = ctx.actor.areas("idea.see")
        if self.by_figures(sort):
            ctx.require("idea.see")
        below = tx.values(int, "house.divisions_below", id=self.division) if self.division else []
        return {
            "stage": self.stage,
            "not_drafts_of_others": me,
            "text": search.looked_for(self.text) if self.text and self.text.strip() else None,
            "proposer": me if self.mine else None,
            "division": tuple(below) or (0,) if self.division else None,
            "owner": self.owner,
            "route": self.route,
            "reach_from": self.reach_from,
            "late_on": company_day(tx, ctx) if self.late else None,
            "asked": True if self.asked else None,
            "reach_to": self.reach_to,
            "worth_from": self.worth_from,
            "worth_to": self.worth_to,
            "source": self.source,
            "system": self.system,
            "since_before": ctx.now - timedelta(days=self.older_than) if self.older_than else None,
            "amendments": True if self.amendments else None,
            "ids": self.ids or None,
            "figured_in": tuple(areas or (0,)) if areas is not None and self.by_figures(sort) else None,
            "in_areas": None if areas is None else _in_areas(tx, ctx, areas),
        }


def _in_areas(tx: Tx, ctx: Ctx, areas: frozenset[int]) -> dict[str, object]:
    """What is seen by its area, and what colleagues browse."""
    among = browsing.divisions(tx, ctx)
    return {
        "in_areas": tuple(areas) or (0,),
        "browsed": among or (0,),
        "browse_all": among is None,
    }


def seen_among(tx: Tx, ctx: Ctx, ids: tuple[int, ...]) -> list[ListIdeas]:
    """Those of some ideas that the actor may see, in the order given."""
    if not ids:
        return []
    filters, rows, mark = Wanted(ids=ids).filters(tx, ctx), [], None
    while True:
        found, mark = lists.page(tx, lists.IDEAS, filters, "newest", mark, lists.MOST_ROWS)
        rows += found
        if mark is None:
            break
    place = {number: n for n, number in enumerate(ids)}
    return sorted(rows, key=lambda row: place[row.id])


def sees_figures(ctx: Ctx, row: ListIdeas) -> bool:
    """Whether the actor sees what an idea is worth; who only browses it does not."""
    return ctx.actor.may_at("idea.see", row.area_id)


@in_transaction
def page_of_ideas(
    tx: Tx, ctx: Ctx, wanted: Wanted, *, sort: str = "newest", after: str | None = None, limit: int = 50
) -> IdeaPage:
    """One page of the ideas that the actor may see."""
    rows, following = lists.page(tx, lists.IDEAS, wanted.filters(tx, ctx, sort), sort, after, limit)
    today = company_day(tx, ctx)
    key = worth_keys.key_of(tx, today)
    shown = [
        IdeaRow(
            id=row.id,
            title=row.title,
            stage=row.stage,
            building=row.building,
            stage_since=row.stage_since,
            due_on=row.due_on,
            days_late=days_late(today, row.due_on, row.asked_on),
            hours_low=row.hours_low,
            hours_high=row.hours_high,
            worth=row.worth if sees_figures(ctx, row) else None,
            worth_waits=sees_figures(ctx, row) and worth_keys.waits(row.worth_key, key),
            effort_days=row.effort_days if sees_figures(ctx, row) else None,
            division=row.division,
            proposer=row.proposer,
            owner=row.owner,
            source=row.source,
            route=row.route,
            amends_id=row.amends_id,
            changed_at=row.changed_at,
        )
        for row in rows
    ]
    # Counted once, with the first page.
    counted = ctx.actor.may("idea.see") and after is None
    counts = tx.all(StageCount, "ideas.by_stage", **ctx.scope("idea.see")) if counted else []
    apart = wanted.by_figures(sort) and ctx.actor.areas("idea.see") is not None
    return IdeaPage(rows=shown, next=following, stages=counts, figures_only=apart)


def systems(ctx: Ctx) -> list[SystemRow]:
    """The systems that ideas name, for whoever sees ideas."""
    ctx.require("idea.see")
    return ctx.db.transact(lambda tx: tx.all(SystemRow, "search.names_of_systems"))


@in_transaction
def mine(tx: Tx, ctx: Ctx) -> list[MyIdea]:
    """The actor's own ideas by what they need: *needs you*, *moving*, *resting*; with what is next."""
    ctx.require_for_ideas()
    rows, today = [], company_day(tx, ctx)
    for row in tx.all(IdeasOfPerson, "ideas.of_person", person=ctx.actor.person_id):
        needs = row.stage == "draft" or row.asked_on is not None
        alive = row.stage in way.TAKES_IN and row.stage != "in service"
        group = "needs you" if needs else ("moving" if alive else "resting")
        rows.append(
            MyIdea(
                id=row.id,
                title=row.title,
                stage=row.stage,
                building=row.building,
                due_on=row.due_on,
                stage_since=row.stage_since,
                group=group,
                words=_next(row, today).words,
            )
        )
    return rows


def _standing(tx: Tx, low: object) -> str:
    if low is None:
        return ""
    row = tx.one(IdeasStanding, "ideas.standing", low=low)
    ahead, ideas = (int(row.ahead or 0), int(row.ideas)) if row else (0, 0)
    place, total = ahead + 1, max(ideas, ahead + 1)
    return f"By the low end it stands {place} of {total} among the ideas not yet being built."


def _thread(tx: Tx, idea: Idea) -> list[ThreadStage]:
    """The stages on the path: reached when and by whom, or what is still to come."""
    reached: dict[str, WayStep] = {}
    for row in tx.all(WayStep, "ideas.stages", idea=idea.id):
        reached[row.stage] = row
    path = list(THREAD)
    if idea.stage not in (*THREAD, "draft"):
        known = [stage for stage in path if stage in reached]
        path = [*known, idea.stage]
    rows = []
    for stage in path:
        step = reached.get(stage)
        passed = step is not None and (
            stage not in THREAD or idea.stage not in THREAD or THREAD.index(stage) <= THREAD.index(idea.stage)
        )
        rows.append(
            ThreadStage(
                stage=stage,
                at=step.at if step and passed else None,
                by=step.person if step and passed else None,
                reason=step.reason if step and passed else "",
                now=stage == idea.stage,
                on=idea.live_on if stage == "in service" and step and passed else None,
            )
        )
    return rows


def _asked(tx: Tx, idea: Idea, given: Mapping[str, IdeasAnswers]) -> list[tuple[Question, str]]:
    """The questions to show with the step each stands in: those of the interview; once it is handed in
    also the standard ones it left out, and those that are asked no more."""
    found = rules.of_idea(tx, idea)
    rows = [(question, step.title) for step in found.steps for question in step.questions]
    asked = {question.key for question in found.questions}
    former = {key for key in given if key not in asked and key not in BY_KEY}
    rows += [(one, "Asked no more") for one in rules.former_questions(tx, idea, former)]
    if idea.stage == "draft":
        return rows + [(one, "Answered before") for one in left_out(found) if one.key in given]
    return rows + [(one, "Not asked in its interview") for one in left_out(found)]


def _answers(tx: Tx, ctx: Ctx, idea: Idea) -> list[Answer]:
    given = {row.question: row for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea.id)}
    names = {"division": idea.division, "owner": idea.owner, "knows": idea.knows}
    rows = []
    for question, step in _asked(tx, idea, given):
        row = given.get(question.key)
        value = row.value if row else None
        rows.append(
            Answer(
                key=question.key,
                step=step,
                text=question.text,
                help=question.help,
                kind=question.kind,
                needed=question.needed,
                choices=[Choice(value=v, words=w) for v, w in question.choices],
                value=value,
                shown=names.get(question.key, value),
                remark=row.remark if row else None,
                state=row.state if row else None,
                note=row.state_note if row else None,
                by=row.person if row else None,
                at=row.at if row else None,
            )
        )
    return rows


def _next(idea: IdeasOfPerson | Idea, today: date) -> NextStep:
    words, permission = way.next_words(idea.stage)
    if idea.stage == "screened" and idea.sizing_state == "offered":
        words = f"Somebody other than {idea.sizer} agrees to the sizing, or sends it back"
    if idea.asked_on is not None:
        words = f"{idea.proposer} answers what was asked back; the age stands still meanwhile"
    if idea.stage == "building":
        words = _next_of_build(idea, words)
    if idea.stage == "parked" and idea.parked_until is not None:
        words = f"It comes back by itself on {day_said(idea.parked_until)}"
    if idea.stage == "merged" and idea.merged_into is not None:
        words = f"It goes on in I-{idea.merged_into} {idea.merged_title}"
    return NextStep(
        words=words,
        permission=permission,
        due=idea.due_on,
        days_late=days_late(today, idea.due_on, idea.asked_on),
    )


def _areas_to_choose(tx: Tx, ctx: Ctx, idea: Idea) -> list[AreaName]:
    """Where an idea may be placed: the areas where the actor says so, and where it lies now."""
    rows = tx.all(AreasTree, "areas.tree")
    return [
        AreaName(row.id, row.name)
        for row in rows
        if row.id == idea.area_id or ctx.actor.may_at("idea.change", row.id)
    ]


def _next_of_build(idea: IdeasOfPerson | Idea, words: str) -> str:
    if idea.building == "stuck":
        return f"It is stuck: {idea.stuck_why}"
    if idea.route != way.ROBOT:
        return f"{idea.measure_owner} sees to it: {idea.measure}"
    return "Trial runs are watched; then the routine goes live" if idea.building == "on trial" else words


@in_transaction
def one(tx: Tx, ctx: Ctx, idea_id: int) -> IdeaWhole:
    """An idea as its page shows it."""
    idea = find(tx, ctx, idea_id)
    seen = look_at(tx, ctx, idea)
    me, area = ctx.actor.person_id, idea.area_id

    def may(permission: str) -> bool:
        return ctx.actor.may_at(permission, area)

    reviewing = may("idea.decide") and idea.stage == "noted"
    return IdeaWhole(
        id=idea.id,
        title=idea.title,
        what=idea.what,
        stage=idea.stage,
        building=idea.building,
        stage_since=idea.stage_since,
        division=idea.division,
        proposer=idea.proposer,
        proposer_id=idea.proposer_id,
        owner=idea.owner,
        owner_confirmed_at=idea.owner_confirmed_at,
        builder=idea.builder,
        fit_low=idea.fit_low,
        fit_high=idea.fit_high,
        hours_low=idea.hours_low,
        hours_high=idea.hours_high,
        worth=idea.worth if may("idea.see") else None,
        effort_days=idea.effort_days if may("idea.see") else None,
        sizing_state=idea.sizing_state,
        live_on=idea.live_on,
        handed_in_on=idea.handed_in_on,
        version=idea.version,
        made_at=idea.made_at,
        area=idea.area,
        area_id=idea.area_id,
        asked_on=idea.asked_on,
        parked_until=idea.parked_until,
        merged_into=idea.merged_into,
        merged_title=idea.merged_title,
        route=idea.route,
        measure=idea.measure,
        measure_owner=idea.measure_owner,
        stuck_why=idea.stuck_why,
        source=idea.source,
        interview=idea.interview,
        knows=idea.knows,
        amends_id=idea.amends_id,
        amends_title=idea.amends_title,
        runs_on=idea.runs_on,
        factors_version=idea.factors_version,
        thread=_thread(tx, idea),
        next=_next(idea, company_day(tx, ctx)),
        answers=_answers(tx, ctx, idea),
        files=tx.all(FileRow, "ideas.files", idea=idea_id),
        helpers=tx.all(Helper, "ideas.helpers", idea=idea_id),
        areas=_areas_to_choose(tx, ctx, idea) if may("idea.change") else [],
        look=working(seen, _standing(tx, seen.hours_low)),
        comments=talk.comments(tx, ctx, idea),
        voices=talk.voices(tx, idea),
        follows=tx.value(bool, "talk.follows", idea=idea_id, person=me) is not None,
        merged_in=tx.all(MergedIn, "ideas.merged_in", id=idea_id),
        amendments=tx.all(AmendmentRow, "ideas.amendments", id=idea_id),
        interviews=_interviews(tx, idea),
        moves=moves.choices(tx, ctx, idea),
        way=tx.all(WayStep, "ideas.stages", idea=idea_id),
        matches=matches_of(tx, ctx, idea, seen_only=True) if reviewing else [],
        experts=_experts(tx, area) if reviewing else [],
        may=IdeaMay(
            answer=idea.proposer_id == me and open_to_answers(idea),
            review=reviewing,
            confirm=ctx.actor.is_or_stands_in_for(idea.owner_id) and idea.owner_confirmed_at is None,
            size=may("sizing.make") and idea.stage in OPEN_STAGES,
            record=(may("sizing.make") or may("build.make")) and idea.stage in AFTER_BACKING,
            promise=may("case.decide") and idea.stage in PROMISED_STAGES,
            see_case=may("idea.see"),
            agree=may("sizing.decide") and idea.sizing_state == "offered" and idea.sized_by != me,
            back=may("case.decide") and idea.stage == "sized",
            build=may("build.make") and idea.stage == "backed",
            see_tally=may("value.see"),
            measure=by_hand(idea) and may_measure(ctx, idea),
            count=idea.live_on is not None and may_count(ctx, idea),
            place=may("idea.change"),
            ask_helpers=may_ask_helpers(ctx, idea),
        ),
    )


def _experts(tx: Tx, area: int | None) -> list[Expert]:
    return [Expert(row.id, row.name) for row in people_with(tx, "sizing.make", area)]


def _interviews(tx: Tx, idea: Idea) -> list[InterviewName]:
    """The interviews that a draft can be asked by."""
    if idea.stage != "draft":
        return []
    return [
        InterviewName(kind=one.kind, title=one.title, about=one.about)
        for one in rules.all_interviews(tx)
        if one.offered or one.kind == idea.interview
    ]
