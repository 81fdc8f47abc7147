"""Today: what waits for me, what went wrong, what comes next."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Protocol
from zoneinfo import ZoneInfo

from tallyman.core.exact import rounded, text_of
from tallyman.core.runs import is_silent
from tallyman.core.said import day_said, time_said
from tallyman.services.access import requests
from tallyman.services.context import Ctx, company_day, in_transaction
from tallyman.services.ideas import days_late
from tallyman.services.rates import KINDS
from tallyman.services.robots import hosts_seen
from tallyman.services.runs import attended, since_yesterday, stalling
from tallyman.services.today import duties, house_rules
from tallyman.services.today.answers import Coming, Mine, Today, Waits, Wrong
from tallyman.services.workshop import approving
from tallyman.store.db import Tx
from tallyman.store.records.alerts import Notification
from tallyman.store.records.ideas import (
    IdeasMeasuresOf,
    IdeasMine,
    IdeasTakenUpBy,
    IdeasToConfirm,
    IdeasWaitingIn,
)
from tallyman.store.records.runs import RunsLateOpen, RunsWentWrong
from tallyman.store.records.starts import TriggersComing
from tallyman.store.records.tally import TallyRatesToSettle, TallyUnusualOpen
from tallyman.store.records.workshop import RoutinesReadyToGoLive


def _wait(
    kind: str,
    title: str,
    words: str,
    link: str,
    due: date | None = None,
    late: int = 0,
    number: int | None = None,
) -> Waits:
    return Waits(kind=kind, title=title, words=words, link=link, due=due, late=late, number=number)


class Waiting(Protocol):
    """An idea that waits for somebody."""

    @property
    def id(self) -> int:
        """The idea's number."""

    @property
    def title(self) -> str:
        """What it is called."""

    @property
    def due_on(self) -> date | None:
        """When its next move is due."""

    @property
    def asked_on(self) -> date | None:
        """Since when its proposer is asked back."""


def _idea_wait(today: date, kind: str, row: Waiting, words: str, sheet: str = "") -> Waits:
    link = f"/ideas/{row.id}" + (f"?sheet={sheet}" if sheet else "")
    title = f"I-{row.id} {row.title}"
    late = days_late(today, row.due_on, row.asked_on)
    return _wait(kind, title, words, link, due=row.due_on, late=late)


def _reach(row: IdeasWaitingIn) -> str:
    if row.hours_low is None:
        return "hours in reach not known yet"
    low, high = rounded(row.hours_low, 0), rounded(row.hours_high or row.hours_low, 0)
    return f"{low:,f}–{high:,f} h a year in reach"


def _more(kind: str, rows: list[IdeasWaitingIn], stage: str) -> list[Waits]:
    """What is said in place of the rows that are not shown."""
    left = rows[0].of_all - len(rows) if rows else 0
    if not left:
        return []
    words = "the longest due stand here, the others in the list of ideas"
    more = _wait(kind, f"{left:,} more", words, f"/ideas?stage={stage}")
    return [replace(more, stands_for=left)]


def _in_stage(tx: Tx, ctx: Ctx, stage: str, permission: str) -> list[IdeasWaitingIn]:
    """Ideas in a stage, as far as a permission reaches."""
    return tx.all(IdeasWaitingIn, "ideas.waiting_in", stage=stage, **ctx.scope(permission))


def _screened(tx: Tx, ctx: Ctx, today: date) -> list[Waits]:
    rows = []
    if ctx.actor.may("sizing.decide"):
        reach = ctx.scope("sizing.decide")
        offered = tx.all(IdeasWaitingIn, "ideas.waiting_for_yes", me=ctx.actor.person_id or 0, **reach)
        words = "sized, waits for your agreement"
        rows += [_idea_wait(today, "agree", row, words, "sizing") for row in offered]
        rows += _more("agree", offered, "screened")
    if ctx.actor.may("sizing.make"):
        to_size = tx.all(IdeasWaitingIn, "ideas.waiting_for_size", **ctx.scope("sizing.make"))
        for row in to_size:
            sent_back = row.sizing_state == "sent back"
            words = "its sizing was sent back" if sent_back else f"{_reach(row)}; to be sized"
            rows.append(_idea_wait(today, "size", row, words, "sizing"))
        rows += _more("size", to_size, "screened")
    return rows


def _computer_waits(tx: Tx, ctx: Ctx) -> list[Waits]:
    """Runs that ask for the actor's own computer."""
    rows = []
    for run in attended.waiting_for(tx, ctx):
        until = ""
        if run.lapses_at is not None:
            until = f", by {time_said(run.lapses_at.astimezone(ZoneInfo(ctx.actor.zone)))}"
        words = f"asks for your computer: now, in ten minutes, or not today{until}"
        rows.append(_wait("computer", f"R-{run.id} {run.routine}", words, "/my-computer"))
    return rows


def _waits(tx: Tx, ctx: Ctx, today: date) -> list[Waits]:
    me, rows = ctx.actor.person_id, _computer_waits(tx, ctx)
    for row in tx.all(IdeasMine, "ideas.mine", person=me):
        if row.sent_back:
            words = f"{row.sent_back} of your answers came back with a question"
            rows.append(_idea_wait(today, "answer", row, words))
        elif row.stage == "draft":
            title = row.title or "An idea without a name"
            link = f"/ideas/new/{row.id}"
            rows.append(_wait("draft", title, "your draft, not handed in", link))
    for person in (me, *ctx.actor.stands_in_for):
        for one in tx.all(IdeasToConfirm, "ideas.to_confirm", person=person):
            whom = "you" if person == me else f"{one.owner}, who is away,"
            words = f"{one.proposer} named {whom} as its work owner; confirm the answers"
            rows.append(_wait("confirm", f"I-{one.id} {one.title}", words, f"/ideas/{one.id}"))
    for person in (me, *ctx.actor.stands_in_for):
        for measure in tx.all(IdeasMeasuresOf, "ideas.measures_of", person=person):
            whose = "yours to see to" if person == me else "to be seen to for somebody away"
            stuck = " (stuck)" if measure.building == "stuck" else ""
            rows.append(_idea_wait(today, "measure", measure, f"{whose}{stuck}: {measure.measure}"))
    if ctx.actor.may("idea.decide"):
        noted = _in_stage(tx, ctx, "noted", "idea.decide")
        for idea in noted:
            words = f"from {idea.proposer}; {_reach(idea)}"
            rows.append(_idea_wait(today, "review", idea, words))
        rows += _more("review", noted, "noted")
    rows += _screened(tx, ctx, today)
    if ctx.actor.may("case.decide"):
        sized = _in_stage(tx, ctx, "sized", "case.decide")
        for idea in sized:
            rows.append(_idea_wait(today, "decide", idea, "sized and agreed; back it or not", "case"))
        rows += _more("decide", sized, "sized")
    rows += _work_waits(tx, ctx, today)
    if ctx.actor.may("role.decide"):
        for asked in requests.rows_waiting(tx, ctx):
            where = f" for {asked.area}" if asked.area else ""
            title = f"{asked.person} asks for access{where}"
            link = f"/house/access?request={asked.id}"
            rows.append(_wait("access", title, asked.words, link, number=asked.id))
    return rows


def _taken_up(tx: Tx, ctx: Ctx) -> list[IdeasTakenUpBy]:
    people = tuple(one for one in (ctx.actor.person_id, *ctx.actor.stands_in_for) if one is not None)
    if not people or not ctx.actor.for_ideas:
        return []
    return tx.all(IdeasTakenUpBy, "ideas.taken_up_by", people=people, **ctx.scope("build.make"))


def _work_waits(tx: Tx, ctx: Ctx, today: date) -> list[Waits]:
    rows = []
    if ctx.actor.may("build.make"):
        backed = _in_stage(tx, ctx, "backed", "build.make")
        for idea in backed:
            rows.append(_idea_wait(today, "build", idea, "backed; take it up to build it"))
        rows += _more("build", backed, "backed")
        for taken in _taken_up(tx, ctx):
            mine = taken.builder_id == ctx.actor.person_id
            whom = "you build it" if mine else f"{taken.builder}, who is away, builds it"
            words = f"{whom}; release a package and set up a routine"
            rows.append(_idea_wait(today, "go on", taken, words))
    if ctx.actor.may("routine.decide"):
        for routine in tx.all(
            RoutinesReadyToGoLive, "routines.ready_to_go_live", **ctx.scope("routine.decide")
        ):
            title, link = f"{routine.name}", f"/workshop/routines/{routine.id}"
            words = f"on trial for I-{routine.idea_id}; try it, then let it go live"
            rows.append(_wait("go live", title, words, link))
    for release in approving.waiting_for(tx, ctx):
        title, link = f"{release.package} {release.version}", f"/workshop/releases/{release.id}"
        words = f"released by {release.person}; it starts once a second person said yes to it"
        rows.append(_wait("approve", title, words, link))
    if ctx.actor.may("run.change"):
        for run in tx.all(RunsLateOpen, "runs.late_open", **ctx.scope("run.change")):
            words = "was lost, and its outcome came late; say whether it counts"
            rows.append(_wait("late", f"R-{run.id} {run.routine}", words, f"/runs/{run.id}", number=run.id))
    if ctx.actor.may("value.change"):
        for count in tx.all(TallyUnusualOpen, "tally.unusual_open", **ctx.scope("value.change")):
            counted, usual = rounded(count.units, 0), rounded(count.usual, 0)
            words = f"counted {counted:,f}, usually {usual:,f} at most; is it right?"
            title, link = f"R-{count.run_id} {count.routine}", f"/runs/{count.run_id}"
            rows.append(_wait("count", title, words, link, number=count.run_id))
    if ctx.actor.may("rate.decide"):
        for rate in tx.all(
            TallyRatesToSettle,
            "tally.rates_to_settle",
            person=ctx.actor.person_id,
            **ctx.scope("rate.decide"),
        ):
            about = f" of I-{rate.idea_id}" if rate.idea_id else ""
            title = f"{KINDS[rate.kind].name}{about}: {text_of(rate.value, 2)}"
            words = f"{rate.proposer} proposes it from {day_said(rate.since)}; approve or refuse"
            rows.append(_wait("rate", title, words, "/value/rates", number=rate.id))
    return rows


def _wrong(tx: Tx, ctx: Ctx) -> list[Wrong]:
    rows = []
    if ctx.actor.may("robot.see"):
        for host in hosts_seen(tx, ctx):
            if host.connected and is_silent(host.heard_at, ctx.now):
                words = "silent: no robot on it gets work until its runner is heard again"
                rows.append(
                    Wrong(
                        state="silent",
                        title=f"Host {host.name}",
                        words=words,
                        link=f"/robots/hosts/{host.id}",
                        at=host.heard_at,
                    )
                )
    if ctx.actor.may("run.see"):
        for one in stalling.stalled_now(tx, ctx):
            words = "reports nothing and uses no processor for longer than it usually does"
            title, link = f"R-{one.id} {one.routine}", f"/runs/{one.id}"
            rows.append(Wrong(state="stalled", title=title, words=words, link=link, at=one.stalled_at))
        for run in tx.all(
            RunsWentWrong, "runs.went_wrong", since=since_yesterday(ctx), **ctx.scope("run.see")
        ):
            rows.append(
                Wrong(
                    state=run.state,
                    title=f"R-{run.id} {run.routine}",
                    words=run.reason,
                    link=f"/runs/{run.id}",
                    at=run.ended_at,
                )
            )
    return rows


def _with(one: Waits, duty: duties.Duty | None) -> Waits:
    return replace(one, duty_of=duty.role, people=duty.people) if duty else one


@in_transaction
def view(tx: Tx, ctx: Ctx) -> Today:
    """The three answers of the start page, as far as the actor may see them."""
    coming = (
        [
            Coming(id=one.id, routine_id=one.routine_id, routine=one.routine, next_at=one.next_at)
            for one in tx.all(TriggersComing, "triggers.coming", **ctx.scope("routine.see"))
        ]
        if ctx.actor.may("routine.see")
        else []
    )
    waits = sorted(_waits(tx, ctx, company_day(tx, ctx)), key=lambda one: -one.late)
    others = duties.of_others(tx, ctx, {one.kind for one in waits})
    return Today(
        waits=[_with(one, others.get(one.kind)) for one in waits],
        wrong=_wrong(tx, ctx),
        sees_runs=ctx.actor.may("run.see"),
        coming=coming,
        mine=[
            Mine(
                id=one.id,
                title=one.title,
                stage=one.stage,
                building=one.building,
                due_on=one.due_on,
                stage_since=one.stage_since,
            )
            for one in tx.all(IdeasMine, "ideas.mine", person=ctx.actor.person_id)
        ],
        told=tx.all(Notification, "alerts.mine", person=ctx.actor.person_id),
        steps=house_rules.first_steps(tx, ctx),
        now=ctx.now,
    )
