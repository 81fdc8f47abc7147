"""Notches: thanks for what helped, given once each; who hides themselves is not shown."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import UTC, date, datetime, time
from zoneinfo import ZoneInfo

from tallyman.core.alerts import kinds
from tallyman.core.faults import unknown_word
from tallyman.errors import Fault, InputFaults
from tallyman.services.alerts import tell
from tallyman.services.context import Ctx, audit, changed, company_day, company_of, in_transaction
from tallyman.services.house import rule_sets
from tallyman.services.ideas.answers import NotchOut, OwnNotch, ThankedFor, ThankedOut, ThanksOut
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, ThanksBetween, ThanksMonths, ThanksOfPerson

SET = "thanks"
# What thanks are given for; useful ideas count, not many.
KINDS = {
    "screened": "proposed an idea that was screened",
    "evidence": "put something on file for an idea that was screened",
    "answered": "answered within two days what was asked back",
    "in service": "proposed, owns or helped with work that is in service",
    "joined": "joined an idea that is in service",
}
FIRST_WORDS = {
    "screened": "your idea was screened",
    "evidence": "what you put on file helped to screen it",
    "answered": "you answered within two days",
    "in service": "work you had a part in is in service",
    "joined": "work you joined is in service",
}
ANSWER_DAYS = 2


def kinds_given(tx: Tx) -> tuple[str, ...]:
    """What the lead has thanks given for."""
    content, _ = rule_sets.newest(tx, SET)
    return tuple(KINDS) if content is None else tuple(kind for kind in KINDS if kind in content["kinds"])


def thank(tx: Tx, ctx: Ctx, kind: str, idea: Idea, people: Sequence[int | None]) -> None:
    """Gives a notch for an idea to each of these people, once; a first one is told."""
    if kind not in kinds_given(tx):
        return
    for person in sorted({one for one in people if one}):
        params = {"person": person, "kind": kind, "idea": idea.id}
        if tx.write("thanks.add", **params, now=ctx.now) and tx.value(bool, "thanks.was_first", **params):
            what = {"what": FIRST_WORDS[kind], "idea": f"I-{idea.id} {idea.title}"}
            # Told by nobody, so that also whoever did it just now hears of it.
            tell(tx, Ctx(ctx.db, ctx.now), kinds.FIRST_NOTCH, {"id": f"{person}:{kind}"}, [person], **what)
    changed(tx, ctx, "thanks")


def thank_for_answer(tx: Tx, ctx: Ctx, idea: Idea) -> None:
    """Thanks for an answer that came soon after it was asked for."""
    asked = idea.asked_on
    today = company_day(tx, ctx)
    if asked is not None and (today - asked).days <= ANSWER_DAYS:
        thank(tx, ctx, "answered", idea, [ctx.actor.person_id])


def thank_for_stage(tx: Tx, ctx: Ctx, idea: Idea, stage: str) -> None:
    """Thanks that come with a stage."""
    if stage == "screened":
        thank(tx, ctx, "screened", idea, [idea.proposer_id])
        thank(tx, ctx, "evidence", idea, tx.values(int, "thanks.evidence_by", idea=idea.id))
    if stage == "in service":
        helpers = tx.values(int, "thanks.helpers_of", idea=idea.id)
        named = [idea.proposer_id, idea.owner_id, idea.builder_id, *helpers]
        thank(tx, ctx, "in service", idea, named)
        joined = tx.values(int, "thanks.joined", idea=idea.id)
        thank(tx, ctx, "joined", idea, [one for one in joined if one not in named])


def _span(zone: str, month: str) -> tuple[datetime, datetime]:
    """The start of a month and of the next, where the company lives."""
    if not re.fullmatch(r"20\d\d-(0[1-9]|1[0-2])", month):
        raise InputFaults([Fault("month", month, "give a month such as 2026-04")])
    first = date.fromisoformat(f"{month}-01")
    following = date(first.year + first.month // 12, first.month % 12 + 1, 1)
    begin, end = (datetime.combine(day, time(), ZoneInfo(zone)).astimezone(UTC) for day in (first, following))
    return begin, end


@in_transaction
def page(tx: Tx, ctx: Ctx, month: str | None = None) -> ThanksOut:
    """The thanks of a month by division and person, and one's own notches."""
    zone = company_of(tx).zone
    shown = month or f"{ctx.today(zone):%Y-%m}"
    since, until = _span(zone, shown)
    people: dict[int, ThankedOut] = {}
    for row in tx.all(ThanksBetween, "thanks.between", since=since, until=until):
        person = people.setdefault(row.id, ThankedOut(row.name, row.division or "", []))
        person.notches.append(NotchOut(row.kind, row.notches, bool(row.first)))
    ends = tx.one(ThanksMonths, "thanks.months")
    me = ctx.actor.person_id
    return ThanksOut(
        month=shown,
        oldest=f"{ends.oldest:%Y-%m}" if ends and ends.oldest else shown,
        newest=f"{ends.newest:%Y-%m}" if ends and ends.newest else shown,
        people=sorted(people.values(), key=lambda one: (one.division, one.name)),
        kinds=[ThankedFor(value=kind, words=KINDS[kind]) for kind in kinds_given(tx)],
        mine=[
            OwnNotch(kind=row.kind, idea_id=row.idea_id, title=row.title, at=row.at, first=bool(row.first))
            for row in tx.all(ThanksOfPerson, "thanks.of_person", person=me)
        ],
        hidden=bool(tx.value(bool, "thanks.hidden", person=me)),
    )


@in_transaction
def hide(tx: Tx, ctx: Ctx, hidden: bool) -> None:
    """Hides oneself from the thanks page, or shows oneself again."""
    me = ctx.actor.person_id
    if tx.write("thanks.hide", person=me, hidden=hidden):
        words = "Hides from the thanks page" if hidden else "Is shown on the thanks page again"
        audit(tx, ctx, "thanks hidden" if hidden else "thanks shown", f"person:{me}", words)
        changed(tx, ctx, "thanks")


def check_kinds(kinds: list[str]) -> dict[str, object]:
    """What thanks are given for, as a version of the rule set. Raises InputFaults."""
    faults = [unknown_word("kinds", kind, KINDS) for kind in kinds if kind not in KINDS]
    if faults:
        raise InputFaults(faults)
    return {"kinds": [kind for kind in KINDS if kind in kinds]}
