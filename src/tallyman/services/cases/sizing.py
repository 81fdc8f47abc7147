"""Sizing: the expert's facts, what follows from them, and a second person's agreement."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from fractions import Fraction

from tallyman.core.alerts import kinds
from tallyman.core.cases import sizing
from tallyman.core.cases.facts import LABELS, SIZING
from tallyman.core.exact import exact, plain, text_of
from tallyman.core.free import Free
from tallyman.core.ideas import Factors, volume_a_year
from tallyman.core.known import Known
from tallyman.core.volume import times_a_year
from tallyman.errors import Fault, InputFaults, Refused
from tallyman.services.cases.answers import Lack, SizingResults
from tallyman.services.cases.facts import known_facts
from tallyman.services.context import (
    Ctx,
    audit,
    calendar_of,
    changed,
    in_transaction,
    working_days_a_year,
)
from tallyman.services.ideas import factors_of, find_to, move, obj, ref, tell_of
from tallyman.store.db import Tx
from tallyman.store.records.ideas import Idea, IdeasAnswers, IdeasLock

DEFAULTS = {"languages": "1", "variants": "1", "reused_parts": "0"}
MOST_NAMED = 4
NEEDED = ("volume", "rhythm", "handling_minutes")


def sizing_sheet(tx: Tx, idea: Idea, typed: Mapping[str, Known] | None = None) -> dict[str, Known]:
    """The sizing facts: those given, else what the interview answered; `typed` goes before what is kept."""
    sheet: dict[str, Known] = {}
    answers = {row.question: row for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea.id)}

    def from_answer(field: str, question: str, value: object) -> None:
        row = answers[question]
        sheet[field] = Known(value, f"interview, {row.person}", row.at.date().isoformat())

    def value_of(question: str) -> Free:
        return answers[question].value if question in answers else None

    volume = value_of("volume")
    if volume:
        from_answer("volume", "volume", volume["amount"])
        from_answer("rhythm", "volume", volume["rhythm"])
        _with_those_who_joined(tx, idea, sheet, volume)
    if value_of("minutes") is not None:
        from_answer("handling_minutes", "minutes", value_of("minutes"))
    if value_of("judge") is not None:
        from_answer("judged_share", "judge", plain(exact(value_of("judge")) / 10, 4))
    if value_of("arrives"):
        from_answer("arrives", "arrives", value_of("arrives"))
    for field, value in DEFAULTS.items():
        sheet[field] = Known(value, "taken unless said otherwise", "")
    facts = known_facts(tx, idea.id) | dict(typed or {})
    sheet.update({k: v for k, v in facts.items() if k in SIZING})
    return sheet


def counted_until(idea: Idea) -> datetime | None:
    """Who joins after a sizing was offered moves nothing in it, until it is open again."""
    return idea.sized_at if idea.sizing_state in ("offered", "agreed") else None


def joined_since(tx: Tx, idea: Idea) -> int:
    """How many joined with a volume of their own since the sizing was offered."""
    until = counted_until(idea)
    if until is None:
        return 0
    every, counted = (len(tx.values(dict, "talk.volumes", idea=idea.id, until=one)) for one in (None, until))
    return every - counted


def _with_those_who_joined(tx: Tx, idea: Idea, sheet: dict[str, Known], volume: dict[str, str]) -> None:
    """Whoever joined with a volume of their own counts in the sizing as in the first look."""
    joined = tx.values(dict, "talk.volumes", idea=idea.id, until=counted_until(idea))
    if not joined:
        return
    days = working_days_a_year(calendar_of(tx), idea.made_at.year)
    yearly = sum((volume_a_year(one, days) for one in (volume, *joined)), Fraction(0))
    times = times_a_year(volume["rhythm"], days)
    one = sheet["volume"]
    shown = [f"{plain(exact(each['amount']), 2)} a {each['rhythm']}" for each in (volume, *joined)]
    others = ", ".join(shown[1 : MOST_NAMED + 1]) + (" …" if len(joined) > MOST_NAMED else "")
    said = f"{one.source}: {shown[0]} of one's own, and {others} of {len(joined)} who joined"
    sheet["volume"] = Known(plain(yearly / times, 4), said, one.date)


def compute(
    tx: Tx, ctx: Ctx, idea: Idea, sheet: dict[str, Known], factors: Factors | None = None
) -> sizing.Sized:
    """What follows from the facts, by the factors that the idea stands by, or by others (rules §2)."""
    days = working_days_a_year(calendar_of(tx), ctx.now.year)
    facts = {field: known.value for field, known in sheet.items()}
    return sizing.size(facts, days, factors or factors_of(tx, idea))


def results_of(found: sizing.Sized) -> SizingResults:
    """The results of a sizing as a page shows them."""
    return SizingResults(
        volume_per_year=text_of(found.volume_per_year, 2),
        hours_per_year=text_of(found.hours_per_year, 1),
        computed_share=text_of(found.computed_share, 4),
        computed_effort=text_of(found.computed_effort, 1),
        automatable_share=text_of(found.share, 4),
        effort_days=text_of(found.effort_days, 1),
        band=found.band,
        missing=[Lack(name, LABELS.get(name, name), "sizing") for name in found.missing],
        working={
            "volume": found.volume_working,
            "share": found.share_working,
            "effort": found.effort_working,
        },
    )


def set_state(tx: Tx, ctx: Ctx, idea: Idea, state: str, note: str | None, *, agreed: bool = False) -> None:
    """Writes the state of a sizing, unless somebody else just did."""
    offered = state == "offered"
    keeps = agreed or state == "sent back"
    done = tx.write(
        "ideas.set_sizing",
        id=idea.id,
        state=state,
        from_state=idea.sizing_state,
        sized_by=ctx.actor.person_id if offered else (idea.sized_by if keeps else None),
        sized_at=ctx.now if offered else (idea.sized_at if keeps else None),
        agreed_by=ctx.actor.person_id if agreed else None,
        agreed_at=ctx.now if agreed else None,
        note=note,
        now=ctx.now,
    )
    if not done:
        raise Refused(f"Somebody else has just changed the sizing of {ref(idea.id)}.", "Load again.")


@in_transaction
def offer(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """The sizer asks for agreement; everything that is missing is named."""
    ctx.require("sizing.make")
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.make")
    if idea.stage != "screened" or idea.sizing_state == "offered":
        raise Refused(f"The sizing of {ref(idea_id)} is not open.", "Load the page again.")
    found = compute(tx, ctx, idea, sizing_sheet(tx, idea))
    if found.missing:
        raise InputFaults(
            [Fault(name, None, f"{LABELS.get(name, name)} is missing") for name in found.missing]
        )
    set_state(tx, ctx, idea, "offered", None)
    audit(tx, ctx, "sizing offered", obj(idea_id), "Asked for agreement to the sizing")
    tell_of(tx, ctx, kinds.SIZED, idea)
    changed(tx, ctx, "ideas", idea_id)


MOST_POINTS = 40
LONGEST_POINT = 500


def _check_points(points: Sequence[tuple[str, str]]) -> list[tuple[str, str]]:
    """The points of a sizing sent back: each a fact, and what about it. Raises InputFaults."""
    faults = []
    if len(points) > MOST_POINTS:
        faults.append(Fault("points", len(points), f"at most {MOST_POINTS} at once"))
    for index, (field, words) in enumerate(points):
        if field not in SIZING:
            faults.append(Fault(f"points[{index}].field", field, "no such fact of a sizing"))
        if not 1 <= len(words.strip()) <= LONGEST_POINT:
            message = f"say what about it, in 1 to {LONGEST_POINT} characters"
            faults.append(Fault(f"points[{index}].words", words[:40], message))
    if faults:
        raise InputFaults(faults)
    return [(field, words.strip()) for field, words in points]


@in_transaction
def answer_point(tx: Tx, ctx: Ctx, idea_id: int, number: int, words: str) -> None:
    """Answers a point in words, where the fact itself stays as it is."""
    ctx.require("sizing.make")
    words = words.strip()
    if not 1 <= len(words) <= LONGEST_POINT:
        message = f"say in 1 to {LONGEST_POINT} characters why it stays"
        raise InputFaults([Fault("answer", words[:40], message)])
    find_to(tx, ctx, idea_id, "sizing.make")
    person = ctx.actor.person_id
    if not tx.write("points.answer", id=number, idea=idea_id, answer=words, person=person, now=ctx.now):
        raise Refused("This point is settled already.", "Load the page again.")
    audit(tx, ctx, "point answered", obj(idea_id), words)
    changed(tx, ctx, "ideas", idea_id)


@in_transaction
def settle(
    tx: Tx, ctx: Ctx, idea_id: int, agreed: bool, note: str, points: Sequence[tuple[str, str]] = ()
) -> None:
    """A second person agrees (→ sized) or sends the sizing back, with a reason or point by point."""
    ctx.require("sizing.decide")
    note, points = note.strip(), _check_points(points)
    if not agreed and not note and not points:
        raise InputFaults([Fault("note", note, "say what should be looked at again, or mark the facts")])
    if not agreed and not note:
        note = f"{len(points)} {'point' if len(points) == 1 else 'points'} to be looked at again"
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = find_to(tx, ctx, idea_id, "sizing.decide")
    if idea.sizing_state != "offered" or idea.stage != "screened":
        raise Refused(f"The sizing of {ref(idea_id)} does not wait for agreement.", "Load again.")
    if idea.sized_by == ctx.actor.person_id:
        raise Refused(
            "You sized this idea yourself, so somebody else has to agree.",
            "Ask another analyst or the lead.",
        )
    set_state(tx, ctx, idea, "agreed" if agreed else "sent back", note or None, agreed=agreed)
    for field, words in () if agreed else points:
        person = ctx.actor.person_id
        tx.write("points.add", idea=idea_id, field=field, words=words, person=person, now=ctx.now)
    named = "".join(f"; {LABELS[field]}: {said}" for field, said in points)
    words = "agreed to the sizing" if agreed else f"sent the sizing back: {note}{named}"
    audit(tx, ctx, "sizing settled", obj(idea_id), words)
    if agreed:
        move(tx, ctx, replace(idea, stage="screened"), "sized")
    if agreed:
        tell_of(tx, ctx, kinds.SIZING_AGREED, idea)
    else:
        tell_of(tx, ctx, kinds.SIZING_SENT_BACK, idea, note=note)
    changed(tx, ctx, "ideas", idea_id)
