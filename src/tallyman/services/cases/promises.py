"""Promises: a case frozen when its idea is backed, and promised anew with a reason, the old one kept."""

from __future__ import annotations

from datetime import date

from tallyman.core.alerts import kinds
from tallyman.core.cases import business_case
from tallyman.core.exact import plain
from tallyman.core.ideas import PROMISED_STAGES
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.cases.business_case import figures_of, missing_rows
from tallyman.services.cases.inputs import Inputs, case_input
from tallyman.services.context import Ctx, audit, changed, company_day, in_transaction
from tallyman.services.ideas import find_to, move, obj, ref, tell_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasLock, Promise

LONGEST_REASON = 1000


@in_transaction
def back(
    tx: Tx, ctx: Ctx, idea_id: int, words: str, todays_rows: bool = False, worth: str | None = None
) -> None:
    """Sized → backed: freezes the case and the plan as the promise.

    `todays_rows`: at the rows of the cost tables of today, not of the day that the case rests on. `worth`:
    what was shown of it; raises Refused where the case comes to something else by now.
    """
    ctx.require("case.decide")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "case.decide")
    if idea.stage != "sized" or idea.sizing_state != "agreed":
        raise Refused(
            f"{ref(idea_id)} is {idea.stage} and its sizing {idea.sizing_state}; "
            "it can be backed once its sizing is agreed.",
            "See on its page what comes next.",
        )
    freeze(tx, ctx, idea, costs_on=company_day(tx, ctx) if todays_rows else None, worth=worth)
    move(tx, ctx, idea, "backed", words.strip()[:1000])
    tell_of(tx, ctx, kinds.BACKED, idea)


def freeze(
    tx: Tx,
    ctx: Ctx,
    idea: Idea,
    number: int = 1,
    reason: str = "",
    costs_on: date | None = None,
    worth: str | None = None,
) -> None:
    """Writes the promise, in the place of one before; raises InputFaults naming what the case still lacks."""
    inputs = case_input(tx, ctx, idea, costs_on)
    given = inputs.given
    case, figures = figures_of(inputs)
    if number > 1:
        tx.write("ideas.keep_promise", idea=idea.id)
        tx.write("ideas.drop_promise", idea=idea.id)
    if case.missing:
        rows = missing_rows(case.missing, inputs.sized)
        faults = [Fault(row.field, None, f"{row.label} is missing in the case") for row in rows]
        raise InputFaults(faults)
    assert inputs.plan is not None
    result = business_case.as_texts(figures)
    if worth is not None and worth != result["npv_3y"]:
        raise Refused(
            f"The case of {ref(idea.id)} moved meanwhile: it is worth {result['npv_3y']} by now, "
            f"and {worth} was shown.",
            "Look at the figures again; they are shown as they are now.",
        )
    tx.write(
        "ideas.freeze",
        idea=idea.id,
        number=number,
        reason=reason,
        now=ctx.now,
        person=ctx.actor.person_id,
        input=given,
        result=result,
        plan=inputs.plan,
        sizing={field: known.value for field, known in inputs.sized_sheet.items()},
        rows=_rows(inputs),
        rules=business_case.RULES_VERSION,
        start=date.fromisoformat(given["start"]),
        go_live=date.fromisoformat(given["go_live"]),
    )
    words = "Froze the case as the promise" if number == 1 else f"Promised anew: {reason}"
    audit(tx, ctx, "promise frozen", obj(idea.id), words, None, result)


def _rows(inputs: Inputs) -> list[dict[str, object]]:
    """The rows of the cost tables that a promise rests on."""
    return [
        {"kind": kind, "id": row.id, "value": plain(row.value), "since": row.since.isoformat()}
        for kind, row in inputs.rows.items()
    ]


@in_transaction
def promise_anew(tx: Tx, ctx: Ctx, idea_id: int, reason: str, seen: int, worth: str | None = None) -> None:
    """Freezes what is now expected as another promise; the one before stays to be read.

    `seen`: the number of the promise that was shown, `worth`: what was shown as now expected. Raises
    InputFaults without a reason.
    """
    ctx.require("case.decide")
    reason = reason.strip()
    if not 1 <= len(reason) <= LONGEST_REASON:
        message = f"say in 1 to {LONGEST_REASON:,} characters why another promise is made"
        raise InputFaults([Fault("reason", reason[:40], message)])
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "case.decide")
    promise = tx.one(Promise, "ideas.promise", idea=idea_id)
    if promise is None or idea.stage not in PROMISED_STAGES:
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; nothing is promised of it that could be promised anew.",
            "A promise is made when an idea is backed.",
        )
    if promise.number != seen:
        raise Refused(f"{promise.person} promised {ref(idea_id)} anew meanwhile.", "Load the page again.")
    freeze(tx, ctx, idea, promise.number + 1, reason, worth=worth)
    tell_of(tx, ctx, kinds.PROMISED_ANEW, idea, why=reason)
    changed(tx, ctx, "ideas", idea_id)
    changed(tx, ctx, "tally", idea_id)
